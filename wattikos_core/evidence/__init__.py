"""Evidence: what backs a number. Balances, hand calculations, grid uncertainty, findings, and the ledger they meet in."""

from wattikos_core.evidence.findings import Finding, findings_after, findings_before
from wattikos_core.evidence.grid_uncertainty import GridUncertainty, grid_uncertainty
from wattikos_core.evidence.ledger import LedgerRow, build_ledger

__all__ = ["Finding", "GridUncertainty", "LedgerRow", "build_ledger", "findings_after", "findings_before", "grid_uncertainty"]
