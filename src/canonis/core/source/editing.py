"""Edits of a source as small operations, so that two people may work on one list and lose nothing.

A source is plain data: `lines` (each with id, rev and its fields), and the blocks `chains`, `workings`, `checkpoints`,
`rules` and `head`, each with a rev in `revs`. An operation made on an older rev than the stored one is not applied; it
comes back as a conflict that shows both sides; one that makes no sense comes back refused, with its reason, and takes
no other with it.
"""

import re
from collections.abc import Callable
from typing import Any

from canonis.core.callout import GeneralTolerance
from canonis.core.faults import BadInput
from canonis.core.house import CHOICES, House
from canonis.core.plain import check_plain, storable
from canonis.core.source.characteristic import PROVENANCES, Flag
from canonis.core.source.specification import read_specification, rules_of

__all__ = ["BLOCKS", "FIELDS", "add_lines", "apply_edits", "from_specification", "new_source"]

Data = dict[str, Any]
#: Fields of a line that may be edited.
FIELDS = ("number", "where", "text", "provenance", "working", "flag")
#: Blocks that are replaced whole.
BLOCKS = ("chains", "workings", "checkpoints", "rules", "head")
_HEAD = ("title", "material", "density", "general", "notes", "square", "frame", "unit", "style", "solid")
_ID = re.compile(r"[\w-]{1,40}")
_MOST_LINES = 5000


def new_source() -> Data:
    """An empty source."""
    return {"lines": [], "chains": [], "workings": [], "checkpoints": [], "rules": {}, "head": {}, "revs": {}}


def _text(value: Any, most: int, what: str) -> str:
    if not isinstance(value, str) or len(value) > most:
        raise BadInput(f"The {what} must be text of at most {most} characters.")
    return value


def _field(name: str, value: Any) -> Any:
    if name == "flag":
        if value is None:
            return None
        try:
            flag = Flag.model_validate(value)
        except ValueError:
            raise BadInput("A flag needs a print, a page and a place on it.") from None
        if not (0 <= flag.x <= 1 and 0 <= flag.y <= 1 and flag.page >= 1):
            raise BadInput("A flag must stand on its page.")
        return flag.model_dump()
    if name == "provenance":
        if value not in PROVENANCES:
            raise BadInput(f"Provenance “{str(value)[:40]}” is not {', '.join(PROVENANCES)}.")
        return value
    return _text(value, {"number": 20, "where": 120, "working": 60}.get(name, 1000), name)


class _Lines(list[Data]):
    """Lines with an index of their ids and their highest number, so that thousands of edits at once stay linear."""

    def __init__(self, lines: list[Data]) -> None:
        super().__init__(lines)
        self._at: dict[Any, int] | None = None
        self._highest: int | None = None

    def find(self, line_id: Any) -> int | None:
        """Where a line stands, or None."""
        if self._at is None:
            self._at = {line["id"]: k for k, line in enumerate(self)}
        return self._at.get(line_id) if isinstance(line_id, str) else None

    def free_number(self) -> str:
        """The next free number."""
        if self._highest is None:
            plain = (line["number"] for line in self)
            self._highest = max((int(n) for n in plain if n.isascii() and n.isdigit()), default=0)
        return str(self._highest + 1)

    def put_after(self, after: Any, line: Data) -> None:
        """Insert a line after another one; at the end when that is not there, at the start when none is named."""
        found = self.find(after)
        to = 0 if after in (None, "") else len(self) if found is None else found + 1
        self.insert(to, line)
        if to == len(self) - 1 and self._at is not None:
            self._at[line["id"]] = to
        else:
            self._at = None
        number = line["number"]
        if self._highest is not None and number.isascii() and number.isdigit():
            self._highest = max(self._highest, int(number))

    def take(self, k: int) -> Data:
        """Take a line out."""
        self._at = self._highest = None
        return self.pop(k)

    def change(self, k: int, line: Data) -> None:
        """Put a changed line in its place."""
        self._highest = None
        self[k] = line


def _named(op: Data, key: str) -> Data:
    value = op.get(key) or {}
    if not isinstance(value, dict):
        raise BadInput(f"The {key} of an edit must be given by name.")
    return value


def _insert(source: Data, op: Data) -> Data | None:
    lines = source["lines"]
    line_id = op.get("id")
    if not isinstance(line_id, str) or not _ID.fullmatch(line_id):
        raise BadInput("A new line needs an id of letters and digits.")
    if lines.find(line_id) is not None:
        return None  # the same edit sent twice after a lost answer
    if len(lines) >= _MOST_LINES:
        raise BadInput(f"A source may have {_MOST_LINES} lines; open another job for the rest.")
    given = _named(op, "line")
    line: Data = {
        "id": line_id,
        "rev": 1,
        "number": "",
        "where": "",
        "text": "",
        "provenance": "read",
        "working": "",
        "flag": None,
    }
    for name in FIELDS:
        if given.get(name) is not None:
            line[name] = _field(name, given[name])
    line["number"] = line["number"] or lines.free_number()
    lines.put_after(op.get("after"), line)
    return None


def _stale(line: Data, op: Data) -> Data:
    return {
        "op": op["op"],
        "id": line["id"],
        "number": line["number"],
        "yours": _named(op, "fields"),
        "theirs": {n: line[n] for n in FIELDS},
        "rev": line["rev"],
        "message": f"Someone changed line {line['number']} to “{line['text']}” meanwhile.",
    }


def _set(source: Data, op: Data) -> Data | None:
    k = source["lines"].find(op.get("id"))
    if k is None:
        return {
            "op": "set",
            "id": op.get("id"),
            "yours": _named(op, "fields"),
            "theirs": None,
            "rev": 0,
            "message": "Someone deleted this line meanwhile.",
        }
    line = source["lines"][k]
    fields = {n: _field(n, v) for n, v in _named(op, "fields").items() if n in FIELDS}
    changed = {n: v for n, v in fields.items() if line[n] != v}
    if not changed:
        return None
    if op.get("rev") != line["rev"]:
        return _stale(line, op)
    source["lines"].change(k, {**line, **changed, "rev": line["rev"] + 1})
    return None


def _remove(source: Data, op: Data) -> Data | None:
    k = source["lines"].find(op.get("id"))
    if k is None:
        return None
    if op.get("rev") != source["lines"][k]["rev"]:
        return _stale(source["lines"][k], op)
    source["lines"].take(k)
    return None


def _move(source: Data, op: Data) -> Data | None:
    lines = source["lines"]
    k = lines.find(op.get("id"))
    if k is None:
        return None
    lines.put_after(op.get("after"), lines.take(k))
    return None


def _checked_block(what: str, value: Any) -> Any:
    if what in ("workings", "checkpoints"):
        if not isinstance(value, list) or len(value) > 500:
            raise BadInput(f"There may be at most 500 {what}.")
        return [_text(v, 300, "line") for v in value]
    if what == "chains":
        if not isinstance(value, list) or len(value) > 200:
            raise BadInput("There may be at most 200 chains.")
        if not all(isinstance(v, dict) for v in value):
            raise BadInput("A chain needs its direction and its text.")
        return [
            {
                "direction": _text(v.get("direction", ""), 40, "direction"),
                "text": _text(v.get("text", ""), 20000, "chain"),
            }
            for v in value
        ]
    if not isinstance(value, dict):
        raise BadInput(f"The {what} must be given by name.")
    if what == "rules":
        # An empty one is what the house says.
        known = {c.key: str(value[c.key]) for c in CHOICES if value.get(c.key) is not None}
        House.read({k: v for k, v in known.items() if v})
        return known
    head = {n: _text(str(value[n]) if value[n] is not None else "", 1000, n) for n in _HEAD if n in value}
    if head.get("density"):
        try:
            density = float(head["density"].replace(",", "."))
        except ValueError:
            density = 0.0
        if not 0 < density < 100:
            raise BadInput("The density must be a number of g/cm³ between 0 and 100.")
        head["density"] = f"{density:g}"
    if head.get("style", "iso") not in ("iso", "asme"):
        raise BadInput("The style is iso or asme.")
    rules = rules_of({"unit": head.get("unit", "mm"), "square": head.get("square", "")})
    GeneralTolerance.read(head.get("general", ""), rules.unit)
    return head


def _put(source: Data, op: Data) -> Data | None:
    what = str(op.get("what"))
    if what not in BLOCKS:
        raise BadInput(f"There is nothing called “{what[:40]}” in a source.")
    value = _checked_block(what, op.get("value"))
    if what in ("rules", "head"):
        value = {**source[what], **value}
    if value == source[what]:
        return None
    if op.get("rev") != source["revs"].get(what, 0):
        return {
            "op": "put",
            "what": what,
            "yours": op.get("value"),
            "theirs": source[what],
            "rev": source["revs"].get(what, 0),
            "message": f"Someone changed the {what} meanwhile; theirs are shown.",
        }
    source[what] = value
    source["revs"][what] = source["revs"].get(what, 0) + 1
    return None


def from_specification(text: str) -> Data:
    """A source from a specification file, text or JSON.

    Raises BadInput when the file cannot be read at all.
    """
    spec = read_specification(text)
    source = new_source()
    for k, c in enumerate(spec.characteristics, start=1):
        source["lines"].append(
            {
                "id": f"L{k}",
                "rev": 1,
                "number": c.number,
                "where": c.where,
                "text": c.text,
                "provenance": c.provenance,
                "working": c.working,
                "flag": None,
            }
        )
    source["chains"] = [{"direction": c.direction, "text": c.text} for c in spec.chains]
    source["workings"] = [w.text for w in spec.workings]
    source["checkpoints"] = [c.text for c in spec.checkpoints]
    source["rules"] = {c.key: str(spec.header[c.key]) for c in CHOICES if spec.header.get(c.key)}
    source["head"] = {n: str(spec.header[n]) for n in _HEAD if spec.header.get(n)}
    if spec.header.get("default"):
        source["head"]["notes"] = str(spec.header["default"])
    source["head"]["unit"] = str(spec.rules.unit)
    return source


_OPS: dict[str, Callable[[Data, Data], Data | None]] = {
    "insert": _insert,
    "set": _set,
    "remove": _remove,
    "move": _move,
    "put": _put,
}


def apply_edits(source: Data, ops: list[Data]) -> tuple[Data, list[Data], list[Data]]:
    """The source after the operations; those that were made on something older, with both sides; and those that make no
    sense, each with its place in `ops`, its line or block, and the reason."""
    made = {**source, "lines": _Lines([dict(line) for line in source["lines"]]), "revs": dict(source["revs"])}
    conflicts, refused = [], []
    for k, op in enumerate(ops):
        try:
            conflict = _apply(made, op)
        except BadInput as fault:
            subject = {n: v for n in ("id", "what") if isinstance(v := op.get(n), str) and storable(v)}
            refused.append({"index": k, **subject, "message": str(fault)})
            continue
        if conflict is not None:
            conflicts.append(conflict)
    made["lines"] = list(made["lines"])
    return made, conflicts, refused


def add_lines(source: Data, lines: list[Data], mark: str) -> Data:
    """The source with lines at its end, their ids made from `mark`.

    Raises BadInput with the first line that cannot be taken; nothing is added then.
    """
    last = source["lines"][-1]["id"] if source["lines"] else None
    names = [f"{mark}-{k}" for k in range(1, len(lines) + 1)]
    ops = [
        {"op": "insert", "id": name, "after": before, "line": line}
        for name, before, line in zip(names, [last, *names], lines, strict=False)
    ]
    made, _, refused = apply_edits(source, ops)
    if refused:
        raise BadInput(f"Line {refused[0]['index'] + 1} of the list: {refused[0]['message']}")
    return made


def _apply(made: Data, op: Data) -> Data | None:
    check_plain(op, "edit")
    work = _OPS.get(str(op.get("op")))
    if work is None:
        raise BadInput(f"There is no edit called “{str(op.get('op'))[:40]}”.")
    return work(made, op)
