"""Pens that write a compiled drawing: SVG, PDF, CSV, JSON.

>>> from canonis.core.drafting import DraftWish, draft_model
>>> from canonis.core.recipe import plate_model
>>> draft = draft_model(plate_model(), DraftWish())
>>> from canonis.core.output import write_svg
>>> from canonis.core.sheet import compile_sheet
>>> write_svg(compile_sheet(draft.scene).pages[0], "Plate")[:4]
'<svg'
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
