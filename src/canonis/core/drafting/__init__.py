"""The judgement: which views, which datum, which dimensions."""
