"""Hand calculations: relations with their source, range and usual scatter, answering while one types."""

from wattikos_core.estimate.hand import ByHand, estimate_case, first_values
from wattikos_core.estimate.hand_value import HandValue

__all__ = ["ByHand", "HandValue", "estimate_case", "first_values"]
