"""The sheet document and its compilation to strokes, regions and text.

>>> from canonis.core.drafting import DraftWish, draft_model
>>> from canonis.core.recipe import plate_model
>>> draft = draft_model(plate_model(), DraftWish())
>>> from canonis.core.sheet import Bounds, compile_sheet
>>> bounds = Bounds()
>>> compile_sheet(draft.scene).pages[0].plot(bounds)
>>> bounds.box
(15.0, 5.0, 292.0, 205.0)
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
