"""Parts in SI: every shape's dimensions as numbers, and repeated parts as copies in their places."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray

from wattikos_core.case.document import Case, Part
from wattikos_core.case.reader import Along, Reader
from wattikos_core.case.shapes import Blade, Circle, Curve, Outline, Polygon, Rectangle, Repeat, Ring
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.internals import Place, ResolvedInternal, internal_kind_of
from wattikos_core.materials import PropertyTable
from wattikos_core.quantities import QuantityError
from wattikos_core.quantities.values import show
from wattikos_core.radiation import Emitting

VOID = "void"


@dataclass(frozen=True)
class Placement:
    """Where a copy stands: turned by `angle` (rad) about (about_x, about_y), then moved by (dx, dy), m."""

    dx: float = 0.0
    dy: float = 0.0
    angle: float = 0.0
    about_x: float = 0.0
    about_y: float = 0.0


@dataclass(frozen=True)
class ResolvedPart:
    """A part, or one copy of it, with its material's property table; None for a void.

    Attributes:
        origin: name of the part in the document; `field` where it stands there.
        shape: type of the shape; `size` its dimensions by name, `loops` its points if it has any, all in m.
        x, y: the shape's reference point, m.
        angle, mirror: turned and flipped about the reference point.
        placement: of the copy.
        heat, heat_density: source in W and in W/m3; `heat_along` how it varies in time.
        angular_velocity: of a solid that turns, rad/s.
        roughness: equivalent sand roughness of a solid's surface, m.
        divided: by side of a rectangle, where it is divided, m from its left or lower end.
        internal: what stands in its stream; None where nothing does.
        emitting: how the surfaces around it radiate; None where no radiation passes it.
    """

    name: str
    origin: str
    field: str
    table: PropertyTable | None
    shape: str
    x: float
    y: float
    size: Mapping[str, float]
    loops: tuple[NDArray[np.float64], ...] = ()
    angle: float = 0.0
    mirror: str = ""
    placement: Placement = dataclasses.field(default_factory=Placement)
    heat: float = 0.0
    heat_density: float = 0.0
    heat_along: Along | None = None
    angular_velocity: float = 0.0
    divided: Mapping[str, tuple[float, ...]] = dataclasses.field(default_factory=dict)
    roughness: float = 0.0
    internal: ResolvedInternal | None = None
    emitting: Emitting | None = None

    def heat_at(self, time: float) -> tuple[float, float]:
        """Source at a time (s) in W/m3 and in W."""
        if self.heat_along is None:
            return self.heat_density, self.heat
        value = self.heat_along.at_time(time)
        return (value, 0.0) if self.heat_along.kind == "volumetric_heat" else (0.0, value)

    @property
    def width(self) -> float:
        """Width of a rectangle, m; CaseError for another shape."""
        return self._extent("width")

    @property
    def height(self) -> float:
        """Height of a rectangle, m; CaseError for another shape."""
        return self._extent("height")

    def _extent(self, name: str) -> float:
        if name not in self.size:
            remedy = "make it a rectangle, or take out the hand calculation that needs one"
            raise CaseError(InputProblem(self.field, f"'{self.name}' is a {self.shape} and has no {name}", remedy))
        return self.size[name]

    @property
    def upright(self) -> bool:
        """Whether it is a rectangle with edges along the axes."""
        return self.shape == "rectangle" and self.angle == 0.0 and self.placement.angle == 0.0

    @property
    def material(self) -> PropertyTable:
        """The property table of a part that is no void."""
        assert self.table is not None
        return self.table


# Parts and copies of one section.
_MOST_COPIES = 1000


def resolve_parts(case: Case, reader: Reader) -> tuple[list[ResolvedPart], list[str]]:
    """The parts that are present, copies included, and the names of those that are not."""
    parts: list[ResolvedPart] = []
    absent: list[str] = []
    seen: set[str] = set()
    for i, part in enumerate(case.section.parts):
        where = f"section.parts[{i}]"
        if part.name in seen:
            reader.fail(f"{where}.name", f"'{part.name}' is used twice", "give every part its own name")
        if "|" in part.name or "," in part.name:
            reader.fail(f"{where}.name", f"'{part.name}' contains | or a comma", "these join names; leave them out")
        if " to " in part.name:
            reader.fail(
                f"{where}.name", f"'{part.name}' contains the word to", "heat is told from one part to another; write it in one"
            )
        seen.add(part.name)
        found = reader.item(where, part, partial(_copies, part, where, reader, case.section.extent == "axisymmetric"))
        if found is None:
            absent.append(part.name)
            continue
        parts.extend(found)
        if len(parts) > _MOST_COPIES:
            reader.fail("section.parts", f"the section has more than {_MOST_COPIES:,} parts and copies", "take a piece of it")
            break
    names = [part.name for part in parts]
    for name in {name for name in names if names.count(name) > 1}:
        reader.fail("section.parts", f"a part and a copy are both called '{name}'", "rename the part")
    return parts, absent


def _copies(part: Part, where: str, reader: Reader, axisymmetric: bool) -> list[ResolvedPart] | None:
    """A part as often as it stands there; None where it is not present."""
    if reader.read(part.present, "number", f"{where}.present") == 0.0:
        return None
    x = reader.read(part.shape.x, "length", f"{where}.shape.x")
    y = reader.read(part.shape.y, "length", f"{where}.shape.y")
    size, loops = _dimensions(part, f"{where}.shape", reader)
    if axisymmetric and part.shape.type == "rectangle" and y < 0.0:
        reader.fail(f"{where}.shape.y", f"'{part.shape.y}' is below the axis", "an axisymmetric section lies at y ≥ 0")
    table = None if part.material == VOID else reader.material(part.material, f"{where}.material")
    if table is None and part.material != VOID:
        return []
    heat, density, varying = _heat(part.heat, reader, f"{where}.heat")
    divided = _divided(part.shape, size, f"{where}.shape", reader) if isinstance(part.shape, Rectangle) else {}
    text = part.angular_velocity
    angular_velocity = reader.read(text, "angular_velocity", f"{where}.angular_velocity") if text.strip() else 0.0
    if angular_velocity and (table is None or table.fluid):
        reader.fail(
            f"{where}.angular_velocity", f"'{part.name}' is no solid", "let a solid part or a wall turn; fluid follows by itself"
        )
    roughness = reader.or_zero(part.roughness, "length", f"{where}.roughness")
    if roughness and (table is None or table.fluid):
        reader.fail(f"{where}.roughness", f"'{part.name}' is no solid", "give it to the wall or the solid part that is rough")
    angle = reader.angle(part.angle, f"{where}.angle")
    internal = _internal(part, where, size, angle, table, reader)
    places = _places(part.repeat, f"{where}.repeat", reader) if part.repeat is not None else [Placement()]
    if part.shape.type == "rectangle" and angle == 0.0:
        # An upright rectangle stays one when it is moved or flipped: its corner tells all.
        flipped = (
            x - size["width"] if part.mirror == "left_right" else x,
            y - size["height"] if part.mirror == "upside_down" else y,
        )
        return [
            ResolvedPart(
                _copy_name(part, k),
                part.name,
                where,
                table,
                "rectangle",
                flipped[0] + (place.dx if place.angle == 0.0 else 0.0),
                flipped[1] + (place.dy if place.angle == 0.0 else 0.0),
                size,
                placement=Placement() if place.angle == 0.0 else place,
                heat=heat,
                heat_density=density,
                heat_along=varying,
                angular_velocity=angular_velocity,
                divided=divided,
                roughness=roughness,
                internal=internal.rotated(place.angle) if internal is not None else None,
            )
            for k, place in enumerate(places)
        ]
    return [
        ResolvedPart(
            _copy_name(part, k),
            part.name,
            where,
            table,
            part.shape.type,
            x,
            y,
            size,
            loops,
            angle,
            part.mirror,
            place,
            heat,
            density,
            varying,
            angular_velocity,
            divided,
            roughness,
            internal.rotated(place.angle) if internal is not None else None,
        )
        for k, place in enumerate(places)
    ]


def _internal(
    part: Part, where: str, size: Mapping[str, float], angle: float, table: PropertyTable | None, reader: Reader
) -> ResolvedInternal | None:
    """What stands in the stream of a part; only fluids have one."""
    if part.internal is None:
        return None
    field = f"{where}.internal"
    if table is None or not table.fluid:
        reader.fail(field, f"'{part.name}' is no fluid", f"give the part the fluid that passes the {part.internal.type}")
        return None
    if table.melting is not None:
        reader.fail(field, f"'{part.name}' melts", f"give the part a fluid that stays one, or take the {part.internal.type} out")
        return None
    place = Place(field, part.name, part.shape.type, size, angle, part.mirror, table)
    return internal_kind_of(part.internal).resolve(part.internal, place, reader)


def _copy_name(part: Part, k: int) -> str:
    return part.name if part.repeat is None else f"{part.name} {k + 1}"


def _dimensions(part: Part, where: str, reader: Reader) -> tuple[dict[str, float], tuple[NDArray[np.float64], ...]]:
    shape = part.shape

    def length(name: str) -> float:
        return reader.read(getattr(shape, name), "length", f"{where}.{name}", above=0.0)

    if isinstance(shape, Rectangle):
        return {"width": length("width"), "height": length("height")}, ()
    if isinstance(shape, Circle):
        return {"diameter": length("diameter")}, ()
    if isinstance(shape, Ring):
        outer, inner = length("outer_diameter"), length("inner_diameter")
        if inner >= outer:
            reader.fail(f"{where}.inner_diameter", f"'{shape.inner_diameter}' is not inside the outer diameter", "make it smaller")
        return {"outer_diameter": outer, "inner_diameter": inner}, ()
    if isinstance(shape, Polygon | Curve):
        points = [
            (reader.read(p, "length", f"{where}.points[{i}]"), reader.read(q, "length", f"{where}.points[{i}]"))
            for i, (p, q) in enumerate(shape.points)
        ]
        return {}, (np.array(points),)
    if isinstance(shape, Blade):
        size = {"chord": length("chord")}
        for name, low, high in (("camber", 0.0, 0.5), ("camber_at", 0.05, 0.95), ("thickness", 0.01, 0.6)):
            text = getattr(shape, name)
            size[name] = reader.read(text, "ratio", f"{where}.{name}")
            if not low <= size[name] <= high:
                reader.fail(f"{where}.{name}", f"'{text}' is {size[name]:g}", f"it must lie between {low:g} and {high:g}")
        size["edge_radius"] = (
            reader.read(shape.edge_radius, "length", f"{where}.edge_radius", at_least=0.0) if shape.edge_radius.strip() else 0.0
        )
        return size, ()
    assert isinstance(shape, Outline)
    scale = reader.read(shape.scale, "number", f"{where}.scale", above=0.0)
    return {"scale": scale}, tuple(scale * np.array(loop) for loop in shape.loops)


def _divided(shape: Rectangle, size: Mapping[str, float], where: str, reader: Reader) -> dict[str, tuple[float, ...]]:
    """Where the sides of a rectangle are divided, m from their left or lower ends, ascending."""
    found: dict[str, tuple[float, ...]] = {}
    for side, texts in shape.divided.items():
        length = size["height" if side in ("left", "right") else "width"]
        places = [reader.read(text, "length", f"{where}.divided.{side}[{k}]") for k, text in enumerate(texts)]
        for text, place, before in zip(texts, places, [0.0, *places], strict=False):
            if not before < place < length and np.isfinite([before, place, length]).all():
                problem = f"'{text}' does not lie between {show(before, 'length')} and the side's end at {show(length, 'length')}"
                reader.fail(f"{where}.divided.{side}", problem, "give distances from its left or lower end, in ascending order")
        if places:
            found[side] = tuple(places)
    return found


def _places(repeat: Repeat, where: str, reader: Reader) -> list[Placement]:
    """The placements of all copies, columns first."""
    if repeat.pattern == "around":
        count = reader.count(repeat.count, f"{where}.count")
        cx = reader.read(repeat.centre_x, "length", f"{where}.centre_x")
        cy = reader.read(repeat.centre_y, "length", f"{where}.centre_y")
        step = reader.angle(repeat.angle, f"{where}.angle") if repeat.angle.strip() else 2.0 * math.pi / count
        return [Placement(angle=k * step, about_x=cx, about_y=cy) for k in range(count)]
    dx = reader.read(repeat.dx, "length", f"{where}.dx")
    dy = reader.read(repeat.dy, "length", f"{where}.dy")
    if repeat.pattern == "line":
        count = reader.count(repeat.count, f"{where}.count")
        return [Placement(k * dx, k * dy) for k in range(count)]
    columns, rows = reader.count(repeat.columns, f"{where}.columns"), reader.count(repeat.rows, f"{where}.rows")
    if columns * rows > _MOST_COPIES:
        made = f"{columns} columns of {rows} rows are {columns * rows:,} copies"
        reader.fail(f"{where}.rows", made, f"keep it to {_MOST_COPIES:,}; take one module of what repeats")
        return [Placement()]
    lift = 0.5 * dy if repeat.pattern == "staggered" else 0.0
    return [Placement(c * dx, r * dy + lift * (c % 2)) for c in range(columns) for r in range(rows)]


def _heat(text: str, reader: Reader, field: str) -> tuple[float, float, Along | None]:
    """A source as (W, W/m3), told apart by its unit, and how it varies in time."""
    if not text.strip():
        return 0.0, 0.0, None
    probe = Along(text, "volumetric_heat", reader.values, reader.functions)
    try:
        probe.at_time(0.0)
    except QuantityError:
        value, varying = reader.in_time(text, "power", field)
        return value, 0.0, varying
    value, varying = reader.in_time(text, "volumetric_heat", field)
    return 0.0, value, varying
