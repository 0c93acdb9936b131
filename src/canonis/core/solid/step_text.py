"""What the text of a STEP file says before the kernel sees it: cheap checks against bad files."""

import re
from pathlib import Path

from canonis.core.faults import BadInput

__all__ = ["DEFAULT_LIMIT", "StepText", "inspect"]

#: Largest file taken by default, bytes.
DEFAULT_LIMIT = 100 * 1024 * 1024
#: No part that anyone drafts is larger than ten kilometres; beyond it a reader may spin for ever.
_ABSURD_MM = 1e7


class StepText:
    """The header facts and the raw bytes of a file that looks like STEP."""

    def __init__(self, name: str, data: bytes, schema: str, products: list[str]) -> None:
        self.name, self.data, self.schema, self.products = name, data, schema, products


def _schema(head: str) -> str:
    found = re.search(r"FILE_SCHEMA\s*\(\s*\(\s*'([^']*)'", head)
    text = found.group(1).upper() if found else ""
    if "AP242" in text:
        return "AP242"
    if "CONFIG_CONTROL" in text or "AP203" in text:
        return "AP203"
    if "AUTOMOTIVE" in text or "AP214" in text:
        return "AP214"
    return text.split(" ")[0] or "unknown"


def inspect(data: bytes, name: str, limit: int = DEFAULT_LIMIT) -> StepText:
    """Check that `data` is a whole, sane STEP file and read its header.

    Raises BadInput with one sentence for an empty, oversized, foreign, truncated or dangling file.
    """
    if Path(name).suffix.lower() not in {".step", ".stp"}:
        raise BadInput(f"“{name}” is not named like a STEP file; give a file ending in .step or .stp.")
    if not data.strip():
        raise BadInput(f"“{name}” is empty; export the model again.")
    if len(data) > limit:
        raise BadInput(f"“{name}” has {len(data) / 1048576:.0f} MB and the limit is {limit / 1048576:.0f} MB.")
    if not data.lstrip(b"\xef\xbb\xbf \t\r\n").startswith(b"ISO-10303-21"):
        raise BadInput(f"“{name}” is not a STEP file: it does not begin with ISO-10303-21.")
    if b"END-ISO-10303-21" not in data[-4096:]:
        raise BadInput(f"“{name}” is cut short: its closing line is missing; export or copy it again.")
    text = data.decode("latin-1")
    bare = re.sub(r"'[^']*'", "''", text)
    defined = set(re.findall(r"(?:^|[;\s])#(\d+)\s*=", bare))
    if not defined:
        raise BadInput(f"“{name}” holds no data; export the model again.")
    missing = set(re.findall(r"#(\d+)", bare)) - defined
    if missing:
        first = min(missing, key=int)
        raise BadInput(f"“{name}” refers to entity #{first}, which it does not contain; export the model again.")
    for mark in re.finditer(r"CARTESIAN_POINT\s*\(\s*''\s*,\s*\(([^)]*)\)", bare):
        numbers = mark.group(1).split(",")
        # Two numbers are a place on a surface, which may reach as far as the surface does.
        for number in numbers if len(numbers) != 2 else ():
            try:
                value = abs(float(number))
            except ValueError:
                raise BadInput(f"“{name}” has a coordinate that is no number: {number.strip()[:40]}.") from None
            if not value < _ABSURD_MM:
                raise BadInput(f"“{name}” has an absurd coordinate ({number.strip()[:40]}); check the export.")
    # Any exponent of three digits overflows a double somewhere in the reader.
    huge = re.search(r"\d\.?\d*[eE]\+?0*[1-9]\d{2,}", bare)
    if huge:
        raise BadInput(f"“{name}” has an absurd number ({huge.group(0)[:40]}); check the export.")
    products = re.findall(r"\bPRODUCT\s*\(\s*'([^']*)'", text)
    return StepText(name, data, _schema(text[:20000]), products)
