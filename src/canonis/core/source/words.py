"""Reading a characteristic back in words, so that a drafter sees what was understood."""

from fractions import Fraction

from canonis.core.quantity.units import MM_PER_INCH, Unit
from canonis.core.source.characteristic import Characteristic, Part

__all__ = ["exact_text", "say", "tolerance_words"]

_NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")


def _count(n: int) -> str:
    return _NUMBERS[n] if n < len(_NUMBERS) else str(n)


def exact_text(value: Fraction, decimals: int | None = None) -> str:
    """An exact number: as a decimal where it ends within six places, with at least `decimals`; else as a fraction.

    >>> exact_text(Fraction(5, 2)), exact_text(Fraction(5, 2), 3), exact_text(Fraction(1, 3))
    ('2.5', '2.500', '1/3')
    """
    sign, size = ("-" if value < 0 else ""), abs(value)
    for places in range(max(0, decimals or 0), 7):
        scaled = size * 10**places
        if scaled.denominator == 1:
            whole, rest = divmod(scaled.numerator, 10**places)
            return f"{sign}{whole}.{rest:0{places}d}" if places else f"{sign}{whole}"
    whole, left = divmod(size, 1)
    if left.denominator > 1000:
        return f"{sign}{float(size):.7g}"
    return f"{sign}{f'{whole} ' if whole else ''}{left.numerator}/{left.denominator}"


def _mm_in(value: Fraction, unit: Unit) -> Fraction:
    return value / MM_PER_INCH if unit is Unit.INCH else value


def _number(part: Part, value: Fraction, unit: Unit) -> str:
    """A value of a part in the job's unit, or in the one that was typed, which is then named."""
    if part.plain:
        return exact_text(value)
    if part.angle:
        return f"{exact_text(value)}°"
    shown = part.unit if part.unit is not None and not part.table else unit
    exact = _mm_in(value, shown)
    if shown is Unit.INCH and part.decimals is None and exact.denominator in (2, 4, 8, 16, 32, 64, 128):
        whole, left = divmod(exact, 1)
        text = f"{f'{whole} ' if whole else ''}{left.numerator}/{left.denominator}"
    else:
        text = exact_text(exact, None if part.decimals is None else min(part.decimals, 6))
    return f"{text} {shown}" if shown is not unit else text


def _size(part: Part | None, unit: Unit) -> str:
    if part is None or part.nominal is None:
        return "?"
    text = _number(part, part.nominal, unit)
    if part.lower is not None and part.upper is not None:
        low, high = part.nominal - part.lower, part.upper - part.nominal
        plain = part.model_copy(update={"decimals": 0})
        if part.limits:
            return f"{_number(plain, part.lower, unit)} to {_number(plain, part.upper, unit)}"
        if part.tolerance == "fit":
            return f"{text} {part.fit} ({_number(plain, part.lower, unit)} to {_number(plain, part.upper, unit)})"
        if part.tolerance == "own":
            if low == high:
                return f"{text} ±{_number(plain, high, unit)}"
            return f"{text} +{_number(plain, high, unit)} −{_number(plain, low, unit)}"
        return text
    if part.tolerance == "own":
        return f"{text} at {'most' if part.upper is not None else 'least'}"
    return text


def _seats(c: Characteristic, unit: Unit) -> str:
    out = []
    for far, side in (("", ""), ("-far", " on the far side")):
        for inner in ("", "-b", "-c"):
            bore, depth = (c.part(f"counterbore{inner}{far}-{name}") for name in ("diameter", "depth"))
            if bore:
                deep = f" deep {_size(depth, unit)}" if depth else ""
                out.append(f"counterbored ⌀{_size(bore, unit)}{deep}{side}")
        sink = c.part(f"countersink{far}-diameter")
        if sink:
            angle = c.part(f"countersink{far}-angle")
            out.append(f"countersunk ⌀{_size(sink, unit)} at {_size(angle, unit)}{side}")
        rim, rounded = c.part(f"rim{far}-size"), c.part(f"rim{far}-radius")
        if rim:
            out.append(f"rim broken {_size(rim, unit)}{side}")
        if rounded:
            out.append(f"rim rounded {_size(rounded, unit)}{side}")
    return "".join(f", {s}" for s in out)


def _end(c: Characteristic, unit: Unit) -> str:
    if c.part("through"):
        return " through"
    depth = c.part("depth")
    text = f" deep {_size(depth, unit)}" if depth else ""
    point = c.part("point-angle")
    if point:
        text += f", point {_size(point, unit)}"
    return text + (", flat bottom" if c.part("flat-bottom") else "")


def _hole(c: Characteristic, unit: Unit, lead: str, s: str) -> str:
    text = f"{lead or 'one '}hole{s} ⌀{_size(c.part('diameter'), unit)}"
    return f"{text}{_end(c, unit)}{_seats(c, unit)}" + (f" ({c.detail})" if c.detail else "")


def _seat(c: Characteristic, unit: Unit, lead: str, s: str) -> str:
    return f"{lead or 'one '}hole{s} of a size not said here{_seats(c, unit)}"


def _thread(c: Characteristic, unit: Unit, lead: str, s: str) -> str:
    thread, drill, tap = c.part("thread"), c.part("drill-diameter"), c.part("tap-drill")
    side = "outside thread" if c.detail == "outside" else "thread"
    text = f"{lead or 'one '}{side}{s} {thread.designation if thread else '?'}{_end(c, unit)}"
    if c.part("length"):
        text += f", {_size(c.part('length'), unit)} long"
    if drill:
        depth = c.part("drill-depth")
        text += f", drilled ⌀{_size(drill, unit)}" + (f" deep {_size(depth, unit)}" if depth else " through")
    elif tap:
        if c.part("drill-depth"):
            text += f", drilled {_size(c.part('drill-depth'), unit)} deep"
        text += f", usual tap drill ⌀{_size(tap, unit)}"
    return text + _seats(c, unit)


def _slot(c: Characteristic, unit: Unit, lead: str, s: str) -> str:
    text = f"{lead or 'one '}slot{s} {_size(c.part('width'), unit)} wide"
    for name, after in (("centres", "between centres"), ("length", "overall")):
        if c.part(name):
            text += f", {_size(c.part(name), unit)} {after}"
    return text + (f",{_end(c, unit)}" if _end(c, unit) else "")


def _arc_slot(c: Characteristic, unit: Unit, lead: str, s: str) -> str:
    text = f"{lead or 'one '}arc slot{s} {_size(c.part('width'), unit)} wide"
    for name, before in (("radius", "on radius"), ("angle", "sweeping"), ("start-angle", "from")):
        if c.part(name):
            text += f", {before} {_size(c.part(name), unit)}"
    return text + (f",{_end(c, unit)}" if _end(c, unit) else "")


def _keyway(c: Characteristic, unit: Unit, lead: str, s: str) -> str:
    text = f"{lead or 'one '}{'segment ' if c.detail == 'segment' else ''}keyway{s} {_size(c.part('width'), unit)} wide"
    forms = (
        ("depth", "{} deep"),
        ("length", "{} long"),
        ("radius", "radius {}"),
        ("from-axis", "bottom {} from the axis"),
    )
    for name, form in forms:
        if c.part(name):
            text += ", " + form.format(_size(c.part(name), unit))
    return text


def _pattern(c: Characteristic, unit: Unit) -> str:
    if c.part("columns"):
        text = f"grid of {_size(c.part('columns'), unit)} by {_size(c.part('rows'), unit)}"
        if c.part("pitch"):
            text += f" at {_size(c.part('pitch'), unit)} by {_size(c.part('pitch-b'), unit)}"
        return text
    if c.part("pitch"):
        return f"{f'{_count(c.count)} at a ' if c.count > 1 else ''}pitch of {_size(c.part('pitch'), unit)}"
    return f"pitch circle ⌀{_size(c.part('pitch-circle'), unit)}"


def _rest(c: Characteristic, unit: Unit, lead: str, s: str) -> str:
    ball = "spherical " if c.part("sphere") else ""
    main = _size(c.main, unit)
    if c.kind == "diameter":
        return f"{lead}{ball}diameter{s} {main}"
    if c.kind == "radius":
        return f"{lead}{ball}radi{'i' if c.count > 1 else 'us'} {main}" if c.part("radius") else "full radius"
    if c.kind == "round":
        return f"all rounds and fillets R{main} unless noted"
    if c.kind == "angle":
        return f"{lead}angle{s} {main}"
    if c.kind == "chamfer":
        by = _size(c.part("angle") or c.part("leg-b"), unit)
        if c.general:
            return f"all edges broken {_size(c.part('leg'), unit)} by {by} unless noted"
        text = f"{lead}chamfer{s} {_size(c.part('leg'), unit)} by {by}"
        return text + (f", {_size(c.part('length'), unit)} along the edge" if c.part("length") else "")
    if c.kind == "wall":
        return f"{lead}wall{s} {main} thick"
    if c.kind == "draft":
        ratio = c.part("ratio")
        return (
            f"{c.detail or 'draft'} of 1:{exact_text(1 / ratio.nominal)}"
            if ratio and ratio.nominal
            else f"{c.detail or 'draft'} {main}"
        )
    if c.kind == "groove":
        text = f"{lead or 'one '}{c.detail or 'groove'}{s} "
        text += f"of radius {main}" if c.part("radius") else f"{main} wide"
        if c.part("depth"):
            text += f", {_size(c.part('depth'), unit)} deep"
        return text + (f", bottom ⌀{_size(c.part('diameter'), unit)}" if c.part("diameter") else "")
    if c.kind == "polygon":
        sides = c.size("sides")
        name = {3: "triangle", 4: "square", 5: "pentagon", 6: "hexagon", 8: "octagon"}.get(int(sides or 0), "polygon")
        across = "corners" if c.part("across-corners") else "flats"
        return f"{lead}{name}{s}, {main} across {across}"
    if c.kind == "spline":
        return f"{lead}spline{s} with {_size(c.part('teeth'), unit)} teeth, ⌀{_size(c.part('minor'), unit)} to ⌀{_size(c.part('major'), unit)}"
    return f"{lead}length{s} {main}"


def say(c: Characteristic, unit: Unit) -> str:
    """The meaning of a characteristic in words, sizes in the job's unit."""
    n = c.count
    lead = f"{_count(n)} " if n > 1 else ""
    s = "s" if n > 1 else ""
    forms = {"hole": _hole, "seat": _seat, "thread": _thread, "slot": _slot, "arc-slot": _arc_slot, "keyway": _keyway}
    if c.kind == "pattern":
        text = _pattern(c, unit)
    else:
        text = forms.get(c.kind, _rest)(c, unit, lead, s)
    if c.kind != "pattern":
        if c.part("pitch"):
            text += f", pitch {_size(c.part('pitch'), unit)}" if c.kind != "thread" else ""
        if c.part("pitch-circle"):
            text += f", on a pitch circle ⌀{_size(c.part('pitch-circle'), unit)}"
    if c.part("equally-spaced"):
        text += ", equally spaced"
    if c.part("pitch-angle"):
        text += f", {_size(c.part('pitch-angle'), unit)} apart"
    if members := [_size(p, unit) for p in c.parts if p.name.startswith("member-")]:
        text += f", at {', '.join(members)}"
    if c.part("start-angle") and c.kind != "arc-slot":
        text += f", the first at {_size(c.part('start-angle'), unit)}"
    if c.direction:
        text += f", from {c.direction}"
    if c.typical:
        text += ", typical (the count is not stated)"
    if c.general and c.kind not in ("round", "chamfer"):
        text += ", unless noted"
    if c.basic:
        text += " (basic)"
    return f"{text} (reference)" if c.reference else text


def tolerance_words(c: Characteristic, unit: Unit) -> str:
    """The tolerance of a line's first size, with where it comes from: `±0.3 general`, `own`, `fit H7`; empty for none."""
    part = c.main
    if part is None or part.tolerance is None or part.nominal is None:
        return ""
    if part.tolerance == "general" and part.upper is not None:
        return f"±{_number(part.model_copy(update={'decimals': 0}), part.upper - part.nominal, unit)} general"
    return f"fit {part.fit}" if part.tolerance == "fit" else "own tolerance"
