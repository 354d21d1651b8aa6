"""Porous parts: packed beds, foams, cores, by Darcy's and Forchheimer's coefficients along two axes."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal

import numpy as np
from pydantic import Field as Limits
from typing_extensions import override

from wattikos_core.boundaries.forms import Field, Form, Option
from wattikos_core.documents import Expression, Model
from wattikos_core.internals.kind import InternalKind, Place, only_one, table_curve
from wattikos_core.internals.resolved import MatrixExchange, ResolvedDrag, ResolvedInternal

if TYPE_CHECKING:
    from wattikos_core.case.reader import Reader

# Data sheets are of fluids at room temperature, K (common practice, no source).
_MEASURED_AT = 293.15
# A direction is along an axis of the section where it is no further off, as a sine.
_UPRIGHT = 1e-9
_ACROSS = ("viscous_across", "inertial_across")


class Porous(Model):
    """A matrix that fluid passes: Δp/L = μ D u + ρ C u²/2 with the speed u the fluid has ahead of it.

    Attributes:
        porosity: share of the part that is fluid.
        grain_size: of a packed bed of grains, whose coefficients Ergun (1952) gives.
        viscous, inertial: D (1/m²) and C (1/m) along the first axis; `viscous_across`, `inertial_across` along the other one,
            the same when empty.
        table: name of a table of the case with pressure drops against speeds over `table_length`, with the part's fluid at
            20 °C, which D and C are fitted to.
        direction: of the first axis, from the part's own x axis.
        matrix: what it is made of, a solid that conducts beside the fluid, both as warm as each other; none when empty.
        conductivity: of matrix and fluid together along the first axis, `conductivity_across` along the other one (the same when
            empty); by the matrix when empty.
        mixing_length: over which the ways through the matrix part and meet again, for grains their size, which spreads heat in
            what passes (thermal dispersion); not at all when empty.
        temperatures: `one` where matrix and fluid are as warm as each other, `two` where the matrix has its own.
        exchange: heat that passes between both for each volume and kelvin (W/m³/K); by the grain size when empty.
    """

    type: Literal["porous"] = "porous"
    porosity: Expression = "40 percent"
    grain_size: Expression = ""
    viscous: Expression = ""
    inertial: Expression = ""
    viscous_across: Expression = ""
    inertial_across: Expression = ""
    table: Annotated[str, Limits(max_length=60)] = ""
    table_length: Expression = ""
    direction: Expression = ""
    matrix: Annotated[str, Limits(max_length=60)] = ""
    conductivity: Expression = ""
    conductivity_across: Expression = ""
    mixing_length: Expression = ""
    temperatures: Literal["one", "two"] = "one"
    exchange: Expression = ""


def ergun(grain_size: float, porosity: float) -> tuple[float, float]:
    """Viscous and inertial coefficients of a packed bed, D in 1/m2 and C in 1/m.

    Ergun (1952, Chem. Eng. Prog. 48, 89): Δp/L = 150 μ (1-ε)² u / (ε³ d²) + 1.75 ρ (1-ε) u² / (ε³ d).

    Args:
        grain_size: diameter of spheres of the same surface per volume, m.
        porosity: share of the bed that is fluid.

    Example:
        >>> [round(value, 1) for value in ergun(0.01, 0.4)]
        [8437500.0, 3281.2]
    """
    empty = porosity**3
    return 150.0 * (1.0 - porosity) ** 2 / (empty * grain_size**2), 3.5 * (1.0 - porosity) / (empty * grain_size)


def fitted(speed: np.ndarray, gradient: np.ndarray, viscosity: float, density: float) -> tuple[float, float]:
    """Coefficients D (1/m2) and C (1/m) of pressure gradients (Pa/m) at speeds (m/s), by least squares of relative errors.

    Example:
        >>> found = fitted(np.array([1.0, 2.0]), np.array([30.0, 100.0]), 2e-5, 1.2)
        >>> [round(value, 6) for value in found]
        [500000.0, 33.333333]
    """
    from scipy.optimize import nnls

    columns = np.stack([viscosity * speed, 0.5 * density * speed**2], axis=1) / gradient[:, None]
    scale = np.linalg.norm(columns, axis=0)
    found, _ = nnls(columns / scale, np.ones(speed.size))
    return float(found[0] / scale[0]), float(found[1] / scale[1])


class PorousKind(InternalKind):
    """See `Porous`."""

    type = "porous"
    model = Porous

    @override
    def resolve(self, internal: Porous, place: Place, reader: Reader) -> ResolvedInternal:
        field = place.field
        porosity = reader.read(internal.porosity, "ratio", f"{field}.porosity", above=0.0)
        if porosity > 1.0:
            reader.fail(f"{field}.porosity", f"'{internal.porosity}' is more than the whole", "give a share up to 1, or percent")
        given = {
            "grain_size": bool(internal.grain_size.strip()),
            "table": bool(internal.table.strip()),
            "viscous": bool(internal.viscous.strip() or internal.inertial.strip()),
        }
        way = only_one(reader, field, given, "give a grain size, coefficients, or a table of pressure drops")
        along, words = (0.0, 0.0), ""
        if way == "grain_size":
            size = reader.read(internal.grain_size, "length", f"{field}.grain_size", above=0.0)
            if not 0.0 < porosity < 1.0 or not size > 0.0:
                return ResolvedDrag(field, "porous", (1.0, 0.0), float("nan"))
            along, words = ergun(size, porosity), f"grains of {1000.0 * size:.3g} mm"
        elif way == "viscous":
            along = (
                reader.or_zero(internal.viscous, "viscous_resistance", f"{field}.viscous"),
                reader.or_zero(internal.inertial, "inertial_resistance", f"{field}.inertial"),
            )
            words = f"D {along[0]:.3g} 1/m², C {along[1]:.3g} 1/m"
        elif way == "table":
            along = _from_table(internal, place, reader)
            words = f"table {internal.table.strip()}"
        across = list(along)
        for k, name in enumerate(_ACROSS):
            text = getattr(internal, name)
            if text.strip():
                across[k] = reader.or_zero(text, name.replace("across", "resistance"), f"{field}.{name}")
        matrix = None
        if internal.matrix.strip():
            matrix = reader.material(internal.matrix, f"{field}.matrix")
            if matrix is not None and matrix.fluid:
                reader.fail(f"{field}.matrix", f"'{internal.matrix}' is a fluid", "name the solid that the matrix is made of")
        angle = reader.angle(internal.direction, f"{field}.direction")
        thickness = float("nan")
        if place.shape == "rectangle":
            c, s = abs(np.cos(angle)), abs(np.sin(angle))
            thickness = float(place.size["width"] if c >= s else place.size["height"])
        return ResolvedDrag(
            field,
            "porous",
            place.along(angle),
            thickness,
            (along[0], across[0]),
            (along[1], across[1]),
            porosity=porosity,
            matrix=matrix,
            in_words=words,
            conductivity=_conductivity(internal, place, angle, reader),
            mixing_length=reader.or_zero(internal.mixing_length, "length", f"{field}.mixing_length"),
            exchange=_exchange(internal, place, reader),
        )

    @override
    def flag(self, given: ResolvedInternal) -> str:
        assert isinstance(given, ResolvedDrag)
        return f"{100.0 * given.porosity:.3g} % open · {given.in_words}"

    @override
    def form(self) -> Form:
        none = {"grain_size": "", "viscous": "", "inertial": "", "table": ""}
        ways = [
            Option(
                value="grain_size", label="size of its grains", when={"grain_size": ["*"]}, gives=none | {"grain_size": "10 mm"}
            ),
            Option(value="table", label="a table of the case", when={"table": ["*"]}, gives=none | {"table": "core"}),
            Option(value="viscous", label="coefficients", gives=none | {"viscous": "1e6 1/m^2", "inertial": "100 1/m"}),
        ]
        by_coefficients = {"grain_size": [""], "table": [""]}
        return Form(
            type="porous",
            stands_on="fluid",
            options=[
                Option(
                    value="porous",
                    label="a porous matrix",
                    when={"type": ["porous"]},
                    gives={"porosity": "40 percent", "grain_size": "10 mm"},
                )
            ],
            fields=[
                Field(control="choice", field="by", label="Given by", options=ways),
                Field(control="entry", field="porosity", label="Porosity", kind="ratio"),
                Field(control="entry", field="grain_size", label="Grain size", kind="length", shown={"grain_size": ["*"]}),
                Field(
                    control="entry",
                    field="viscous",
                    label="Viscous coefficient D",
                    kind="viscous_resistance",
                    shown=by_coefficients,
                ),
                Field(
                    control="entry",
                    field="inertial",
                    label="Inertial coefficient C",
                    kind="inertial_resistance",
                    shown=by_coefficients,
                ),
                Field(control="table", field="table", label="Table of drop against speed", shown={"table": ["*"]}),
                Field(control="entry", field="table_length", label="over a length of", kind="length", shown={"table": ["*"]}),
                Field(control="entry", field="viscous_across", label="D across", kind="viscous_resistance", placeholder="the same"),
                Field(
                    control="entry", field="inertial_across", label="C across", kind="inertial_resistance", placeholder="the same"
                ),
                Field(control="entry", field="direction", label="Direction", kind="angle", placeholder="the part's own x"),
                Field(control="material", field="matrix", label="Matrix of", placeholder="conducts nothing"),
                Field(
                    control="entry", field="conductivity", label="Conducts along", kind="conductivity", placeholder="by its matrix"
                ),
                Field(
                    control="entry",
                    field="conductivity_across",
                    label="Conducts across",
                    kind="conductivity",
                    placeholder="the same",
                    shown={"conductivity": ["*"]},
                ),
                Field(
                    control="entry",
                    field="mixing_length",
                    label="Mixes over",
                    kind="length",
                    placeholder="does not",
                ),
                Field(
                    control="choice",
                    field="temperatures",
                    label="Matrix is",
                    shown={"matrix": ["*"]},
                    options=[
                        Option(
                            value="one",
                            label="as warm",
                            when={"temperatures": ["one"]},
                            gives={"temperatures": "one", "exchange": ""},
                        ),
                        Option(value="two", label="by itself", gives={"temperatures": "two"}),
                    ],
                ),
                Field(
                    control="entry",
                    field="exchange",
                    label="Exchange",
                    kind="volumetric_heat_transfer",
                    placeholder="by its grains",
                    shown={"temperatures": ["two"]},
                ),
                Field(
                    control="hint",
                    label="Δp/L = μ D u + ρ C u²/2, with the speed ahead of the matrix. Grains mix heat over their size. A matrix "
                    "by itself has its own temperature, and exchanges heat by volume, or by its grains.",
                ),
            ],
        )


def _conductivity(internal: Porous, place: Place, angle: float, reader: Reader) -> tuple[float, float] | None:
    """Along x and along y, W/m/K; None where the matrix tells."""
    field = place.field
    if not internal.conductivity.strip():
        if internal.conductivity_across.strip():
            reader.fail(f"{field}.conductivity", "is empty, and that across is given", "give both, or none")
        return None
    along = reader.read(internal.conductivity, "conductivity", f"{field}.conductivity", above=0.0)
    across = along
    if internal.conductivity_across.strip():
        across = reader.read(internal.conductivity_across, "conductivity", f"{field}.conductivity_across", above=0.0)
    x, y = (abs(part) for part in place.along(angle))
    if across != along and min(x, y) > _UPRIGHT:
        problem = f"'{place.name}' stands aslant, and conducts differently along its axes"
        reader.fail(f"{field}.conductivity_across", problem, "turn it upright, or give one conductivity")
    return (along, across) if x >= y else (across, along)


def _exchange(internal: Porous, place: Place, reader: Reader) -> MatrixExchange | None:
    """Between matrix and fluid; None where both are as warm."""
    field = place.field
    if internal.temperatures == "one":
        if internal.exchange.strip():
            reader.fail(f"{field}.exchange", "is given, and matrix and fluid are as warm as each other", "give the matrix its own")
        return None
    if not internal.matrix.strip():
        reader.fail(f"{field}.matrix", "nothing is there to have a temperature of its own", "name the solid of the matrix")
        return None
    if internal.exchange.strip():
        rate = reader.read(internal.exchange, "volumetric_heat_transfer", f"{field}.exchange", above=0.0)
        return MatrixExchange(place.table, rate)
    if not internal.grain_size.strip():
        problem = "heat passes between matrix and fluid, and how much is not told"
        reader.fail(f"{field}.exchange", problem, "give it per volume and kelvin, or the size of grains")
        return None
    return MatrixExchange(place.table, float("nan"), reader.read(internal.grain_size, "length", f"{field}.grain_size", above=0.0))


def _from_table(internal: Porous, place: Place, reader: Reader) -> tuple[float, float]:
    field = place.field
    curve = table_curve(reader, internal.table.strip(), ("velocity", "pressure"), f"{field}.table")
    length = reader.read(internal.table_length, "length", f"{field}.table_length", above=0.0)
    if curve is None or not length > 0.0:
        return 0.0, 0.0
    speed, drop = np.array(curve.at), np.array(curve.value)
    used = (speed > 0.0) & (drop > 0.0)
    if np.count_nonzero(used) < 2:
        reader.fail(
            f"tables.{internal.table.strip()}.rows",
            "fewer than two rows have a speed and a pressure drop above zero",
            "give the drop at two or more speeds",
        )
        return 0.0, 0.0
    table = place.table
    return fitted(speed[used], drop[used] / length, float(table.viscosity(_MEASURED_AT)), float(table.density(_MEASURED_AT)))
