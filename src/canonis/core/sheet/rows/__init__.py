"""What the notes of each kind fix of a part, one module a kind."""
