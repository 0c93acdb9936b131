"""The sheet lettering: font files and their real metrics."""
