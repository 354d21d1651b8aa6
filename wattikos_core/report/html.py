"""A report as HTML in one file: on a screen with a table of contents that leads there, on paper with page numbers."""

from __future__ import annotations

from base64 import b64encode
from html import escape

from wattikos_core.report.blocks import Block, Bullets, Document, Facts, Heading, Paragraph, Picture, TableBlock

_STYLE = """
@page {
  size: PAPER; margin: 18mm 16mm 20mm;
  @bottom-left { content: TITLE; font: 8pt sans-serif; color: #5d6870 }
  @bottom-right { content: counter(page) " / " counter(pages); font: 8pt sans-serif; color: #5d6870 }
}
:root { color: #26333d; background: #fff; font: 10pt/1.45 "IBM Plex Sans", system-ui, sans-serif }
body { max-width: 178mm; margin: 12mm auto; padding: 0 4mm }
h1, h2, h3 { font-family: "Source Serif 4", Georgia, serif; line-height: 1.2; break-after: avoid }
h1 { font-size: 20pt; margin: 0 }
h2 { font-size: 14pt; margin: 18pt 0 5pt; border-bottom: 1px solid #c9c4b4 }
h3 { font-size: 11pt; margin: 10pt 0 3pt }
h4 { font-size: 10pt; margin: 8pt 0 3pt }
header { display: flex; gap: 12mm; justify-content: space-between; border-bottom: 2px solid #26333d; padding-bottom: 6pt }
header img { max-height: 18mm; max-width: 50mm }
.muted { color: #5d6870 }
.strong { font-size: 12pt; font-weight: 600 }
nav ol { columns: 2; margin: 8pt 0; padding-left: 18pt }
nav a { color: inherit }
table { border-collapse: collapse; width: 100%; font-size: 8.5pt; margin: 4pt 0 }
tr { break-inside: avoid }
th, td { text-align: left; padding: 2pt 5pt; border-top: 1px solid #e3e0d6; vertical-align: top; overflow-wrap: break-word }
th { color: #5d6870; font-weight: 500; border: 0; white-space: nowrap }
.number { text-align: right; font-variant-numeric: tabular-nums; white-space: nowrap }
.stands { font-weight: 600 }
dl { display: grid; grid-template-columns: max-content 1fr; gap: 1pt 12pt; margin: 4pt 0 }
dt { color: #5d6870 }
dd { margin: 0; overflow-wrap: anywhere }
figure { margin: 6pt 0; break-inside: avoid }
figure img { display: block; max-width: 100% }
figcaption { font-size: 8.5pt; color: #5d6870 }
p { margin: 4pt 0; white-space: pre-line }
ul { margin: 4pt 0; padding-left: 16pt }
@media print { body { margin: 0; max-width: none; padding: 0 } }
"""


def html_of(document: Document) -> str:
    """A report as HTML that needs nothing else.

    Example:
        >>> "<h1>Passage</h1>" in html_of(Document("Passage", (Paragraph("It works."),)))
        True
    """
    paper = {"A4": "A4", "letter": "letter"}[document.paper]
    quoted = '"' + document.title.replace("\\", "\\\\").replace('"', '\\"').replace("<", "\\3C ") + '"'
    style = _STYLE.replace("PAPER", paper).replace("TITLE", quoted)
    logo = f'<img alt="" src="{_data(document.logo)}">' if document.logo else ""
    numbers = {id(block): i for i, block in enumerate(b for b in document.blocks if isinstance(b, Heading) and b.level == 1)}
    contents = "".join(f'<li><a href="#s{i}">{escape(text)}</a></li>' for i, text in enumerate(document.contents))
    body = "\n".join(_block(block, numbers) for block in document.blocks)
    about = " · ".join(text for text in (document.company, document.subtitle, document.date) if text)
    return (
        f'<!doctype html>\n<html lang="en"><head><meta charset="utf-8"><title>{escape(document.title)}</title>'
        f'<meta name="viewport" content="width=device-width"><style>{style}</style></head>\n<body>'
        f'<header><div><h1>{escape(document.title)}</h1><p class="muted">{escape(about)}</p></div>{logo}</header>'
        f"<nav><ol>{contents}</ol></nav>\n{body}\n</body></html>\n"
    )


def _data(picture: bytes) -> str:
    kind = "png" if picture.startswith(b"\x89PNG") else "jpeg"
    return f"data:image/{kind};base64,{b64encode(picture).decode()}"


def _block(block: Block, numbers: dict[int, int]) -> str:
    match block:
        case Heading(text, 1):
            return f'<h2 id="s{numbers[id(block)]}">{escape(text)}</h2>'
        case Heading(text, level):
            tag = f"h{min(level + 1, 4)}"
            return f"<{tag}>{escape(text)}</{tag}>"
        case Paragraph(text, strong):
            return f'<p class="strong">{escape(text)}</p>' if strong else f"<p>{escape(text)}</p>"
        case Bullets(items):
            return "<ul>" + "".join(f"<li>{escape(item)}</li>" for item in items) + "</ul>"
        case Facts(rows):
            return "<dl>" + "".join(f"<dt>{escape(name)}</dt><dd>{escape(text)}</dd>" for name, text in rows) + "</dl>"
        case Picture(png, caption, width):
            said = escape(caption)
            image = f'<img style="width:{100.0 * width:.0f}%" alt="{said}" src="{_data(png)}">'
            return f"<figure>{image}<figcaption>{said}</figcaption></figure>"
        case TableBlock():
            return _table(block)


def _table(table: TableBlock) -> str:
    def cell(tag: str, column: int, text: str) -> str:
        kind = ' class="number"' if column in table.numbers else ""
        return f"<{tag}{kind}>{escape(text)}</{tag}>"

    head = "".join(cell("th", i, text) for i, text in enumerate(table.columns))
    rows = ""
    for i, row in enumerate(table.rows):
        kind = ' class="stands"' if i in table.strong else ""
        rows += f"<tr{kind}>{''.join(cell('td', k, text) for k, text in enumerate(row))}</tr>"
    return f"<table><thead><tr>{head}</tr></thead><tbody>{rows}</tbody></table>"
