"""The two names of a quantity that has a sense: heat from here to there, and from there to here, which is its negative."""

from __future__ import annotations

import re
from collections.abc import Mapping

# Pairs of names with what they have in common in braces; what one says the other says with the other sign.
_PAIRS = (
    ("heat from {a} to {b}", "heat from {b} to {a}"),
    ("heat out through {a}", "heat in through {a}"),
    ("{a} total heat gained", "{a} total heat given off"),
    ("{a} heat gained", "{a} heat given off"),
    ("{a} total pressure drop", "{a} total pressure rise"),
    ("{a} pressure drop", "{a} pressure rise"),
    ("heat stored in {a}", "heat given up by {a}"),
    ("heat of compression in {a}", "heat that expansion takes in {a}"),
)
_WHOLE = {"heat stored": "heat given up", "heat given up": "heat stored"}


def _pattern(name: str) -> re.Pattern[str]:
    text = re.escape(name)
    for letter in "ab":
        text = text.replace(re.escape("{" + letter + "}"), f"(?P<{letter}>.+)")
    return re.compile(f"^{text}$")


_WAYS = tuple((_pattern(one), other) for first, second in _PAIRS for one, other in ((first, second), (second, first)))


def opposite(name: str) -> str:
    """The name of the same quantity in the other sense; empty for one without a sense.

    Examples:
        >>> opposite("heat from tube 1 to whey")
        'heat from whey to tube 1'
        >>> opposite("whey heat gained")
        'whey heat given off'
        >>> opposite("duty")
        ''
    """
    if name in _WHOLE:
        return _WHOLE[name]
    for pattern, other in _WAYS:
        found = pattern.match(name)
        if found:
            return other.format(**found.groupdict())
    return ""


def heat_through(boundary: str) -> str:
    """The name of the heat that passes a boundary outwards, or an interface from its first part to its second."""
    first, bar, second = boundary.partition(" | ")
    return f"heat from {first} to {second}" if bar else f"heat out through {boundary}"


def in_sense(values: Mapping[str, float], name: str) -> float | None:
    """A quantity among others by either of its names; None where it is not there."""
    if name in values:
        return values[name]
    other = values.get(opposite(name))
    return None if other is None else -other
