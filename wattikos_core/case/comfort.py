"""Who is to feel well at the probes of a case: activity, clothing, humidity (ISO 7730:2005)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from wattikos_core.documents import Expression, Model

if TYPE_CHECKING:
    from wattikos_core.case.document import Case
    from wattikos_core.case.reader import Reader


class Comfort(Model):
    """People at the probes of a case.

    Attributes:
        activity: metabolic rate, met; `clothing`, clo.
        humidity: relative.
        radiant: mean radiant temperature; that of the surfaces around each place when empty.
    """

    activity: Expression = "1.2"
    clothing: Expression = "0.5"
    humidity: Expression = "50 percent"
    radiant: Expression = ""


@dataclass(frozen=True)
class ResolvedComfort:
    """The same in numbers: met, clo, a share, and K or None."""

    activity: float
    clothing: float
    humidity: float
    radiant: float | None


def resolve_comfort(case: Case, reader: Reader) -> ResolvedComfort | None:
    """People at the probes, in numbers; None where none are asked for."""
    comfort = case.reading.comfort
    if comfort is None:
        return None
    field = "reading.comfort"
    humidity = reader.read(comfort.humidity, "ratio", f"{field}.humidity", at_least=0.0)
    if humidity > 1.0:
        reader.fail(f"{field}.humidity", f"'{comfort.humidity}' is more than saturated", "give a share up to 1, or percent")
    return ResolvedComfort(
        reader.read(comfort.activity, "number", f"{field}.activity", above=0.0),
        reader.read(comfort.clothing, "number", f"{field}.clothing", at_least=0.0),
        humidity,
        reader.optional(comfort.radiant, "temperature", f"{field}.radiant"),
    )
