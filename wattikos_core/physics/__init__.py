"""Finite-volume terms and models on the face-based grid."""

from wattikos_core.boundaries import FaceCondition as Condition
from wattikos_core.physics.balances import coefficients_of, compact_blocks, evaluate, flow_of, point_of, properties_of
from wattikos_core.physics.building import beginning_at, build_problem, problem_at
from wattikos_core.physics.flow_physics import FlowPhysics
from wattikos_core.physics.modules import Module, bulk_temperatures, held_at
from wattikos_core.physics.problem import Problem
from wattikos_core.physics.problem_of_case import problem_of
from wattikos_core.physics.state import Periodicity, State
from wattikos_core.physics.terms import Evaluation, Point
from wattikos_core.physics.unknowns import Unknowns

__all__ = [
    "Condition",
    "Evaluation",
    "FlowPhysics",
    "Module",
    "Periodicity",
    "Point",
    "Problem",
    "State",
    "Unknowns",
    "beginning_at",
    "build_problem",
    "bulk_temperatures",
    "coefficients_of",
    "compact_blocks",
    "evaluate",
    "flow_of",
    "held_at",
    "point_of",
    "problem_at",
    "problem_of",
    "properties_of",
]
