"""The API: django-ninja over the core's own models."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import ValidationError
from ninja.security import django_auth

from wattikos_core.errors import CaseError
from wattikos_web.api.cases import router as cases
from wattikos_web.api.catalogue import router as catalogue
from wattikos_web.api.files import router as files
from wattikos_web.api.projects import router as projects
from wattikos_web.api.runs import router as runs
from wattikos_web.api.session import router as session

api = NinjaAPI(title="Wattikos", version="1", auth=django_auth, docs_url=None)
api.add_router("", session)
api.add_router("", catalogue)
api.add_router("", projects)
api.add_router("", cases)
api.add_router("", files)
api.add_router("", runs)


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


@api.exception_handler(Http404)
def not_found(request: HttpRequest, error: Http404) -> HttpResponse:
    """Not there, or not yours; the answer is the same."""
    problem = {"field": "", "problem": "this does not exist, or belongs to somebody else", "remedy": "go back to your projects"}
    return api.create_response(request, {"problems": [problem]}, status=404)
