"""Pens that write a compiled drawing: SVG, PDF, CSV, JSON."""
