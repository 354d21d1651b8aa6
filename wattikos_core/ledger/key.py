"""What a value of the ledger is of: a quantity, and the places in the case that it belongs to."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import replace
from itertools import permutations
from typing import Annotated, TypeVar

from pydantic import ConfigDict, Field, field_validator
from pydantic.dataclasses import dataclass
from pydantic_core import PydanticCustomError

from wattikos_core.ledger.quantity import Quantity
from wattikos_core.ledger.registry import QUANTITIES

V = TypeVar("V")


@dataclass(frozen=True, config=ConfigDict(extra="forbid"))
class Key:
    """A value of the ledger by what it is of; how it is written follows from that, and never the other way round.

    Attributes:
        quantity: one of `QUANTITIES`.
        place: the part, boundary or interface it is of; empty for one of the whole case.
        other: a second place: where heat goes, or the fluid on whose side of an interface it is.
        of: the value whose course in time it tells something of.

    Examples:
        >>> Key("heat_between", "tube 1", "whey").label
        'heat from tube 1 to whey'
        >>> Key("time_to_95", of=Key("outlet_temperature", "whey")).label
        'time to 95 % of whey outlet temperature'
    """

    quantity: Annotated[str, Field(json_schema_extra={"enum": sorted(QUANTITIES)})]
    place: Annotated[str, Field(max_length=200)] = ""
    other: Annotated[str, Field(max_length=200)] = ""
    of: Key | None = None

    @field_validator("quantity")
    @classmethod
    def _known(cls, name: str) -> str:
        if name not in QUANTITIES:
            raise PydanticCustomError("unknown_quantity", "there is no quantity '{name}'", {"name": name})
        return name

    @property
    def definition(self) -> Quantity:
        """The entry of the registry."""
        return QUANTITIES[self.quantity]

    @property
    def kind(self) -> str:
        """Kind of the value, see `quantities.KINDS`."""
        return self.definition.kind

    @property
    def label(self) -> str:
        """How it is written."""
        return self._filled(self.definition.label)

    @property
    def text(self) -> str:
        """Its definition in words."""
        return self._filled(self.definition.text)

    @property
    def opposite(self) -> Key | None:
        """The same in the other sense, whose value is the negative; None where there is none.

        Examples:
            >>> Key("heat_between", "tube 1", "whey").opposite.label
            'heat from whey to tube 1'
            >>> Key("duty").opposite is None
            True
        """
        other = self.definition.opposite
        if not other:
            return None
        return replace(self, place=self.other, other=self.place) if other == self.quantity else replace(self, quantity=other)

    def _filled(self, template: str) -> str:
        # Of a surface that has a fluid on both sides, the side is told with the place.
        aside = self.other and "{other}" not in self.definition.label
        place = f"{self.place} in {self.other}" if aside else self.place
        return template.format(place=place, other=self.other, of=self.of.label if self.of is not None else "")


def in_sense(values: Mapping[Key, float], key: Key) -> float | None:
    """A value by its key or by that of the other sense; None where it is not there."""
    if key in values:
        return values[key]
    other = key.opposite
    return -values[other] if other is not None and other in values else None


def labelled(values: Mapping[Key, V]) -> dict[str, V]:
    """The same values by how their keys are written, for tables and files."""
    return {key.label: value for key, value in values.items()}


def keys_at(places: Iterable[str]) -> Iterator[Key]:
    """All keys that a case with these places may have, but for those that tell of a course in time."""
    places = list(places)
    for name, quantity in QUANTITIES.items():
        if "{other}" in quantity.label:
            yield from (Key(name, one, other) for one, other in permutations(places, 2))
        elif "{place}" in quantity.label:
            yield from (Key(name, place) for place in places)
        elif "{of}" not in quantity.label:
            yield Key(name)
