"""A written list of steps built into a solid."""
