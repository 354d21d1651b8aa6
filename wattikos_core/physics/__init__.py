"""Finite-volume operators and models on the face-based grid."""

from wattikos_core.physics.conditions import Condition
from wattikos_core.physics.forces import FlowPhysics
from wattikos_core.physics.modules import Module, bulk_temperatures, held_at
from wattikos_core.physics.problem import Problem, beginning_at, build_problem, problem_at, problem_of
from wattikos_core.physics.residual import Evaluation, evaluate

__all__ = [
    "Condition",
    "Evaluation",
    "FlowPhysics",
    "Module",
    "Problem",
    "beginning_at",
    "build_problem",
    "bulk_temperatures",
    "evaluate",
    "held_at",
    "problem_at",
    "problem_of",
]
