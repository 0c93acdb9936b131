"""Rays toward the viewer against the tessellation of a solid."""

from typing import Any
from weakref import WeakKeyDictionary

import numpy as np
from embreex.mesh_construction import TriangleMesh
from embreex.rtcore_scene import EmbreeScene
from numpy.typing import NDArray

from canonis.core.solid import Solid, Vec, solid_mesh
from canonis.core.view.clip import Clip
from canonis.core.view.frames import ViewFrame
from canonis.core.view.threads import Thread, tube

__all__ = ["Rays", "ray_scene"]

Ints = NDArray[np.int64]

_scenes: WeakKeyDictionary[Solid, dict[tuple[Thread, ...], Any]] = WeakKeyDictionary()


def ray_scene(solid: Solid, threads: tuple[Thread, ...] = ()) -> Any:
    """The search tree of a solid's mesh, with the plain tubes of its threads; None for a mesh of nothing."""
    kept = _scenes.setdefault(solid, {})
    if threads not in kept:
        mesh = solid_mesh(solid)
        scene = EmbreeScene() if len(mesh.triangles) else None
        # Moved to the middle: rays come in single precision.
        middle = (solid.box[0] + solid.box[1]) / 2
        if scene is not None:
            rows = [mesh.points[mesh.triangles], *(tube(t, 0.1 * mesh.deflection) for t in threads)]
            TriangleMesh(scene, (np.concatenate(rows) - middle).astype(np.float32))
        kept[threads] = scene
    return kept[threads]


class Rays:
    """Rays from points of a solid to the viewer; what a clip cuts off is not in their way."""

    def __init__(
        self, solid: Solid, frame: ViewFrame, clip: Clip | None = None, threads: tuple[Thread, ...] = ()
    ) -> None:
        self._solid, self._frame, self._clip = solid, frame, clip
        self._scene = ray_scene(solid, threads)
        self._middle = (solid.box[0] + solid.box[1]) / 2
        # What belongs to no face of the solid: the tubes of its threads.
        mesh = solid_mesh(solid)
        more = sum(len(tube(t, 0.1 * mesh.deflection)) for t in threads)
        self._faces = np.concatenate([mesh.faces, np.full(more, len(solid.faces))])

    def met(self, start: Vec) -> tuple[Ints, Vec]:
        """The face that each point (n×3, model axes) meets first on the way to the viewer, and how far off, mm.

        −1 where it meets none; the number of the solid's faces stands for the tube of a thread.
        """
        if not len(start) or self._scene is None:
            return np.full(len(start), -1), np.full(len(start), np.inf)
        d = np.broadcast_to(self._frame.toward, start.shape).astype(np.float32)
        far = np.full(len(start), 1e30, dtype=np.float32)
        if self._clip is not None:
            room = self._clip.ceiling(self._frame.flat(start)) - start @ self._frame.toward
            far = np.clip(room, 1e-6, 1e30).astype(np.float32)
        origin = np.ascontiguousarray((start - self._middle).astype(np.float32))
        hit = self._scene.run(origin, np.ascontiguousarray(d), far, output=1)
        prim = np.asarray(hit["primID"])
        return np.where(prim >= 0, self._faces[prim], -1), np.asarray(hit["tfar"], dtype=float)

    def room(self, start: Vec) -> Vec:
        """How far up a ray counts from each point (n×3, model axes), mm."""
        reach = np.full(len(start), 2 * self._solid.diagonal + 1)
        if self._clip is not None:
            reach = np.minimum(reach, self._clip.ceiling(self._frame.flat(start)) - start @ self._frame.toward)
        return reach
