"""A list of characteristics as CSV, in and out; what goes out comes back the same."""

import csv
import io
from typing import Any

from canonis.core.faults import BadInput
from canonis.core.plain import cell, uncell
from canonis.core.source.characteristic import PROVENANCES

__all__ = ["read_csv", "write_csv"]

_COLUMNS = ("number", "where", "shorthand", "provenance", "working", "print", "page", "x", "y")
#: Rows beyond this are no list of characteristics.
_MOST = 5000


def write_csv(lines: list[dict[str, Any]]) -> str:
    """The lines as CSV with a row of names."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(_COLUMNS)
    for line in lines:
        flag = line.get("flag") or {}
        spot = [flag.get(k, "") for k in ("print_id", "page", "x", "y")]
        own = [cell(str(line[name])) for name in ("number", "where", "text", "provenance", "working")]
        writer.writerow([*own, *[repr(v) if isinstance(v, float) else v for v in spot]])
    return out.getvalue()


def read_csv(text: str) -> list[dict[str, Any]]:
    """Lines from CSV: by the names of the first row, or number, where, shorthand, or the shorthand alone.

    Raises BadInput when a row cannot be taken.
    """
    text = text.lstrip("\ufeff")
    try:
        sample = text[:2000]
        delimiter = (
            ";" if sample.count(";") > sample.count(",") and "\t" not in sample else "\t" if "\t" in sample else ","
        )
        rows = [r for r in csv.reader(io.StringIO(text), delimiter=delimiter, strict=True) if any(c.strip() for c in r)]
    except csv.Error as fault:
        raise BadInput(f"The CSV file cannot be read: {fault}.") from None
    if not rows:
        raise BadInput("The CSV file is empty.")
    if len(rows) > _MOST + 1:
        raise BadInput(f"The CSV file has {len(rows)} rows; a source may have {_MOST} lines.")
    head = [c.strip().lower() for c in rows[0]]
    named = "shorthand" in head or "text" in head
    names = ["shorthand" if h == "text" else h for h in head] if named else []
    out = []
    for k, row in enumerate(rows[1:] if named else rows, start=2 if named else 1):
        if named:
            got = dict(zip(names, row, strict=False))
        else:
            got = dict(zip(_COLUMNS, row, strict=False)) if len(row) >= 3 else {"shorthand": row[-1]}
        got = {name: uncell(value) for name, value in got.items()}
        flag = None
        if got.get("print"):
            try:
                flag = {
                    "print_id": int(got["print"]),
                    "page": int(got["page"]),
                    "x": float(got["x"]),
                    "y": float(got["y"]),
                }
            except (KeyError, ValueError):
                raise BadInput(f"Row {k} of the CSV file has a flag that cannot be read.") from None
        provenance = got.get("provenance") or "read"
        if provenance not in PROVENANCES:
            raise BadInput(f"Row {k} of the CSV file: “{provenance[:40]}” is not {', '.join(PROVENANCES)}.")
        out.append(
            {
                "number": got.get("number", ""),
                "where": got.get("where", ""),
                "text": got.get("shorthand", ""),
                "provenance": provenance,
                "working": got.get("working", ""),
                "flag": flag,
            }
        )
    return out
