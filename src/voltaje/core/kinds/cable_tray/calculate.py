"""How much of a tray its cables take, and the smallest width that has it."""

from __future__ import annotations

from dataclasses import dataclass
from math import pi, sqrt

from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.codes.vocabulary import Size
from voltaje.core.entries import WrongEntryError
from voltaje.core.kinds.cable_tray.entries import CableTrayEntries
from voltaje.core.kinds.interface import Outcome
from voltaje.core.report import Rule, fits, say
from voltaje.core.rules.context import Context


@dataclass(frozen=True, slots=True)
class Lying:
    """Cables that are alike: ``diameter`` in, ``area`` in² of one; ``layer``: they lie in one
    layer; the cell that the area was read from, where it was."""

    path: str
    count: int
    diameter: float
    area: float
    layer: bool
    each: Cell | None = None


@dataclass(frozen=True, slots=True)
class Limit:
    """``taken`` against ``allowed``, both in or both in²: the layer of the large ones, or the area
    of the others, of whose table figure (``table``) the large ones take ``less``."""

    layer: bool
    taken: float
    allowed: float
    table: Cell | None
    share: Cell | None
    rule: Rule

    @property
    def holds(self) -> bool:
        """Whether it is not more than is allowed."""
        return fits(self.taken, self.allowed)


@dataclass(frozen=True, slots=True, kw_only=True)
class CableTrayOutcome(Outcome):
    """What ``lies`` in the tray, its ``width`` in, and what is asked of it there."""

    lies: tuple[Lying, ...]
    width: float
    limits: tuple[Limit, ...]


# single conductors of a tray in the order of their size
SIZES = (
    "1/0", "2/0", "3/0", "4/0", "250", "300", "350", "400", "500", "600", "700", "750", "800",
    "900", "1000",
)  # fmt: skip


def calculate(entries: CableTrayEntries, context: Context) -> CableTrayOutcome:
    """Raises :class:`WrongEntryError` where nothing lies in it, ``NotCoveredError`` where no width
    takes it."""
    edition = context.edition
    lies = _singles(entries, edition) if entries.what == "singles" else _cables(entries)
    widths = edition.rows("tray")
    if entries.width != "auto":
        limits = _limits(lies, entries.width, entries, edition)
        return CableTrayOutcome(lies=lies, width=float(entries.width), limits=limits)
    for width in widths:
        limits = _limits(lies, width, entries, edition)
        if all(one.holds for one in limits):
            return CableTrayOutcome(lies=lies, width=float(width), limits=limits)
    raise NotCoveredError(edition.title, say("a tray for all of these"))


def _cables(entries: CableTrayEntries) -> tuple[Lying, ...]:
    if not entries.cables:
        raise WrongEntryError("cables", say("Needed: the cables in it."))
    found = []
    for row in entries.cables:
        if row.diameter is None:
            path = f"cables.{row.id}.diameter"
            raise WrongEntryError(path, say("Needed: the outside diameter of these cables."))
        radius = row.diameter / 2
        area = pi * radius**2
        large = row.large == "yes"
        found.append(Lying(f"cables.{row.id}", row.count, row.diameter, area, large))
    return tuple(found)


def _singles(entries: CableTrayEntries, edition: Edition) -> tuple[Lying, ...]:
    """392.22(B)(1): conductors from 1000 kcmil in one layer, smaller ones by area; all in one layer
    where one of 1/0 to 4/0 is among them."""
    if not entries.singles:
        raise WrongEntryError("singles", say("Needed: the conductors in it."))
    small = any(SIZES.index(row.size) <= SIZES.index("4/0") for row in entries.singles)
    found = []
    for row in entries.singles:
        column = f"{edition.word('insulations', row.insulation, 'dimensions')} in²"
        each = edition.cell("conductor_areas", Size(row.size), column)
        layer = small or row.size == SIZES[-1]
        diameter = 2 * sqrt(each.value / pi)
        found.append(Lying(f"singles.{row.id}", row.count, diameter, each.value, layer, each))
    return tuple(found)


def _limits(
    lies: tuple[Lying, ...], width: str, entries: CableTrayEntries, edition: Edition
) -> tuple[Limit, ...]:
    """Those in one layer by their diameters, the others by area, less what the first take."""
    singles, solid = entries.what == "singles", entries.bottom == "solid"
    topic = "tray_singles" if singles else "tray_cables_solid" if solid else "tray_cables"
    rule = edition.rule(topic)
    across = sum(one.count * one.diameter for one in lies if one.layer)
    area = sum(one.count * one.area for one in lies if not one.layer)
    found = []
    if across:
        share = edition.limit("tray_layer_solid") if solid and not singles else None
        allowed = float(width) * (share.value / 100 if share else 1.0)
        found.append(Limit(True, across, allowed, None, share, rule))
    if area:
        column = "singles ladder" if singles else f"cables {entries.bottom}"
        table = edition.cell("tray", width, column)
        each = None
        if across:
            name = "tray_large_single" if singles else "tray_large_cable"
            each = edition.limit("tray_large_solid" if solid and not singles else name)
        allowed = table.value - (each.value * across if each else 0.0)
        found.append(Limit(False, area, allowed, table, each, rule))
    return tuple(found)
