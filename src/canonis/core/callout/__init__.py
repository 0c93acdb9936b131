"""What a statement means: one frozen object for source lines and drawn statements alike, its only writer and its only reader.

>>> from canonis.core.callout import HouseRules, Pen, read, write
>>> hole = read("2× ⌀8 +.1 -0 ↧12 ⌴⌀14 ↧6", HouseRules())
>>> hole.kind, hole.count, float(hole.part("diameter").upper)
('hole', 2, 8.1)
>>> write(hole, Pen())
('2× ⌀8 +0.1 -0 ↧12', '⌴⌀14 ↧6')
>>> write(hole, Pen(notation="words"))
('2× 8 +0.1 -0 DIA 12 DEEP', 'CBORE 14 DIA 6 DEEP')
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
