"""The system: the unknowns of a part from its faces, equations on them, rank, span and pile-up."""
