"""What a statement means: one frozen object for source lines and drawn statements alike, its only writer and its only reader."""

import lazy_loader

from canonis.core.callout import kinds as kinds

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
