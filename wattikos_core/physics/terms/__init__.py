"""The terms of the balances, one file each: see `terms.term` for what they have in common, CONTRIBUTING.md for how to add one."""

from wattikos_core.physics.terms.term import Blocks, Coefficients, Conducted, Evaluation, Ingredients, Point, Term

__all__ = ["Blocks", "Coefficients", "Conducted", "Evaluation", "Ingredients", "Point", "Term"]
