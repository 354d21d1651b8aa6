"""The two ends of a module that repeats along a stream. What goes with it stands in `case.repeating` and `section.ends`."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from typing_extensions import override

from wattikos_core.boundaries.forms import Field, Form, Option
from wattikos_core.boundaries.kind import Boundaries, BoundaryKind, Conditional, Shown
from wattikos_core.boundaries.on_faces import FaceCondition, Giving, Index
from wattikos_core.boundaries.resolved import ResolvedCondition
from wattikos_core.documents import Expression
from wattikos_core.errors import InputProblem

if TYPE_CHECKING:
    from wattikos_core.case.reader import Reader
    from wattikos_core.grid import Grid


class Periodic(Conditional):
    """The two ends of a module that repeats along a stream: what leaves downstream enters upstream, with developed flow and heat.

    Walls hold one temperature, or give heat rates. Properties are constant in the module.

    Attributes:
        boundaries: at the upstream end; `downstream`: the same, one period on.
        mass_flow: through the module, `velocity`, its mean at the ends, or `pressure_gradient`, the fall of pressure along the
            module; the one that is given.
        temperature: mixed-mean temperature at the upstream end.
        properties_at: temperature that properties are taken at; that at the upstream end when empty.
        modules: how many stand behind each other.
    """

    type: Literal["periodic"] = "periodic"
    downstream: Boundaries
    mass_flow: Expression = ""
    velocity: Expression = ""
    pressure_gradient: Expression = ""
    temperature: Expression
    properties_at: Expression = ""
    modules: Expression = "1"


class PeriodicKind(BoundaryKind):
    """See `Periodic`."""

    type = "periodic"
    model = Periodic
    mirrors = True

    @override
    def boundaries(self, condition: Periodic) -> list[str]:
        return [*condition.boundaries, *condition.downstream]

    @override
    def gives_heat(self, condition: Periodic) -> bool:
        return bool(condition.temperature.strip())

    @override
    def resolve(self, condition: Periodic, boundary: str, reader: Reader, field: str) -> ResolvedCondition:
        return ResolvedCondition(field, boundary, "periodic", "periodic")

    @override
    def check(self, given: ResolvedCondition, fluid: bool) -> InputProblem | None:
        # The ends of solids repeat with those of the fluid.
        return None

    @override
    def on_faces(self, given: ResolvedCondition, grid: Grid, group: Index, time: float) -> FaceCondition | None:
        # The ends are joined in the grid: there are no outer faces.
        return None

    @override
    def give(self, condition: FaceCondition, giving: Giving) -> None:
        raise AssertionError("joined ends have no outer faces")

    @override
    def flag(self, condition: Periodic, given: ResolvedCondition, shown: Shown) -> tuple[str, str]:
        module = shown.module
        if module is None or given.boundary in module.downstream:
            count = module.count if module is not None else 1
            return "downstream", f"repeats · {count:,} modules" if count > 1 else "repeats"
        values = {"mass_flow": module.mass_flow, "velocity": module.velocity, "pressure_gradient": module.gradient}
        kind, amount = next((kind, value) for kind, value in values.items() if value is not None)
        drive = shown.value(amount, kind, getattr(condition, kind))
        return "upstream", f"{drive} · {shown.value(module.temperature, 'temperature', condition.temperature)}"

    @override
    def form(self) -> Form:
        none = {"mass_flow": "", "velocity": "", "pressure_gradient": ""}
        firsts = {"mass_flow": "1 g/s", "velocity": "0.1 m/s", "pressure_gradient": "1 Pa/m"}
        labels = {"mass_flow": "Mass flow", "velocity": "Mean velocity", "pressure_gradient": "Pressure gradient"}
        ways = [
            Option(value=name, label=labels[name].lower(), when={name: ["*"]}, gives=none | {name: first})
            for name, first in firsts.items()
        ]
        fresh = Option(
            value="periodic",
            label="periodic: ends of a module",
            when={"type": ["periodic"]},
            gives={"velocity": "0.1 m/s", "temperature": "20 degC"},
        )
        driven = [Field(control="entry", field=name, label=label, shown={name: ["*"]}) for name, label in labels.items()]
        title = "temperature at which all properties are taken"
        return Form(
            type="periodic",
            stands_on="ends",
            options=[fresh],
            fields=[
                Field(control="choice", field="drive", label="Given by", options=ways),
                *driven,
                Field(control="entry", field="temperature", label="Enters at", title="mixed-mean temperature at the upstream end"),
                Field(control="entry", field="properties_at", label="Properties at", title=title, placeholder="as it enters"),
                Field(control="turn_round", field="modules", label="Modules", title="how many stand behind each other"),
            ],
        )
