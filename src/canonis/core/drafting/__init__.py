"""The judgement: which views, which datum, which dimensions.

>>> from canonis.core.drafting import DraftWish, draft_model
>>> from canonis.core.recipe import plate_model
>>> draft = draft_model(plate_model(), DraftWish())
>>> sorted(a.text for a in draft.document.annotations if a.view and a.text)
['0', '0', '12', '25', '40', '50', '80', '⌀8 THRU']
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
