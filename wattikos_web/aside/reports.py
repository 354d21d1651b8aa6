"""Reports made beside the web process: their pictures take a second each."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Literal

from wattikos_core.case import read_case
from wattikos_core.read import Instant, interpolant_of, unpack_frame
from wattikos_core.report import (
    Document,
    ReportData,
    SeriesData,
    SolvedData,
    comparison_of,
    docx_of,
    html_of,
    report_of,
    together,
)
from wattikos_core.solve.checkpoint import unpack_checkpoint

# Seconds and megabytes that a report may take.
REPORTING = (120.0, 2000)
As = Literal["html", "docx"]


def report_file(told: Sequence[dict[str, Any]], title: str, how: As) -> bytes:
    """The report of a case, or of several in one, with a comparison before them."""
    data = [_data(one) for one in told]
    reports = [report_of(one) for one in data]
    document = reports[0]
    if len(reports) > 1:
        whole = together(title, reports)
        document = Document(title, (*comparison_of(data), *whole.blocks), *_about(whole))
    return html_of(document).encode() if how == "html" else docx_of(document)


def _about(document: Document) -> tuple[str, bytes, str, str, str]:
    return document.company, document.logo, document.date, document.paper, document.subtitle


def _data(told: dict[str, Any]) -> ReportData:
    solved = told["solved"]
    return ReportData(
        case=read_case(told["document"]),
        solved=None if solved is None else _solved(solved),
        series=tuple(SeriesData(**one) for one in told["series"]),
        sizing=told["sizing"],
        study=told["study"],
        company=told["company"],
        logo=told["logo"],
        date=told["date"],
    )


def _solved(told: dict[str, Any]) -> SolvedData:
    instant = None
    if told["checkpoint"] and told["frame"]:
        between = interpolant_of(unpack_checkpoint(told["checkpoint"]).grid)
        instant = Instant(between, unpack_frame(told["frame"]))
    return SolvedData(told["ledger"], told["summary"], instant, told["finished"], tuple(told["stale"]))
