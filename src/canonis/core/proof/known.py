"""What is known of the kinds on the second route, looked up: all of them have entered themselves by then."""

from canonis.core.proof import kinds as kinds
from canonis.core.proof.registry import ENTERED, MEANT, THINGS, Meant, Measures, Thing

__all__ = ["is_known", "meant_by", "measures_of", "named_by", "naming_words", "thing_of"]


def measures_of(kind: str) -> Measures | None:
    """How statements of a kind are measured; None where nothing measures them."""
    return ENTERED.get(kind)


def meant_by(kind: str) -> Meant:
    """What lines of a kind can be about: nothing, where none is entered."""
    return MEANT.get(kind, Meant(kind, places=""))


def thing_of(kind: str) -> Thing:
    """What is known of a kind of feature: its name alone, where none is entered."""
    return THINGS.get(kind, Thing(kind))


def is_known(kind: str) -> bool:
    """Whether the second route knows a kind of feature."""
    return kind in THINGS


def named_by(word: str) -> frozenset[str]:
    """The kinds of feature that a word names."""
    return frozenset(t.kind for t in THINGS.values() if word in t.words)


def naming_words() -> tuple[str, ...]:
    """The words that name a kind of feature, in their order."""
    return tuple(dict.fromkeys(w for t in THINGS.values() for w in t.words))
