"""Edits of a source as small operations, so that two people may work on one list and lose nothing.

A source is plain data: `lines` (each with id, rev and its fields), and the blocks `chains`, `workings`, `checkpoints`,
`rules` and `head`, each with a rev in `revs`. An operation made on an older rev than the stored one is not applied; it
comes back as a conflict that shows both sides.
"""

import re
from collections.abc import Callable
from typing import Any

from canonis.core.faults import BadInput
from canonis.core.source.characteristic import PROVENANCES, Flag
from canonis.core.source.house import CHOICES, house_rules
from canonis.core.source.rules import GeneralTolerance
from canonis.core.source.specification import read_specification, rules_of

__all__ = ["BLOCKS", "FIELDS", "apply_edits", "from_specification", "new_source", "numbered"]

Data = dict[str, Any]
#: Fields of a line that may be edited.
FIELDS = ("number", "where", "text", "provenance", "working", "flag")
#: Blocks that are replaced whole.
BLOCKS = ("chains", "workings", "checkpoints", "rules", "head")
_HEAD = ("title", "material", "density", "general", "notes", "square", "frame", "unit", "style")
_ID = re.compile(r"[\w-]{1,40}")
_MOST_LINES = 5000


def new_source() -> Data:
    """An empty source."""
    return {"lines": [], "chains": [], "workings": [], "checkpoints": [], "rules": {}, "head": {}, "revs": {}}


def _text(value: Any, most: int, what: str) -> str:
    if not isinstance(value, str) or len(value) > most or "\x00" in value:
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


def numbered(lines: list[Data]) -> str:
    """The next free number."""
    return str(1 + max((int(line["number"]) for line in lines if str(line["number"]).isdigit()), default=0))


def _place(lines: list[Data], after: Any) -> int:
    if after in (None, ""):
        return 0
    for k, line in enumerate(lines):
        if line["id"] == after:
            return k + 1
    return len(lines)


def _find(lines: list[Data], line_id: Any) -> int | None:
    return next((k for k, line in enumerate(lines) if line["id"] == line_id), None)


def _insert(source: Data, op: Data) -> Data | None:
    lines = source["lines"]
    line_id = op.get("id")
    if not isinstance(line_id, str) or not _ID.fullmatch(line_id):
        raise BadInput("A new line needs an id of letters and digits.")
    if _find(lines, line_id) is not None:
        return None  # the same edit sent twice after a lost answer
    if len(lines) >= _MOST_LINES:
        raise BadInput(f"A source may have {_MOST_LINES} lines; open another job for the rest.")
    given = op.get("line") or {}
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
    line["number"] = line["number"] or numbered(lines)
    lines.insert(_place(lines, op.get("after")), line)
    return None


def _stale(line: Data, op: Data) -> Data:
    return {"op": op["op"], "id": line["id"], "number": line["number"], "yours": op.get("fields") or {},
            "theirs": {n: line[n] for n in FIELDS}, "rev": line["rev"],
            "message": f"Someone changed line {line['number']} to “{line['text']}” meanwhile."}  # fmt: skip


def _set(source: Data, op: Data) -> Data | None:
    k = _find(source["lines"], op.get("id"))
    if k is None:
        return {"op": "set", "id": op.get("id"), "yours": op.get("fields") or {}, "theirs": None, "rev": 0,
                "message": "Someone deleted this line meanwhile."}  # fmt: skip
    line = source["lines"][k]
    fields = {n: _field(n, v) for n, v in (op.get("fields") or {}).items() if n in FIELDS}
    changed = {n: v for n, v in fields.items() if line[n] != v}
    if not changed:
        return None
    if op.get("rev") != line["rev"]:
        return _stale(line, op)
    source["lines"][k] = {**line, **changed, "rev": line["rev"] + 1}
    return None


def _remove(source: Data, op: Data) -> Data | None:
    k = _find(source["lines"], op.get("id"))
    if k is None:
        return None
    if op.get("rev") != source["lines"][k]["rev"]:
        return _stale(source["lines"][k], op)
    del source["lines"][k]
    return None


def _move(source: Data, op: Data) -> Data | None:
    lines = source["lines"]
    k = _find(lines, op.get("id"))
    if k is None:
        return None
    line = lines.pop(k)
    lines.insert(_place(lines, op.get("after")), line)
    return None


def _checked_block(what: str, value: Any) -> Any:
    if what in ("workings", "checkpoints"):
        if not isinstance(value, list) or len(value) > 500:
            raise BadInput(f"There may be at most 500 {what}.")
        return [_text(v, 300, "line") for v in value]
    if what == "chains":
        if not isinstance(value, list) or len(value) > 200:
            raise BadInput("There may be at most 200 chains.")
        return [
            {
                "direction": _text((v or {}).get("direction", ""), 40, "direction"),
                "text": _text((v or {}).get("text", ""), 20000, "chain"),
            }
            for v in value
        ]
    if not isinstance(value, dict):
        raise BadInput(f"The {what} must be given by name.")
    if what == "rules":
        known = {c.key: str(value[c.key]) for c in CHOICES if value.get(c.key)}
        house_rules(known)
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
    what = op.get("what")
    if what not in BLOCKS:
        raise BadInput(f"There is nothing called “{what}” in a source.")
    value = _checked_block(what, op.get("value"))
    if what in ("rules", "head"):
        value = {**source[what], **value}
    if value == source[what]:
        return None
    if op.get("rev") != source["revs"].get(what, 0):
        return {"op": "put", "what": what, "yours": op.get("value"), "theirs": source[what], "rev": source["revs"].get(what, 0),
                "message": f"Someone changed the {what} meanwhile; theirs are shown."}  # fmt: skip
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
        source["lines"].append({"id": f"L{k}", "rev": 1, "number": c.number, "where": c.where, "text": c.text,
                                "provenance": c.provenance, "working": c.working, "flag": None})  # fmt: skip
    source["chains"] = [{"direction": c.direction, "text": c.text} for c in spec.chains]
    source["workings"] = [w.text for w in spec.workings]
    source["checkpoints"] = [c.text for c in spec.checkpoints]
    source["rules"] = {c.key: str(spec.header[c.key]) for c in CHOICES if spec.header.get(c.key)}
    source["head"] = {n: str(spec.header[n]) for n in _HEAD if spec.header.get(n)}
    if spec.header.get("default"):
        source["head"]["notes"] = str(spec.header["default"])
    source["head"]["unit"] = str(spec.rules.unit)
    return source


_OPS: dict[str, Callable[[Data, Data], Data | None]] = {"insert": _insert, "set": _set, "remove": _remove, "move": _move, "put": _put}  # fmt: skip


def apply_edits(source: Data, ops: list[Data]) -> tuple[Data, list[Data]]:
    """The source after the operations, and those that were made on something older, with both sides.

    Raises BadInput for an operation that makes no sense; nothing is applied then.
    """
    made = {**source, "lines": [dict(line) for line in source["lines"]], "revs": dict(source["revs"])}
    conflicts = []
    for op in ops:
        work = _OPS.get(str(op.get("op")))
        if work is None:
            raise BadInput(f"There is no edit called “{str(op.get('op'))[:40]}”.")
        conflict = work(made, op)
        if conflict is not None:
            conflicts.append(conflict)
    return made, conflicts
