"""Understanding a solid: measuring between picks, frames, masses, the ledger of states, changes, sanity and advice."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
