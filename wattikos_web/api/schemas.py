"""What the API sends and takes, beyond the core's own case document."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from ninja import Schema
from pydantic import BaseModel, Field

from wattikos_core.boundaries.forms import Form
from wattikos_core.case import Case
from wattikos_core.case.asking import RelationForm
from wattikos_core.case.editing import Action
from wattikos_core.case.shapes import Outline
from wattikos_core.ledger import Key

# What the database can hold as a number of a row.
Id = Annotated[int, Field(ge=1, le=2**63 - 1)]


# Content type of workbooks.
WORKBOOK = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


def file_of(kind: str) -> dict[str, Any]:
    """What an operation's description says of a file of some content type."""
    return {"responses": {200: {"content": {kind: {"schema": {"type": "string", "format": "binary"}}}}}}


class _WrittenAs:
    """Shows the schema of a model for what is taken as it comes, and read with migrations and words of its own."""

    def __init__(self, model: type[BaseModel]) -> None:
        self.model = model

    def __get_pydantic_json_schema__(self, core: Any, handler: Any) -> Any:
        return handler(self.model.__pydantic_core_schema__)


CaseDocument = Annotated[dict[str, Any], _WrittenAs(Case)]


class ProblemOut(Schema):
    """One thing that is wrong: where, what, and what to do."""

    field: str
    problem: str
    remedy: str
    at: list[float] | None = None


class ProblemsOut(Schema):
    """Why a request was refused."""

    problems: list[ProblemOut]


class SessionOut(Schema):
    """Who is signed in, and whether by a password if need be."""

    user: str | None
    password: bool = False


class PasswordBody(Schema):
    """A new password, and the one there is."""

    current: Annotated[str, Field(max_length=200)] = ""
    new: Annotated[str, Field(max_length=200)]


class SessionLineOut(Schema):
    """A session of the user; `own` is the one that asks."""

    id: int
    device: str
    since: datetime
    seen: datetime
    own: bool


class SignInBody(Schema):
    """Name and password."""

    username: Annotated[str, Field(max_length=150)]
    password: Annotated[str, Field(max_length=200)]


class UnitOut(Schema):
    """A unit: SI = (value + offset) · factor."""

    unit: str
    label: str
    factor: float
    offset: float


class KindOut(Schema):
    """A kind of quantity with its units."""

    name: str
    label: str
    unit: str
    units: list[UnitOut]


class MaterialOut(Schema):
    """A catalogue material; `phase` is liquid or gas, and empty of what is neither."""

    key: str
    label: str
    state: str
    phase: str
    family: str
    source: str


class StarterOut(Schema):
    """A starter."""

    key: str
    label: str
    summary: str
    family: str


class BoundaryKindOut(Schema):
    """A kind of boundary: its form, and what a fresh condition of it holds."""

    form: Form
    defaults: dict[str, Any]


class InternalKindOut(Schema):
    """A kind of what stands in streams: its form, and what a fresh one holds."""

    form: Form
    defaults: dict[str, Any]


class CatalogueOut(Schema):
    """All that is the same for every case."""

    kinds: list[KindOut]
    materials: list[MaterialOut]
    starters: list[StarterOut]
    boundaries: list[BoundaryKindOut]
    internals: list[InternalKindOut]
    relations: list[RelationForm]


class InternalOut(Schema):
    """What stands in the stream of a part: its flag, its direction, and a fan's curve as flows (m3/s) and rises (Pa)."""

    kind: str
    flag: str
    direction: list[float]
    curve: list[list[float]]


class RingsOut(Schema):
    """A part as painted: its visible rings, m, and what stands in its stream."""

    name: str
    origin: str
    material: str
    fluid: bool
    rings: list[list[list[float]]]
    internal: InternalOut | None = None


class OutlineOfPartOut(Schema):
    """A part, or a copy of it, as it would be if nothing were painted over it, m; `origin` is its name in the document."""

    name: str
    origin: str
    void: bool
    loops: list[list[list[float]]]


class BoundaryOut(Schema):
    """A named edge with the flag that stands on it."""

    name: str
    general: str
    interface: bool
    lines: list[list[list[float]]]
    length: float
    fluid: bool
    kind: str
    flag: str
    condition: int | None


class DimensionOut(Schema):
    """A dimension label: what it measures, and what editing it changes."""

    part: int
    field: str
    text: str
    expression: str
    input: str | None
    start: list[float]
    end: list[float]


class SketchOut(Schema):
    """The section to scale; `bare` where its conditions cannot all be read."""

    bounds: list[float]
    axisymmetric: bool
    parts: list[RingsOut]
    outlines: list[OutlineOfPartOut]
    boundaries: list[BoundaryOut]
    dimensions: list[DimensionOut]
    bare: bool


class StarterSketchOut(Schema):
    """A starter's section."""

    key: str
    sketch: SketchOut


class RelationOut(Schema):
    """A value by one relation, with its usual scatter, its source and where it holds."""

    value: float
    low: float
    high: float
    source: str
    range: str
    inside: bool


class HandOut(RelationOut):
    """A hand-calculated value with its evidence; `leaves_out` is what of the case it has not read, `also` the same by others."""

    leaves_out: list[str] = []
    also: list[RelationOut] = []


class LedgerRowOut(Schema):
    """A row of the ledger, SI; `name` is how its key is written, `opposite` the same in the other sense, where there is one."""

    key: Key
    opposite: Key | None = None
    name: str
    opposite_name: str = ""
    definition: str
    value: float | None
    unit: str
    kind: str
    wanted: bool
    target: float | None
    sense: str = "at_least"
    slack: float = 0.0
    upper: float | None = None
    margin: float | None = None
    by_hand: HandOut | None
    solved: float | None
    grid_plus_minus: float | None
    agrees: bool | None
    meets: bool | None
    verdict: str


class FixOut(Schema):
    """A remedy in one step: cells finer at places, or a field of the document that becomes a value."""

    label: str
    refine: list[str] = []
    path: str = ""
    value: str | float | bool = ""


class FindingOut(Schema):
    """A finding, with its remedy in one step where there is one."""

    severity: Literal["note", "check", "stop"]
    place: str
    text: str
    remedy: str
    fix: FixOut | None = None


class InputOut(Schema):
    """An evaluated input, SI; `text` in its unit."""

    name: str
    value: float | None
    text: str


class GridCountOut(Schema):
    """How many cells the grid wishes make."""

    cells: int
    columns: int
    rows: int


class ByHandValueOut(Schema):
    """A value of a hand calculation, SI."""

    key: Key
    name: str
    kind: str
    value: float


class ByHandOut(Schema):
    """A hand calculation of the case: its place in the list, what it gives, or why it gives nothing."""

    index: int
    values: list[ByHandValueOut]
    problem: ProblemOut | None


class CaseViewOut(Schema):
    """Everything the desk shows of a case before it is solved.

    `lasts` is the end of a run in time, s; `changed` says for each run that was asked about by what the case has changed since.
    """

    problems: list[ProblemOut]
    inputs: list[InputOut]
    sketch: SketchOut | None
    ledger: list[LedgerRowOut]
    findings: list[FindingOut]
    by_hand: list[ByHandOut] = []
    grid: GridCountOut | None
    lasts: float | None
    changed: dict[int, list[str]] = {}
    milliseconds: float


class WorstCellOut(Schema):
    """A cell with one of the largest values of a measure of quality; its centre in m."""

    measure: str
    value: float
    x: float
    y: float


class MeshOut(Schema):
    """A grid: base64 of little-endian float32 nodes (x, y pairs), uint32 cell starts and corner indices, uint16 regions."""

    nodes: str
    cell_start: str
    cell_nodes: str
    region: str
    cells: int
    quality: dict[str, float]
    worst: list[WorstCellOut] = []


class OutlineOut(Schema):
    """Closed outlines from a file: the loops of an outline shape, and their size, m."""

    shape: Outline
    width: float
    height: float


class GridFileOut(Schema):
    """An imported grid."""

    name: str
    cells: int


class LookBody(Schema):
    """A document to look at, and runs of which is asked by what it differs from what they solved."""

    document: CaseDocument
    runs: Annotated[list[Id], Field(max_length=8)] = []


class EditBody(Schema):
    """An edit of a document: what is taken out or renamed; see the core's `edited`."""

    document: CaseDocument
    action: Action
    name: Annotated[str, Field(max_length=120)]
    to: Annotated[str, Field(max_length=60)] = ""


class EditedOut(Schema):
    """The document after an edit, and in words what else it changed."""

    document: Case
    also: list[str]


class GridBody(Schema):
    """The case to grid; `case` is where its grid file is kept, when it uses one."""

    document: CaseDocument
    case: Id | None = None


class FieldOut(Schema):
    """A cell field: base64 of little-endian float32, NaN where it does not exist; SI."""

    name: str
    kind: str
    values: str
    low: float
    high: float


class FieldsOut(Schema):
    """The fields of a run on its grid."""

    mesh: MeshOut
    fields: list[FieldOut]


class TableBody(Schema):
    """A table as it stands on the desk, to be handed on."""

    name: Annotated[str, Field(min_length=1, max_length=120)] = "table"
    columns: Annotated[list[Annotated[str, Field(max_length=200)]], Field(min_length=1, max_length=200)]
    rows: Annotated[list[Annotated[list[str | float | None], Field(max_length=200)]], Field(max_length=50_000)]


class ProjectOut(Schema):
    """A project."""

    id: int
    name: str
    note: str
    cases: int


class ProjectBody(Schema):
    """A new project's name."""

    name: Annotated[str, Field(max_length=400)]
    note: Annotated[str, Field(max_length=4000)] = ""


class CaseCardOut(Schema):
    """A case on the home page: its sketch and its key answers; `unreadable` says why its document cannot be read, if so.

    `solved_run` is its last finished solution, which can be compared with others.
    """

    id: int
    title: str
    revision: int
    changed: datetime
    sketch: SketchOut | None
    ledger: list[LedgerRowOut]
    run_state: str | None
    problems: int
    unreadable: str = ""
    solved_run: int | None = None


class DeletedCaseOut(Schema):
    """A case that was deleted and can be brought back."""

    id: int
    title: str
    deleted: datetime


class NewCaseBody(Schema):
    """A new case: from a starter, as a copy, or from a document."""

    starter: str | None = None
    copy_of: Id | None = None
    document: CaseDocument | None = None
    title: str | None = None


class CaseOut(Schema):
    """A case as stored."""

    id: int
    project: int
    project_name: str
    title: str
    revision: int
    document: Case
    changed: datetime


class SaveBody(Schema):
    """A case to store: `revision` is the one it was read at."""

    revision: int
    document: CaseDocument


class SavedOut(Schema):
    """The new revision."""

    revision: int


class ConflictOut(Schema):
    """Somebody else saved in between: what is stored now."""

    problems: list[ProblemOut]
    revision: int
    document: Case


class RevisionOut(Schema):
    """An earlier save."""

    number: int
    saved: datetime
    what: str


class NewRunBody(Schema):
    """What to run; the case is saved first, and `revision` says which save is meant.

    `warm` begins with the fields of the last run; `go_on` carries a run in time on to the case's end.
    """

    kind: Literal["solve", "sizing", "grid_study"] = "solve"
    revision: int
    warm: bool = True
    go_on: bool = False


class FrameOut(Schema):
    """An instant of a run whose fields can be read; `time` in s, none in steady state."""

    number: int
    time: float | None


class WaitOut(Schema):
    """Behind what a queued run waits: titles of cases, the running ones first; `seconds` about, where that can be told."""

    behind: list[str]
    seconds: float | None


class RunOut(Schema):
    """A run without its fields; `history` holds the rows from `since` on."""

    id: int
    case: int
    kind: str
    state: str
    revision: int
    document: Case
    progress: dict[str, Any]
    history: list[dict[str, Any]]
    steps: int
    frames: list[FrameOut]
    ledger: list[LedgerRowOut]
    findings: list[FindingOut]
    trials: list[dict[str, Any]] = []
    summary: dict[str, Any]
    failure: ProblemOut | None
    waits: WaitOut | None = None
    queued: datetime
    started: datetime | None
    finished: datetime | None


class RunLineOut(Schema):
    """A run in a list."""

    id: int
    kind: str
    state: str
    revision: int
    queued: datetime
    summary: dict[str, Any]
