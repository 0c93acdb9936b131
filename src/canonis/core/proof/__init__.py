"""Re-measurement, matching with the source, findings and the ledger.

>>> from canonis.core.drafting import DraftWish, draft_model
>>> from canonis.core.recipe import plate_model
>>> draft = draft_model(plate_model(), DraftWish())
>>> from canonis.core.proof import check_sheet
>>> check = check_sheet(draft.document, draft.scene.solids)
>>> {proof.state for proof in check.statements}, check.complete["free"]
({'proven'}, [])
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
