"""Numbers as people write them: exact values, units, and the written forms of drawing styles.

>>> from canonis.core.quantity import Unit, write_angle, write_length
>>> write_length(12.5, Unit.MM), write_length(14.2875, Unit.INCH, 4), write_angle(22.5)
('12.5', '.5625', '22.5°')
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
