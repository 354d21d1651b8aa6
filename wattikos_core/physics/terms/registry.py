"""Which terms the balances of a problem have. A new term is a file beside this one and a line here."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from wattikos_core.physics.faces import Array, Given
from wattikos_core.physics.flow_physics import FlowPhysics
from wattikos_core.physics.internals import Drag, Fan
from wattikos_core.physics.terms.age import age_of_fluid
from wattikos_core.physics.terms.between_modules import EnthalpyBetweenModules
from wattikos_core.physics.terms.body_forces import Buoyancy, CentrifugalForce, PressureDrive
from wattikos_core.physics.terms.continuity import Continuity
from wattikos_core.physics.terms.convection import Levers, MomentumConvection, SwirlConvection
from wattikos_core.physics.terms.cores import CoreHeat
from wattikos_core.physics.terms.dispersion import dispersion_of
from wattikos_core.physics.terms.drag import DragForce, DragHeat, faces_inside
from wattikos_core.physics.terms.enthalpy import EnthalpyConvection
from wattikos_core.physics.terms.fans import FanForce, FanHeat
from wattikos_core.physics.terms.friction import SwirlFriction, ViscousStress
from wattikos_core.physics.terms.friction_heat import FrictionHeat
from wattikos_core.physics.terms.heat import Conduction, HeatSource
from wattikos_core.physics.terms.intermittency import intermittency_of
from wattikos_core.physics.terms.matrix_heat import MatrixHeat, matrix_heat_of
from wattikos_core.physics.terms.mush import MushSink
from wattikos_core.physics.terms.pressure import PressureForce
from wattikos_core.physics.terms.reynolds_stress import ReynoldsStress
from wattikos_core.physics.terms.scalars import Scalar
from wattikos_core.physics.terms.term import Ingredients, Term
from wattikos_core.physics.terms.turbulence import TurbulenceBalances, turbulence_of
from wattikos_core.physics.terms.turbulent_weight import ProductionByWeight
from wattikos_core.physics.unknowns import Unknowns

# Each gives its term, or None where it is not wanted.
_SCALARS: tuple[Callable[[FlowPhysics], Scalar | TurbulenceBalances | MatrixHeat | None], ...] = (
    age_of_fluid,
    turbulence_of,
    intermittency_of,
    matrix_heat_of,
)


def scalars_of(physics: FlowPhysics) -> tuple[Scalar | TurbulenceBalances | MatrixHeat, ...]:
    """The terms of all further unknowns that are wanted."""
    return tuple(scalar for wanted in _SCALARS if (scalar := wanted(physics)) is not None)


def entering_of(scalars: Sequence[Scalar | TurbulenceBalances | MatrixHeat], given: Given) -> Array:
    """Values of further unknowns that enter on faces, shape (n_faces, n_scalars)."""
    return np.concatenate([np.zeros((given.kind.size, 0)), *(scalar.entering_on(given) for scalar in scalars)], axis=1)


def terms_of(ingredients: Ingredients, unknowns: Unknowns) -> tuple[Term, ...]:
    """The terms of a problem's balances, that of mass first; CaseError where one makes no sense."""
    faces, cells, physics = ingredients.faces, ingredients.cells, ingredients.physics
    level, module = ingredients.level, ingredients.module
    heat: list[Term] = [Conduction(), HeatSource()]
    if not cells.fluid.any():
        return tuple(heat)
    gravity = np.array(physics.gravity, dtype=float)
    fans = tuple(one for one in ingredients.internals if isinstance(one, Fan))
    drags = tuple(one for one in ingredients.internals if isinstance(one, Drag))
    within = faces_inside(faces, cells.material, drags)
    tubes = ingredients.tubes
    levers = Levers(faces.radius**2, cells.radius**2)
    flow: list[Term | None] = [
        Continuity(),
        PressureForce(),
        Buoyancy(gravity, level) if physics.heavy else None,
        PressureDrive(module.along) if module is not None else None,
        CentrifugalForce() if unknowns.swirl else None,
        FanForce(fans) if fans else None,
        DragForce(drags, within) if drags else None,
        MomentumConvection(),
        ViscousStress(),
        ReynoldsStress() if physics.turbulence is not None else None,
        MushSink(physics.mush) if ingredients.tables.melts.any() else None,
        SwirlConvection(levers) if unknowns.swirl else None,
        SwirlFriction(levers) if unknowns.swirl else None,
        *heat,
        EnthalpyConvection(),
        EnthalpyBetweenModules() if module is not None else None,
        FrictionHeat(gravity, level) if physics.friction_heat else None,
        FanHeat(fans, physics.friction_heat) if any(fan.given.efficiency is not None for fan in fans) else None,
        DragHeat(drags) if drags and physics.friction_heat else None,
        CoreHeat(tubes) if tubes else None,
        dispersion_of(faces, cells.material, drags, within),
        *(
            one.placed(faces, ingredients.given, cells.material, drags, within) if isinstance(one, MatrixHeat) else one
            for one in (scalars_of(physics) if unknowns.scalars else ())
        ),
        ProductionByWeight(gravity) if physics.turbulence is not None and physics.heavy else None,
    ]
    terms = tuple(term for term in flow if term is not None)
    for term in terms:
        term.check(ingredients)
    return terms
