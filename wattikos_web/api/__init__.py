"""The API: django-ninja over the core's own models."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError
from ninja.security import django_auth

from wattikos_core.errors import CaseError
from wattikos_web.api.cases import router as cases
from wattikos_web.api.catalogue import router as catalogue
from wattikos_web.api.comparing import router as comparing
from wattikos_web.api.files import router as files
from wattikos_web.api.projects import router as projects
from wattikos_web.api.reading import router as reading
from wattikos_web.api.reports import router as reports
from wattikos_web.api.runs import router as runs
from wattikos_web.api.series import router as series
from wattikos_web.api.session import router as session
from wattikos_web.api.session import signed_in_only
from wattikos_web.api.sizings import router as sizings
from wattikos_web.api.tokens import router as tokens
from wattikos_web.aside import Superseded
from wattikos_web.tokens import Bearer

# A token goes first: it needs no cookie, and so no proof against requests that other sites make.
api = NinjaAPI(title="Wattikos", version="1", auth=[Bearer(), django_auth], docs_url="/docs", docs_decorator=signed_in_only)
api.add_router("", session)
api.add_router("", catalogue)
api.add_router("", projects)
api.add_router("", cases)
api.add_router("", files)
api.add_router("", runs)
api.add_router("", reading)
api.add_router("", comparing)
api.add_router("", series)
api.add_router("", sizings)
api.add_router("", reports)
api.add_router("", tokens)


@api.exception_handler(CaseError)
def bad_case(request: HttpRequest, error: CaseError) -> HttpResponse:
    """Bad input, problem by problem."""
    problems = [{"field": p.field, "problem": p.problem, "remedy": p.remedy, "at": p.at} for p in error.problems]
    return api.create_response(request, {"problems": problems}, status=422)


@api.exception_handler(ValidationError)
def bad_request(request: HttpRequest, error: ValidationError) -> HttpResponse:
    """A request that does not fit the schema, in the same shape as bad input."""
    problems = [
        {"field": ".".join(str(step) for step in e.get("loc", ())), "problem": str(e.get("msg", "")), "remedy": "correct the value"}
        for e in error.errors
    ]
    return api.create_response(request, {"problems": problems}, status=422)


@api.exception_handler(Superseded)
def superseded(request: HttpRequest, error: Superseded) -> HttpResponse:
    """A question that the same desk has asked anew before it was answered."""
    problem = {"field": "", "problem": "this was asked again before it was answered", "remedy": "wait for the newer answer"}
    return api.create_response(request, {"problems": [problem]}, status=409)


@api.exception_handler(HttpError)
def unreadable(request: HttpRequest, error: HttpError) -> HttpResponse:
    """A request that is no JSON, and what else the framework refuses."""
    problem = {"field": "", "problem": str(error).lower(), "remedy": "send JSON that fits the schema"}
    if error.status_code == 403:
        problem = {"field": "", "problem": "this request was refused", "remedy": "load the page anew and try again"}
    return api.create_response(request, {"problems": [problem]}, status=error.status_code)


@api.exception_handler(Http404)
def not_found(request: HttpRequest, error: Http404) -> HttpResponse:
    """Not there, or not yours; the answer is the same."""
    problem = {"field": "", "problem": "this does not exist, or belongs to somebody else", "remedy": "go back to your projects"}
    return api.create_response(request, {"problems": [problem]}, status=404)
