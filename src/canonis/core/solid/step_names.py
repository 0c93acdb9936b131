"""What a STEP file calls each of its bodies: the product that a body is the shape of (ISO 10303-41, product definition)."""

import re

from canonis.core.plain import cleaned

__all__ = ["BODIES", "body_names", "is_a_name", "plain_text"]

#: Entities that are a body.
BODIES = ("MANIFOLD_SOLID_BREP", "BREP_WITH_VOIDS", "FACETED_BREP")
_TEXT = rb"'((?:[^']|'')*+)'"
_BODY = re.compile(rb"#(\d++)\s*+=\s*+(?:" + "|".join(BODIES).encode() + rb")\s*+\(\s*+" + _TEXT)
_SHAPE = re.compile(
    rb"#(\d++)\s*+=\s*+(?:[A-Z]++_)*?SHAPE_REPRESENTATION\s*+\(\s*+" + _TEXT + rb"\s*+,\s*+\(([#\d,\s]*+)\)"
)
_SAME = re.compile(
    rb"SHAPE_REPRESENTATION_RELATIONSHIP\s*+\(\s*+"
    + _TEXT
    + rb"\s*+,\s*+(?:"
    + _TEXT
    + rb"|\$)\s*+,\s*+#(\d++)\s*+,\s*+#(\d++)"
)
_OF = re.compile(rb"SHAPE_DEFINITION_REPRESENTATION\s*+\(\s*+#(\d++)\s*+,\s*+#(\d++)")
_NAMED = re.compile(rb"#(\d++)\s*+=\s*+PRODUCT\s*+\(\s*+" + _TEXT + rb"\s*+,\s*+" + _TEXT)
#: Entities that lead from a shape to its product by their only reference that counts: the first after their texts.
_STEPS = re.compile(
    rb"#(\d++)\s*+=\s*+PRODUCT_DEFINITION(?:_SHAPE|_FORMATION|_FORMATION_WITH_SPECIFIED_SOURCE|_WITH_ASSOCIATED_DOCUMENTS)?+"
    rb"\s*+\(\s*+(?:" + _TEXT + rb"|\$)\s*+,\s*+(?:" + _TEXT + rb"|\$)\s*+,\s*+#(\d++)"
)
_WIDE = re.compile(r"\\X2\\((?:[0-9A-Fa-f]{4})+)\\X0\\")
#: What programs call a product that nobody has named, in their languages, with its number; and the program itself.
_UNNAMED = re.compile(
    r"(?:unnamed|untitled|no\s?name|none|null|default|new)?[\s_.-]*"
    r"(?:solid|body|brep|part|shape|comp(?:ound|solid)?|product|object|component|assembly|assem|model|feature|union|fusion|"
    r"cut|extrude|import(?:ed)?|step|export(?:ed)?|teil|bauteil|pi[eè]ce|pieza)?[\s_.-]*\(?#?\d*\)?|.*\bstep translator\b.*",
    re.I,
)
#: The path of a file: from a root, through folders, or with the ending of one.
_PATH = re.compile(r"^(?:[/~]|[A-Za-z]:[\\/])|\\|/.*/|\.(?:stp|step|igs|iges|brep)$", re.I)


def is_a_name(name: str) -> bool:
    """Whether somebody gave this name to a product: no word that a program fills in, and no path of a file.

    >>> is_a_name("Pump cover"), is_a_name("SOLID"), is_a_name("Part1"), is_a_name("/tmp/x/part.stp")
    (True, False, False, False)
    """
    name = name.strip()
    return bool(name) and _UNNAMED.fullmatch(name) is None and _PATH.search(name) is None


def plain_text(raw: bytes) -> str:
    """A string of a STEP file as it reads: doubled quotes and letters in hexadecimal resolved (ISO 10303-21, 6.4.3)."""
    text = raw.decode("latin-1").replace("''", "'")
    return cleaned(_WIDE.sub(lambda m: bytes.fromhex(m.group(1)).decode("utf-16-be", "replace"), text))


def body_names(data: bytes) -> list[str]:
    """The names of the bodies of a file, in the order in which they stand there; empty where one has none.

    A body whose product has several is called by its own name.
    """
    bodies = [(int(m.group(1)), plain_text(m.group(2))) for m in _BODY.finditer(data)]
    shapes: dict[int, set[int]] = {}
    for m in _SHAPE.finditer(data):
        shapes[int(m.group(1))] = {int(n) for n in re.findall(rb"#(\d++)", m.group(3))}
    same: dict[int, set[int]] = {}
    for m in _SAME.finditer(data):
        a, b = int(m.group(3)), int(m.group(4))
        same.setdefault(a, set()).add(b)
        same.setdefault(b, set()).add(a)
    steps = {int(m.group(1)): int(m.group(4)) for m in _STEPS.finditer(data)}
    products = {int(m.group(1)): plain_text(m.group(3)) or plain_text(m.group(2)) for m in _NAMED.finditer(data)}
    owner: dict[int, str] = {}
    for m in _OF.finditer(data):
        at: int | None = int(m.group(1))
        for _ in range(4):
            if at in products or at is None:
                break
            at = steps.get(at)
        if at not in products:
            continue
        shape = int(m.group(2))
        for part in {shape} | same.get(shape, set()):
            for item in shapes.get(part, ()):
                owner.setdefault(item, products[at])
    called = [owner.get(n, "") for n, _ in bodies]
    chosen = (
        own if called.count(name) > 1 and is_a_name(own) else name
        for name, (_, own) in zip(called, bodies, strict=True)
    )
    return [name if is_a_name(name) else "" for name in chosen]
