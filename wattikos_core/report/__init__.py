"""Reports: what a case comes to, as a document that can be written as HTML (and printed) or as DOCX."""

from wattikos_core.report.blocks import Block, Bullets, Document, Facts, Heading, Paragraph, Picture, TableBlock
from wattikos_core.report.comparison import comparison_of
from wattikos_core.report.content import SECTION_TITLES, report_of, together
from wattikos_core.report.data import ReportData, SeriesData, SolvedData
from wattikos_core.report.html import html_of
from wattikos_core.report.solved import solved_data
from wattikos_core.report.word import docx_of

__all__ = [
    "SECTION_TITLES",
    "Block",
    "Bullets",
    "Document",
    "Facts",
    "Heading",
    "Paragraph",
    "Picture",
    "ReportData",
    "SeriesData",
    "SolvedData",
    "TableBlock",
    "comparison_of",
    "docx_of",
    "html_of",
    "report_of",
    "solved_data",
    "together",
]
