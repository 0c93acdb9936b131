"""Canonis drafts a drawing from a solid model and proves every statement on it."""

__version__ = "0.1.0"
