"""A read model as bytes, so that a later process has it back without reading its STEP file.

Two packets: the tables, which suffice for all that needs no kernel, and the kernel's own shapes, fetched only when a
rule asks for them. Packets are the program's own: they are kept with its code version and never taken from people.
"""

import io
import pickle
from collections.abc import Callable
from typing import Any

from OCP.BinTools import BinTools
from OCP.TopoDS import TopoDS, TopoDS_Shape

from canonis.core.solid.reader import Model
from canonis.core.solid.tables import shapes_of

__all__ = ["attach_shapes", "pack_shapes", "pack_tables", "unpack_tables"]


def pack_tables(value: Any) -> bytes:
    """Plain data with its models and features; kernel shapes are left out."""
    return pickle.dumps(value, protocol=pickle.HIGHEST_PROTOCOL)


def unpack_tables(data: bytes) -> Any:
    """What `pack_tables` packed."""
    return pickle.loads(data)


def pack_shapes(model: Model) -> bytes:
    """The kernel's solids of a model."""
    bodies = []
    for solid in model.solids:
        out = io.BytesIO()
        BinTools.Write_s(solid.shape, out)
        bodies.append(out.getvalue())
    return pickle.dumps(bodies, protocol=pickle.HIGHEST_PROTOCOL)


def attach_shapes(model: Model, fetch: Callable[[], bytes]) -> None:
    """Give an unpacked model its kernel shapes back; `fetch` is asked for their packet when the first is needed."""
    packets: list[list[bytes]] = []

    def loader(k: int) -> Callable[[], tuple[Any, tuple[Any, ...], tuple[Any, ...]]]:
        def load() -> tuple[Any, tuple[Any, ...], tuple[Any, ...]]:
            if not packets:
                packets.append(pickle.loads(fetch()))
            shape = TopoDS_Shape()
            BinTools.Read_s(shape, io.BytesIO(packets[0][k]))
            return shapes_of(TopoDS.Solid_s(shape))

        return load

    for k, solid in enumerate(model.solids):
        solid.kernel.load = loader(k)
