"""What the API answers with, typed: the browser's types are generated from these."""
