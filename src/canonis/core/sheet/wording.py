"""Statements in the words of a person, or of an earlier form of the document: text read to what it says."""

from canonis.core.callout import Callout, HouseRules, Part, Unread, read
from canonis.core.quantity import Unit, fraction_of, to_mm
from canonis.core.sheet.document import Annotation, Note, Place, Statement

__all__ = ["distances", "meaning", "worded"]


def meaning(text: str, unit: Unit) -> Callout:
    """What a text on a sheet of a unit says; words alone where nobody can read it.

    A row of ordinates begins with a 0, which is no size of anything.
    """
    bare = text.strip()
    if bare and not bare.strip("0."):
        zero = Part(name="length", nominal=fraction_of("0"), typed=bare, decimals=len(bare.partition(".")[2]))
        return Callout(kind="length", parts=(zero,))
    try:
        return read(bare, HouseRules(unit=unit))
    except Unread:
        return Callout(detail=text)


def distances(text: str, unit: Unit) -> tuple[Part, Part]:
    """Both distances of a row of a hole table, such as `12; -30`; of another text its words, without a size."""
    try:
        x, y = (_signed(name, t.strip(), unit) for name, t in zip("xy", text.split(";"), strict=True))
    except (ValueError, ZeroDivisionError):
        return Part(name="x", typed=text), Part(name="y")
    return x, y


def _signed(name: str, text: str, unit: Unit) -> Part:
    bare = text.lstrip("-−")
    size = to_mm(fraction_of(bare), unit) * (1 if bare == text else -1)
    return Part(name=name, nominal=size, typed=text, decimals=len(bare.partition(".")[2]))


def worded(mark: Annotation, text: str) -> Annotation:
    """A statement with other words, as a person typed them; what nobody can read is kept as words alone. One whose words
    stay the same stays as it is."""
    if text == mark.text:
        return mark
    if isinstance(mark, Place):
        x, y = distances(text, mark.unit)
        return mark.model_copy(update={"x": x, "y": y})
    if not isinstance(mark, Statement):
        return mark
    general = isinstance(mark, Note) and not mark.refs
    return mark.saying(Callout(detail=text) if general else meaning(text, mark.unit))
