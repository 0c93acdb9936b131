"""Re-measurement, matching with the source, findings and the ledger."""
