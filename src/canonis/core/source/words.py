"""Reading a characteristic back in words, so that a drafter sees what was understood."""

from canonis.core.quantity.units import Unit
from canonis.core.quantity.written import places, write_length
from canonis.core.source.characteristic import Characteristic, Part

__all__ = ["say"]

_NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")


def _count(n: int) -> str:
    return _NUMBERS[n] if n < len(_NUMBERS) else str(n)


def _number(part: Part, unit: Unit) -> str:
    assert part.nominal is not None
    if part.angle:
        return f"{float(part.nominal):g}°"
    return _exact(float(part.nominal), unit, part.decimals)


def _exact(mm: float, unit: Unit, typed: int | None) -> str:
    """A size with at least the decimals it was typed with, so that nothing read is lost in the words."""
    if typed is None:
        typed = 4
    return write_length(mm, unit) if typed <= places(mm, unit) else f"{mm / (25.4 if unit is Unit.INCH else 1):g}"


def _size(part: Part | None, unit: Unit) -> str:
    if part is None or part.nominal is None:
        return "?"
    text = _number(part, unit)
    if part.tolerance == "own" and part.lower is not None and part.upper is not None:
        low, high = float(part.nominal - part.lower), float(part.upper - part.nominal)
        if "/" in part.typed and not part.angle and part.decimals is not None:
            return (f"{write_length(float(part.lower), unit)} to {write_length(float(part.upper), unit)}")  # fmt: skip

        def one(x: float) -> str:
            return f"{x:g}°" if part is not None and part.angle else write_length(x, unit)

        return f"{text} ±{one(high)}" if abs(low - high) < 1e-12 else f"{text} +{one(high)} −{one(low)}"
    return text


def _seats(c: Characteristic, unit: Unit) -> str:
    out = []
    for far, side in (("", ""), ("-far", " on the far side")):
        bore, depth = c.part(f"counterbore{far}-diameter"), c.part(f"counterbore{far}-depth")
        if bore:
            deep = f" deep {_size(depth, unit)}" if depth else ""
            out.append(f"counterbored ⌀{_size(bore, unit)}{deep}{side}")
        sink = c.part(f"countersink{far}-diameter")
        if sink:
            angle = c.part(f"countersink{far}-angle")
            out.append(f"countersunk ⌀{_size(sink, unit)} at {_size(angle, unit)}{side}")
        rim = c.part(f"rim{far}-size")
        if rim:
            out.append(f"rim broken {_size(rim, unit)}{side}")
    return "".join(f", {s}" for s in out)


def _end(c: Characteristic, unit: Unit) -> str:
    if c.part("through"):
        return " through"
    depth = c.part("depth")
    return f" deep {_size(depth, unit)}" if depth else ""


def say(c: Characteristic, unit: Unit) -> str:
    """The meaning of a characteristic in words, sizes in the job's unit."""
    n = c.count
    lead = f"{_count(n)} " if n > 1 else ""
    s = "s" if n > 1 else ""
    d = c.part("diameter")
    if c.kind == "hole":
        text = f"{lead or 'one '}hole{s} ⌀{_size(d, unit)}{_end(c, unit)}{_seats(c, unit)}"
    elif c.kind == "thread":
        thread = c.part("thread")
        drill = c.part("drill-diameter")
        text = f"{lead or 'one '}thread{s} {thread.designation if thread else '?'}{_end(c, unit)}"
        text += f", drilled ⌀{_size(drill, unit)}" if drill else ""
        text += _seats(c, unit)
    elif c.kind == "diameter":
        text = f"{lead}diameter{s} {_size(d, unit)}"
    elif c.kind == "pattern":
        text = f"pitch circle ⌀{_size(c.part('pitch-circle'), unit)}"
    elif c.kind == "radius":
        r = c.part("radius")
        text = f"{lead}radi{'i' if n > 1 else 'us'} {_size(r, unit)}" if r else "full radius"
    elif c.kind == "round":
        text = f"all rounds and fillets R{_size(c.part('radius'), unit)} unless noted"
    elif c.kind == "angle":
        text = f"{lead}angle{s} {_size(c.part('angle'), unit)}"
    elif c.kind == "chamfer":
        legs = _size(c.part("leg"), unit)
        by = _size(c.part("angle"), unit) if c.part("angle") else _size(c.part("leg-b"), unit)
        text = f"{lead}chamfer{s} {legs} by {by}"
    elif c.kind == "slot":
        text = f"{lead or 'one '}slot{s} {_size(c.part('width'), unit)} wide"
        if c.part("centres"):
            text += f", {_size(c.part('centres'), unit)} between centres"
        if c.part("length"):
            text += f", {_size(c.part('length'), unit)} overall"
        text += f",{_end(c, unit)}" if _end(c, unit) else ""
    else:
        text = f"{lead}length{s} {_size(c.part('length'), unit)}"
    if c.kind != "pattern" and c.part("pitch-circle"):
        text += f", on a pitch circle ⌀{_size(c.part('pitch-circle'), unit)}"
    if c.part("equally-spaced"):
        text += ", equally spaced"
    if c.typical:
        text += ", typical (the count is not stated)"
    return f"{text} (reference)" if c.reference else text
