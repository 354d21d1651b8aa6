"""Hand calculations: relations with their source, range and usual scatter, answering while one types."""

from wattikos_core.estimate.hand import HandValue, estimate_case

__all__ = ["HandValue", "estimate_case"]
