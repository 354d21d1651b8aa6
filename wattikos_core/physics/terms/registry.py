"""Which terms the balances of a problem have. A new term is a file beside this one and a line here."""

from __future__ import annotations

import numpy as np

from wattikos_core.physics.cells import Cells
from wattikos_core.physics.faces import Array, Faces
from wattikos_core.physics.flow_physics import FlowPhysics
from wattikos_core.physics.modules import Module
from wattikos_core.physics.properties import Tables
from wattikos_core.physics.terms.body_forces import Buoyancy, CentrifugalForce, PressureDrive
from wattikos_core.physics.terms.continuity import Continuity
from wattikos_core.physics.terms.convection import Levers, MomentumConvection, SwirlConvection
from wattikos_core.physics.terms.enthalpy import EnthalpyConvection
from wattikos_core.physics.terms.friction import SwirlFriction, ViscousStress
from wattikos_core.physics.terms.friction_heat import FrictionHeat
from wattikos_core.physics.terms.heat import Conduction, HeatSource
from wattikos_core.physics.terms.mush import MushSink
from wattikos_core.physics.terms.pressure import PressureForce
from wattikos_core.physics.terms.term import Term
from wattikos_core.physics.unknowns import Unknowns


def terms_of(
    faces: Faces, cells: Cells, unknowns: Unknowns, physics: FlowPhysics, level: Array, tables: Tables, module: Module | None
) -> tuple[Term, ...]:
    """The terms of a problem's balances, those of mass first.

    Args:
        level: density of each cell that weight is counted against, kg/m3, shape (n_cells,).
    """
    heat: list[Term] = [Conduction(), HeatSource()]
    if not cells.fluid.any():
        return tuple(heat)
    gravity = np.array(physics.gravity, dtype=float)
    levers = Levers(faces.radius**2, cells.radius**2)
    flow: list[Term | None] = [
        Continuity(),
        PressureForce(),
        Buoyancy(gravity, level) if physics.heavy else None,
        PressureDrive(module.along) if module is not None else None,
        CentrifugalForce() if unknowns.swirl else None,
        MomentumConvection(),
        ViscousStress(),
        MushSink(physics.mush) if tables.melts.any() else None,
        SwirlConvection(levers) if unknowns.swirl else None,
        SwirlFriction(levers) if unknowns.swirl else None,
        *heat,
        EnthalpyConvection(),
        FrictionHeat(gravity, level) if physics.friction_heat else None,
    ]
    return tuple(term for term in flow if term is not None)
