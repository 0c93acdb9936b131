"""Thread designations: what they mean, and the drill for a tapped hole.

Metric ISO 261 and ISO 724; unified ASME B1.1; pipe ISO 228-1, ISO 7-1 and ASME B1.20.1; trapezoidal 30°
ISO 2904; trapezoidal 29° ASME B1.5. Confirm drills with the shop.
"""

import re
from dataclasses import dataclass, replace
from fractions import Fraction

from canonis.core.faults import BadInput
from canonis.core.quantity import MM_PER_INCH

__all__ = [
    "COARSE",
    "Thread",
    "designation_of",
    "is_drilled_for",
    "minor_of",
    "read_thread",
    "screw_diameter",
    "tapped_as",
]


@dataclass(frozen=True)
class Thread:
    """A thread as designated. Lengths in exact mm; `drill` is the usual tap drill, None where none is tabled."""

    designation: str
    family: str
    major: Fraction
    pitch: Fraction
    drill: Fraction | None
    left_hand: bool = False
    #: How many threads run beside one another: the lead is so many pitches.
    starts: int = 1


def _f(text: str) -> Fraction:
    return Fraction(text)


#: Metric coarse pitches (ISO 261), mm.
COARSE: dict[str, str] = {
    "1.6": "0.35", "2": "0.4", "2.5": "0.45", "3": "0.5", "3.5": "0.6", "4": "0.7", "5": "0.8", "6": "1", "7": "1",
    "8": "1.25", "10": "1.5", "12": "1.75", "14": "2", "16": "2", "18": "2.5", "20": "2.5", "22": "2.5", "24": "3",
    "27": "3", "30": "3.5", "33": "3.5", "36": "4", "39": "4", "42": "4.5", "45": "4.5", "48": "5", "52": "5",
    "56": "5.5", "60": "5.5", "64": "6",
}  # fmt: skip
#: Drills that the rule major − pitch does not give to a tenth of a millimetre.
_DRILLS = {"8x1.25": "6.8", "12x1.75": "10.2", "2.5x0.45": "2.05", "1.6x0.35": "1.25"}
#: Unified tap drills, inch, by size and threads an inch.
_UNIFIED = {
    "#4-40": ".089", "#5-40": ".1015", "#6-32": ".1065", "#8-32": ".136", "#10-24": ".1495", "#10-32": ".159",
    "1/4-20": ".201", "1/4-28": ".213", "5/16-18": ".257", "5/16-24": ".272", "3/8-16": ".3125", "3/8-24": ".332",
    "7/16-14": ".368", "7/16-20": ".3906", "1/2-13": ".4219", "1/2-20": ".4531", "9/16-12": ".4844", "9/16-18": ".5156",
    "5/8-11": ".5312", "5/8-18": ".5781", "3/4-10": ".6562", "3/4-16": ".6875", "7/8-9": ".7656", "7/8-14": ".8125",
    "1-8": ".875", "1-12": ".9219",
}  # fmt: skip
#: Threads an inch of the unified series, coarse and fine.
_SERIES = {"C": {"#4": 40, "#5": 40, "#6": 32, "#8": 32, "#10": 24, "1/4": 20, "5/16": 18, "3/8": 16, "7/16": 14, "1/2": 13,
                 "9/16": 12, "5/8": 11, "3/4": 10, "7/8": 9, "1": 8},
           "F": {"#4": 48, "#5": 44, "#6": 40, "#8": 36, "#10": 32, "1/4": 28, "5/16": 24, "3/8": 24, "7/16": 20, "1/2": 20,
                 "9/16": 18, "5/8": 18, "3/4": 16, "7/8": 14, "1": 12}}  # fmt: skip
#: Pipe threads: major diameter (mm) and threads an inch of the parallel and tapered series.
_PIPE = {
    "1/16": ("7.723", 28),
    "1/8": ("9.728", 28),
    "1/4": ("13.157", 19),
    "3/8": ("16.662", 19),
    "1/2": ("20.955", 14),
    "5/8": ("22.911", 14),
    "3/4": ("26.441", 14),
    "1": ("33.249", 11),
    "1 1/4": ("41.910", 11),
    "1 1/2": ("47.803", 11),
    "2": ("59.614", 11),
}
_PIPE_DRILLS = {"1/8": "8.8", "1/4": "11.8", "3/8": "15.25", "1/2": "19", "3/4": "24.5", "1": "30.75"}
#: National pipe taper: outside diameter (in), threads an inch, drill (in).
_NPT = {
    "1/16": (".3125", 27, ".242"),
    "1/8": (".405", 27, ".332"),
    "1/4": (".540", 18, ".4375"),
    "3/8": (".675", 18, ".5625"),
    "1/2": (".840", 14, ".7031"),
    "3/4": ("1.050", 14, ".9062"),
    "1": ("1.315", 11.5, "1.1406"),
}


def _inches(text: str) -> Fraction:
    text = text.strip()
    if text.startswith("#"):
        return Fraction(60 + 13 * int(text[1:]), 1000)
    return sum((Fraction(p if not p.startswith(".") else "0" + p) for p in text.replace("-", " ").split()), Fraction(0))


def screw_diameter(size: str) -> Fraction:
    """Nominal diameter, mm, of a screw size such as M6, 1/4 or #10.

    Raises BadInput when it is none.
    """
    text = size.strip().upper()
    try:
        return _f(text[1:].replace(",", ".")) if text.startswith("M") else _inches(text) * MM_PER_INCH
    except (ValueError, ZeroDivisionError):
        raise BadInput(f"“{size}” is no screw size such as M6, 1/4 or #10") from None


def _metric(text: str) -> Thread:
    found = re.match(r"M(\d+(?:[.,]\d+)?)(?:\s*[x×]\s*(?:Ph\s*(\d*[.,]?\d+)\s*P\s*)?(\d*[.,]?\d+))?", text, re.I)
    assert found is not None
    size = found.group(1).replace(",", ".")
    typed = (found.group(3) or "").replace(",", ".")
    if not typed and size not in COARSE:
        raise BadInput(f"M{size} has no coarse pitch in the tables; write it as M{size}x1")
    pitch, major = _f(typed or COARSE[size]), _f(size)
    if not 0 < pitch <= min(Fraction(8), major / 3):
        raise BadInput(f"M{size} has no pitch of {typed}; write ↧{typed} for the depth")
    drill = _DRILLS.get(f"{size}x{float(pitch):g}")
    exact = major - pitch
    tenth = Fraction(round(exact * 10), 10)
    return Thread(
        text,
        "metric" if float(pitch) == float(COARSE.get(size, "0")) else "metric fine",
        major,
        pitch,
        _f(drill) if drill else tenth,
        starts=_starts(text, found.group(2), pitch),
    )


def _starts(text: str, lead: str | None, pitch: Fraction) -> int:
    """The starts of a thread by its lead and its pitch."""
    if not lead:
        return 1
    many = _f(lead.replace(",", ".")) / pitch
    if many.denominator != 1 or not 1 <= many <= 8:
        raise BadInput(f"the lead of {text} is no whole number of pitches")
    return int(many)


def _unified(text: str) -> Thread:
    found = re.match(r"(#?\d+(?:[ -]\d+/\d+|/\d+)?|\d*\.\d+)-(\d+)\s*UN([CFJ]?)", text, re.I)
    assert found is not None
    size, turns, series = found.group(1), int(found.group(2)), found.group(3).upper()
    size = f"#{size}" if size.isdigit() and int(size) in (4, 5, 6, 8, 10, 12) and turns >= 24 else size
    wanted = _SERIES.get(series, {}).get(size)
    if wanted is not None and wanted != turns:
        raise BadInput(f"{size} UN{series} has {wanted} threads an inch, not {turns}")
    if not 3 <= turns <= 80:
        raise BadInput(f"{turns} threads an inch is out of reach")
    drill = _UNIFIED.get(f"{size}-{turns}")
    major = _inches(size)
    return Thread(
        text,
        "unified",
        major * MM_PER_INCH,
        MM_PER_INCH / turns,
        None if drill is None else _inches(drill) * MM_PER_INCH,
    )


def _pipe(text: str) -> Thread:
    found = re.match(
        r"(?:G|Rp|Rc|BSPP?T?)?\s*(\d+(?:\s+\d+/\d+|/\d+)?)(?:-(\d+(?:\.\d)?))?\s*(NPTF?|BSPP?T?|A|B)?", text, re.I
    )
    assert found is not None
    size, turns = " ".join(found.group(1).split()), found.group(2)
    table = _NPT if (found.group(3) or "").upper().startswith("NPT") else _PIPE
    row = table.get(size)
    if row is None:
        raise BadInput(f"pipe thread {size} is not in the tables")
    if turns and float(turns) != float(row[1]):
        raise BadInput(f"pipe thread {size} has {row[1]} threads an inch, not {turns}")
    pitch = MM_PER_INCH / Fraction(str(row[1]))
    if table is _NPT:
        return Thread(text, "taper pipe", _inches(str(row[0])) * MM_PER_INCH, pitch, _inches(str(row[2])) * MM_PER_INCH)  # type: ignore[misc]
    drill = _PIPE_DRILLS.get(size)
    return Thread(text, "pipe", _f(str(row[0])), pitch, None if drill is None else _f(drill))


def _trapezoidal(text: str) -> Thread:
    found = re.match(r"Tr\s*(\d+(?:[.,]\d+)?)\s*[x×]\s*(\d+(?:[.,]\d+)?)(?:\s*\(?P(\d+(?:[.,]\d+)?)\)?)?", text, re.I)
    assert found is not None
    major, lead = (_f(g.replace(",", ".")) for g in found.groups()[:2])
    pitch = _f(found.group(3).replace(",", ".")) if found.group(3) else lead
    starts = _starts(text, found.group(2) if found.group(3) else None, pitch)
    return Thread(text, "trapezoidal 30°", major, pitch, major - pitch, starts=starts)


def _acme(text: str) -> Thread:
    found = re.match(r"(\d+(?:[ ]\d+/\d+|/\d+)?|\d*\.\d+)-(\d+)\s*(?:STUB\s+)?ACME", text, re.I)
    assert found is not None
    major, pitch = _inches(found.group(1)) * MM_PER_INCH, MM_PER_INCH / int(found.group(2))
    return Thread(text, "trapezoidal 29°", major, pitch, major - pitch)


def read_thread(text: str) -> Thread:
    """The meaning of a thread designation such as M8x1.25-6H, 3/8-16 UNC-2B, G1/2, 1/4-18 NPT, Tr20x4 or 1-5 ACME.

    Raises BadInput with the reason when the tables contradict it.
    """
    text = " ".join(text.split())
    upper = text.upper()
    left = bool(re.search(r"-?\s*LH$", upper))
    bare = re.sub(r"\s*-?\s*LH$", "", text, flags=re.I)
    try:
        if upper.startswith("TR"):
            thread = _trapezoidal(bare)
        elif "ACME" in upper:
            thread = _acme(bare)
        elif re.search(r"UN[CFJ]?", upper):
            thread = _unified(bare)
        elif upper.startswith("M"):
            thread = _metric(bare)
        else:
            thread = _pipe(bare)
    except (AssertionError, ValueError, ZeroDivisionError):
        raise BadInput(f"“{text}” is no thread such as M8x1.25 or 3/8-16 UNC") from None
    if thread.major <= 0 or thread.pitch <= 0:
        raise BadInput(f"“{text}” is no thread such as M8x1.25 or 3/8-16 UNC")
    return replace(thread, designation=text, left_hand=left)


#: Trapezoidal threads: pitches by diameter, mm (ISO 2904), and threads an inch by size (ASME B1.5).
_TRAPEZOIDAL = {
    8: (1.5,),
    10: (1.5, 2),
    12: (2, 3),
    16: (2, 4),
    20: (2, 4),
    24: (3, 5, 8),
    28: (3, 5, 8),
    32: (3, 6, 10),
    36: (3, 6, 10),
    40: (3, 7, 10),
    44: (3, 7, 12),
    48: (3, 8, 12),
    52: (3, 8, 12),
    60: (3, 9, 14),
}
_ACME = {
    "1/4": 16,
    "5/16": 14,
    "3/8": 12,
    "7/16": 12,
    "1/2": 10,
    "5/8": 8,
    "3/4": 6,
    "7/8": 6,
    "1": 5,
    "1 1/4": 5,
    "1 1/2": 4,
    "2": 4,
}
#: How far a modelled diameter may stand off its designation, as a share, and a pitch; flanks nearer than this to one
#: another, degrees, are not those of a 60° thread.
_MODELLED, _PITCHED, _STEEP = 0.01, 0.005, 45.0


def designation_of(major: float, pitch: float, starts: int, flanks: float, inches: bool) -> str | None:
    """The designation of a modelled thread by its diameter and pitch (mm), its starts and the angle between its flanks
    (degrees); None for one that the tables here do not have."""
    if inches:
        return _in_inches(major / 25.4, 25.4 / pitch, flanks) if starts == 1 else None
    size, step = round(major), round(pitch, 3)
    if abs(major - size) > _MODELLED * major:
        return None
    lead = f"{round(step * starts, 3):g}"
    if flanks < _STEEP and any(abs(step - p) < _PITCHED * p for p in _TRAPEZOIDAL.get(size, ())):
        return f"Tr{size}×{lead}" + (f"(P{step:g})" if starts > 1 else "")
    return f"M{size}×" + (f"Ph{lead}P{step:g}" if starts > 1 else f"{step:g}")


def _in_inches(major: float, turns: float, flanks: float) -> str | None:
    if flanks < _STEEP:
        near = ((size, n, "ACME") for size, n in _ACME.items())
    else:
        near = ((size, n, f"UN{s}") for s, sizes in _SERIES.items() for size, n in sizes.items())
    for size, n, series in near:
        wide = float(_inches(size))
        if abs(major - wide) < _MODELLED * wide and abs(turns - n) < _PITCHED * n:
            return f"{size}-{n} {series}"
    return None


#: A bore may be this much off its tap drill and still be the drill of its thread, mm.
_DRILL_ROOM = 0.16


def minor_of(major: float, pitch: float) -> float:
    """The minor diameter of an internal thread with the basic profile (ISO 68-1: major − 1.0825 pitch), mm."""
    return major - 1.0825 * pitch


def is_drilled_for(diameter: float, major: float, pitch: float, drill: float | None) -> bool:
    """Whether a bore is what is drilled for a thread: its tap drill, where one is tabled, or its minor diameter. All in mm."""
    usual = [minor_of(major, pitch), *([] if drill is None else [drill])]
    return min(abs(diameter - x) for x in usual) <= _DRILL_ROOM


def _drills() -> list[tuple[str, float]]:
    """Designations of the coarse metric and the unified series with their tap drills, mm."""
    metric = [(f"M{size}", read_thread(f"M{size}").drill) for size in COARSE]
    unified = [
        (f"{size} UN{letter}", _inches(drill) * MM_PER_INCH)
        for letter, sizes in _SERIES.items()
        for name, turns in sizes.items()
        for size in [f"{name}-{turns}"]
        for drill in [_UNIFIED.get(size)]
        if drill
    ]
    return [(name, float(drill)) for name, drill in [*metric, *unified] if drill is not None]


_TABLE: list[tuple[str, float]] = []


def tapped_as(diameter: float) -> list[str]:
    """Threads whose usual tap drill has this diameter (mm, within 0.03), the nearest first. A guess, no more."""
    if not _TABLE:
        _TABLE.extend(_drills())
    near = sorted((abs(drill - diameter), name) for name, drill in _TABLE if abs(drill - diameter) < 0.03)
    return [name for _, name in near]
