"""Reports of cases as HTML and DOCX, and the letterhead that stands on them."""

from __future__ import annotations

import io
from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from ninja import File, Query, Router, Schema
from ninja.files import UploadedFile
from pydantic import Field

from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.report import SECTION_TITLES
from wattikos_web.api.access import own_case, user_of
from wattikos_web.api.downloads import download
from wattikos_web.api.schemas import ProblemsOut, file_of
from wattikos_web.aside import aside
from wattikos_web.aside.reports import REPORTING, As, report_file
from wattikos_web.models import Letterhead
from wattikos_web.reports import told_of

router = Router(tags=["reports"])
WORD = "application/vnd.openxmlformats-officedocument.wordprocessingml.document"
_LARGEST_LOGO = 500_000
_REFUSALS: dict[int, Any] = {404: ProblemsOut, 422: ProblemsOut}


class Reported(Schema):
    """Cases of one report."""

    case: Annotated[list[int], Field(min_length=1, max_length=12)]


class LetterheadOut(Schema):
    """The company on a person's reports, and whether there is a logo."""

    company: str
    logo: bool


class LetterheadBody(Schema):
    """The company on a person's reports."""

    company: Annotated[str, Field(max_length=120)]


class SectionOut(Schema):
    """A section that a report may have."""

    name: str
    title: str


def _file(request: HttpRequest, cases: list[int], how: As) -> bytes:
    records = [own_case(request, case) for case in cases]
    told = [told_of(record, user_of(request)) for record in records]
    title = f"{records[0].project.name}: {len(records)} cases"
    made: bytes = aside(report_file, REPORTING, "", told, title, how)
    return made


@router.get("/report.html", response={200: bytes, **_REFUSALS}, openapi_extra=file_of("text/html"))
def html(request: HttpRequest, asked: Query[Reported]) -> HttpResponse:
    """The report of a case, or of several, to read and to print."""
    return HttpResponse(_file(request, asked.case, "html"), content_type="text/html; charset=utf-8")


@router.get("/report.docx", response={200: bytes, **_REFUSALS}, openapi_extra=file_of(WORD))
def docx(request: HttpRequest, asked: Query[Reported]) -> HttpResponse:
    """The same as a DOCX file."""
    return download(_file(request, asked.case, "docx"), WORD, "report.docx")


@router.get("/report-sections", response=list[SectionOut])
def sections(request: HttpRequest) -> Any:
    """The sections that a report may have, in their usual order."""
    return [{"name": name, "title": title} for name, title in SECTION_TITLES.items()]


@router.get("/letterhead", response=LetterheadOut)
def letterhead(request: HttpRequest) -> Any:
    """What stands on the user's reports."""
    head = Letterhead.objects.filter(user=user_of(request)).first()
    return {"company": head.company if head else "", "logo": bool(head and head.logo)}


@router.put("/letterhead", response={200: LetterheadOut, 422: ProblemsOut})
def set_company(request: HttpRequest, body: LetterheadBody) -> Any:
    """Say which company it is."""
    head, _ = Letterhead.objects.update_or_create(user=user_of(request), defaults={"company": body.company.strip()})
    return {"company": head.company, "logo": bool(head.logo)}


@router.post("/letterhead/logo", response={200: LetterheadOut, 422: ProblemsOut})
def set_logo(request: HttpRequest, file: File[UploadedFile]) -> Any:
    """Keep a logo (PNG or JPEG)."""
    head, _ = Letterhead.objects.update_or_create(user=user_of(request), defaults={"logo": _logo(file)})
    return {"company": head.company, "logo": True}


@router.delete("/letterhead/logo", response=LetterheadOut)
def remove_logo(request: HttpRequest) -> Any:
    """Take the logo off."""
    head, _ = Letterhead.objects.update_or_create(user=user_of(request), defaults={"logo": b""})
    return {"company": head.company, "logo": False}


def _logo(file: UploadedFile) -> bytes:
    from PIL import Image, UnidentifiedImageError

    content: bytes = file.read(_LARGEST_LOGO + 1)
    if len(content) > _LARGEST_LOGO:
        raise CaseError(InputProblem("file", "the logo is too large", f"keep it under {_LARGEST_LOGO // 1000} kB"))
    try:
        with Image.open(io.BytesIO(content), formats=("PNG", "JPEG")) as picture:
            picture.verify()
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        raise CaseError(InputProblem("file", "this is no PNG or JPEG", "choose a picture of one of these kinds")) from error
    return content
