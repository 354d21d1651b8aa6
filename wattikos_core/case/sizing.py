"""What a sizing may choose, what must be met, and what is to be best."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from wattikos_core.case.series import Varied
from wattikos_core.case.wanted import Wanted
from wattikos_core.documents import Expression, Model
from wattikos_core.ledger import Key

MOST_CHOSEN = 6
MOST_GOALS = 12


class ChosenWish(Model):
    """An input that is chosen between bounds, or inputs and materials that are chosen together from rows of values.

    Attributes:
        varied: what is chosen; one input without values between `lower` and `upper` (its own bounds where they are empty), or one
            or more with as many values each, of which one row is taken.
    """

    varied: Annotated[list[Varied], Field(min_length=1, max_length=4)]
    lower: Expression = ""
    upper: Expression = ""


class AimWish(Model):
    """What is to be least or most: a quantity of the ledger, or an expression in inputs and quantities."""

    way: Literal["least", "most"] = "least"
    key: Key | None = None
    expression: Expression = ""


class Spread(Model):
    """How far an input may be from what is given: a standard normal spread whose two standard deviations are `plus_minus`."""

    input: Annotated[str, Field(max_length=60)]
    plus_minus: Expression = ""


class SizingWish(Model):
    """The search the case is set up for.

    Attributes:
        goals: what must be met.
        aim: what is to be best among what meets them; where there is none, the inputs change as little as they can.
        second: what the aim is weighed against on the front of both.
        spreads: how far inputs scatter; `share` of such cases is to meet the goals.
    """

    chosen: Annotated[list[ChosenWish], Field(max_length=MOST_CHOSEN)] = []
    goals: Annotated[list[Wanted], Field(max_length=MOST_GOALS)] = []
    aim: AimWish | None = None
    second: AimWish | None = None
    spreads: Annotated[list[Spread], Field(max_length=12)] = []
    share: Annotated[float, Field(ge=0.5, lt=1.0)] = 0.95
