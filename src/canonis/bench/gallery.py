"""A gallery: sixteen parts drafted unasked, their pages written out to be looked at, their views checked by program."""

import json
import tempfile
import time
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from canonis.core.drafting import Draft, DraftWish, draft_model, spare_views, unseen_features
from canonis.core.layout import page_collisions
from canonis.core.output import dump, write_pdf
from canonis.core.recipe import build_recipe
from canonis.core.sheet import compile_sheet, view_name
from canonis.core.solid import Model, read_model, write_step

__all__ = ["GALLERY", "bench_gallery", "drafted"]

Step = dict[str, Any]


def _recipe(name: str, *steps: Step) -> dict[str, Any]:
    numbered = [{"name": f"step {k}", **s} for k, s in enumerate(steps, start=1)]
    return {"schema": "canonis.recipe/1", "unit": "mm", "name": name, "density": 7.85, "steps": numbered}


def _plane(origin: Sequence[float], x: Sequence[float], normal: Sequence[float]) -> dict[str, Any]:
    return {"origin": list(origin), "x": list(x), "normal": list(normal)}


def _block(w: float, d: float, h: float, x: float = 0, y: float = 0, z: float = 0) -> Step:
    return {
        "op": "extrude",
        "profile": {"plane": _plane([0, 0, z], [1, 0, 0], [0, 0, 1]), "outer": {"rect": [x, y, w, d]}},
        "distance": h,
    }


def _rod(d: float, h: float, z: float = 0) -> Step:
    return {
        "op": "extrude",
        "profile": {"plane": _plane([0, 0, z], [1, 0, 0], [0, 0, 1]), "outer": {"circle": [0, 0, d]}},
        "distance": h,
    }


def _hole(at: list[list[float]], d: float, axis: Sequence[float] = (0, 0, 1), **more: Any) -> Step:
    how = {} if "depth" in more else {"through": True}
    return {"op": "hole", "at": at, "axis": list(axis), "diameter": d, **how, **more}


def _turned(*points: tuple[float, float]) -> Step:
    """A body turned about the x axis from (along, radius) corners."""
    return {
        "op": "revolve",
        "profile": {"plane": "XY", "outer": {"polygon": [list(p) for p in points]}},
        "axis": {"point": [0, 0, 0], "direction": [1, 0, 0]},
        "angle": 360,
    }


def _bracket() -> Step:
    path = [
        ["M", 0, 5],
        ["A", 5, 0, 5, "ccw"],
        ["L", 60, 0],
        ["L", 60, 2],
        ["L", 5, 2],
        ["A", 2, 5, 3, "cw"],
        ["L", 2, 40],
        ["L", 0, 40],
        ["Z"],
    ]
    return {"op": "extrude", "profile": {"plane": "XZ", "outer": {"path": path}}, "distance": 36}


def _askew(steps: Sequence[Step]) -> list[Step]:
    """The same part lying turned by 30° in its file."""
    c, s = 0.8660254037844387, 0.5
    out = []
    for step in steps:
        made = json.loads(json.dumps(step))
        if "profile" in made:
            origin = made["profile"]["plane"]["origin"]
            made["profile"]["plane"] = _plane(origin, [c, s, 0], [0, 0, 1])
        if "at" in made:
            made["at"] = [[p[0] * c - p[1] * s, p[0] * s + p[1] * c, p[2]] for p in made["at"]]
        out.append(made)
    return out


_TOOTH = {
    "name": "tooth",
    "op": "extrude",
    "profile": {"plane": "XY", "outer": {"rect": [0, -2.5, 18, 5]}},
    "distance": 40,
}
_THREAD = {
    "op": "sweep",
    "mode": "cut",
    "profile": {
        "plane": _plane([0, 0, 22], [1, 0, 0], [0, -1, 0]),
        "outer": {"polygon": [[6.9, -0.15], [8.5, -0.85], [8.5, 0.85], [6.9, 0.15]]},
    },
    "path": {"helix": {"axis": {"point": [0, 0, 22], "direction": [0, 0, 1]}, "pitch": 2, "turns": 12, "diameter": 16}},
}

#: By name: each a recipe.
GALLERY: dict[str, dict[str, Any]] = {
    "bored housing": _recipe(
        "bored housing",
        _block(90, 60, 50),
        _hole([[45, 30, 50]], 30, depth=36),
        _hole([[45, 0, 25]], 16, (0, -1, 0), depth=32, counterbore={"diameter": 24, "depth": 6}),
        _hole([[90, 30, 25]], 12, (1, 0, 0), depth=32, point=118),
        _hole(
            [[10, 10, 50], [80, 10, 50], [10, 50, 50], [80, 50, 50]], 6.6, counterbore={"diameter": 11, "depth": 6.5}
        ),
    ),
    "grooved spindle": _recipe(
        "grooved spindle",
        _turned(
            (0, 0),
            (0, 10),
            (30, 10),
            (30, 15),
            (32, 15),
            (32, 13.5),
            (34, 13.5),
            (34, 15),
            (90, 15),
            (90, 12),
            (120, 12),
            (120, 0),
        ),
        {
            "op": "extrude",
            "profile": {"plane": _plane([60, 0, 15], [1, 0, 0], [0, 0, 1]), "outer": {"slot": [-9, 0, 9, 0, 8]}},
            "distance": -4,
            "mode": "cut",
        },
        {
            "op": "extrude",
            "profile": {"plane": _plane([105, -2.5, 0], [1, 0, 0], [0, -1, 0]), "outer": {"circle": [0, 12, 13]}},
            "both": [0, 5],
            "mode": "cut",
        },
    ),
    "flanged bush": _recipe(
        "flanged bush",
        _turned((0, 12), (0, 30), (8, 30), (8, 18), (40, 18), (40, 12), (37, 12), (37, 14), (34, 14), (34, 12)),
        _hole([[0, 24, 0], [0, -24, 0], [0, 0, 24], [0, 0, -24]], 5, (-1, 0, 0)),
    ),
    "ribbed angle": _recipe(
        "ribbed angle",
        _block(60, 40, 6),
        _block(6, 40, 40, 0, 0, 6),
        {
            "op": "rib",
            "profile": {"plane": _plane([0, 20, 0], [1, 0, 0], [0, -1, 0]), "line": [[6, 36], [46, 6]]},
            "thickness": 5,
            "direction": [-0.7, 0, -0.7],
        },
        _hole([[45, 10, 6], [45, 30, 6]], 7),
        _hole([[0, 10, 32], [0, 30, 32]], 5.5, (-1, 0, 0)),
    ),
    "sheet bracket": _recipe(
        "sheet bracket", _bracket(), _hole([[40, -10, 2], [40, -26, 2]], 5.5), _hole([[0, -18, 28]], 9, (-1, 0, 0))
    ),
    "moulded cowl": _recipe(
        "moulded cowl",
        {**_block(80, 50, 30), "draft": -2},
        {"op": "shell", "open": {"normal": [0, 0, -1], "at": 0}, "thickness": 2},
        _hole([[40, 25, 30]], 12),
        {
            "op": "extrude",
            "profile": {"plane": _plane([0, 0, 16], [1, 0, 0], [0, 0, 1]), "outer": {"circle": [20, 25, 8]}},
            "distance": 13,
        },
    ),
    "sloped arm": _recipe(
        "sloped arm",
        _block(80, 30, 20),
        {
            "op": "extrude",
            "profile": {"plane": "XZ", "outer": {"polygon": [[80, 20], [80, 8], [45, 20]]}},
            "distance": -30,
            "mode": "cut",
        },
        _hole([[62.5, 15, 14]], 8, (12, 0, 35), depth=8),
        _hole([[15, 15, 20]], 10),
    ),
    "long shaft": _recipe(
        "long shaft",
        _turned((0, 0), (0, 8), (1, 9), (40, 9), (40, 12), (360, 12), (360, 9), (399, 9), (400, 8), (400, 0)),
    ),
    "two-sided plate": _recipe(
        "two-sided plate",
        _block(90, 60, 16),
        {
            "op": "extrude",
            "profile": {"plane": _plane([0, 0, 16], [1, 0, 0], [0, 0, 1]), "outer": {"slot": [30, 30, 60, 30, 14]}},
            "distance": -6,
            "mode": "cut",
        },
        {
            "op": "extrude",
            "profile": {"plane": _plane([0, 0, 0], [1, 0, 0], [0, 0, 1]), "outer": {"rect": [10, 10, 20, 40]}},
            "distance": 5,
            "mode": "cut",
        },
        _hole([[80, 10, 0], [80, 50, 0]], 6, (0, 0, -1), depth=9),
    ),
    "threaded stud": _recipe("threaded stud", _rod(16, 50), _rod(26, 20), _THREAD),
    "splined hub": _recipe(
        "splined hub",
        _rod(30, 40),
        _TOOTH,
        {"op": "ring", "steps": ["tooth"], "axis": {"point": [0, 0, 0], "direction": [0, 0, 1]}, "count": 10},
        {"op": "extrude", "profile": {"plane": "XY", "outer": {"circle": [0, 0, 35]}}, "distance": 40, "mode": "keep"},
        _hole([[0, 0, 40]], 14),
    ),
    "plate turned in its file": _recipe(
        "plate turned in its file",
        *_askew(
            [
                _block(80, 50, 12),
                _hole(
                    [[10, 10, 12], [70, 10, 12], [10, 40, 12], [70, 40, 12]],
                    6.6,
                    counterbore={"diameter": 11, "depth": 6},
                ),
            ]
        ),
    ),
    "stepped block": _recipe(
        "stepped block",
        _block(70, 40, 30),
        {
            "op": "extrude",
            "profile": {"plane": "XZ", "outer": {"rect": [40, 15, 30, 15]}},
            "distance": -40,
            "mode": "cut",
        },
        _hole([[20, 20, 30]], 12, depth=20, point=118),
        _hole([[55, 20, 15]], 8, counterbore={"diameter": 14, "depth": 5}),
    ),
    "cover ring": _recipe(
        "cover ring",
        _turned((0, 20), (0, 45), (10, 45), (10, 30), (16, 30), (16, 20)),
        _hole([[0, 37, 0], [0, -37, 0], [0, 0, 37], [0, 0, -37]], 6.6, (-1, 0, 0)),
    ),
    "clamp": _recipe(
        "clamp",
        _block(50, 30, 40),
        _hole([[25, 0, 24]], 18, (0, -1, 0)),
        _block(3, 30, 16, 23.5, 0, 24) | {"mode": "cut"},
        _hole([[0, 15, 35]], 6, (-1, 0, 0)),
    ),
    "two loose parts": _recipe(
        "two loose parts",
        _block(50, 30, 12),
        _hole([[12, 15, 12], [38, 15, 12]], 7),
        {
            "op": "extrude",
            "profile": {"plane": _plane([100, 0, 0], [1, 0, 0], [0, 0, 1]), "outer": {"circle": [0, 0, 24]}},
            "distance": 30,
        },
        _hole([[100, 0, 30]], 12),
    ),
    "knob": _recipe(
        "knob",
        _turned((0, 0), (0, 8), (18, 8), (20, 16), (34, 20), (44, 14), (44, 0)),
        _hole([[0, 0, 0]], 6, (-1, 0, 0), depth=20),
    ),
}


def drafted(recipe: dict[str, Any]) -> tuple[Draft, Model]:
    """A recipe's part built, read and drafted as the application does it, with its model."""
    built = build_recipe(recipe)
    model = read_model(write_step(built.shape, built.name, built.unit), f"{built.name}.step")
    return draft_model(model, DraftWish(views="auto")), model


def bench_gallery(out: Path | None = None) -> dict[str, Any]:
    """Draft every part, write its PDF into a folder and print what stands on it; count features that no view shows."""
    folder = out or Path(tempfile.mkdtemp(prefix="canonis-gallery-"))
    folder.mkdir(parents=True, exist_ok=True)
    rows: list[dict[str, Any]] = []
    print(f"{'part':26} {'s':>6} {'size':>5} {'views':60} unseen / could go")
    for name, recipe in GALLERY.items():
        begun = time.perf_counter()
        draft, _ = drafted(recipe)
        spent = time.perf_counter() - begun
        scene = draft.scene
        drawing = compile_sheet(scene)
        (folder / f"{name.replace(' ', '-')}.pdf").write_bytes(write_pdf(drawing))
        bad = [page_collisions(page) for page in drawing.pages]
        clashes = sum(len(b["text_on_text"]) + len(b["text_on_line"]) for b in bad)
        missing = [
            x
            for k, page in enumerate(draft.document.pages)
            for x in unseen_features(scene, page, draft.features[page.solid])
        ]
        spare = [view_name(v) for v in spare_views(scene, draft.features)]
        names = ", ".join(view_name(v) for v in draft.document.views)
        print(
            f"{name:26} {spent:6.2f} {draft.document.pages[0].size:>5} {names[:60]:60} {', '.join(missing) or 'none'} / {', '.join(spare) or 'none'}"
        )
        rows.append(
            {
                "part": name,
                "s": round(spent, 2),
                "views": names,
                "unseen": missing,
                "spare": spare,
                "clashes": clashes,
                "reasons": [v.reason for v in draft.document.views if v.reason],
            }
        )
    (folder / "gallery.json").write_text(dump(rows))
    print(f"pages in {folder}")
    return {
        "bench": "gallery",
        "parts": len(rows),
        "unseen": sum(len(r["unseen"]) for r in rows),
        "spare": sum(len(r["spare"]) for r in rows),
        "clashes": sum(r["clashes"] for r in rows),
        "folder": str(folder),
    }
