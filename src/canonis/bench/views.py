"""Views by our engine against the kernel's own, on the same solids in the same run: time, and lines missed and extra."""

import math
import resource
import statistics
import time
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any

import numpy as np
import shapely

from canonis.bench.heavy import HEAVY, plate_of_holes
from canonis.core.features import marks_of, recognise
from canonis.core.recipe import build_recipe
from canonis.core.solid import RawCurve, Solid, Vec, kernel_lines, read_model, solid_mesh, write_step
from canonis.core.view import Line, Projection, ViewFrame, frame_of, front_frame, prepare, project, ray_scene

__all__ = ["bench_views", "edges_seen", "kernel_engine", "uncovered"]

_FRONT = front_frame(np.array([1.0, 0, 0]), np.array([0.0, 0, 1]))
_KINDS = ("front", "top", "left", "pictorial")
#: How long the kernel is waited for, s; then it is stopped and its time counted as this.
_PATIENCE = 60
_GROWTH = (100, 300, 1000, 3000)


def kernel_engine(solid: Solid, frame: ViewFrame, hidden: bool) -> list[RawCurve]:
    """The kernel's algorithm behind the engine's interface."""
    return kernel_lines(solid, frame.right, frame.toward, hidden)


def uncovered(lines: Iterable[Line], by: Iterable[Line], within: float, size: float) -> tuple[float, float, Vec]:
    """Length (mm) of `lines` with no line of `by` within a distance, their whole length, and the places (n×2)."""
    places, weights = [np.zeros((0, 2))], [np.zeros(0)]
    for line in lines:
        points = line.polyline(1e-5 * size)
        step = np.diff(points, axis=0)
        length = np.linalg.norm(step, axis=1)
        n = np.maximum(1, (length / (size * 1e-3)).astype(int))
        row = np.repeat(np.arange(len(step)), n)
        share = (np.arange(len(row)) - np.repeat(np.cumsum(n) - n, n) + 0.5) / n[row]
        places.append(points[row] + step[row] * share[:, None])
        weights.append((length / n)[row])
    at, weight = np.vstack(places), np.concatenate(weights)
    other = [shapely.LineString(line.polyline(1e-5 * size)) for line in by]
    near = np.zeros(len(at), dtype=bool)
    if other and len(at):
        near[np.unique(shapely.STRtree(other).query(shapely.points(at), "dwithin", within)[0])] = True
    return float(weight[~near].sum()), float(weight.sum()), at[~near]


def edges_seen(solid: Solid, frame: ViewFrame, places: Vec, reach: float) -> float:
    """At which share of places (n×2, mm at 1:1) dense rays see an edge: air beside material, a step in depth, or a bend.

    Rays stand in a ring of radius `reach` about each place; they know nothing of either engine's curves.
    """
    if not len(places):
        return 0.0
    mesh, scene = solid_mesh(solid), ray_scene(solid)
    corners = mesh.points[mesh.triangles]
    normals = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normals /= np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-30)
    turn = np.linspace(0, 2 * math.pi, 25)[:-1]
    ring = np.c_[np.cos(turn), np.sin(turn)] * reach
    top = float((mesh.points @ frame.toward).max()) + 1.0
    flat = (places[:, None] + ring).reshape(-1, 2)
    start = flat @ np.array([frame.right, frame.up]) + frame.toward * top - (solid.box[0] + solid.box[1]) / 2
    down = np.ascontiguousarray(np.broadcast_to(-frame.toward, start.shape).astype(np.float32))
    hit = scene.run(np.ascontiguousarray(start.astype(np.float32)), down, output=1)
    met = np.asarray(hit["primID"]).reshape(len(places), -1)
    depth = np.asarray(hit["tfar"], dtype=float).reshape(met.shape)
    air = (met < 0).any(axis=1) & (met >= 0).any(axis=1)
    n = np.where(met[..., None] >= 0, normals[np.maximum(met, 0)], 0.0)
    bend = np.einsum("ijk,ikl->ijl", n, n.transpose(0, 2, 1)).min(axis=(1, 2)) < math.cos(math.radians(12))
    # Opposite rays of a smooth surface lie level with its middle: a step does not.
    half = len(turn) // 2
    sums = depth[:, :half] + depth[:, half:]
    step = (sums.max(axis=1) - sums.min(axis=1) > 4 * reach) & (met >= 0).all(axis=1)
    return float(np.mean(air | bend | step))


def _timed(work: Callable[[], Projection]) -> tuple[float, Projection]:
    begun = time.perf_counter()
    done = work()
    return time.perf_counter() - begun, done


def _kernel(solid: Solid, frame: ViewFrame) -> tuple[float, Projection | None]:
    """The kernel's view, made in a helper that is stopped when it takes too long."""
    import os
    import pickle
    import select
    import signal

    here, there = os.pipe()
    process = os.fork()
    if process == 0:
        os.close(here)
        try:
            done = _timed(lambda: project(solid, frame, engine=kernel_engine))
            with open(there, "wb") as end:
                pickle.dump(done, end)
        finally:
            os._exit(0)
    os.close(there)
    begun = time.perf_counter()
    if not select.select([here], [], [], _PATIENCE)[0]:
        os.kill(process, signal.SIGKILL)
        os.waitpid(process, 0)
        os.close(here)
        return time.perf_counter() - begun, None
    with open(here, "rb") as end:
        spent, seen = pickle.load(end)
    os.waitpid(process, 0)
    return spent, seen


def _solid_of(recipe: dict[str, Any]) -> Solid:
    built = build_recipe(recipe)
    return read_model(write_step(built.shape, built.name, built.unit), f"{built.name}.step").solids[0]


def _compare(name: str, solid: Solid) -> dict[str, Any]:
    begun = time.perf_counter()
    prepare(solid)
    prepared = time.perf_counter() - begun
    size = solid.diagonal
    ours = theirs = 0.0
    rows = []
    for kind in _KINDS:
        frame = frame_of(kind, _FRONT)
        spent, seen = _timed(lambda frame=frame: project(solid, frame))  # type: ignore[misc]
        kernel, known = _kernel(solid, frame)
        ours += spent
        theirs += kernel
        missed = extra = math.nan
        wrong = sound = 0.0
        if known is not None:
            lost, whole, where = uncovered(known.visible, seen.visible, 1e-3 * size, size)
            more, all_, there = uncovered(seen.visible, known.visible, 1e-3 * size, size)
            wrong = edges_seen(solid, frame, where[:4000], 3e-4 * size)
            sound = edges_seen(solid, frame, there[:4000], 3e-4 * size)
            missed, extra = 100 * lost / max(whole, 1e-9), 100 * more / max(all_, 1e-9)
        rows.append(
            {
                "view": kind,
                "ours_s": spent,
                "kernel_s": kernel,
                "ratio": kernel / spent,
                "missed": missed,
                "extra": extra,
                "missed_seen": missed * wrong,
                "extra_unseen": extra * (1 - sound),
                "stopped": known is None,
            }
        )
        mark = f"over {kernel:.0f}" if known is None else f"{kernel:8.3f}"
        print(
            f"{name[:26]:26} {len(solid.faces):5} {kind:9} {spent:8.3f} {mark:>8} {kernel / spent:7.1f} {missed:8.2f} {extra:8.2f}"
            + (
                f"   by rays {missed * wrong:.2f} missed, {extra * (1 - sound):.2f} too much"
                if max(missed, extra) > 0.05
                else ""
            )
        )
    threads = marks_of(solid, recognise(solid)).threads
    if threads:
        plain = sum(_timed(lambda k=k: project(solid, frame_of(k, _FRONT), threads=threads))[0] for k in _KINDS)  # type: ignore[misc]
        print(
            f"{'':26} {'':5} {'four':9} {plain:8.3f}   its threads drawn by convention, as sheets do; above with every turn"
        )
    ratio = theirs / (ours + prepared)
    print(f"{'':26} {'':5} {'four':9} {ours + prepared:8.3f} {theirs:8.3f} {ratio:7.1f}   preparation {prepared:.3f}")
    return {
        "part": name,
        "faces": len(solid.faces),
        "prepared_s": prepared,
        "four": ratio,
        "kernel_s": theirs,
        "views": rows,
    }


def _grow(quick: bool) -> float:
    """The exponent with which the time of four views, preparation included, grows over plates of holes."""
    counts = _GROWTH[:3] if quick else _GROWTH
    times = []
    for count in counts:
        solid = _solid_of(plate_of_holes(count))
        begun = time.perf_counter()
        prepare(solid)
        for kind in _KINDS:
            project(solid, frame_of(kind, _FRONT))
        times.append(time.perf_counter() - begun)
        print(f"plate of {count:5} holes: four views with preparation {times[-1]:8.3f} s")
    slope = statistics.linear_regression(np.log(counts).tolist(), np.log(times).tolist()).slope
    print(f"growth: faces to the power of {slope:.2f}")
    return slope


def bench_views(files: list[Path], quick: bool = False) -> dict[str, Any]:
    """Print a row a view; `files` are taken beside the benchmark's own parts."""
    print(
        f"{'part':26} {'faces':>5} {'view':9} {'ours s':>8} {'kernel s':>8} {'ratio':>7} {'missed %':>8} {'extra %':>8}"
    )
    found = []
    for name, recipe in HEAVY.items():
        found.append(_compare(name, _solid_of(recipe)))
    for file in files:
        for solid in read_model(file.read_bytes(), file.name).solids[:1]:
            found.append(_compare(file.stem, solid))
    views = [(p["faces"], v) for p in found for v in p["views"]]
    slow = [v for _, v in views if v["kernel_s"] >= 0.5]
    told = [v for _, v in views if not v["stopped"]]
    four = [p for p in found if p["kernel_s"] >= 2]
    result = {
        "bench": "views",
        "parts": len(found),
        "views": len(views),
        "slow_views": len(slow),
        "slow_least_ratio": round(min((v["ratio"] for v in slow), default=math.nan), 2),
        "slow_median_ratio": round(statistics.median([v["ratio"] for v in slow] or [math.nan]), 2),
        "four_least_ratio": round(min((p["four"] for p in four), default=math.nan), 2),
        "slower_over_100_faces": sum(v["ratio"] < 1 for faces, v in views if faces > 100),
        "missed_over_0.3": [
            f"{p['part']} {v['view']} {v['missed']:.2f}" for p in found for v in p["views"] if v["missed"] > 0.3
        ],
        "extra_over_0.3": [
            f"{p['part']} {v['view']} {v['extra']:.2f}" for p in found for v in p["views"] if v["extra"] > 0.3
        ],
        "by_rays_missed_over_0.3": [
            f"{p['part']} {v['view']} {v['missed_seen']:.2f}"
            for p in found
            for v in p["views"]
            if v["missed_seen"] > 0.3
        ],
        "by_rays_too_much_over_0.3": [
            f"{p['part']} {v['view']} {v['extra_unseen']:.2f}"
            for p in found
            for v in p["views"]
            if v["extra_unseen"] > 0.3
        ],
        "compared": len(told),
        "growth": round(_grow(quick), 3),
        "peak_mb": round(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024),
    }
    return result
