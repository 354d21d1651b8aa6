"""A report as DOCX, by python-docx."""

from __future__ import annotations

import io
from typing import TYPE_CHECKING

from wattikos_core.report.blocks import Block, Bullets, Document, Facts, Heading, Paragraph, Picture, TableBlock

if TYPE_CHECKING:
    from docx.document import Document as Word

_PAPERS = {"A4": (210.0, 297.0), "letter": (215.9, 279.4)}
_MARGIN = 18.0


def docx_of(document: Document) -> bytes:
    """A report as a DOCX file."""
    import docx
    from docx.enum.text import WD_ALIGN_PARAGRAPH
    from docx.shared import Mm, Pt

    word = docx.Document()
    page = word.sections[0]
    page.page_width, page.page_height = (Mm(x) for x in _PAPERS[document.paper])
    page.left_margin = page.right_margin = page.top_margin = page.bottom_margin = Mm(_MARGIN)
    word.styles["Normal"].font.size = Pt(10)
    word.core_properties.title = document.title
    word.core_properties.author = document.company
    if document.logo:
        word.add_picture(io.BytesIO(document.logo), height=Mm(14))
    word.add_heading(document.title, 0)
    word.add_paragraph(" · ".join(text for text in (document.company, document.subtitle, document.date) if text))
    width = _PAPERS[document.paper][0] - 2.0 * _MARGIN
    for block in document.blocks:
        _add(word, block, width)
    footer = page.footer.paragraphs[0]
    footer.alignment = WD_ALIGN_PARAGRAPH.RIGHT
    _page_number(footer)
    target = io.BytesIO()
    word.save(target)
    return target.getvalue()


def _add(word: Word, block: Block, width: float) -> None:
    from docx.shared import Mm, Pt

    match block:
        case Heading(text, level):
            word.add_heading(text, level)
        case Paragraph(text, strong):
            run = word.add_paragraph().add_run(text)
            run.bold = strong
        case Bullets(items):
            for item in items:
                word.add_paragraph(item, style="List Bullet")
        case Facts(rows):
            _fill(word, TableBlock((), rows))
        case TableBlock():
            _fill(word, block)
        case Picture(png, caption, share):
            word.add_picture(io.BytesIO(png), width=Mm(width * share))
            run = word.add_paragraph().add_run(caption)
            run.italic, run.font.size = True, Pt(8.5)


def _fill(word: Word, block: TableBlock) -> None:
    from docx.enum.text import WD_ALIGN_PARAGRAPH
    from docx.shared import Pt

    rows = [block.columns, *block.rows] if block.columns else list(block.rows)
    if not rows:
        return
    first = 1 if block.columns else 0
    table = word.add_table(len(rows), len(rows[0]), style="Light List" if block.columns else None)
    for i, (row, cells) in enumerate(zip(rows, table.rows, strict=True)):
        for k, (text, cell) in enumerate(zip(row, cells.cells, strict=True)):
            paragraph = cell.paragraphs[0]
            run = paragraph.add_run(text)
            run.font.size = Pt(8.5)
            run.bold = i < first or (i - first) in block.strong
            if k in block.numbers:
                paragraph.alignment = WD_ALIGN_PARAGRAPH.RIGHT
    word.add_paragraph()


def _page_number(paragraph: object) -> None:
    """A field that the program that opens the file fills in."""
    from docx.oxml import OxmlElement
    from docx.oxml.ns import qn

    run = paragraph.add_run()  # type: ignore[attr-defined]
    for kind, text in (("begin", None), (None, "PAGE"), ("end", None)):
        if kind is not None:
            element = OxmlElement("w:fldChar")
            element.set(qn("w:fldCharType"), kind)
        else:
            element = OxmlElement("w:instrText")
            element.text = text
        run._r.append(element)
