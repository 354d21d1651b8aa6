"""The case document: what an engineer enters, versioned, as pydantic models.

Every dimension and value is text: a number with a unit (`12 mm`) or an expression in the inputs. The models check
structure only; whether the text makes sense is found by `resolve`, so that a half-typed case can be saved and nothing
entered is ever lost.
"""

from __future__ import annotations

import json
import re
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError, field_validator

from wattikos_core.boundaries import BOUNDARY_KINDS, Condition
from wattikos_core.case.estimates import RELATIONS, CounterflowPlates, DoublePipe, Estimate
from wattikos_core.case.migrations import MIGRATIONS
from wattikos_core.case.radiation import SurfaceRadiation
from wattikos_core.case.reading import Reading
from wattikos_core.case.reporting import ReportWish
from wattikos_core.case.series import SeriesWish
from wattikos_core.case.shapes import Repeat, Shape
from wattikos_core.case.sizing import SizingWish
from wattikos_core.case.wanted import Wanted
from wattikos_core.documents import Expression, Model, Name
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.internals import INTERNAL_KINDS, Internal
from wattikos_core.ledger import Key
from wattikos_core.quantities import KINDS

VERSION = 6


class Input(Model):
    """A named dimension or condition value that can be varied and sized.

    Attributes:
        value: a literal or an expression in other inputs.
        kind: what it measures, one of `wattikos_core.quantities.KINDS`.
        unit: the unit it is shown in; the kind's own when empty.
        lower, upper: the range that sizing may use.
    """

    value: Expression
    kind: str = "length"
    unit: str = ""
    label: Annotated[str, Field(max_length=120)] = ""
    note: Annotated[str, Field(max_length=500)] = ""
    lower: Expression = ""
    upper: Expression = ""


class Part(Model):
    """A shape with a material, painted over the parts before it.

    Attributes:
        material: a key of the catalogue, a name in the case's own `materials`, or `void`: cut away.
        present: an expression; the part is there when it is not zero.
        heat: a source in the part (in each copy), in watts altogether or per volume; none when empty.
        angle: turned anticlockwise about the shape's own (x, y), after `mirror`.
        mirror: flipped left to right, or upside down, about the same point.
        repeat: copies of it.
        angular_velocity: at which a solid part turns about the axis of the section, or its own centre in a flat one.
        roughness: equivalent sand roughness of a solid part's surface, where turbulent streams wet it; smooth when empty.
        internal: what stands in the stream of a fluid part: a fan, a resistance, a porous matrix.
        radiation: that a gas lets pass between the surfaces around it; none when empty.
    """

    name: Name
    material: Name
    shape: Shape
    present: Expression = "1"
    heat: Expression = ""
    angle: Expression = ""
    mirror: Literal["", "left_right", "upside_down"] = ""
    repeat: Repeat | None = None
    angular_velocity: Expression = ""
    roughness: Expression = ""
    internal: Internal | None = None
    radiation: SurfaceRadiation | None = None


class Section(Model):
    """What is painted, and how it extends: `flat` with a depth, or `axisymmetric` about y = 0."""

    extent: Literal["flat", "axisymmetric"] = "flat"
    depth: Expression = "1 m"
    parts: Annotated[list[Part], Field(max_length=60)]


class CaseMaterial(Model):
    """A catalogue material with the case's own pressure or constant properties (empty: as in the catalogue).

    Attributes:
        conductivity_y: along y, where it differs from that along x (orthotropic solids).
        expansion: thermal expansion, for a weight that falls linearly with temperature.
        melts_from, melts_to, latent_heat: of a material that melts.
    """

    base: Name
    pressure: Expression = ""
    density: Expression = ""
    specific_heat: Expression = ""
    viscosity: Expression = ""
    conductivity: Expression = ""
    conductivity_y: Expression = ""
    expansion: Expression = ""
    melts_from: Expression = ""
    melts_to: Expression = ""
    latent_heat: Expression = ""


class Table(Model):
    """Values over a position or a time, from a file; used in expressions as a function of its name: `profile(x)`, `day(time)`.

    Attributes:
        unit, value_unit: of the two columns.
        rows: (position or time, value), ascending; linear in between, constant beyond.
    """

    unit: Annotated[str, Field(max_length=20)] = "m"
    value_unit: Annotated[str, Field(max_length=20)] = ""
    rows: Annotated[list[Annotated[list[float], Field(min_length=2, max_length=2)]], Field(min_length=2, max_length=5000)]


class Contact(Model):
    """A resistance between two parts that touch: as a value, or as a thickness of a material.

    Between two solids it is a contact, between a solid and a fluid a coating, between two fluids a thin wall.
    """

    between: Annotated[list[Name], Field(min_length=2, max_length=2)]
    resistance: Expression = ""
    thickness: Expression = ""
    material: Annotated[str, Field(max_length=60)] = ""


class Physics(Model):
    """What is solved; `convection` is the interpolation of the convected values.

    Attributes:
        flow: of all streams, or of each by its Reynolds or Rayleigh number (see `section.regimes`).
        turbulent_prandtl: rising towards walls by Kays (1994), or the same everywhere.
        turbulent_stress: limited as in the k-ω model of shear stress transport, which lets streams leave smooth walls as early as
            they do; or free, as in its baseline, by which they come back to the wall behind ribs.
        turbulent_production: by strain as in the model, which makes too much of it where jets strike walls; or by strain that
            turns, by which none is made there.
        transition: whether layers along walls of turbulent streams may be laminar for a while and turn turbulent on their way: all
            of them (`followed`), none (`throughout`), or where streams pass bodies at Reynolds numbers at which they do.
        regime: steady, or in time (see `TimeWishes`).
        gravity_x, gravity_y: of the vector of gravity; no weight where both are empty.
        density: whether it varies in the weight alone (Boussinesq), or in all balances (gases, slow compared with sound).
        reference_temperature: whose density weight is counted against; what enters, or the middle of those given, when empty.
        friction_heat: whether friction heats the fluid.
        mush_constant: of the momentum sink between solid and liquid; a customary value when empty.
        age: whether the mean age of fluid is wanted: how long ago it entered.
        age_diffusivity: by which ages mix, none when empty; `age_limit`: a time that fluid is to stay at least, none when empty.
        rayleigh_length: what Rayleigh numbers are on: the gap between the surfaces that give heat and take it, or the height.
    """

    flow: Literal["laminar", "turbulent", "automatic"] = "laminar"
    turbulent_prandtl: Literal["kays", "constant"] = "kays"
    turbulent_stress: Literal["limited", "free"] = "limited"
    turbulent_production: Literal["strain", "turning"] = "strain"
    transition: Literal["by_number", "throughout", "followed"] = "by_number"
    regime: Literal["steady", "time"] = "steady"
    convection: Literal["fromm", "upwind"] = "fromm"
    gravity_x: Expression = ""
    gravity_y: Expression = ""
    density: Literal["in_weight", "varying"] = "in_weight"
    reference_temperature: Expression = ""
    friction_heat: bool = False
    mush_constant: Expression = ""
    age: bool = False
    age_diffusivity: Expression = ""
    age_limit: Expression = ""
    rayleigh_length: Literal["gap", "height"] = "gap"

    @field_validator("transition", mode="before")
    @classmethod
    def _yes_or_no(cls, value: object) -> object:
        """Until there were three ways, layers were followed or not."""
        return {True: "followed", False: "throughout"}[value] if isinstance(value, bool) else value


class TimeWishes(Model):
    """How a case runs in time.

    Attributes:
        end: when it ends.
        every, frames: frames are kept at this interval, a fiftieth of the run when it is empty, and at these times besides.
        first_step: the length of it, or of each one with `fixed`; found from the case when empty.
        largest_step: no step is longer.
        accuracy: error of a step as a share of the temperatures and velocities given; what `fixed` steps do not watch.
        order: of the scheme in time.
        begin: at the temperatures given, or with the fields of the case's last run.
        temperature: at the beginning, everywhere; may use x and y. The middle of those given when empty.
        part_temperatures: other temperatures at the beginning, by part.
    """

    end: Expression = "1 min"
    every: Expression = ""
    frames: Annotated[list[Expression], Field(max_length=200)] = []
    first_step: Expression = ""
    largest_step: Expression = ""
    fixed: bool = False
    accuracy: Annotated[float, Field(ge=1e-6, le=0.1)] = 2e-4
    order: Literal[1, 2] = 2
    begin: Literal["given", "former_run"] = "given"
    temperature: Expression = ""
    part_temperatures: dict[Name, Expression] = {}


class LocalFineness(Model):
    """Finer (or coarser) cells in parts, along boundaries, or in a box, as a multiple of the section's fineness.

    Attributes:
        at: names of parts and boundaries.
        box: x0, y0, x1, y1; none when empty.
    """

    at: Annotated[list[Name], Field(max_length=100)] = []
    box: Annotated[list[Expression], Field(max_length=4)] = []
    fineness: Annotated[float, Field(ge=0.1, le=10.0)] = 2.0


class GridWishes(Model):
    """How finely to grid: one number; doubling it halves every cell. `local` changes it at places.

    Attributes:
        cells: about so many cells in place of a fineness.
        file: name of a grid file that is used instead; its content is kept beside the case.
        layers: next to walls of turbulent streams: `resolved` to the wall (y⁺ about 1), or `coarse` (about 50), where the wall
            treatment stands for what lies between.
    """

    fineness: Annotated[float, Field(ge=0.25, le=8.0)] = 1.0
    cells: Annotated[int, Field(ge=20, le=400_000)] | None = None
    local: Annotated[list[LocalFineness], Field(max_length=50)] = []
    file: Annotated[str, Field(max_length=200)] = ""
    layers: Literal["resolved", "coarse"] = "resolved"


class StopRule(Model):
    """A solve ends when a quantity moves less than `change` (a difference) over a number of steps, or a time: `50`, or `60 s`."""

    key: Key
    change: Expression
    over: Expression = "50"


class StudyWishes(Model):
    """A grid study: how many grids, how much finer each is along its edges than the one before, and what is good enough: a share of
    the value, or, of a temperature, of the span of those given."""

    grids: Annotated[int, Field(ge=3, le=6)] = 4
    ratio: Annotated[float, Field(ge=1.15, le=2.0)] = 1.4
    good_enough: Annotated[float, Field(gt=0.0, le=1.0)] = 0.01


class GoodEnough(Model):
    """A solve that finds its own grid: finer, and where it matters, until the Grid ± of all that is wanted is small enough.

    Attributes:
        within: the ± as a share of the value, or, of a temperature, of the span of temperatures in the case.
        most_cells: a grid with more is not begun.
    """

    within: Annotated[float, Field(ge=1e-5, le=0.5)] = 0.01
    most_cells: Annotated[int, Field(ge=1_000, le=400_000)] = 100_000


class SolveWishes(Model):
    """How far to converge, and by which method; `grid_check` adds two coarser grids for the Grid ± column.

    `flow` says whether a former run's flow is kept and heat alone is solved: where it still holds, always, or never. In time,
    `kept` keeps the flow of the beginning. A solve ends before its end when all of its `stops` hold. A steady case with
    `good_enough` chooses its own grids instead of the fineness it has.
    """

    tolerance: Annotated[float, Field(ge=1e-12, le=1e-2)] = 1e-8
    max_steps: Annotated[int, Field(ge=1, le=500)] = 80
    method: Literal["automatic", "coupled", "segregated"] = "automatic"
    flow: Literal["automatic", "kept", "solved"] = "automatic"
    grid_check: bool = False
    good_enough: GoodEnough | None = None
    stops: Annotated[list[StopRule], Field(max_length=6)] = []
    study: StudyWishes = StudyWishes()


class Case(Model):
    """One thing being modelled, as a section solved as a field."""

    version: Literal[6] = 6
    title: Annotated[str, Field(min_length=1, max_length=200)]
    note: Annotated[str, Field(max_length=4000)] = ""
    starter: str = ""
    inputs: Annotated[dict[Name, Input], Field(max_length=200)]
    section: Section
    materials: Annotated[dict[Name, CaseMaterial], Field(max_length=60)] = {}
    tables: Annotated[dict[Name, Table], Field(max_length=60)] = {}
    physics: Physics = Physics()
    time: TimeWishes = TimeWishes()
    conditions: Annotated[list[Condition], Field(max_length=200)] = []
    contacts: Annotated[list[Contact], Field(max_length=100)] = []
    grid: GridWishes = GridWishes()
    solve: SolveWishes = SolveWishes()
    watches: Annotated[list[Key], Field(max_length=12)] = []
    wanted: Annotated[list[Wanted], Field(max_length=40)] = []
    estimates: Annotated[list[Estimate], Field(max_length=20)] = []
    series: SeriesWish = SeriesWish()
    sizing: SizingWish = SizingWish()
    reading: Reading = Reading()
    report: ReportWish = ReportWish()
    # What the engineer has answered to findings, by place and words of the finding without its numbers.
    answers: Annotated[
        dict[Annotated[str, Field(max_length=300)], Annotated[str, Field(max_length=1000)]], Field(max_length=100)
    ] = {}

    @field_validator("answers", mode="before")
    @classmethod
    def _without_severity(cls, answers: Any) -> Any:
        """Until severities were called stop, check and note, they stood before place and words."""
        if not isinstance(answers, dict):
            return answers
        return {re.sub(r"^(fault|doubt|note) ", "", str(name)): answer for name, answer in answers.items()}

    @property
    def exchanger(self) -> CounterflowPlates | DoublePipe | None:
        """Which streams exchange heat, hot and cold: as the first hand calculation that says so has it, whether it is on or off."""
        return next((e for e in self.estimates if isinstance(e, CounterflowPlates | DoublePipe)), None)


def read_case(document: Any) -> Case:
    """The case in a JSON-like `document`, migrated to the current version.

    Raises:
        CaseError: the structure is wrong; each problem names its field.
    """
    if not isinstance(document, dict):
        raise CaseError(InputProblem("case", "this is not a case document", "give a JSON object with title, inputs and section"))
    version = document.get("version", VERSION)
    while isinstance(version, int) and version in MIGRATIONS:
        document = MIGRATIONS[version](document)
        version = document["version"]
    if version != VERSION:
        remedy = f"this program reads versions up to {VERSION}; save it with the program it came from as such a version"
        raise CaseError(InputProblem("version", f"{version!r} is not a version this program knows", remedy))
    try:
        case = Case.model_validate(document)
    except ValidationError as error:
        raise CaseError([_problem(e) for e in error.errors()]) from error
    unknown = [
        InputProblem(f"inputs.{name}.kind", f"'{item.kind}' is not a kind of quantity", f"use one of {', '.join(KINDS)}")
        for name, item in case.inputs.items()
        if item.kind not in KINDS
    ]
    if unknown:
        raise CaseError(unknown)
    return case


def case_from_json(text: str) -> Case:
    """The case in JSON `text`; CaseError for text that is not JSON or not a case."""
    try:
        document = json.loads(text)
    except (json.JSONDecodeError, RecursionError) as error:
        raise CaseError(InputProblem("case", f"the file is not JSON ({error})", "export the case again")) from error
    return read_case(document)


def json_schema() -> dict[str, Any]:
    """The JSON Schema of the current version."""
    return Case.model_json_schema()


# Kinds of lists whose items tell by a word what they are.
_TAGS = {*BOUNDARY_KINDS, *INTERNAL_KINDS, *(model.model_fields["relation"].default for model in RELATIONS)}


def _problem(error: Any) -> InputProblem:
    path, before = "", None
    for step in error["loc"]:
        # Of several kinds of something, the one that was tried is no field.
        tag = isinstance(step, str) and (before in ("shape", "internal") or (isinstance(before, int) and step in _TAGS))
        before = step
        if tag:
            continue
        path += f"[{step}]" if isinstance(step, int) else f".{step}" if path else str(step)
    entered = error.get("input")
    shown = "" if isinstance(entered, dict | list) or error["type"] in ("missing", "unknown_quantity") else f" ({entered!r})"
    remedies = {
        "missing": "add this field",
        "extra_forbidden": "remove this field or correct its name",
        "string_too_long": "shorten it",
        "unknown_quantity": "choose one from the ledger",
    }
    return InputProblem(path or "case", f"{error['msg'].lower()}{shown}", remedies.get(error["type"], "correct the value"))
