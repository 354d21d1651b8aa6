"""The last few grids that were made: the next case of a series often has the same section."""

from __future__ import annotations

import pickle
from collections import OrderedDict
from collections.abc import Callable
from hashlib import sha256
from threading import Lock
from typing import Any

from wattikos_core.grid.grid import Grid

_MOST = 6
_kept: OrderedDict[bytes, Grid] = OrderedDict()
_lock = Lock()


def remembered(make: Callable[..., Grid], *given: Any, **named: Any) -> Grid:
    """What `make` makes of what it is given, or made of the same before in this process; grids are never changed.

    Raises:
        CaseError: as `make` does.
    """
    key = sha256(pickle.dumps((make.__qualname__, given, sorted(named.items())))).digest()
    with _lock:
        if key in _kept:
            _kept.move_to_end(key)
            return _kept[key]
    grid = make(*given, **named)
    with _lock:
        _kept[key] = grid
        while len(_kept) > _MOST:
            _kept.popitem(last=False)
    return grid


def forget_grids() -> None:
    """Make all grids anew from here on."""
    with _lock:
        _kept.clear()
