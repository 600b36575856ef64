"""What is told of a dwelling at 230/400 V: its loads by their use, and how its mains are run."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import cache
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal

from voltaje.core import quantities
from voltaje.core.electrical.systems import Connection
from voltaje.core.entries import (
    Current,
    Entries,
    Name,
    Nameplate,
    Percent,
    PowerFactor,
    Problem,
    Reads,
    Row,
    Usual,
    entry,
)
from voltaje.core.kinds.placing import LoadInBoard
from voltaje.core.report import say
from voltaje.core.rules.iec60364.dwellings import OWN_USES, POINTS, TABLE_USES
from voltaje.core.rules.iec60364.entries import CableEntries
from voltaje.core.rules.interface import Code

Many = Annotated[int, Reads(quantities.COUNT, 1, 2000, whole=True)]
LivingUnits = Annotated[int, Reads(quantities.COUNT, 1, 500, whole=True)]
Line = Literal["auto", "L1", "L2", "L3"]
Stands = Literal["line-neutral", "three-phase"]
LINES = {"auto": "as fits best", "L1": "L1", "L2": "L2", "L3": "L3"}
STANDS = {"line-neutral": "one phase", "three-phase": "three phases"}


class LoadRow(Row):
    """One kind of load. ``load`` is of each, ``count`` how many, or the points of lights and
    sockets."""

    if TYPE_CHECKING:  # in the order of the form, the uses and the load as the family has them
        name: str
        use: str
        load: quantities.Nameplate | None
        count: int
        share: float
        connection: Connection
        line: str


class DwellingLoad(LoadInBoard):
    """A dwelling's loads, and what the utility gives on one phase."""

    FORMERLY: ClassVar[Mapping[str, str]] = {"most_single": "largest_phase_load"}
    if TYPE_CHECKING:
        uses: tuple[LoadRow, ...]
        living_units: int

    power_factor: PowerFactor = entry(
        1.0, "Power factor", help="turns W into A", group="uses", example="0.95"
    )
    largest_phase_load: Current | None = entry(
        None,
        "Most on one phase",
        group="uses",
        help="the utility’s limit; empty: as usual",
        counts=("service_single", "the utility’s limit; empty: as usual, {figure} A"),
        example="80 A",
    )

    def problems(self) -> Iterator[Problem]:
        """What one field cannot see."""
        if not self.uses:
            yield Problem("uses", str(say("Needed: the loads of the dwelling.")))
        points = type(self).BY_POINTS  # type: ignore[attr-defined]
        for row in self.uses:
            if row.load is None and not (points and row.use in POINTS):
                words = say("Needed: the load, like 7.2 kW or 31 A.")
                yield Problem(f"uses.{row.id}.load", str(words))
            if row.load is not None and row.load.horsepower is not None:
                words = say("Give the load in kW or A, like 7.2 kW or 31 A.")
                yield Problem(f"uses.{row.id}.load", str(words))
            if row.connection == "three-phase" and row.line != "auto":
                words = say("A load on three phases is on all lines: choose “as fits best”.")
                yield Problem(f"uses.{row.id}.line", str(words))


class MainsEntries(DwellingLoad, CableEntries):
    """A dwelling's entries, as its work knows them under every family."""


def _suggestions(uses: Mapping[str, str]) -> tuple[dict[str, str], ...]:
    return tuple({"name": label[:1].upper() + label[1:], "use": use} for use, label in uses.items())


@cache
def compose(code: Code) -> type[Entries]:
    """A dwelling's entries under a family: the uses that it knows, and its own cables."""
    uses: Mapping[str, str] = code.dwelling_uses  # type: ignore[attr-defined]
    names = tuple(uses)
    own, table = uses is OWN_USES, uses is TABLE_USES
    types: dict[str, Any] = {
        "name": Name,
        "use": Literal[names],
        "load": Nameplate | None,
        "count": Many,
        **({"share": Percent} if own else {}),
        "connection": Stands,
        "line": Line,
    }
    fields: dict[str, Any] = {
        "__doc__": LoadRow.__doc__,
        "__annotations__": types,
        "name": entry("", "Load", suggestions=_suggestions(uses)),
        "use": entry(names[0], "Use", choices=uses),
        "load": entry(
            None,
            "Load of each",
            help="points need none" if table else "",
            example="7.2 kW",
            usual=Usual(5.0, 60_000.0, "a load of a dwelling"),
        ),
        "count": entry(1, "How many", help="points of light and sockets, or loads alike"),
        **({"share": entry(100.0, "Of it at once, %", example="60")} if own else {}),
        "connection": entry("line-neutral", "Stands on", choices=STANDS),
        "line": entry("auto", "Line", choices=LINES),
    }
    fields["COMPLETE"] = table  # a point needs no load
    row = type("DwellingRow", (LoadRow,), fields)
    kinds: dict[str, Any] = {
        "uses": tuple[row, ...],  # type: ignore[valid-type]
        # a dwelling's floor has that name under other codes: no conductor is fixed by hand here
        "area": ClassVar[str],
        "protective_conductor": ClassVar[str],
        "BY_POINTS": ClassVar[bool],
    }
    found: dict[str, Any] = {
        "__doc__": DwellingLoad.__doc__,
        "__annotations__": kinds,
        "uses": entry((), "Loads", group="uses", add="Add a load"),
        "area": "auto",
        "protective_conductor": "auto",
        "BY_POINTS": table,
    }
    if table:
        kinds["living_units"] = LivingUnits
        found["living_units"] = entry(
            1, "Living units", group="question", help="all alike: the loads below are those of one"
        )
    return type("DwellingEntries", (DwellingLoad, code.cable), found)


GROUPS = {
    "question": "The question",
    "uses": "Its loads",
    "run": "How its conductors are run",
    "protection": "Protection and earth",
    "hand": "By hand",
    "place": "In the board above",
}
