"""Evidence: what backs a number. Balances, hand calculations, grid uncertainty, findings, and the ledger they meet in."""

from wattikos_core.evidence.finding import Finding, latest
from wattikos_core.evidence.findings import findings_after, findings_before
from wattikos_core.evidence.grid_uncertainty import GridUncertainty, at_least_the_change, grid_uncertainty, unrefined_layers
from wattikos_core.evidence.ledger import LedgerRow, build_ledger

__all__ = [
    "Finding",
    "GridUncertainty",
    "LedgerRow",
    "at_least_the_change",
    "build_ledger",
    "findings_after",
    "findings_before",
    "grid_uncertainty",
    "latest",
    "unrefined_layers",
]
