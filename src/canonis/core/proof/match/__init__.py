"""Which measure of the part does each line of the source mean? Measures, evidence, one assignment, and its judgement."""
