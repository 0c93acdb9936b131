"""Recognition: from bare faces to holes, rounds, chamfers and patterns."""
