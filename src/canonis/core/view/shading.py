"""A solid shaded by how its faces stand to the light, as a picture to lie under its lines."""

import io
from weakref import WeakKeyDictionary

import numpy as np
from PIL import Image

from canonis.core.solid import Solid, solid_mesh
from canonis.core.view.frames import ViewFrame
from canonis.core.view.rays import ray_scene

__all__ = ["Shade", "shade"]

#: A picture's box in the plane of the view (x0, y0, x1, y1, mm at 1:1) and its PNG.
Shade = tuple[tuple[float, float, float, float], bytes]
#: The most dots along a side.
_MOST = 1400
#: Where the light comes from: right, up, toward the viewer; and the darkest and lightest grey.
_LIGHT = np.array([-0.45, 0.62, 0.64]) / np.linalg.norm([-0.45, 0.62, 0.64])
_DARK, _BRIGHT = 118, 246

_made: WeakKeyDictionary[Solid, dict[tuple[float, ...], Shade]] = WeakKeyDictionary()


def shade(solid: Solid, frame: ViewFrame, dot: float) -> Shade:
    """The picture of a solid seen in a frame, `dot` mm (at 1:1) a dot, clear where there is nothing of it."""
    key = tuple(round(float(c), 9) for c in (*frame.right, *frame.up, dot))
    kept = _made.setdefault(solid, {})
    if key not in kept:
        if len(kept) >= 4:
            del kept[next(iter(kept))]
        kept[key] = _shade(solid, frame, dot)
    return kept[key]


def _shade(solid: Solid, frame: ViewFrame, dot: float) -> Shade:
    mesh, scene = solid_mesh(solid), ray_scene(solid)
    flat = frame.flat(mesh.points)
    low, high = flat.min(axis=0), flat.max(axis=0)
    dot = max(dot, float((high - low).max()) / _MOST)
    w, h = (max(1, int(np.ceil(s / dot))) for s in high - low)
    x, y = low[0] + (np.arange(w) + 0.5) * dot, high[1] - (np.arange(h) + 0.5) * dot
    grid = np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)
    above = float((mesh.points @ frame.toward).max()) + 1.0
    middle = (solid.box[0] + solid.box[1]) / 2
    start = grid @ np.array([frame.right, frame.up]) + frame.toward * above - middle
    down = np.ascontiguousarray(np.broadcast_to(-frame.toward, start.shape).astype(np.float32))
    hit = scene.run(np.ascontiguousarray(start.astype(np.float32)), down, output=1)
    prim = np.asarray(hit["primID"])
    met = prim >= 0
    corners = mesh.normals[mesh.triangles[np.where(met, prim, 0)]]
    u, v = (np.asarray(hit[k], dtype=float)[:, None] for k in ("u", "v"))
    normal = corners[:, 0] * (1 - u - v) + corners[:, 1] * u + corners[:, 2] * v
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-12)
    light = _LIGHT @ np.array([frame.right, frame.up, frame.toward])
    grey = _DARK + (_BRIGHT - _DARK) * np.clip(0.5 + 0.5 * (normal @ light), 0, 1)
    picture = np.zeros((h, w, 2), dtype=np.uint8)
    picture[..., 0] = grey.reshape(h, w).astype(np.uint8)
    picture[..., 1] = np.where(met, 255, 0).reshape(h, w)
    out = io.BytesIO()
    Image.fromarray(picture, "LA").save(out, "PNG", optimize=False)
    return (float(low[0]), float(high[1]) - h * dot, float(low[0]) + w * dot, float(high[1])), out.getvalue()
