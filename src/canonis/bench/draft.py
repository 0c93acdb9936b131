"""A whole draft against the kernel alone: reading and four views."""

import json
import resource
import time
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import numpy as np

from canonis.bench.stated import Defining, defining_sizes, is_rough, is_stated, lengths_of

__all__ = ["bench_draft", "bench_drafts", "bench_trades"]


def _kernel_alone(data: bytes, name: str) -> float:
    """Seconds the kernel alone needs to read the file and project four views."""
    import os
    import tempfile

    from OCP.STEPControl import STEPControl_Reader

    from canonis.core.solid import hide, quiet_kernel
    from canonis.core.view import frame_of, front_frame

    quiet_kernel()
    handle, path = tempfile.mkstemp(suffix=".step")
    with os.fdopen(handle, "wb") as file:
        file.write(data)
    front = front_frame(np.array([1.0, 0, 0]), np.array([0.0, 0, 1]))
    begun = time.perf_counter()
    reader = STEPControl_Reader()
    reader.ReadFile(path)
    reader.TransferRoots()
    shape = reader.OneShape()
    for kind in ("front", "top", "left", "pictorial"):
        frame = frame_of(kind, front)
        hide(shape, frame.right, frame.toward, kind != "pictorial")
    spent = time.perf_counter() - begun
    Path(path).unlink()
    return spent


def bench_draft(file: Path) -> dict[str, Any]:
    from canonis.work.jobs import draft

    data = file.read_bytes()
    rows = []
    for _ in range(3):
        kernel = _kernel_alone(data, file.name)
        begun = time.perf_counter()
        draft(lambda _: None, data=data, name=file.name, options={})
        rows.append((kernel, time.perf_counter() - begun))
    kernel, ours = (min(r[k] for r in rows) for k in (0, 1))
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(
        f"{'kernel: read and four views':40}{kernel:8.2f} s\n{'whole draft with proof and all files':40}{ours:8.2f} s"
    )
    print(f"{'ratio':40}{ours / kernel:8.2f}\n{'peak memory':40}{peak:8.0f} MB")
    return {
        "bench": "draft",
        "file": file.name,
        "kernel_s": round(kernel, 3),
        "draft_s": round(ours, 3),
        "ratio": round(ours / kernel, 3),
        "peak_mb": round(peak),
    }


def _row(name: str, model: Any, sought: Sequence[Defining] = (), told: list[str] | None = None) -> dict[str, Any]:
    """What is wrong with the draft of one model as people get it, counted; times in s. `sought` is what defines the part;
    what its sheet does not state of that, what was withdrawn and why, what is free is added to `told`."""
    from canonis.core.drafting import DraftWish
    from canonis.core.layout import layout_report
    from canonis.core.proof import check_sheet
    from canonis.core.sheet import compile_sheet
    from canonis.core.study import draft_proven

    begun = time.perf_counter()
    stages: list[tuple[str, float]] = []
    draft = draft_proven(model, DraftWish(views="auto"), lambda stage: stages.append((stage, time.perf_counter())))
    drafted = time.perf_counter()
    placing = next((t for stage, t in stages if stage.startswith("Placing")), drafted)
    kinds = ("plane", "cylinder", "cone", "sphere", "torus")
    odd = sum(f.kind not in kinds for solid in model.solids for f in solid.faces) / sum(
        len(s.faces) for s in model.solids
    )
    check = check_sheet(draft.document, model.solids)
    proven = time.perf_counter()
    states = [s.state for s in check.statements]
    report = layout_report(draft.scene, compile_sheet(draft.scene))
    unread = sum(s.unread for s in check.statements)
    readings = [s.reading for s in check.statements if s.reading is not None]
    sizes = lengths_of(s.reading for s in check.statements if s.reading is not None and s.state != "reference")
    missing = [what for what in sought if not is_stated(readings, what)]
    if told is not None:
        told += [f"{name}: withdrawn {w.text!r}: {w.why}" for w in draft.document.withdrawn]
        told += [f"{name}: free {what}" for what in check.complete["free"]]
        told += [
            f"{name}: {s.state} {s.text!r}" for s in check.statements if s.state in ("contradicted", "unproven", "lost")
        ]
        told += [f"{name}: not stated {what} {kind} {value}" for what, kind, value in missing]
    return {
        "part": name,
        "statements": len(states),
        "free": len(check.complete["free"]),
        "twice": len(check.complete["redundant"]),
        "contradicted": states.count("contradicted") + states.count("lost"),
        "unreadable": unread,
        "unproven": states.count("unproven"),
        "text_on_text": report["text_on_text"],
        "text_on_line": report["text_on_line"],
        "crossings": report["crossings"],
        "to_hidden": report["to_hidden"],
        "withdrawn": len(draft.document.withdrawn),
        "lengths": len(sizes),
        "rough": sum(is_rough(p, draft.document.unit) for p in sizes),
        "sought": len(sought),
        "not_stated": len(missing),
        "drawn_level": len(check.drawn_level),
        "free_form_%": round(100 * odd, 1),
        "plan_s": round(placing - begun, 2),
        "place_s": round(drafted - placing, 2),
        "proof_s": round(proven - drafted, 2),
    }


#: What no sheet may have.
_FAULTS = ("free", "twice", "contradicted", "unreadable", "unproven", "text_on_text", "text_on_line", "to_hidden")

#: How the gallery's parts lie: as they are built, and turned about an axis by degrees.
_POSES = ((None, 0.0), ((0, 0, 1), 30.0), ((1, 0, 0), 90.0), ((1, 2, 3), 37.0), ((1, 1, 0), 111.0))


def bench_drafts(files: list[Path], quick: bool = False) -> dict[str, Any]:
    """The drafts of the gallery in five poses, of random compositions and of some files: what they leave free, say twice,
    and where their text collides. Files are models, or recipes (`.json`), which are drafted in five poses too, or folders of
    models; a folder's `params.json` says what defines them. `quick`: in one pose, without compositions; with files these
    alone."""
    from canonis.bench.compositions import compose
    from canonis.bench.gallery import GALLERY
    from canonis.core.recipe import build_recipe
    from canonis.core.solid import read_model, turned_about, write_step

    rows: list[dict[str, Any]] = []
    told: list[str] = []
    sought = {name: sizes for f in files if f.is_dir() for name, sizes in defining_sizes(f).items()}
    files = [g for f in files for g in (sorted(f.glob("*.st*p")) if f.is_dir() else [f])]
    recipes = {f.stem: json.loads(f.read_bytes()) for f in files if f.suffix == ".json"}
    files = [f for f in files if f.suffix != ".json"]
    own = {} if quick and files else GALLERY
    for name, recipe in (own | recipes).items():
        built = build_recipe(recipe)
        for n, (axis, degrees) in enumerate(_POSES[: 1 if quick else None]):
            shape = (
                built.shape
                if axis is None
                else turned_about(built.shape, np.zeros(3), np.array(axis, dtype=float), degrees)
            )
            model = read_model(write_step(shape, built.name, built.unit), f"{name}.step")
            rows.append(_row(name if n == 0 else f"{name}, pose {n + 1}", model, told=told))
    for seed in range(0 if quick else 40):
        built = build_recipe(compose(seed).recipe())
        rows.append(
            _row(
                f"composition {seed}",
                read_model(write_step(built.shape, built.name, built.unit), "part.step"),
                told=told,
            )
        )
    for f in files:
        rows.append(_row(f.stem, read_model(f.read_bytes(), f.name), sought.get(f.stem, ()), told))
    return {"bench": "draft", **_summed(rows, told)}


def _summed(rows: list[dict[str, Any]], told: list[str]) -> dict[str, Any]:
    """Print the rows of drafts, their sums, and what is told of them; the sums."""
    columns = [c for c in rows[0] if c != "part"]
    print(f"{'part':26}" + "".join(f"{c[:12]:>13}" for c in columns))
    for row in rows:
        print(f"{row['part'][:26]:26}" + "".join(f"{row[c]:>13}" for c in columns))
    totals = {c: round(sum(row[c] for row in rows), 2) for c in columns}
    print(f"{'all':26}" + "".join(f"{totals[c]:>13}" for c in columns))
    print("\n".join(told))
    faultless = sum(not any(row[c] for c in _FAULTS) for row in rows)
    print(f"{faultless} of {len(rows)} sheets without a fault ({', '.join(_FAULTS)})")
    return {"parts": len(rows), "faultless": faultless, **totals}


def bench_trades() -> dict[str, Any]:
    """The drafts of parts of other trades, hand by hand: castings, valves, fixtures, pipework, mouldings, joints, sheet metal,
    screws."""
    from canonis.bench.trades import first, second
    from canonis.core.quantity import Unit
    from canonis.core.solid import read_model, write_step

    found = {}
    for hand in (first, second):
        rows: list[dict[str, Any]] = []
        told: list[str] = []
        for name, (make, sizes) in hand.HAND.parts.items():
            model = read_model(write_step(make(), name, Unit.MM), f"{name}.step")
            rows.append(_row(name, model, sizes, told))
        found[hand.__name__.rpartition(".")[2]] = _summed(rows, told)
    return {"bench": "trades", **found}
