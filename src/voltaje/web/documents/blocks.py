"""What a page of a document consists of, for the browser and for PDF alike."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from typing import Any, ClassVar, Literal

from django.utils.safestring import SafeString

Tone = Literal["plain", "soft", "strong", "caution", "fail", "check", "incomplete"]


@dataclass(frozen=True, slots=True)
class Heading:
    """A heading of ``level`` 1 to 3. One of level 1 begins a page and stands in the contents and
    the bookmarks, as does level 2."""

    block: ClassVar[str] = "heading"
    level: int
    text: str
    key: str = ""


@dataclass(frozen=True, slots=True)
class Words:
    """A paragraph."""

    block: ClassVar[str] = "words"
    text: str
    tone: Tone = "plain"


@dataclass(frozen=True, slots=True)
class Facts:
    """Pairs of what and how much, side by side; ``boxed`` as the answer of a sheet."""

    block: ClassVar[str] = "facts"
    pairs: tuple[tuple[str, str], ...]
    boxed: bool = False


@dataclass(frozen=True, slots=True)
class Grid:
    """A table: its ``head`` (empty: none), its rows, the share of the width that each column has,
    the columns of figures, the rows that are sums; ``tall`` rows are written in by hand."""

    block: ClassVar[str] = "grid"
    head: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    widths: tuple[float, ...]
    numbers: tuple[int, ...] = ()
    sums: tuple[int, ...] = ()
    tall: bool = False


@dataclass(frozen=True, slots=True)
class Picture:
    """A drawing as SVG with its size in units of its own, and what it shows, in words; ``style``
    are the rules that it needs in a file, where no page gives them."""

    block: ClassVar[str] = "picture"
    svg: SafeString
    width: float
    height: float
    says: str
    style: str = ""

    @property
    def alone(self) -> str:
        """The drawing with its rules."""
        head, end, rest = self.svg.partition("</title>")
        return f"{head}{end}<style>{self.style}</style>{rest}" if end else self.svg


@dataclass(frozen=True, slots=True)
class Contents:
    """The list of headings with their pages."""

    block: ClassVar[str] = "contents"
    title: str


@dataclass(frozen=True, slots=True)
class Signatures:
    """Lines to be signed on."""

    block: ClassVar[str] = "signatures"
    labels: tuple[str, ...]


Block = Heading | Words | Facts | Grid | Picture | Contents | Signatures


def as_json(blocks: Sequence[Block]) -> list[dict[str, Any]]:
    """The blocks as JSON, each with its ``block``; drawings as they stand alone."""
    found = [{"block": one.block, **asdict(one)} for one in blocks]
    for made, one in zip(found, blocks, strict=True):
        if isinstance(one, Picture):
            made["svg"] = one.alone
    return found
