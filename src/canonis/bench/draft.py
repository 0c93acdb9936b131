"""A whole draft against the kernel alone: reading and four views."""

import resource
import time
from pathlib import Path
from typing import Any

import numpy as np

__all__ = ["bench_draft"]


def _kernel_alone(data: bytes, name: str) -> float:
    """Seconds the kernel alone needs to read the file and project four views."""
    import os
    import tempfile

    from OCP.STEPControl import STEPControl_Reader

    from canonis.core.solid.kernel_lines import hide
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
    return {"bench": "draft", "file": file.name, "kernel_s": round(kernel, 3), "draft_s": round(ours, 3),
            "ratio": round(ours / kernel, 3), "peak_mb": round(peak)}  # fmt: skip
