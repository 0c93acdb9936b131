"""Benchmarks: each measures both sides in one run and prints a table and a JSON line with ratios."""

import json
import resource
import time
from pathlib import Path
from typing import Any

import numpy as np

from canonis.core.faults import BadInput

__all__ = ["run_bench"]


def _kernel_alone(data: bytes, name: str) -> float:
    """Seconds the kernel alone needs to read the file and project four views."""
    import os
    import tempfile

    from OCP.STEPControl import STEPControl_Reader

    from canonis.core.solid.hidden_lines import hidden_lines
    from canonis.core.solid.reader import quiet_kernel
    from canonis.core.view.frames import frame_of, front_frame

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
        hidden_lines(shape, frame.right, frame.toward, kind != "pictorial")
    spent = time.perf_counter() - begun
    Path(path).unlink()
    return spent


def _draft(file: Path) -> dict[str, Any]:
    from canonis.work.jobs import _KEPT, draft

    data = file.read_bytes()
    rows = []
    for _ in range(3):
        kernel = _kernel_alone(data, file.name)
        _KEPT.clear()
        begun = time.perf_counter()
        draft(lambda _: None, data=data, name=file.name, options={})
        rows.append((kernel, time.perf_counter() - begun))
    kernel, ours = (min(r[k] for r in rows) for k in (0, 1))
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(
        f"{'kernel: read and four views':40}{kernel:8.2f} s\n{'whole draft with proof and all files':40}{ours:8.2f} s"
    )
    print(f"{'ratio':40}{ours / kernel:8.2f}\n{'peak memory':40}{peak:8.0f} MB")
    return {"bench": "draft", "file": file.name, "kernel_s": round(kernel, 3), "draft_s": round(ours, 3),
            "ratio": round(ours / kernel, 3), "peak_mb": round(peak)}  # fmt: skip


def _read_and_weigh(data: bytes) -> float:
    """Seconds the kernel alone needs to read the file and take its volume properties."""
    import os
    import tempfile

    from OCP.BRepGProp import BRepGProp
    from OCP.GProp import GProp_GProps
    from OCP.STEPControl import STEPControl_Reader

    handle, path = tempfile.mkstemp(suffix=".step")
    with os.fdopen(handle, "wb") as file:
        file.write(data)
    begun = time.perf_counter()
    reader = STEPControl_Reader()
    reader.ReadFile(path)
    reader.TransferRoots()
    BRepGProp.VolumeProperties_s(reader.OneShape(), GProp_GProps())
    spent = time.perf_counter() - begun
    Path(path).unlink()
    return spent


def _measured(data: bytes, name: str, rounds: int = 3) -> tuple[float, float, int]:
    """(kernel, ours, faces): best of some rounds, taken in turn, s."""
    from canonis.core.features.report import measure_model
    from canonis.core.solid.reader import quiet_kernel, read_model

    quiet_kernel()
    kernel, ours, faces = float("inf"), float("inf"), 0
    for _ in range(rounds):
        kernel = min(kernel, _read_and_weigh(data))
        begun = time.perf_counter()
        model = read_model(data, name)
        measure_model(model)
        ours = min(ours, time.perf_counter() - begun)
        faces = sum(len(s.faces) for s in model.solids)
    return kernel, ours, faces


def drilled_plate(faces: int) -> dict[str, Any]:
    """The recipe of a plate with a grid of through holes that has this many faces."""
    holes = faces - 6
    columns = int(np.ceil(np.sqrt(holes * 1.6)))
    spots = [[10 + 8 * (k % columns), 10 + 8 * (k // columns), 4] for k in range(holes)]
    rows = -(-holes // columns)
    outer = {"rect": [0, 0, 8 * columns + 12, 8 * rows + 12]}
    profile = {"plane": "XY", "outer": outer, "holes": [{"circle": spot} for spot in spots]}
    return {"schema": "canonis.recipe/1", "unit": "mm", "name": "plate", "steps": [{"op": "extrude", "profile": profile, "distance": 12}]}  # fmt: skip


def _measure(files: list[Path]) -> dict[str, Any]:
    from canonis.core.recipe.build import build_recipe
    from canonis.core.solid.making import write_step
    from canonis.demo.load import demo_files
    from canonis.work.launch import home

    rows = []
    print(f"{'file':34}{'faces':>7}{'kernel s':>10}{'ours s':>9}{'3×+1 s':>9}{'within':>8}")
    for path in [*demo_files(home() / "bench").values(), *files]:
        kernel, ours, faces = _measured(path.read_bytes(), path.name)
        rows.append({"file": path.name, "faces": faces, "kernel_s": round(kernel, 3), "ours_s": round(ours, 3),
                     "ratio": round(ours / kernel, 2), "within": ours <= 3 * kernel + 1})  # fmt: skip
        print(
            f"{path.name:34}{faces:7}{kernel:10.3f}{ours:9.3f}{3 * kernel + 1:9.3f}{'yes' if rows[-1]['within'] else 'NO':>8}"
        )
    growth = []
    print(f"\n{'plate with holes':34}{'faces':>7}{'ours s':>19}")
    for wanted in (100, 300, 1000, 3000):
        built = build_recipe(drilled_plate(wanted))
        _, ours, faces = _measured(write_step(built.shape, built.name, built.unit), "plate.step", 1)
        growth.append((faces, ours))
        print(f"{'':34}{faces:7}{ours:19.3f}")
    sizes, times = np.log([g[0] for g in growth]), np.log([g[1] for g in growth])
    exponent = float(np.polyfit(sizes, times, 1)[0])
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"{'time grows as faces to the power':34}{exponent:7.2f}\n{'peak memory':34}{peak:7.0f} MB")
    return {"bench": "measure", "files": rows, "growth": [{"faces": f, "s": round(t, 3)} for f, t in growth],
            "exponent": round(exponent, 3), "peak_mb": round(peak)}  # fmt: skip


def run_bench(name: str, files: list[Path]) -> None:
    """Run one benchmark by name."""
    if name not in ("draft", "measure"):
        raise BadInput(f"There is no benchmark “{name}”; there are draft and measure.")
    missing = [str(f) for f in files if not f.exists()]
    if missing:
        raise BadInput(f"There is no file “{missing[0]}”.")
    if name == "draft" and len(files) != 1:
        raise BadInput("The draft benchmark needs a STEP file: ./canonis bench draft FILE")
    print(json.dumps(_draft(files[0]) if name == "draft" else _measure(files)))
