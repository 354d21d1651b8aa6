"""What a case is asked: quantities of the ledger, with targets."""

from __future__ import annotations

from typing import Literal

from wattikos_core.documents import Expression, Model
from wattikos_core.ledger import Key

Sense = Literal["at_least", "at_most", "equal", "between"]


class Wanted(Model):
    """A quantity of the ledger the engineer came for, with a target when there is one: at least, at most, just that, or between
    that and `upper`."""

    key: Key
    target: Expression = ""
    sense: Sense = "at_least"
    upper: Expression = ""
