"""The source specification: what the print, table or notes say the part must be."""
