"""What goes wrong with the machine rather than with a case, in words: a full disk, a folder that cannot be written, a lock."""

from __future__ import annotations

import logging
import secrets
import sys
from dataclasses import dataclass

from django.conf import settings
from django.core.exceptions import RequestDataTooBig
from django.db import DatabaseError
from django.http import HttpRequest, HttpResponse, JsonResponse

_log = logging.getLogger(__name__)


@dataclass(frozen=True)
class Trouble:
    """What is wrong and what to do; `status` for an answer over HTTP."""

    problem: str
    remedy: str
    status: int = 503


_KEPT = "what you entered is kept in the browser and saved when this is mended"
# What SQLite and the system say, in order of being looked for.
_SAID = (
    ("full", Trouble("the disk of the server is full", f"make room on it; {_KEPT}")),
    ("no space left", Trouble("the disk of the server is full", f"make room on it; {_KEPT}")),
    ("readonly", Trouble("the database cannot be written", f"let the server's user write {settings.DATA_DIR}; {_KEPT}")),
    ("read-only", Trouble("the database cannot be written", f"let the server's user write {settings.DATA_DIR}; {_KEPT}")),
    ("permission denied", Trouble("the database cannot be written", f"let the server's user write {settings.DATA_DIR}; {_KEPT}")),
    ("unable to open", Trouble("the database cannot be opened", f"look at {settings.DATA_DIR} on the server; {_KEPT}")),
    ("locked", Trouble("the database is busy", f"try again in a moment; {_KEPT}")),
    ("malformed", Trouble("the database is damaged", "stop the server and bring back the last backup with `wattikos restore`")),
    (
        "not a database",
        Trouble("the database is damaged", "stop the server and bring back the last backup with `wattikos restore`"),
    ),
)


def trouble_of(error: BaseException) -> Trouble | None:
    """The trouble behind an error of the database or the system; None where it is another."""
    if not isinstance(error, DatabaseError | OSError):
        return None
    said = str(error).lower()
    return next((trouble for words, trouble in _SAID if words in said), None)


def told(request: HttpRequest, error: BaseException) -> HttpResponse:
    """An answer in words to an error that nobody foresaw; its number is in the log beside what happened."""
    number = secrets.token_hex(4)
    _log.error("error %s in %s %s", number, request.method, request.path, exc_info=error)
    known = trouble_of(error) or Trouble(
        f"the server met an error of its own (number {number})",
        "try again; if it happens twice, send this number to whoever keeps the server: its log says more",
        500,
    )
    return _answer(request, known)


def _answer(request: HttpRequest, trouble: Trouble) -> HttpResponse:
    """As problems to those who use the API, as a page to everybody else."""
    if request.path.startswith("/api/"):
        problem = {"field": "", "problem": trouble.problem, "remedy": trouble.remedy, "at": None}
        return JsonResponse({"problems": [problem]}, status=trouble.status)
    return HttpResponse(_PAGE.format(problem=trouble.problem, remedy=trouble.remedy), status=trouble.status)


_PAGE = """<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>Wattikos</title><meta name="viewport" content="width=device-width">
<style>body{{font:16px/1.5 system-ui,sans-serif;max-width:38rem;margin:4rem auto;padding:0 1rem}}</style></head>
<body><h1>This did not work</h1><p>{problem}; {remedy}.</p><p><a href="/">Back to your projects</a></p></body></html>
"""


def server_error(request: HttpRequest) -> HttpResponse:
    """Django's answer to an error that nobody foresaw."""
    return told(request, sys.exc_info()[1] or RuntimeError("unknown"))


def not_found(request: HttpRequest, exception: BaseException) -> HttpResponse:
    """Django's answer where there is nothing."""
    return _answer(request, Trouble("there is nothing at this address", "look whether it is complete", 404))


def refused(request: HttpRequest, exception: BaseException | None = None, reason: str = "") -> HttpResponse:
    """Django's answer to what a request may not do, and to one without the token that writing needs."""
    return _answer(request, Trouble("this request was refused", "load the page anew and try again", 403))


def bad_request(request: HttpRequest, exception: BaseException) -> HttpResponse:
    """Django's answer to a request that cannot be read."""
    if isinstance(exception, RequestDataTooBig):
        megabytes = settings.DATA_UPLOAD_MAX_MEMORY_SIZE / 1e6
        return _answer(request, Trouble(f"the request has more than {megabytes:.0f} MB", "send less at once", 413))
    return _answer(request, Trouble("the request cannot be read", "load the page anew and try again", 400))
