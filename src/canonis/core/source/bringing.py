"""A list that somebody brings as a file: what it is, and what would come and go if it were taken over."""

import json
from typing import Any

from pydantic import BaseModel, ConfigDict

from canonis.core.faults import BadInput
from canonis.core.source.editing import Data, from_specification
from canonis.core.source.exchange import read_csv
from canonis.core.source.shorthand import read_line
from canonis.core.source.specification import Specification, read_specification, rules_of

__all__ = ["Brought", "Preview", "bring", "preview", "replaces_something"]

#: Lines that a preview shows.
_SHOWN = 8


class Brought(BaseModel):
    """What a file holds: `lines` to be added at the end, or a whole `source`; how many of its lines read, and how many not."""

    model_config = ConfigDict(frozen=True)

    lines: list[Data] | None = None
    source: Data | None = None
    read: int
    unread: int


class Preview(BaseModel):
    """What taking a file over would do: lines that come (the first of them shown) and go; whether a person is asked."""

    name: str
    whole: bool
    comes: int
    unread: int
    goes: int
    stays: int
    first: list[str]
    asks: bool


def bring(text: str, name: str) -> Brought:
    """What a file of this name and text holds.

    Raises BadInput for a CSV file that is none, and for words that are no source: neither by its schema, nor lines in the
    places of one, at least half of them.
    """
    if name.lower().endswith(".csv"):
        lines = read_csv(text)
        bad = sum(read_line(row["text"], rules_of({})).error is not None for row in lines)
        return Brought(lines=lines, read=len(lines) - bad, unread=bad)
    _check_json(text, name)
    spec = read_specification(text)
    read, unread = _told(spec)
    if not text.lstrip("\ufeff \t\r\n").startswith("{") and (not read or read < unread):
        raise BadInput(
            f"“{name}” is no source: {read} of its {read + unread} lines read as one. Nothing was changed; paste "
            "its lines into the list, or bring CSV or a specification."
        )
    return Brought(source=from_specification(text), read=read, unread=unread)


def _check_json(text: str, name: str) -> None:
    """Refuse JSON that is no object: read as lines of text it would be one unread line."""
    try:
        value = json.loads(text)
    except (ValueError, RecursionError):
        return
    if not isinstance(value, dict):
        raise BadInput(f"“{name}” is JSON without a source in it; it needs “schema”: “canonis.source/1”.")


def _told(spec: Specification) -> tuple[int, int]:
    """Lines of a specification in the place of something it knows, and lines that are not. A characteristic whose
    shorthand is not read stands in its place all the same: it is kept, and asked about in the list."""
    unread = sum(f.rule in ("source.unread", "working.unread") for f in spec.findings)
    kept = sum("it is kept" in f.message for f in spec.findings if f.rule == "source.unread")
    rows = len(spec.characteristics) + len(spec.chains) + len(spec.checkpoints) + len(spec.workings)
    return rows + len(spec.header) - kept, unread


def _says(line: Data) -> tuple[str, str, str]:
    return line["number"], line["where"], line["text"]


def replaces_something(brought: Brought, source: Data) -> bool:
    """Whether anything that stands in a source goes when a file is taken over."""
    if brought.source is None:
        return False
    made = brought.source
    lost = {_says(x) for x in source["lines"]} - {_says(x) for x in made["lines"]}
    return bool(lost) or any(
        source[block] and source[block] != made[block] for block in ("chains", "workings", "checkpoints")
    )


def preview(brought: Brought, source: Data, name: str) -> Preview:
    """What would come and go."""
    there = {_says(x) for x in source["lines"]}
    coming: list[Any] = brought.lines if brought.source is None else brought.source["lines"]  # type: ignore[assignment]
    fresh = [x for x in coming if _says(x) not in there]
    stays = len(source["lines"]) if brought.source is None else len(there & {_says(x) for x in coming})
    return Preview(
        name=name,
        whole=brought.source is not None,
        comes=len(fresh),
        unread=brought.unread,
        goes=len(source["lines"]) - stays,
        stays=stays,
        first=[f"{x['number']}  {x['text']}".strip() for x in fresh[:_SHOWN]],
        asks=replaces_something(brought, source),
    )
