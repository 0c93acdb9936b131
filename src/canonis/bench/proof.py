"""Slips planted under finished sheets, and sheets altered on right models: how many the proof catches, and in how many words."""

import random
import time
from collections import defaultdict
from typing import Any

__all__ = ["bench_proof"]

_PARTS, _QUICK = 56, 8
#: Seconds after which no further part is begun.
_LIMIT = {True: 270.0, False: 2300.0}


def _top(findings: Any) -> set[str]:
    """Ids of the findings that follow from no other."""
    return {f.id for f in findings if not f.under and f.severity != "advice"}


def bench_proof(quick: bool = False) -> dict[str, Any]:
    """Draft random parts, plant one slip at a time, count what is caught; prints a table by slip."""
    from canonis.bench.slips import model_slips, random_part, sheet_edits
    from canonis.core.drafting import DraftWish, draft_model
    from canonis.core.faults import BadInput
    from canonis.core.proof import check_sheet
    from canonis.core.recipe import build_recipe
    from canonis.core.solid import Model, quiet_kernel, read_model, write_step

    quiet_kernel()

    def model(recipe: dict[str, Any]) -> Model:
        built = build_recipe(recipe)
        return read_model(write_step(built.shape, built.name, built.unit), "part.step")

    tried: dict[str, int] = defaultdict(int)
    caught: dict[str, int] = defaultdict(int)
    most: dict[str, int] = defaultdict(int)
    over: dict[str, int] = defaultdict(int)
    missed: list[str] = []
    begun = time.perf_counter()
    parts = clean = 0
    sent_back: list[str] = []
    for seed in range(1000, 1000 + (_QUICK if quick else _PARTS)):
        if time.perf_counter() - begun > _LIMIT[quick]:
            break
        recipe = random_part(seed)
        try:
            right = model(recipe)
        except BadInput:
            continue
        parts += 1
        document = draft_model(
            right, DraftWish(style="asme" if recipe["unit"] == "in" else "iso", density=2.7)
        ).document
        base = check_sheet(document, right.solids, density=2.7)
        known = {f.id for f in base.findings}
        if known:
            # No finished sheet: the draft itself has faults, or the proof finds some where none are. Both are to be read.
            sent_back.append(f"part {seed}: " + "; ".join(f.message for f in base.findings if not f.under))
            continue
        clean += 1
        cases: list[tuple[str, Any, Any]] = []
        for name, other in model_slips(recipe):
            try:
                cases.append((f"model: {name}", document, model(other)))
            except BadInput:
                continue
        cases += [(f"sheet: {name}", sheet, right) for name, sheet in sheet_edits(document, random.Random(seed))]
        for name, sheet, solids in cases:
            tried[name] += 1
            new = _top(check_sheet(sheet, solids.solids, density=2.7).findings) - known
            caught[name] += bool(new)
            most[name] = max(most[name], len(new))
            over[name] += len(new) > 3
            if not new:
                missed.append(f"{name} on part {seed}")
    total, hit = sum(tried.values()), sum(caught.values())
    print(f"{parts} parts; {clean} finished sheets, {len(sent_back)} drafts sent back by their own proof")
    print(f"{'what was done':28} {'tried':>6} {'caught':>7} {'most findings':>14} {'over 3':>7}")
    for name in sorted(tried):
        print(f"{name:28} {tried[name]:6} {caught[name]:7} {most[name]:14} {over[name]:7}")
    print(f"{'all':28} {total:6} {hit:7} {max(most.values(), default=0):14} {sum(over.values()):7}")
    for line in missed[:20]:
        print("missed:", line)
    for line in sent_back:
        print("sent back:", line[:300])
    return {
        "parts": parts,
        "finished": clean,
        "sent_back": len(sent_back),
        "tried": total,
        "caught": hit,
        "share": hit / max(1, total),
        "over_three": sum(over.values()),
        "seconds": time.perf_counter() - begun,
    }
