"""Benchmarks: each measures both sides in one run and prints a table and a JSON line with ratios."""
