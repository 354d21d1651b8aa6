"""Hand calculations: relations with their source, range and usual scatter, answering while one types."""

from wattikos_core.estimate.hand import estimate_case
from wattikos_core.estimate.hand_value import HandValue

__all__ = ["HandValue", "estimate_case"]
