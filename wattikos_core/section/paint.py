"""Paint the parts of a case in order into regions, and name every edge."""

from __future__ import annotations

import numpy as np

from wattikos_core.case import ResolvedCase, ResolvedPart
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.section.outlines import paint_outlines
from wattikos_core.section.painted import PaintedSection
from wattikos_core.section.rectangles import paint_rectangles
from wattikos_core.section.shapes import outline_of, polygon_points


def paint(resolved: ResolvedCase) -> PaintedSection:
    """Paint the parts of a resolved case.

    Raises:
        CaseError: nothing is painted, a part is hidden completely, an outline crosses itself, or a gap is too thin to
            mean anything.

    Example:
        >>> from wattikos_core.case import resolve, starter_case
        >>> paint(resolve(starter_case("plate_passage"))).names
        ('cold', 'plate', 'hot')
    """
    if not resolved.bodies:
        drawn = bool(resolved.case.section.parts)
        problem, remedy = ("no part is present", "switch at least one on") if drawn else ("there is no part yet", "draw one")
        raise CaseError(InputProblem("section.parts", problem, remedy))
    section = paint_rectangles(resolved) if all(part.upright for part in resolved.parts) else paint_outlines(resolved)
    hidden = [part for part in resolved.bodies if not section.rings[part.name]]
    if hidden:
        remedy = "make it larger or paint it later"
        raise CaseError(
            [
                InputProblem(part.field, f"nothing of '{part.name}' is left after painting", remedy, at=_middle(part))
                for part in hidden
            ]
        )
    tables = {part.name: part.table for part in resolved.bodies}
    fluid = dict(zip(section.names, section.fluid, strict=True))
    for boundary in section.boundaries.values():
        if not boundary.interface or not all(fluid[part] for part in boundary.parts):
            continue
        first, second = (tables[part] for part in boundary.parts)
        if first is not second and boundary.name not in resolved.contacts:
            remedy = "put a solid part between them, or give the thin wall between them a thickness and a material"
            raise CaseError(InputProblem("section.parts", f"two different fluids touch at {boundary.name}", remedy))
    return section


def _middle(part: ResolvedPart) -> tuple[float, float]:
    points = np.concatenate([polygon_points(loop) for loop in outline_of(part)])
    x, y = 0.5 * (points.min(axis=0) + points.max(axis=0))
    return float(x), float(y)
