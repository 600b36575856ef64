"""What a page shows of a kind of part: the face that every module of this package has."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, ClassVar
from urllib.parse import urlencode

from django.urls import reverse

from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.questions import AskedQuantities
from voltaje.core.report import Text, say

Filled = Mapping[str, str]


@dataclass(frozen=True, slots=True, order=True)
class Question:
    """A task by its name, the sheet that answers it, the entries that it brings along, and the
    further words by which it is asked for. A table of the code answers some (``table``); what only
    a whole job answers leads to a new one (no ``kind``), or to a ``page`` of its own. ``place`` is
    its place among all."""

    place: int
    title: str
    label: str
    kind: str
    entries: tuple[tuple[str, str], ...]
    words: str
    table: str = ""
    # figures of the question that the sheet has no entry for, as they were asked
    unread: tuple[str, ...] = ()
    page: str = ""

    @property
    def url(self) -> str:
        if self.table:
            return reverse("codes:side_by_side", args=[self.table])
        if not self.kind:
            return reverse(self.page or "jobs:create")
        address = reverse("sheets:quick", args=[self.kind])
        asked = [*self.entries, *([("unread", ", ".join(self.unread))] if self.unread else [])]
        return f"{address}?{urlencode(asked)}" if asked else address


def task(place: int, title: str, words: str, **entries: str) -> Question:
    """A task of the kind whose presentation it stands in."""
    return Question(place, title, "", "", tuple(entries.items()), words)


@dataclass(frozen=True, slots=True)
class Example:
    """A worked sheet to begin with: its title, and the document that makes it, with what of the
    sheet itself is not as usual (``SHEET``). Names in rows may be texts, to be translated."""

    SHEET: ClassVar[tuple[str, ...]] = ("code", "system", "units")

    title: Text
    document: Mapping[str, Any]

    @property
    def entries(self) -> dict[str, Any]:
        """The document without the sheet's own code, system and units."""
        return {
            name: value
            if isinstance(value, str)
            else [{column: str(text) for column, text in row.items()} for row in value]
            for name, value in self.document.items()
            # rows of that name are a kind's own: the units of a bench
            if name not in self.SHEET or not isinstance(value, str)
        }

    def asks(self) -> str:
        """The document as the query of a quick sheet."""
        found: list[tuple[str, str]] = []
        for name, value in self.document.items():
            if isinstance(value, str):
                found.append((name, value))
                continue
            for row in value:
                own = ((column, str(text)) for column, text in row.items() if column != "id")
                found += [(f"{name}.{row['id']}.{column}", text) for column, text in own]
        return urlencode(found)


def _nothing(own: Mapping[str, str], read: AskedQuantities) -> dict[str, str]:
    return {}


def _no_more(own: Mapping[str, str], read: AskedQuantities, score: float) -> float:
    return 0.0


def _no_detail(outcome: Any) -> Sequence[Text]:
    return ()


@dataclass(frozen=True, slots=True)
class BoardColumns:
    """A kind that is a row of a board's table: the entry that the load column stands for in a
    document (``None``: several), and the use by which a row becomes one (empty: the row's own
    kind, which has uses of its own)."""

    load: Callable[[Mapping[str, Any]], str | None]
    use: str = ""
    also: tuple[str, ...] = ()


# what quick sheets are about, in the order in which they are listed
LOADS = say("Loads and current")
CIRCUITS = say("Circuits and feeders")
MOTORS = say("Motors and machines")
WINDINGS = say("Transformers and windings")
PROTECTION = say("Protection, earthing, sources")
SUBJECTS = (LOADS, CIRCUITS, MOTORS, WINDINGS, PROTECTION)


@dataclass(frozen=True, slots=True)
class Presentation:
    """A kind as it is shown.

    ``draw`` makes its drawing (``draws_incomplete``: also where results that it needs are missing);
    ``open`` names the sections of the worksheet that stand open beside the
    first. On the riser it has a ``symbol``, and ``detail`` says more of its outcome.

    ``tasks`` are what people ask it for; ``fill`` puts what was read off a question into its
    entries, ``boost`` says how much better it then fits. ``on_supply`` says that a quick sheet of
    it stands on a supply (``usual_system``, one of ``systems``), ``connects`` that it has a
    connection, ``runs`` that it has a length.

    ``row`` is its row in a board's table, ``table`` says that it has such a table itself.
    ``examples`` are worked sheets to begin with, ``subject`` is what a list of sheets has it under.
    """

    draw: Callable[..., Any]
    draws_incomplete: bool = False
    open: tuple[str, ...] = ()
    symbol: str = "load"
    detail: Callable[[Any], Sequence[Text | str]] = _no_detail
    quick: bool = False
    usual_system: str = "1ph-120/240"
    systems: tuple[str, ...] = tuple(SYSTEMS)
    on_supply: bool = True
    connects: bool = False
    runs: bool = False
    tasks: tuple[Question, ...] = ()
    fill: Callable[[Mapping[str, str], AskedQuantities], dict[str, str]] = _nothing
    boost: Callable[[Mapping[str, str], AskedQuantities, float], float] = _no_more
    row: BoardColumns | None = None
    table: bool = False
    examples: tuple[Example, ...] = ()
    subject: Text = LOADS
