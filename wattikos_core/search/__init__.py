"""The searches that studies use."""

from wattikos_core.search.corrected_model import CorrectedModel, Trial, bracket

__all__ = ["CorrectedModel", "Trial", "bracket"]
