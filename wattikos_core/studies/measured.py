"""Quantities that are known without solving: what parts weigh, and what it takes to pump a stream whose pressure drop is known."""

from __future__ import annotations

from collections.abc import Mapping

from wattikos_core.case import ResolvedCase
from wattikos_core.ledger import Key
from wattikos_core.read.solved import WEIGHED_AT
from wattikos_core.section import PaintedSection, entering_part, volumes

MEASURED = ("mass", "pumping_power")


def measured(resolved: ResolvedCase, section: PaintedSection, known: Mapping[Key, float]) -> dict[Key, float]:
    """By key, SI.

    Args:
        resolved: the case.
        section: as it is painted.
        known: quantities that are known, by hand or solved: pressure drops are taken from them.

    Example:
        >>> from wattikos_core.case import resolve, starter_case
        >>> from wattikos_core.section import paint
        >>> resolved = resolve(starter_case("plate_passage"))
        >>> round(measured(resolved, paint(resolved), {})[Key("mass", "plate")], 3)
        0.513
    """
    found: dict[Key, float] = {}
    sizes = volumes(section, resolved.depth, axisymmetric=resolved.axisymmetric)
    for name, fluid in zip(section.names, section.fluid, strict=True):
        if not fluid:
            found[Key("mass", name)] = sizes[name] * float(resolved.part(name).material.density(WEIGHED_AT))
            continue
        drop = known.get(Key("pressure_drop", name))
        entering = entering_part(resolved, section, name) if drop is not None else None
        if drop is not None and entering is not None:
            found[Key("pumping_power", name)] = drop * entering.volume_flow
    return found
