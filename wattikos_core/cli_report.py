"""`wattikos report`: the report of a case, by hand or solved."""

from __future__ import annotations

import argparse
import shutil
import subprocess
import tempfile
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from wattikos_core.case import Case
from wattikos_core.errors import CaseError, InputProblem
from wattikos_core.solve import Listen

_BROWSERS = ("chromium", "chromium-browser", "google-chrome")


def add_command(commands: Any) -> argparse.ArgumentParser:
    """Add `report` to the commands."""
    report: argparse.ArgumentParser = commands.add_parser("report", help="write a report of a case")
    report.add_argument("case", type=Path, help="case document (JSON)")
    report.add_argument("-o", "--out", type=Path, required=True, help="the file: .html, .docx or .pdf (which Chromium prints)")
    report.add_argument("--by-hand", action="store_true", help="do not solve the case")
    report.add_argument("--company", default="", help="who hands it on")
    report.add_argument("--logo", type=Path, help="a PNG or JPEG")
    report.add_argument("--quiet", action="store_true", help="print no progress")
    return report


def write_report(case: Case, options: argparse.Namespace, listen: Listen) -> None:
    """Solve the case unless it is said otherwise, and write its report.

    Raises:
        CaseError: a file of another kind, a logo that cannot be read, no browser for a PDF.
    """
    from wattikos_core.report import ReportData, docx_of, html_of, report_of, solved_data
    from wattikos_core.studies import solve_case

    kind = options.out.suffix.lower()
    if kind not in (".html", ".docx", ".pdf"):
        raise CaseError(InputProblem("--out", f"'{options.out}' is of no kind that is written", "name a .html, .docx or .pdf file"))
    try:
        logo = options.logo.read_bytes() if options.logo is not None else b""
    except OSError as error:
        raise CaseError(InputProblem("--logo", f"{options.logo} cannot be read ({error})", "give the path of a picture")) from error
    solved = None if options.by_hand else solved_data(solve_case(case, listen=listen))
    date = datetime.now(tz=UTC).date().isoformat()
    document = report_of(ReportData(case, solved, company=options.company, logo=logo, date=date))
    if kind == ".docx":
        options.out.write_bytes(docx_of(document))
    elif kind == ".html":
        options.out.write_text(html_of(document), encoding="utf-8")
    else:
        _print(html_of(document), options.out)


def _print(html: str, out: Path) -> None:
    browser = next((path for name in _BROWSERS if (path := shutil.which(name))), None)
    if browser is None:
        remedy = "install Chromium, or write the .html and print it from a browser"
        raise CaseError(InputProblem("--out", "there is no Chromium to print a PDF with", remedy))
    with tempfile.TemporaryDirectory() as folder:
        page = Path(folder) / "report.html"
        page.write_text(html, encoding="utf-8")
        options = ["--headless", "--no-sandbox", "--disable-gpu", "--no-pdf-header-footer", f"--print-to-pdf={out.resolve()}"]
        done = subprocess.run([browser, *options, page.as_uri()], capture_output=True, timeout=120, check=False)
    if done.returncode != 0 or not out.exists():
        raise CaseError(InputProblem("--out", "Chromium did not print the report", "write the .html and print it from a browser"))
