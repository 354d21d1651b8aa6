"""What stands in a ledger: its quantities with their definitions, and the keys by which values are known."""

from wattikos_core.ledger.key import Key, in_sense, keys_at, labelled
from wattikos_core.ledger.quantity import Quantity
from wattikos_core.ledger.registry import QUANTITIES

__all__ = ["QUANTITIES", "Key", "Quantity", "in_sense", "keys_at", "labelled"]
