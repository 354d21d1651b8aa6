"""What the report of a case holds, in which order."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from wattikos_core.documents import Model

SectionName = Literal[
    "answer", "given", "sketch", "physics", "grid", "run", "ledger", "views", "series", "sizing", "findings", "sources", "text"
]
# In the order in which they stand unless it is said otherwise.
STANDARD: tuple[SectionName, ...] = (
    "answer",
    "given",
    "sketch",
    "physics",
    "grid",
    "run",
    "ledger",
    "views",
    "series",
    "sizing",
    "findings",
    "sources",
)


class ReportSection(Model):
    """A section, with text of one's own before what the program has to say; of `text` there is nothing else."""

    name: SectionName
    title: Annotated[str, Field(max_length=120)] = ""
    text: Annotated[str, Field(max_length=20_000)] = ""


class ReportWish(Model):
    """The report of a case; all standard sections where none are chosen."""

    sections: Annotated[list[ReportSection], Field(max_length=40)] = []
    paper: Literal["A4", "letter"] = "A4"

    @property
    def chosen(self) -> list[ReportSection]:
        """The sections, in order."""
        return self.sections or [ReportSection(name=name) for name in STANDARD]
