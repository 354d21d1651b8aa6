"""What has been read of a document before: the points of a series read most of it again and again, with the same values."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any, TypeVar

from pydantic import BaseModel

from wattikos_core.case.document import Case
from wattikos_core.quantities import Value, names_in

R = TypeVar("R")


class Remembered:
    """The last reading of each item of a document, with the values of the inputs it rests on.

    It serves cases that differ in the values of their inputs, and in the materials of parts, alone: an item is the same one in all
    of them, or is read anew.
    """

    def __init__(self, case: Case) -> None:
        self._inputs = case.inputs.keys()
        self._shared = frozenset(name for item in case.materials.values() for name in _names(item))
        self._rests_on: dict[str, tuple[BaseModel, tuple[str, ...]]] = {}
        self._last: dict[str, tuple[BaseModel, tuple[Value | None, ...], Any]] = {}

    def read(self, field: str, item: BaseModel, values: Mapping[str, Value], read: Callable[[], R], sound: Callable[[], bool]) -> R:
        """What `read` gives, or gave when the item was read with the same values.

        Args:
            field: where the item stands in the document.
            item: part of the document.
            values: of all inputs.
            read: reads the item.
            sound: whether nothing is wrong so far; what is wrong is told each time, so it is not kept.
        """
        known = self._rests_on.get(field)
        if known is None or known[0] is not item:
            known = self._rests_on[field] = (item, tuple((self._shared | set(_names(item))) & self._inputs))
        now = tuple(values.get(name) for name in known[1])
        last = self._last.get(field)
        if last is not None and last[0] is item and last[1] == now:
            found: R = last[2]
            return found
        result = read()
        if sound():
            self._last[field] = (item, now, result)
        return result


def _names(item: BaseModel) -> Iterable[str]:
    return (name for text in _texts(item.model_dump()) for name in names_in(text))


def _texts(value: object) -> Iterable[str]:
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict):
        for one in value.values():
            yield from _texts(one)
    elif isinstance(value, list | tuple):
        for one in value:
            yield from _texts(one)
