"""What a usual slip of a kind is: entries or cells read as others, and the calculation run with
them. Common practice, no source."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from voltaje.core.codes import Edition, Misreading
from voltaje.core.entries import Document
from voltaje.core.report import Rule, Text


@dataclass(frozen=True, slots=True)
class UsualSlip:
    """A slip: its name, what it is in words, the ``document`` that it makes and the ``cells`` that
    are read as other figures; the ``rule`` where it is read rightly."""

    name: str
    words: Text
    document: Document
    cells: tuple[Misreading, ...] = ()
    rule: Rule | None = None


def read_as(document: Document, entry: str, becomes: str, words: Text) -> UsualSlip:
    """An entry taken as another text than it has."""
    return UsualSlip(f"{entry}:{becomes}", words, {**document, entry: becomes})


def cell_read_as(
    document: Document, edition: Edition, rule: Rule, value: float | str, words: Text
) -> Iterator[UsualSlip]:
    """The cell of a rule taken as another figure; nothing where the rule names none."""
    text = value if isinstance(value, str) else f"{value:.6g}"
    address = edition.address(rule)
    if address is not None:
        cell = Misreading(*address, text)
        yield UsualSlip(f"{rule.topic}:{rule.row}:{text}", words, document, (cell,), rule)


def mistaken(
    document: Document, entry: str, own: str, pairs: Mapping[str, str], words: Text
) -> Iterator[UsualSlip]:
    """A choice taken as the one that it is mistaken for, where there is such a one."""
    if own in pairs:
        yield read_as(document, entry, pairs[own], words)


def without(document: Document, entry: str, words: Text) -> UsualSlip:
    """An entry left out."""
    left = {name: value for name, value in document.items() if name != entry}
    return UsualSlip(f"{entry}:left out", words, left)
