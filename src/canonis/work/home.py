"""Where data is kept on this machine."""

import os
from pathlib import Path

__all__ = ["home"]


def home() -> Path:
    """Where data is kept: `CANONIS_HOME`, else `.canonis` beside the launcher; for root on a private path, /var/lib."""
    if os.environ.get("CANONIS_HOME"):
        return Path(os.environ["CANONIS_HOME"])
    root = Path(__file__).resolve().parents[3]
    if os.geteuid() == 0 and any(not (p.stat().st_mode & 0o001) for p in [root, *root.parents]):
        return Path("/var/lib/canonis") / root.name
    return root / ".canonis"
