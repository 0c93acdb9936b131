"""Where things go on the paper: scale, size, views, rows, leaders.

>>> from canonis.core.drafting import DraftWish, draft_model
>>> from canonis.core.recipe import plate_model
>>> draft = draft_model(plate_model(), DraftWish())
>>> from canonis.core.layout import page_collisions
>>> from canonis.core.sheet import compile_sheet
>>> page_collisions(compile_sheet(draft.scene).pages[0])["text_on_text"]
[]
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
