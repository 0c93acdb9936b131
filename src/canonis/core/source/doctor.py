"""The source doctor: contradictions and likely slips that the source alone shows, each with its reason."""

from collections import defaultdict
from collections.abc import Callable, Iterable, Sequence
from fractions import Fraction

from canonis.core.callout import HouseRules, Part
from canonis.core.finding import Finding, Mend, Severity
from canonis.core.quantity import Unit, exact_text
from canonis.core.source.chains import Chain
from canonis.core.source.characteristic import Characteristic
from canonis.core.source.pairs import compare_pair, half_of, last_place, plain_name
from canonis.core.source.seats import check_hole, check_thread

__all__ = ["examine", "finding"]


def finding(rule: str, subject: str, message: str, severity: Severity = "error", fix: Mend | None = None) -> Finding:
    """One finding; `fix` is a line's number and the text that mends it, where that is safe."""
    return Finding(rule, severity, subject, message, fix=fix)


def _numbers(lines: Sequence[Characteristic], _: HouseRules) -> Iterable[Finding]:
    seen: dict[str, int] = {}
    for c in lines:
        if c.number:
            seen[c.number] = seen.get(c.number, 0) + 1
    for number, times in seen.items():
        if times > 1:
            yield finding("number.twice", number, f"Number {number} stands on {times} lines; give each line its own.")


def _reading(lines: Sequence[Characteristic], _: HouseRules) -> Iterable[Finding]:
    for c in lines:
        if c.error:
            reason = f"{c.error.message} (column {c.error.column})"
            yield finding("source.unread", c.number, f"Line {c.number or '?'} is not read: {reason}.", "warning")
        if c.typical:
            message = f"Line {c.number}: TYP has no count to check; write the number of places."
            yield finding("count.typ", c.number, message, "warning")


def _holes(lines: Sequence[Characteristic], rules: HouseRules) -> Iterable[Finding]:
    for c in lines:
        found = check_hole(c) if c.kind == "hole" else check_thread(c) if c.kind == "thread" else []
        for rule, severity, message, mended in found:
            fix = None
            if mended is not None:
                text = mended.written(rules)
                fix = Mend(c.number, text, f"Write it as {text}")
            yield finding(rule, c.number, f"Line {c.number}: {message}", severity, fix)


def _named(lines: Sequence[Characteristic], rules: HouseRules) -> Iterable[Finding]:
    """Lines that carry the same name must agree; halves must be half of their whole."""
    groups: dict[str, list[Characteristic]] = defaultdict(list)
    for c in lines:
        if c.name and c.error is None and c.kind != "note":
            groups[plain_name(c.name)].append(c)
    for name, members in groups.items():
        for k, b in enumerate(members[1:], start=1):
            # Each is held against those before it; the first disagreement speaks.
            for a in members[:k]:
                found = compare_pair(a, b, rules)
                if found is not None:
                    yield finding(found[0], b.number, found[1])
                    break
        whole = half_of(name)
        for c in members:
            for w in groups.get(whole or "", []):
                half, full = c.main, w.main
                if (
                    half is None
                    or full is None
                    or half.nominal is None
                    or full.nominal is None
                    or half.angle != full.angle
                ):
                    continue
                if abs(half.nominal * 2 - full.nominal) <= 2 * last_place(half, rules) + last_place(full, rules):
                    continue
                reason = "twice the half is not the whole"
                if half.nominal == full.nominal:
                    reason = "they are equal: the whole may stand for its half"
                message = f"Lines {c.number} and {w.number}, “{c.name}” and “{w.name}”: {reason}."
                yield finding("half.differs", c.number, message)


def _chains(chains: Sequence[Chain], unit: Unit) -> Iterable[Finding]:
    scale = Fraction(254, 10) if unit is Unit.INCH else Fraction(1)
    for chain in chains:
        whole = [g for g in chain.gaps]
        for gap in whole:
            loop = ", ".join(gap["loop"])
            size = exact_text(Fraction(gap["gap_mm"]).limit_denominator(10**6) / scale)
            message = f"Chain {chain.direction}: {loop} do not close by {size} {unit}."
            likely = gap.get("likely")
            if likely:
                wanted = likely["wanted_mm"]
                should = (
                    ""
                    if wanted is None
                    else f", {exact_text(Fraction(wanted).limit_denominator(10**6) / scale)} would close it"
                )
                message += f" Likely {likely['member']}: {likely['reason']}{should}."
            if len(whole) > 1:
                message += f" {len(whole)} sums of this chain are wrong, so that the end result may agree by chance."
            yield finding("chain.gap", chain.direction, message)
        for name in chain.unsolved:
            message = f"Chain {chain.direction}: nothing gives {name}; {', '.join(chain.free)} hang free."
            yield finding("chain.free", chain.direction, message, "warning")


def _overall(lines: Sequence[Characteristic]) -> tuple[Fraction | None, bool]:
    """The largest size that the source states over all, mm, and whether it does so in every direction: one that is stated
    over all in one or two of them says little of how long the part is in another."""
    said = [c.size("length") for c in lines if c.kind == "length" and "overall" in f"{c.name} {c.text}".lower()]
    sizes = [s for s in said if s is not None]
    return max(sizes, default=None), len(sizes) >= _DIRECTIONS


_DIRECTIONS = 3
#: So many times a size that is said to be over all in another direction, a size is asked about.
_ABSURD = 8


def _sizes(lines: Sequence[Characteristic], rules: HouseRules) -> Iterable[Finding]:
    """Sizes larger than the part, and sizes in the style of the other unit."""
    whole, every = _overall(lines)
    if whole is None:
        return
    for c in lines:
        for part in c.parts:
            if (
                part.nominal is None
                or part.angle
                or part.plain
                or part.table
                or c.basic
                or part.name in ("radius", "pitch-circle")
            ):
                continue
            if part.nominal > (whole if every else whole * _ABSURD):
                yield finding(
                    "size.over",
                    c.number,
                    f"Line {c.number}: {part.name.replace('-', ' ')} {part.typed} is larger than {'the whole part' if every else 'what is said to be over all'} ({_in(whole, rules)}); {_why(part, whole, rules)}.",
                    "error" if every else "warning",
                )
                break


def _in(mm: Fraction, rules: HouseRules) -> str:
    scale = Fraction(254, 10) if rules.unit is Unit.INCH else Fraction(1)
    return f"{exact_text(mm / scale)} {rules.unit}"


def _why(part: Part, whole: Fraction, rules: HouseRules) -> str:
    assert part.nominal is not None
    if part.unit is not None and part.nominal / Fraction(254, 10) <= whole:
        return f"is “{part.unit}” said by mistake?"
    options = []
    if part.nominal / 10 <= whole:
        options.append("a factor of ten")
    if part.nominal * 10 / 254 <= whole:
        options.append("millimetres for inches" if rules.unit is Unit.INCH else "an inch size taken ×25.4 twice")
    return " or ".join(options) + "?" if options else "check the number"


def _style(lines: Sequence[Characteristic], rules: HouseRules) -> Iterable[Finding]:
    """A size written the way the other unit is written, beside others that are not; marks of the other unit."""
    plain = [
        (c, p)
        for c in lines
        for p in c.parts
        if p.nominal is not None and not (p.angle or p.plain or p.table) and p.typed
    ]
    marked = [(c, p) for c, p in plain if p.unit is not None]
    if 0 < len(marked) <= max(1, len(plain) // 8):
        for c, p in marked:
            yield finding(
                "unit.stray",
                c.number,
                f"Line {c.number}: {p.typed} is said to be in {p.unit} while the source is in {rules.unit}; is that so?",
                "warning",
            )
    if rules.unit is Unit.MM:
        inchlike = [
            (c, p, p.nominal)
            for c, p in plain
            if p.nominal is not None and p.unit is None and p.typed.startswith(".") and (p.decimals or 0) >= 3
        ]
        if len(inchlike) <= len(plain) // 5:
            for c, p, size in inchlike:
                likely = exact_text(size * Fraction(254, 10))
                message = (
                    f"Line {c.number}: {p.typed} is written like an inch size in a source in mm; is it {likely} mm?"
                )
                yield finding("unit.style", c.number, message, "warning")


def _precision(lines: Sequence[Characteristic], rules: HouseRules) -> Iterable[Finding]:
    """Decimals too coarse for the tolerance, and fractions shown rounded (inch style: places match the tolerance's)."""
    if rules.unit is not Unit.INCH:
        return
    inch = Fraction(254, 10)
    for c in lines:
        for p in c.parts:
            if p.nominal is None or p.angle or p.plain or p.table or p.decimals is None or p.unit is not None:
                continue
            if p.tolerance == "own" and not p.limits and p.upper is not None:
                width = min(w for w in ((p.upper - p.nominal) / inch, Fraction(1)) if w > 0)
                if Fraction(1, 2 * 10**p.decimals) > width * Fraction(11, 10):
                    yield finding(
                        "precision.coarse",
                        c.number,
                        f"Line {c.number}: {p.typed} has too few decimals for its tolerance of {exact_text(width)}; write as many places as the tolerance has.",
                        "warning",
                    )
                    continue
            if p.decimals != 2 or p.tolerance in ("own", "fit"):
                continue
            value = p.nominal / inch
            sixteenth = Fraction(round(value * 16), 16)
            off = abs(sixteenth - value)
            if sixteenth.denominator == 16 and 0 < off < Fraction(5, 1000):
                whole, left = divmod(sixteenth, 1)
                name = f"{f'{whole} ' if whole else ''}{left.numerator}/{left.denominator}"
                yield finding(
                    "precision.rounded",
                    c.number,
                    f"Line {c.number}: {p.typed} looks like {name} ({exact_text(sixteenth)}) rounded for display; write it in full.",
                    "warning",
                    Mend(c.number, c.text.replace(p.typed, name, 1), f"Write {name}"),
                )


def _counts(lines: Sequence[Characteristic], _: HouseRules) -> Iterable[Finding]:
    for c in lines:
        turn = c.size("pitch-angle")
        if turn and c.count > 1 and c.part("equally-spaced") and turn * c.count != 360:
            right = Fraction(360) / turn
            hint = (
                f"{exact_text(right)} fill the circle"
                if right.denominator == 1
                else "they do not fill the circle evenly"
            )
            yield finding(
                "count.angle",
                c.number,
                f"Line {c.number}: {c.count} equally spaced at {exact_text(turn)}° make {exact_text(turn * c.count)}°, not 360°; {hint}.",
            )
    grids = [c for c in lines if c.part("columns") and c.name]
    for g in grids:
        members = Fraction(1) * (g.size("columns") or 0) * (g.size("rows") or 0)
        for c in lines:
            if c is not g and plain_name(c.name) == plain_name(g.name) and c.count > 1 and c.count != members:
                yield finding(
                    "count.differs",
                    c.number,
                    f"Lines {g.number} and {c.number}, “{c.name}”: the grid has {exact_text(members)} places, the note says {c.count}.",
                )


def _limits(lines: Sequence[Characteristic], _: HouseRules) -> Iterable[Finding]:
    """Limits written the other way round than the rest of the source writes them."""
    rows = []
    for c in lines:
        for p in c.parts:
            if p.limits and "/" in p.typed:
                first, second = (t.replace(",", ".").strip() for t in p.typed.split("/", 1))
                rows.append((c, p, float(Fraction(first)) > float(Fraction(second))))
    downs = [r for r in rows if r[2]]
    ups = [r for r in rows if not r[2]]
    few = ups if len(ups) < len(downs) else downs
    if len(rows) >= 3 and len(few) == 1:
        c, p, _down = few[0]
        yield finding(
            "limits.order",
            c.number,
            f"Line {c.number}: the limits {p.typed} stand the other way round than all others; are they right?",
            "warning",
        )


_CHECKS: tuple[Callable[[Sequence[Characteristic], HouseRules], Iterable[Finding]], ...] = (
    _numbers,
    _reading,
    _holes,
    _named,
    _counts,
    _limits,
    _sizes,
    _style,
    _precision,
)


def examine(lines: Sequence[Characteristic], chains: Sequence[Chain], rules: HouseRules) -> list[Finding]:
    """All findings on the lines and chains of a source."""
    out: list[Finding] = []
    for check in _CHECKS:
        out += check(lines, rules)
    return out + list(_chains(chains, rules.unit))
