"""Mass properties, frames and their comparison with what a source says."""
