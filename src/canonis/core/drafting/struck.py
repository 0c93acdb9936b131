"""What a draft is not to say: statements that the second route did not bear out, and words of the source that it did not."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass

from canonis.core.sheet import Annotation, Leader, Note, Scene

__all__ = ["UNSTRUCK", "Doubt", "Struck"]

#: Tells which of some statements of a scene the second route does not bear out, by their ids, and why.
Doubt = Callable[[Scene, Sequence[str]], dict[str, str]]
_Key = tuple[object, ...]


@dataclass(frozen=True)
class Struck:
    """Statements by what they name and the words they say it in, in any view; lines of the source by their text."""

    marks: frozenset[_Key] = frozenset()
    lines: frozenset[str] = frozenset()

    def forbids(self, mark: Annotation) -> bool:
        """Whether a statement was struck out."""
        return any(key in self.marks for key in _keys(mark))

    def names(self, refs: Iterable[str]) -> bool:
        """Whether a statement of just these references was struck out."""
        mine = frozenset(refs)
        return any(key[2] == mine for key in self.marks)

    def plus(self, marks: Iterable[Annotation], lines: Iterable[str] = ()) -> "Struck":
        """These as well."""
        return Struck(self.marks | {k for m in marks for k in _keys(m)}, self.lines | set(lines))


#: Nothing is struck out.
UNSTRUCK = Struck()


def _keys(mark: Annotation) -> list[_Key]:
    """How a statement is known again in another plan: its kind, its direction and what it names; a note also by its words,
    since one plan may gather members into one note that another parts."""
    own: list[_Key] = [(mark.kind, getattr(mark, "direction", None), frozenset(mark.refs))]
    if isinstance(mark, Leader | Note) and mark.refs:
        own.append((mark.kind, mark.text, mark.refs[0]))
    return own
