"""Re-measurement, matching with the source, findings and the ledger."""

from canonis.core.proof import kinds as kinds
