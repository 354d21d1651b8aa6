"""What a report is made of, whatever it is written as."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Heading:
    """The title of a section; of level 1, or of level 2 inside one."""

    text: str
    level: int = 1


@dataclass(frozen=True)
class Paragraph:
    """Running text; `strong` where it is the answer."""

    text: str
    strong: bool = False


@dataclass(frozen=True)
class Bullets:
    """Points below each other."""

    items: tuple[str, ...]


@dataclass(frozen=True)
class Facts:
    """Names with what belongs to them."""

    rows: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class TableBlock:
    """A table; columns whose number is in `numbers` stand at the right, rows whose number is in `strong` stand out."""

    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    numbers: frozenset[int] = frozenset()
    strong: frozenset[int] = frozenset()


@dataclass(frozen=True)
class Picture:
    """A picture (PNG) with what stands under it; `width` is its share of the page's."""

    png: bytes
    caption: str
    width: float = 1.0


Block = Heading | Paragraph | Bullets | Facts | TableBlock | Picture


@dataclass(frozen=True)
class Document:
    """A report.

    Attributes:
        company, logo: of who hands it on; `logo` is a PNG or JPEG, none where it is empty.
        date: as it is written.
        paper: `A4` or `letter`.
    """

    title: str
    blocks: tuple[Block, ...]
    company: str = ""
    logo: bytes = b""
    date: str = ""
    paper: str = "A4"
    subtitle: str = ""

    @property
    def contents(self) -> list[str]:
        """The titles of its sections."""
        return [block.text for block in self.blocks if isinstance(block, Heading) and block.level == 1]
