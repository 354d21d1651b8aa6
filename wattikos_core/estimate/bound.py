"""What a hand calculation takes from its case: parts, inlets, and expressions in the inputs."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import TypeVar

from wattikos_core.case import ResolvedCase, ResolvedCondition, ResolvedPart
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.estimate.account import Account, account_of, pair
from wattikos_core.estimate.blown import system_of
from wattikos_core.quantities import QuantityError, evaluate_in

T = TypeVar("T")
BY_PRESSURE = ("inlet_static", "inlet_total")
# Share of what fans can raise the pressure by that is left of it at flows beyond their curves, for the search of the flow.
_LEAST_PUSH = 1e-3


@dataclass(frozen=True)
class Entering:
    """What enters a fluid part: at an inlet, or at the upstream end of a module.

    Attributes:
        temperature: K; `developed` whether its profile is.
        modules: how many behind each other the case is of; 0 where nothing repeats.
    """

    temperature: float
    developed: bool
    modules: int = 0


class FlowFromPressure(CaseError):
    """A stream that enters by a pressure: its flow is still to be found (see `driven`)."""

    def __init__(self, part: ResolvedPart, area: float, density: float, inlet: ResolvedCondition) -> None:
        problem = f"by hand the flow does not follow from the pressure at '{inlet.boundary}'"
        super().__init__(InputProblem(f"{inlet.field}.pressure", problem, "give a mass flow or a velocity"))
        self.part, self.area, self.density = part, area, density


class Bound:
    """Reads the fields of a case's hand calculation; every error names the field.

    Args:
        resolved: the case.
        flows: of streams that a pressure drives, by part, kg/s.
        bands: whether the usual scatter of values is wanted, which takes as long again, twice, and what they leave out.
    """

    def __init__(self, resolved: ResolvedCase, flows: Mapping[str, float] | None = None, *, bands: bool = True) -> None:
        self.resolved, self.bands = resolved, bands
        # Of streams that a pressure drives, by part, kg/s; areas of their inlets, m2.
        self._flows = dict(flows or {})
        self._areas: dict[str, float] = {}
        self.account = account_of(resolved) if bands else Account(resolved)
        self.system = system_of(resolved)

    def over(self, solve: Callable[[float], T]) -> tuple[T, T, T]:
        """What a calculation gives in the middle (0) and at the ends (-1, 1) of the scatter of its films."""
        middle = solve(0.0)
        return (middle, solve(-1.0), solve(1.0)) if self.bands else (middle, middle, middle)

    def read(self, field: str, text: str, kind: str, *, of_case: bool = True) -> float:
        """An expression in the inputs, in SI; not `of_case` what the field finds by itself. Raises CaseError."""
        try:
            value = evaluate_in(kind, text, self.resolved.quantities)
        except QuantityError as error:
            raise CaseError(InputProblem(f"estimate.{field}", error.problem, error.remedy)) from error
        if of_case:
            self.account.say(field, text, kind, value)
        return value

    def above_zero(self, field: str, text: str, kind: str, *, of_case: bool = True) -> float:
        """An expression that must be greater than zero; see `read`."""
        value = self.read(field, text, kind, of_case=of_case)
        if value <= 0.0:
            raise CaseError(InputProblem(f"estimate.{field}", f"'{text}' is {value:g}", "it must be greater than zero"))
        return value

    def or_zero(self, field: str, text: str, kind: str) -> float:
        """An expression that may be left empty, which is zero, and must not be negative."""
        value = self.read(field, text, kind) if text.strip() else 0.0
        if value < 0.0:
            raise CaseError(InputProblem(f"estimate.{field}", f"'{text}' is {value:g}", "it must not be negative"))
        return value

    def part(self, field: str, name: str) -> ResolvedPart:
        """A part by its name, or the first copy of a repeated one. Raises CaseError."""
        for part in self.resolved.parts:
            if name in (part.name, part.origin):
                return part
        names = ", ".join(p.name for p in self.resolved.parts)
        raise CaseError(InputProblem(f"estimate.{field}", f"there is no part '{name}'", f"name one of: {names}"))

    def entering(self, part: str) -> Entering:
        """What enters a fluid part. Raises CaseError."""
        self.account.take("stream", part)
        module = self.resolved.module
        if module is not None:
            return Entering(module.temperature, True, module.count)
        inlet = self.inlet(part)
        return Entering(inlet.temperature, inlet.developed)

    def inlet(self, part: str) -> ResolvedCondition:
        """The inlet of a fluid part. Raises CaseError."""
        self.account.take("stream", part)
        for condition in self.resolved.conditions:
            if condition.type.startswith("inlet") and condition.boundary.startswith(f"{part}, "):
                return condition
        drawn_in = self._upstream_opening(part)
        if drawn_in is not None:
            return drawn_in
        raise CaseError(InputProblem("conditions", f"'{part}' has no inlet", "put an inlet on one of its boundaries"))

    def _upstream_opening(self, part: str) -> ResolvedCondition | None:
        """The opening of a part that its fans draw from: the one on the side they blow away from."""
        if not self.system.fans:
            return None
        fan = self.system.fans[0][0].internal
        assert fan is not None
        x, y = fan.direction
        side = ("left" if x > 0.0 else "right") if abs(x) >= abs(y) else ("bottom" if y > 0.0 else "top")
        open_to = [c for c in self.resolved.conditions if c.kind == "opening" and c.boundary.startswith(f"{part}, ")]
        return next((c for c in open_to if c.boundary == f"{part}, {side}"), None)

    def mass_flow(self, part: ResolvedPart, area: float) -> float:
        """What enters a part, kg/s; `area` is the inlet's, m2. Raises CaseError."""
        module = self.resolved.module
        if module is not None:
            if module.velocity is not None:
                return module.velocity * float(part.material.density(module.properties_at)) * area
            if module.mass_flow is None:
                problem = "by hand the flow does not follow from a pressure gradient"
                raise CaseError(
                    InputProblem(
                        f"{module.field}.mass_flow", problem, "give a mass flow or a velocity, or take the hand calculation out"
                    )
                )
            return module.mass_flow
        inlet = self.inlet(part.name)
        if inlet.type in BY_PRESSURE or inlet.kind == "opening":
            self._areas[part.name] = area
            if part.name not in self._flows:
                raise FlowFromPressure(part, area, float(part.material.density(inlet.temperature)), inlet)
            return self._flows[part.name]
        return inlet.amount if inlet.type == "inlet_mass" else inlet.amount * float(part.material.density(inlet.temperature)) * area

    def pressure_over(self, part: str, flow: float) -> float:
        """What drives a flow (kg/s) through a part, Pa: its inlet's pressure over its outlet's, and fans. Raises CaseError."""
        inlet = self.inlet(part)
        # What stands in a stream belongs to it: a fan may stand where it leaves.
        of_stream = {part} | {name for p in self.resolved.bodies if p.internal is not None for name in (p.name, p.origin)}
        ends = [
            c for c in self.resolved.conditions if c.kind in ("outlet", "opening") and c.boundary.rpartition(", ")[0] in of_stream
        ]
        outlets = [c for c in ends if c is not inlet]
        field = f"{inlet.field}.pressure"
        if not outlets or "amount" in inlet.along:
            problem = f"by hand the flow of '{part}' does not follow from its pressures"
            raise CaseError(InputProblem(field, problem, "give one pressure at its inlet and one at its outlet"))
        over = inlet.amount - outlets[0].amount
        if self.system.fans:
            # Past what its fans can, a flow is too large by far.
            return max(over + self.system.rise(flow / self.as_it_enters(part)[0]), _LEAST_PUSH * self.system.most())
        if over <= 0.0:
            problem = f"the pressure at '{inlet.boundary}' is not above that at '{outlets[0].boundary}'"
            raise CaseError(InputProblem(field, problem, "make it higher: nothing flows in"))
        return over

    def as_it_enters(self, part: str) -> tuple[float, float]:
        """Density (kg/m3) and viscosity (Pa s) of what enters a part."""
        table, temperature = self.part("", part).material, self.inlet(part).temperature
        return float(table.density(temperature)), float(table.viscosity(temperature))

    def loss_on_the_way(self, part: str, flow: float) -> float:
        """What stands in the stream takes of its pressure at a flow (kg/s), Pa."""
        if not self.system.drags:
            return 0.0
        density, viscosity = self.as_it_enters(part)
        return self.system.loss(flow / density, density, viscosity)

    def velocity_head(self, part: str, flow: float) -> float:
        """Pressure that a total pressure at an inlet spends on the velocity of a flow (kg/s), Pa; none of a static one."""
        inlet = self.inlet(part)
        if inlet.type != "inlet_total" and inlet.kind != "opening":
            return 0.0
        density = float(self.part("", part).material.density(inlet.temperature))
        return 0.5 * density * (flow / (density * self._areas[part])) ** 2

    def contact(self, first: ResolvedPart, second: ResolvedPart) -> float:
        """Resistance between two parts that touch, m2 K/W; 0 where none stands there."""
        self.account.take("contact", pair(first.origin, second.origin))
        self.account.take("contact", pair(first.name, second.name))
        return self.resolved.contacts.get(f"{first.name} | {second.name}", 0.0)

    def outside(self, boundary: str) -> ResolvedCondition | None:
        """What stands outside a boundary: convection, radiation, a temperature or heat, a coating included."""
        for kind in ("outside", "radiation", "coating"):
            self.account.take(kind, boundary)
        return self.resolved.condition(boundary)

    def across(self, part: ResolvedPart, temperature: float) -> float:
        """Conductivity of a part along y, W/m/K, which is across the streams and layers of a section."""
        self.account.take("orthotropy", part.origin)
        table = part.material
        return float(table.conductivity(temperature)) * table.conductivity_ratio
