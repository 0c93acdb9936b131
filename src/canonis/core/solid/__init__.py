"""The only door to the geometry kernel: read, check, measure, mass, references."""
