"""The source specification: what the print, table or notes say the part must be.

>>> from canonis.core.callout import HouseRules
>>> from canonis.core.source import read_line
>>> line = read_line("2× ⌀8 THRU", HouseRules(), "3")
>>> line.number, line.kind, line.count
('3', 'hole', 2)
>>> read_line("8 of something", HouseRules()).error.message
'“of” cannot be read here'
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
