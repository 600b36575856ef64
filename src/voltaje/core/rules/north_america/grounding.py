"""The equipment grounding conductor."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from voltaje.core.codes import Edition, NotCoveredError, SizeCell
from voltaje.core.codes.vocabulary import Size
from voltaje.core.entries import WrongEntryError
from voltaje.core.report import Rule, Text, figure, fits, say
from voltaje.core.rules.north_america.conductors import label
from voltaje.core.rules.north_america.wiring import circular_mils


@dataclass(frozen=True, slots=True)
class EquipmentGround:
    """Its size, the rules, and the circular mils asked for where it grew in proportion."""

    size: Size
    table_size: Size
    rules: tuple[Rule, ...]
    mils: float = 0.0

    @property
    def grew(self) -> bool:
        return self.mils > 0 and self.size != self.table_size


@lru_cache(maxsize=4096)
def equipment_ground(
    device: float, material: str, edition: Edition, line: str = "", least_line: str = ""
) -> EquipmentGround:
    """Table 250.122 for a device of that rating; grown in proportion where the line conductor
    ``line`` is larger than ``least_line`` would need to be; never larger than ``line``.

    Raises :class:`NotCoveredError` above 6,000 A.
    """
    topic = "equipment_grounding"
    row = next((row for row in edition.rows(topic) if fits(device, float(row))), None)
    cell = edition.size_cell(topic, row, material) if row is not None else None
    if cell is None:
        raise NotCoveredError(
            edition.title, say("an equipment ground behind {device} A", device=figure(device, 0))
        )
    size, rules = cell.size, cell.rules
    mils = circular_mils(edition)
    found, wanted = str(size), 0.0
    if line and least_line and mils[line] > mils[least_line] * (1 + 1e-9):
        wanted = mils[size] * mils[line] / mils[least_line]
        found = next((s for s, area in mils.items() if fits(wanted, area)), line)
        rules = (*rules, edition.rule("equipment_grounding_larger"))
    if line and mils[found] > mils[line]:
        found = line
    return EquipmentGround(Size(found), size, rules, wanted)


@dataclass(frozen=True, slots=True)
class Jumper:
    """A conductor of the grounding system: its size, what gave it, the area it was read for."""

    size: Size
    rules: tuple[Rule, ...]
    mils: float
    shown: Text | None = None


def bonding_size(
    mils: float, material: str, edition: Edition, device: float = 0.0, of: str = ""
) -> Jumper:
    """Table 250.102(C)(1) for ungrounded conductors of ``mils`` circular mils (all sets in one
    raceway added); above its last row 12.5 % of the area, next size of chapter 9, Table 8. A code
    without such a table sizes it by the ``device`` ahead, A, as any bonding conductor. ``of`` is
    the jumper's own metal, where it is another. Raises ``NotCoveredError`` for another metal above
    the table's end."""
    if not edition.has_table("grounded_conductor"):
        bond = equipment_ground(device, of or material, edition)
        return Jumper(bond.size, bond.rules, mils)
    areas = circular_mils(edition)
    steps = sizes_up_to("grounded_conductor", material, edition, of)
    for upper, cell in steps:
        if fits(mils, _area(upper.size, areas)):
            return Jumper(cell.size, (cell.rule,), mils)
    if of and of != material:
        raise NotCoveredError(
            edition.title, say("a jumper of another metal for {mils} circular mils", mils=mils)
        )
    share = edition.limit("over_1100_share")
    wanted = mils * share.value / 100
    size = next((s for s, area in areas.items() if fits(wanted, area)), None)
    if size is None:
        raise NotCoveredError(
            edition.title, say("a bonding jumper for {mils} circular mils", mils=figure(mils, 0))
        )
    # the table's end sends it here, so an amendment of that end is told
    upper, last = steps[-1]
    rules = (share.rule, last.rule, edition.rule("conductor_properties"))
    shown = say(
        "{share} % of {mils} circular mils = {wanted} (the table ends at {upper} kcmil with"
        " {last})",
        share=share.value,
        mils=figure(mils, 0),
        wanted=figure(wanted, 0),
        upper=upper.size,
        last=label(last.size, material),
    )
    return Jumper(Size(size), rules, mils, shown)


def electrode_size(
    mils: float, material: str, electrode: str, edition: Edition, ring: str = ""
) -> Jumper:
    """The grounding electrode conductor: Table 250.66, capped by the kind of electrode; ``ring``
    is the ring's own conductor. A code without such a table has one size for all."""
    if not edition.has_table("electrode_conductor"):
        topic = "grounding_conductor"
        return Jumper(edition.limit_size(topic), (edition.limit_rule(topic),), mils)
    areas, steps = circular_mils(edition), sizes_up_to("electrode_conductor", material, edition)
    reached = (cell for upper, cell in steps if fits(mils, _area(upper.size, areas)))
    cell = next(reached, steps[-1][1])
    size, rules, shown = cell.size, cell.rules, None
    enough = edition.size_cell("electrode_caps", electrode, material)
    cap = Size(ring) if electrode == "ring" and ring else enough and enough.size
    if cap and areas[size] > areas[cap]:
        shown = say(
            "{size} by the table; {cap} is enough for this electrode",
            size=label(size, material),
            cap=label(cap, material),
        )
        capped = enough.rule if enough else edition.rule("electrode_caps", electrode)
        size, rules = cap, (*rules, capped)
    return Jumper(size, rules, mils, shown)


def sizes_up_to(
    topic: str, metal: str, edition: Edition, of: str = ""
) -> list[tuple[SizeCell, SizeCell]]:
    """The steps of a table that gives a size up to a size of that metal: how far each goes, and
    what it gives, of the same metal or ``of`` another."""
    found = (
        (edition.size_cell(topic, row, f"{metal} to"), edition.size_cell(topic, row, of or metal))
        for row in edition.rows(topic)
    )
    return [(upper, cell) for upper, cell in found if upper is not None and cell is not None]


def _area(size: Size, areas: Mapping[str, float]) -> float:
    """Circular mils of a size that may lie between the listed ones, such as 1100 kcmil."""
    return areas.get(size) or float(size) * 1000


def check_ring(size_: str, edition: Edition) -> None:
    """Raises :class:`WrongEntryError` for a ring without a size, or below the least of the code
    where it gives one."""
    if not edition.has_limit("ring_least"):
        if size_ == "auto":
            raise WrongEntryError("ring_size", say("Needed: the size of the ring’s conductor."))
        return
    order = edition.rows("conductor_properties")
    least = edition.limit_size("ring_least")
    if size_ == "auto" or order.index(size_) < order.index(least):
        words = say("A ring is {least} at least: choose its size.", least=label(Size(least)))
        raise WrongEntryError("ring_size", words)


def as_copper(mils: float, edition: Edition) -> float:
    """Copper circular mils of the same row of Table 250.66 as aluminum ones."""
    areas, topic = circular_mils(edition), "electrode_conductor"

    def area(row: str, metal: str) -> float:
        upper = edition.word(topic, row, f"{metal} to")
        return areas.get(upper) or float(upper) * 1000

    rows = edition.rows(topic)
    reached = (row for row in rows if fits(mils, area(row, "aluminum")))
    return area(next(reached, rows[-1]), "copper")
