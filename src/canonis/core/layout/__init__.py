"""Where things go on the paper: scale, size, views, rows, leaders."""
