"""Parts of trades that no other bench has, in two hands: the second was made after the causes met in the first were mended."""
