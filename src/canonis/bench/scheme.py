"""How much of a sufficient source comes out on the sheet in the source's own form, tolerances included; and whether a
source of which some lines are wrong makes a sheet false."""

import random
import re
import time
from typing import Any

__all__ = ["bench_scheme", "said_of"]


def _toleranced(text: str, unit: str, rng: random.Random) -> str:
    """A line of a source with limits of its own, where its form takes them."""
    small, places = (0.1, 2) if unit == "mm" else (0.004, 4)
    number = text.split()[0] if text else ""
    plain = number.replace(".", "", 1).lstrip("⌀").isdigit()
    if not plain or "x" in number or rng.random() < 0.4:
        return text
    if number.startswith("⌀") and unit == "mm" and rng.random() < 0.4:
        return text.replace(number, f"{number} H7", 1)
    size = round(small * rng.choice([0.5, 1, 2]), places)
    said = f"{size:g}" if unit == "mm" else f"{size:.4f}".lstrip("0")
    # Deviations of two sizes: the lower one with another last digit.
    lower = f"{said[:-1]}1"
    return text.replace(number, f"{number} ±{said}" if rng.random() < 0.6 else f"{number} +{said} -{lower}", 1)


def _with_slips(lines: list[str], wrong: int, rng: random.Random) -> list[str]:
    """The lines with so many wrong ones among them: a digit, a factor or a few units off in the first number."""
    out = list(lines)
    numbered = [k for k, row in enumerate(out) if re.search(r"\d", row.rpartition("|")[2])]
    for k in rng.sample(numbered, min(wrong, len(numbered))):
        head, bar, text = out[k].rpartition("|")
        found = re.search(r"(?<![\d./x×])\d*\.?\d+(?![\d/x×])(?!\s*[x×°])", text)
        if found is None:
            continue
        value = float(found.group(0))
        slips = (value * 2, value / 2, value + 1.5, value * 0.9, value + 0.1)
        out[k] = f"{head}{bar}{text[: found.start()]}{rng.choice(slips):.4g}{text[found.end() :]}"
    return out


def said_of(seed: int, wrong: int = 0) -> tuple[list[tuple[str, bool]], dict[str, Any]]:
    """For each line of a generated source whether the sheet has it as it is written; and what is wrong with the sheet. So
    many lines of the source are made `wrong`."""
    from canonis.bench.sourced import draw_part, specification
    from canonis.core.drafting import DraftWish
    from canonis.core.features import recognise
    from canonis.core.layout import layout_report
    from canonis.core.proof import check_sheet
    from canonis.core.quantity import Unit
    from canonis.core.recipe import build_recipe
    from canonis.core.sheet import compile_sheet
    from canonis.core.solid import read_model, write_step
    from canonis.core.source import read_specification
    from canonis.core.study import draft_proven, hints_of, scheme_of

    part = draw_part(seed)
    written = part.written()
    rng = random.Random(seed)
    head, _, rows = specification(written).partition("[characteristics]\n")
    lines = []
    for row in rows.splitlines():
        cells = row.split(" | ")
        lines.append(" | ".join([*cells[:-1], _toleranced(cells[-1], part.unit, rng)]) if len(cells) == 3 else row)
    lines = _with_slips(lines, wrong, rng)
    spec = read_specification(head + "[characteristics]\n" + "\n".join(lines) + "\n")
    built = build_recipe(written.recipe())
    model = read_model(write_step(built.shape, built.name, built.unit), "part.step")
    found = tuple(recognise(s) for s in model.solids)
    hints = tuple(hints_of(f) for f in found)
    begun = time.perf_counter()
    wish = DraftWish(views="auto", unit=Unit(part.unit))
    draft = draft_proven(model, wish, features=found, scheme=lambda scene, _: scheme_of(spec, scene, hints))
    spent = time.perf_counter() - begun
    check = check_sheet(draft.document, model.solids, spec, hints=hints)
    sizes = [
        {
            (
                p.name,
                p.nominal,
                p.lower if p.tolerance != "general" else None,
                p.upper if p.tolerance != "general" else None,
            )
            for p in s.reading.parts
        }
        for s in check.statements
        if s.reading is not None and s.state in ("proven", "reference")
    ]
    sizes += [{p for other in sizes for p in other if p[0] == "pitch-circle"}]
    out = []
    for c in spec.characteristics:
        if c.error is not None or c.kind in ("note", "round"):
            continue
        wanted = {
            (
                p.name,
                p.nominal,
                p.lower if p.tolerance != "general" else None,
                p.upper if p.tolerance != "general" else None,
            )
            for p in c.parts
        }
        circle = {p for p in wanted if p[0] == "pitch-circle"}
        out.append(
            (
                c.text,
                any(wanted - circle <= s or {("pitch", *p[1:]) for p in wanted} <= s for s in sizes)
                and circle <= sizes[-1],
            )
        )
    report = layout_report(draft.scene, compile_sheet(draft.scene))
    states = [s.state for s in check.statements]
    bare = draft_proven(model, wish, features=found)
    without = check_sheet(bare.document, model.solids, hints=hints).complete["free"]
    unread = sum(s.unread for s in check.statements)
    off = {
        "free_by_source": len(set(check.complete["free"]) - set(without)),
        "unread": unread,
        "withdrawn": len(draft.document.withdrawn),
        "free": len(check.complete["free"]),
        "twice": len(check.complete["redundant"]),
        "contradicted": states.count("contradicted"),
        "unproven": states.count("unproven"),
        "text_on_text": report["text_on_text"],
        "text_on_line": report["text_on_line"],
        "differs": sum(m.state == "differs" for m in check.matches.values()),
        "seconds": round(spent, 2),
    }
    return out, off


def bench_scheme(seeds: range = range(60)) -> dict[str, Any]:
    """Over generated sources, right ones and ones of which up to three lines are wrong: lines that the sheet says as the
    source does, and what is wrong with the sheets."""
    said = lines = 0
    totals: dict[str, float] = {}
    for seed in seeds:
        slips = seed % 4
        rows, wrong = said_of(seed, slips)
        if not slips:
            said += sum(ok for _, ok in rows)
            lines += len(rows)
        totals = {k: totals.get(k, 0) + v for k, v in wrong.items()}
        missed = [] if slips else [text for text, ok in rows if not ok]
        bad = {k: v for k, v in wrong.items() if v and k != "seconds"}
        print(f"{seed:4}{slips:3}{len(rows):5}{wrong['seconds']:8.2f} s  {'; '.join(missed)}  {bad or ''}")
    print(f"{said} of {lines} lines as the source says them ({100 * said / max(lines, 1):.1f} %)")
    return {"bench": "scheme", "lines": lines, "said": said, "share": round(said / max(lines, 1), 4), **totals}
