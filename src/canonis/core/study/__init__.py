"""Understanding a solid: measuring between picks, frames, masses, the ledger of states, changes, sanity and advice."""
