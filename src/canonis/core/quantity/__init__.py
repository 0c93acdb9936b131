"""Numbers as people write them: exact values, units, and the written forms of drawing styles."""
