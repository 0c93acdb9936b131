"""The kinds of callout: one module each, with its fragment of the grammar, how it is read, written and spoken.

Adding a kind is writing such a module here.
"""

from types import ModuleType

from canonis.core.callout.values import Numbers
from canonis.core.folder import modules_of

__all__ = ["MODULES", "READERS"]

#: The modules with a fragment of the grammar.
MODULES: tuple[ModuleType, ...] = modules_of(__name__)
#: What turns the rules of those fragments into parts; those that build on others before them.
READERS: tuple[type, ...] = tuple(
    sorted(
        {
            c
            for m in MODULES
            for c in vars(m).values()
            if isinstance(c, type) and issubclass(c, Numbers) and c.__module__ == m.__name__
        },
        key=lambda c: (-len(c.__mro__), c.__name__),
    )
)
