"""A few processes that compute for the web process, each task with a limit of time and of memory."""

from __future__ import annotations

import atexit
import multiprocessing
import resource
import time
import traceback
from collections.abc import Callable
from concurrent.futures import CancelledError, Future
from concurrent.futures.process import BrokenProcessPool
from functools import cache
from threading import Lock
from typing import Any, ParamSpec, TypeVar

from pebble import CONSTS, ProcessExpired, ProcessPool

from wattikos_core.errors import CaseError, InputProblem

_Given = ParamSpec("_Given")
_Found = TypeVar("_Found")

_PROCESSES = 2
# A process that is killed while it holds the others' channel keeps them waiting so long, s.
CONSTS.channel_lock_timeout = 5
_MEGABYTE = 1024 * 1024
# How often a task is looked after, from when on one that has not begun is asked for again, and how long all that may take, s.
_LOOK_AGAIN, _LOST_AFTER, _MOST_WAITING = 0.5, 20.0, 180.0
_asked: dict[str, Future[Any]] = {}
_lock = Lock()
_answered = False


def is_warm() -> bool:
    """Whether the processes have answered before, so that the next question need not wait for their beginning."""
    return _answered


class Superseded(RuntimeError):
    """The same desk has asked again before this was answered."""


def aside(
    function: Callable[_Given, _Found],
    limits: tuple[float, int],
    asker: str = "",
    /,
    *given: _Given.args,
    **named: _Given.kwargs,
) -> _Found:
    """What `function` returns, computed in another process.

    Args:
        function: of a module that needs no Django.
        limits: seconds and megabytes it may take.
        asker: who asks; a former question of the same asker for the same thing is dropped. Nobody's when empty.
        *given: what it is called with.
        **named: what it is called with by name.

    Raises:
        Superseded: dropped for a newer question.
        CaseError: as the function raises it; also when a limit was reached.
    """
    seconds, megabytes = limits
    begun, key = time.monotonic(), f"{asker} {function.__name__}" if asker else ""
    while True:
        future = _scheduled(seconds, function, megabytes, given, named)
        try:
            found: _Found = _answer(future, limits, key)
            return found
        except _Lost as error:
            # It went with a process that was killed while it took it, and nothing of it was done; or it waits behind others.
            if key in _asked:
                raise Superseded("asked again meanwhile") from error
            if time.monotonic() - begun > seconds + _MOST_WAITING:
                raise _beyond("the server is too busy") from error


class _Lost(RuntimeError):
    """Nobody has taken a task for long."""


def _answer(future: Future[Any], limits: tuple[float, int], key: str) -> Any:
    """What a task comes to; the former one of the same key is dropped."""
    global _answered
    seconds, megabytes = limits
    if key:
        with _lock:
            former = _asked.get(key)
            _asked[key] = future
        if former is not None and not former.done():
            former.cancel()
    try:
        found, failed = _patiently(future)
        _answered = True
    except CancelledError as error:
        raise Superseded("asked again meanwhile") from error
    except TimeoutError as error:
        raise _beyond(f"this takes more than {seconds:g} s") from error
    except (ProcessExpired, BrokenProcessPool) as error:
        raise _beyond(f"this takes more than {megabytes / 1000:g} GB of memory") from error
    finally:
        if key:
            with _lock:
                if _asked.get(key) is future:
                    del _asked[key]
    if isinstance(failed, MemoryError):
        raise _beyond(f"this takes more than {megabytes / 1000:g} GB of memory")
    if isinstance(failed, RecursionError):
        raise _beyond("this is nested too deeply")
    if failed is not None:
        raise failed
    return found


def _patiently(future: Future[Any]) -> Any:
    """The result of a task; _Lost where it has not begun for a while, since one that a dying process took is never told of."""
    begun = time.monotonic()
    while True:
        try:
            return future.result(_LOOK_AGAIN)
        except TimeoutError:
            if future.done():
                # It may have come just now, or be its own time that is over.
                return future.result()
            if not future.running() and time.monotonic() - begun > _LOST_AFTER:
                future.cancel()
                raise _Lost from None


def _beyond(problem: str) -> CaseError:
    return CaseError(InputProblem("case", problem, "make it smaller: fewer cells, parts, copies or points"))


def _carry_out(
    function: Callable[..., Any], megabytes: int, given: tuple[Any, ...], named: dict[str, Any]
) -> tuple[Any, Exception | None]:
    """In the other process: call the function with so much memory besides what its libraries have taken."""
    _, hard = resource.getrlimit(resource.RLIMIT_DATA)
    resource.setrlimit(resource.RLIMIT_DATA, (_taken() + megabytes * _MEGABYTE, hard))
    try:
        return function(*given, **named), None
    except (CaseError, MemoryError, RecursionError) as error:
        return None, error.with_traceback(None)
    except Exception:
        # What a library raises may not survive the way between processes; what it says does.
        return None, RuntimeError(traceback.format_exc())
    finally:
        resource.setrlimit(resource.RLIMIT_DATA, (hard, hard))


def _taken() -> int:
    """Bytes of private writable memory of this process, as the limit counts them."""
    with open("/proc/self/statm") as status:
        return int(status.read().split()[5]) * resource.getpagesize()


def _scheduled(seconds: float, function: Callable[..., Any], *about: Any) -> Future[Any]:
    with _lock:
        if not _pool().active:
            # Its own processes died, or were ended, in a way that it does not mend.
            _pool.cache_clear()
        future: Future[Any] = _pool().schedule(_carry_out, args=(function, *about), timeout=seconds)
        return future


@cache
def _pool() -> ProcessPool:
    # A server that forks: it has loaded what the tasks need once, and holds no locks of the web process.
    context = multiprocessing.get_context("forkserver")
    context.set_forkserver_preload(["wattikos_web.aside.preload"])
    pool = ProcessPool(max_workers=_PROCESSES, context=context)
    atexit.register(_end, pool)
    return pool


def _end(pool: ProcessPool) -> None:
    pool.stop()  # type: ignore[no-untyped-call]
    pool.join(5)
