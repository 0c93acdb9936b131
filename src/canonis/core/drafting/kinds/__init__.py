"""The kinds of statement that a draft can make: one module each, which tells the candidates of its kind and enters that here.

Adding a kind is writing such a module in this folder.
"""

from canonis.core.drafting.registry import of_faces, of_features
from canonis.core.folder import modules_of

__all__ = ["of_faces", "of_features"]

modules_of(__name__)
