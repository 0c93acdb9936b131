"""Background work: queue, tasks, kernel processes with limits."""
