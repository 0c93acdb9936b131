"""What was computed from a STEP file, kept by the file's hash and the version of the code that computed it."""

from sqlalchemy import delete, func, select
from sqlalchemy.dialects.postgresql import insert

from canonis.core.code_version import code_version
from canonis.store.database import open_session
from canonis.store.tables import Blob, Kept

__all__ = ["StoreShelf", "sweep_kept"]

#: Packets beyond this many bytes in all go, the longest unused first.
_MOST_BYTES = 4 * 1024**3


class StoreShelf:
    """The shelf of kernel children that is the database: files by hash, packets by hash and code version."""

    def get(self, kind: str, sha256: str) -> bytes | None:
        """A file (`step`) or a packet, or None where there is none of today's code."""
        with open_session() as session:
            if kind == "step":
                return session.scalar(select(Blob.data).where(Blob.sha256 == sha256))
            found = session.get(Kept, (sha256, kind, code_version()))
            return None if found is None else found.data

    def put(self, kind: str, sha256: str, data: bytes) -> None:
        """Keep a packet; the newest of its kind stands."""
        row = insert(Kept).values(sha256=sha256, kind=kind, code=code_version(), data=data)
        fresh = row.on_conflict_do_update(
            index_elements=["sha256", "kind", "code"], set_={"data": row.excluded.data, "made": func.now()}
        )
        with open_session() as session:
            session.execute(fresh)
            session.commit()


def sweep_kept() -> None:
    """Remove packets of other code versions, and the oldest beyond the room there is."""
    size = func.octet_length(Kept.data)
    with open_session() as session:
        session.execute(delete(Kept).where(Kept.code != code_version()))
        before = func.sum(size).over(order_by=(Kept.made.desc(), Kept.sha256, Kept.kind))
        ranked = select(Kept.sha256, Kept.kind, before.label("before")).subquery()
        old = select(ranked.c.sha256, ranked.c.kind).where(ranked.c.before > _MOST_BYTES)
        for sha256, kind in session.execute(old).all():
            session.execute(delete(Kept).where(Kept.sha256 == sha256, Kept.kind == kind))
        session.commit()
