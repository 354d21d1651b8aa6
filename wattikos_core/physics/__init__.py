"""Finite-volume operators and models on the face-based grid."""

from wattikos_core.physics.problem import (
    Condition,
    Problem,
    build_problem,
    problem_of,
)
from wattikos_core.physics.residual import Evaluation, evaluate

__all__ = ["Condition", "Evaluation", "Problem", "build_problem", "evaluate", "problem_of"]
