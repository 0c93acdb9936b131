"""Mass properties, frames and their comparison with what a source says.

>>> from canonis.core.mass import agrees
>>> agrees(1200.4, 1200.0, 0.5)
True
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
