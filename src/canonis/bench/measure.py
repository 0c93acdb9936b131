"""Measuring and recognising against the kernel alone, and how it grows with the number of faces."""

import resource
import time
from pathlib import Path
from typing import Any

import numpy as np

__all__ = ["bench_measure", "drilled_plate"]


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
    from canonis.core.features import measure_model
    from canonis.core.solid import quiet_kernel, read_model

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
    return {
        "schema": "canonis.recipe/1",
        "unit": "mm",
        "name": "plate",
        "steps": [{"op": "extrude", "profile": profile, "distance": 12}],
    }


def bench_measure(files: list[Path]) -> dict[str, Any]:
    from canonis.core.recipe import build_recipe
    from canonis.core.solid import write_step
    from canonis.demo.load import demo_files
    from canonis.work.home import home

    rows = []
    print(f"{'file':34}{'faces':>7}{'kernel s':>10}{'ours s':>9}{'3×+1 s':>9}{'within':>8}")
    for path in [*demo_files(home() / "bench").values(), *files]:
        kernel, ours, faces = _measured(path.read_bytes(), path.name)
        rows.append(
            {
                "file": path.name,
                "faces": faces,
                "kernel_s": round(kernel, 3),
                "ours_s": round(ours, 3),
                "ratio": round(ours / kernel, 2),
                "within": ours <= 3 * kernel + 1,
            }
        )
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
    return {
        "bench": "measure",
        "files": rows,
        "growth": [{"faces": f, "s": round(t, 3)} for f, t in growth],
        "exponent": round(exponent, 3),
        "peak_mb": round(peak),
    }
