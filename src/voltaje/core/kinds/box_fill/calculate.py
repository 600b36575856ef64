"""Volumes in a box, and the sizes of a pull box."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from voltaje.core.codes import Cell, Edition
from voltaje.core.entries import WrongEntryError
from voltaje.core.kinds.box_fill.entries import (
    BoxEntries,
    BoxFillEntries,
    CecBoxEntries,
    RacewayOnWall,
)
from voltaje.core.kinds.interface import Outcome
from voltaje.core.report import fits, say
from voltaje.core.rules.context import Context

What = Literal[
    "conductors", "devices", "clamps", "supports", "grounds", "grounds_more", "connectors"
]
OPPOSITE = {"left": "right", "right": "left", "top": "bottom", "bottom": "top"}
ACROSS = {"left": "width", "right": "width", "top": "height", "bottom": "height"}


@dataclass(frozen=True, slots=True)
class Taken:
    """What takes volume: how many ``allowances`` of the ``each`` cell, in³, by which ``share``
    (``None``: one each); of grounds how many count as one (``free``; ``None``: all of them)."""

    what: What
    path: str
    count: int
    allowances: float
    each: Cell
    share: Cell | None
    free: Cell | None = None

    @property
    def volume(self) -> float:
        """in³ of all of them."""
        return self.allowances * self.each.value


@dataclass(frozen=True, slots=True)
class Wall:
    """What one wall asks of the box: in inches the ``distance`` to the opposite one, the largest
    raceway there and the sum of the others of an angle pull, with the ``times`` of the largest."""

    wall: str
    pull: str
    largest: float
    others: float
    times: Cell

    @property
    def distance(self) -> float:
        """in, to the opposite wall."""
        return self.times.value * self.largest + self.others

    @property
    def between(self) -> float:
        """in, between two raceways of an angle pull that hold the same conductors."""
        return self.times.value * self.largest


@dataclass(frozen=True, slots=True, kw_only=True)
class BoxFillOutcome(Outcome):
    """Of a box what is ``taken``, in³ in all; its volume by hand or the smallest standard ``box``
    with its cell (none: there is none as large), and whether that ``holds``; of a pull box the
    ``walls`` and the least ``width`` and ``height``, in (0: not asked)."""

    taken: tuple[Taken, ...] = ()
    volume: float = 0.0
    given: float | None = None
    box: str = ""
    box_cell: Cell | None = None
    holds: bool = True
    walls: tuple[Wall, ...] = ()
    width: float = 0.0
    height: float = 0.0


def calculate(entries: BoxEntries, context: Context) -> BoxFillOutcome:
    """Raises :class:`WrongEntryError` where nothing is entered."""
    edition = context.edition
    if entries.purpose == "pull":
        return _pull(entries, edition)
    taken = tuple(_taken(entries, edition))
    if not taken:
        raise WrongEntryError("conductors", say("Needed: the conductors in it."))
    volume = sum(one.volume for one in taken)
    if entries.volume is not None:
        holds = fits(volume, entries.volume)
        return BoxFillOutcome(taken=taken, volume=volume, given=entries.volume, holds=holds)
    boxes = {
        name: cell
        for name, cell in edition.cells("boxes", "in³").items()
        if entries.form in ("", edition.word("boxes", name, "form"))
    }
    box = next((name for name, cell in boxes.items() if fits(volume, cell.value)), None)
    if box is None:
        return BoxFillOutcome(taken=taken, volume=volume, holds=False)
    return BoxFillOutcome(taken=taken, volume=volume, box=box, box_cell=boxes[box])


def _taken(entries: BoxEntries, edition: Edition) -> list[Taken]:
    """Each thing with its allowance (314.16(B)(1) to (5); 12-3034 of the Canadian code): clamps and
    fittings one of the largest conductor, a device two of its own, grounds apart."""
    volumes = edition.cells("box_volume", "in³")
    rows = [*((f"conductors.{r.id}", r.size) for r in entries.conductors),
            *((f"devices.{r.id}", r.size) for r in entries.devices)]  # fmt: skip
    for path, size in rows:
        if size not in volumes:
            words = say("{size} AWG takes no volume by this code: leave it out.", size=size)
            raise WrongEntryError(f"{path}.size", words)
    found = [
        Taken("conductors", f"conductors.{row.id}", row.count, row.count, volumes[row.size], None)
        for row in entries.conductors
    ]
    sizes = [row.size for row in entries.conductors]
    largest = max((volumes[size] for size in sizes), key=lambda c: c.value, default=None)
    supports = entries.supports
    if edition.has_limit("box_supports_most"):  # studs and hickeys together
        supports = min(supports, int(edition.value("box_supports_most")))
    clamps = isinstance(entries, BoxFillEntries) and entries.clamps
    counted: list[tuple[What, int]] = [("clamps", int(clamps)), ("supports", supports)]
    if isinstance(entries, CecBoxEntries):
        pair = int(edition.value("box_connectors"))
        counted.append(("connectors", entries.connectors // pair))
    for name, count in counted:
        if not count:
            continue
        if largest is None:
            words = say("Needed: the conductors in it: the largest counts for this.")
            raise WrongEntryError("conductors", words)
        found.append(Taken(name, name, count, count, largest, None))
    share = edition.limit("box_device")
    for row in entries.devices:
        volumes_taken = row.count * share.value
        found.append(
            Taken(
                "devices", f"devices.{row.id}", row.count, volumes_taken, volumes[row.size], share
            )
        )
    if isinstance(entries, BoxFillEntries) and entries.grounds:
        if not entries.ground_size:
            raise WrongEntryError("ground_size", say("Needed: the size of the largest ground."))
        found += _grounds(entries, volumes[entries.ground_size], edition)
    return found


def _grounds(entries: BoxFillEntries, each: Cell, edition: Edition) -> list[Taken]:
    """314.16(B)(5): all as the largest of them; from 2020 on those beyond four a quarter each."""
    if not edition.has_limit("box_grounds_free"):
        return [Taken("grounds", "grounds", entries.grounds, 1, each, None)]
    free, part = edition.limit("box_grounds_free"), edition.limit("box_ground_more")
    found = [Taken("grounds", "grounds", entries.grounds, 1, each, None, free)]
    more = entries.grounds - int(free.value)
    if more > 0:
        found.append(Taken("grounds_more", "grounds", more, more * part.value, each, part, free))
    return found


def _pull(entries: BoxEntries, edition: Edition) -> BoxFillOutcome:
    """314.28(A): a straight pull eight times the largest raceway to the opposite wall; an angle
    pull six times the largest of a wall and the others of its row beside it."""
    if not entries.raceways:
        raise WrongEntryError("raceways", say("Needed: the raceways that enter it."))
    for row in entries.raceways:
        if row.trade is None:
            raise WrongEntryError(f"raceways.{row.id}.trade", say("Needed: its trade size."))
    walls = []
    for wall in OPPOSITE:
        here = [row for row in entries.raceways if row.wall == wall]
        for pull in ("straight", "angle"):
            rows = [row for row in here if row.pull == pull]
            if rows:
                walls.append(_wall(wall, pull, rows, edition))
    width = max((w.distance for w in walls if ACROSS[w.wall] == "width"), default=0.0)
    height = max((w.distance for w in walls if ACROSS[w.wall] == "height"), default=0.0)
    return BoxFillOutcome(walls=tuple(walls), width=width, height=height)


def _wall(wall: str, pull: str, rows: list[RacewayOnWall], edition: Edition) -> Wall:
    sizes = sorted((row.trade or 0.0 for row in rows), reverse=True)
    if pull == "straight":
        return Wall(wall, pull, sizes[0], 0.0, edition.limit("pull_straight"))
    return Wall(wall, pull, sizes[0], sum(sizes[1:]), edition.limit("pull_angle"))
