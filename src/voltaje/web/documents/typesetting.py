"""Blocks as PDF, by the typesetter Typst: fonts embedded, tagged, with bookmarks."""

from __future__ import annotations

import json
import re
import tempfile
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from concurrent.futures import TimeoutError as LateError
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

from fontTools.ttLib import TTFont

from voltaje.web.documents.blocks import Block, as_json

HERE = Path(__file__).parent
FONTS = HERE.parent / "static" / "vendor"
PAPERS = {"letter": "us-letter", "a4": "a4"}
LOOK_EVERY = 0.2  # no code figure: s between two looks whether it is to stop


@dataclass(frozen=True, slots=True)
class SetWords:
    """What stands on every sheet and in the file's own properties: ``footer`` at the left, ``page``
    with {n} and {all}, ``tile`` with {tile}, {rows} and {columns} over a drawing in tiles."""

    title: str
    author: str
    footer: str
    page: str
    tile: str
    language: str


_place = tempfile.TemporaryDirectory(prefix="voltaje-fonts-")  # gone with the process


@cache
def _fonts() -> str:
    """A directory with the program's font as the typesetter reads it; it ships packed for
    browsers. Made once for this process."""
    place = Path(_place.name)
    for weight in (400, 700):
        font = TTFont(FONTS / f"b612-latin-{weight}-normal.woff2")
        font.flavor = None
        font.save(place / f"b612-{weight}.ttf")
    return str(place)


def to_pdf(
    blocks: Sequence[Block],
    paper: str,
    words: SetWords,
    check: Callable[[], None] = lambda: None,
) -> tuple[bytes, int]:
    """The file and how many pages it has. ``check`` is called several times a second meanwhile and
    may raise: the typesetter itself cannot be stopped, what it makes is thrown away then."""
    given = {
        "title": words.title,
        "author": words.author,
        "footer": words.footer,
        "page": words.page,
        "tile": words.tile,
        "language": words.language[:2],
        "paper": PAPERS[paper],
        "blocks": as_json(blocks),
    }
    inputs = {"given": json.dumps(given, ensure_ascii=False)}
    pool = ThreadPoolExecutor(1)
    try:
        made = pool.submit(_compiled, inputs)
        while True:
            try:
                found = made.result(LOOK_EVERY)
                return found, pages_of(found)
            except LateError:
                check()
    finally:
        pool.shutdown(wait=False)


def _compiled(inputs: dict[str, str]) -> bytes:
    import typst  # a large library that no other page needs

    found: Any = typst.compile(
        str(HERE / "set.typ"), root=str(HERE), font_paths=[_fonts()], sys_inputs=inputs
    )
    return bytes(found)


_PAGE = re.compile(rb"/Type\s*/Page\b(?!s)")


def pages_of(content: bytes) -> int:
    """How many pages a file of the typesetter has."""
    return len(_PAGE.findall(content))
