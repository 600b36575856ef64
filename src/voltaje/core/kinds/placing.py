"""A part in the board that it stands on: the place of its device, and what the board sees of it."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from typing import Annotated, Any, ClassVar

from pydantic import AfterValidator, Field

from voltaje.core.capabilities import Connected, OnLine, can
from voltaje.core.electrical.connection import no_voltage
from voltaje.core.electrical.lines import contradiction
from voltaje.core.electrical.panel_layout import Device
from voltaje.core.electrical.systems import Connection, Demand, Piece, System
from voltaje.core.entries import Entries, Name, Percent, Row, WrongEntryError, entry, wrong
from voltaje.core.report import say

POLES = {"line-neutral": 1, "two-line": 2, "three-phase": 3}
PLACE = re.compile(r"\d{1,3}(?:\s*[-./ ]?\s*L[123])?", re.IGNORECASE)


def _place(typed: str) -> str:
    text = typed.strip()
    if text and not PLACE.fullmatch(text):
        raise wrong("place", say("Give the place of its first pole, like 7, or a way, like 3 L2."))
    return text


LONGEST = 12  # no code figure: of what is typed as a place
PlaceText = Annotated[str, Field(max_length=LONGEST), AfterValidator(_place)]


class CaseShare(Row):
    """How much of a part runs in an operating case."""

    name: Name = entry("", "Operating case", example="All kilns firing")
    share: Percent = entry(100.0, "Runs, % of its load", example="50")


class InBoard(Entries):
    """Where its device stands in the board above it."""

    FORMERLY: ClassVar[Mapping[str, str]] = {"space": "position", "stays": "pinned"}
    position: PlaceText = entry(
        "",
        "Place",
        help="of its first pole; empty: proposed",
        group="place",
        example="7",
        at_rest="position assigned automatically",
    )
    pinned: bool = entry(False, "Pinned to its place", group="place")


class LoadInBoard(InBoard):
    """A load with a device of its own: where that stands, and how much of it runs when."""

    cases: tuple[CaseShare, ...] = entry(
        (), "Share in operating cases", group="place", add="Add an operating case"
    )


def load_voltage(system: System, connection: Connection, path: str) -> float:
    """Nominal voltage across a load of that connection. Raises :class:`WrongEntryError` at
    ``path`` where the supply has none."""
    words = no_voltage(system, connection)
    if words is not None:
        raise WrongEntryError(path, words)
    return system.volts(connection)


def check_line(line: str, connection: Connection, system: System, path: str = "line") -> None:
    """Raises :class:`WrongEntryError` where a load's line contradicts its connection, or is a high
    leg that it cannot stand on."""
    words = contradiction(line, connection, system)
    if words is not None:
        raise WrongEntryError(path, words)


def device_of(part: str, name: str, entries: Any, outcome: Any, up: Demand, system: System) -> Any:
    """The device by which a part stands on what is above it, on that one's system; ``None`` for a
    part that has no place in a board."""
    if not isinstance(entries, InBoard):
        return None
    legs = dict.fromkeys(line for _, line in outcome.legs)
    lines = [wire for wire in (legs or outcome.wires) if wire in system.lines]
    first = up.pieces[0] if len(up.pieces) == 1 else None
    asked = can(entries, OnLine)
    poles = min(_poles(entries, outcome, lines, first, system), 3)
    if first is not None and POLES[first.connection] != poles:
        first = None  # one load on a board of its own, behind a device for all of its lines
    settled = len(lines) == poles < len(system.lines) and first is None
    line = "auto"
    if poles < len(system.lines):
        if settled:
            line = "-".join(sorted(lines))
        elif first is not None:
            line = first.line
    to_neutral = first is not None and first.connection == "line-neutral"
    return Device(
        part,
        name,
        poles,
        entries.position,
        line,
        not asked and line != "auto",
        entries.pinned,
        to_neutral,
        first.multiwire if first is not None else "",
        outcome.device_rating,
        len(up.pieces),
        first is not None,
    )


def _poles(
    entries: Any, outcome: Any, lines: Sequence[str], first: Piece | None, system: System
) -> int:
    """One for each ungrounded conductor behind the device."""
    if outcome.poles:
        return int(outcome.poles)
    if lines:
        return len(lines)
    if can(entries, Connected) and entries.connection in POLES:
        return POLES[entries.connection]
    return POLES[first.connection] if first is not None else len(system.lines)
