"""A dwelling by section 8 in numbers: its load, device and conductors."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import ceil, sqrt

from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.codes.vocabulary import Metal
from voltaje.core.electrical.systems import Demand, Piece, System
from voltaje.core.kinds.dwelling.cec.entries import CecDwelling
from voltaje.core.kinds.dwelling.rows import connection_of, read_load
from voltaje.core.kinds.interface import Outcome
from voltaje.core.quantities import Nameplate
from voltaje.core.report import fits, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.conductors import LineConductor, smallest
from voltaje.core.rules.north_america.overcurrent import (
    next_standard_device,
    previous_standard_device,
)
from voltaje.core.rules.north_america.wiring import (
    METALS,
    Installation,
    counted_conductors,
    terminal_column,
)

WHOLE = ("tankless", "steam", "pool", "spa", "vehicle")

# decimals of m² within which an area is what was typed, whatever its unit
AREA_DECIMALS = 6  # no code figure


# a step of the demand of several units: its percent, how many units fill it and their W, and how
# many it takes at most (``None``: all that are left)
UnitStep = tuple[Cell, int, float, Cell | None]


@dataclass(frozen=True, slots=True)
class One:
    """One load: the path of its entry, its name, VA each, how many, and what it counts as."""

    path: str
    name: str
    va: float
    count: int
    what: str

    @property
    def total(self) -> float:
        return self.va * self.count


@dataclass(frozen=True, slots=True)
class Basic:
    """The basic load by area: m² above ground and of the basement, m² that count, the ``steps`` in
    W each with how many of them."""

    above: float
    basement: float
    counted: float
    steps: tuple[tuple[float, int], ...]

    @property
    def load(self) -> float:
        return sum(each * count for each, count in self.steps)


@dataclass(frozen=True, slots=True)
class Air:
    """Heating and cooling, VA: what is controlled room by room, what of it counts, what counts
    whole beside it; the cooling that is not heating too; whether only the larger counts."""

    rooms: float
    rooms_counted: float
    whole: float
    cooling: float
    both: float
    larger: bool
    connected: float

    @property
    def heating(self) -> float:
        return self.rooms_counted + self.whole

    @property
    def load(self) -> float:
        if self.larger:
            return max(self.heating, self.cooling + self.both)
        return self.heating + self.cooling


@dataclass(frozen=True, slots=True)
class DwellingLoads:
    """One dwelling: its basic load, heating and cooling, the range (``None``: there is none) with
    what it counts, loads that count whole, others above the mark and what they count, and what is
    held back."""

    basic: Basic
    air: Air
    range: One | None
    range_counted: float
    whole: tuple[One, ...]
    others: tuple[One, ...]
    others_counted: float
    small: tuple[One, ...]
    managed: tuple[One, ...]

    @property
    def calculated(self) -> float:
        return (
            self.basic.load
            + self.air.load
            + self.range_counted
            + sum(one.total for one in self.whole)
            + self.others_counted
        )

    @property
    def connected(self) -> float:
        loads = (*self.whole, *self.others)
        cooking = self.range.va if self.range else 0.0
        return self.basic.load + self.air.connected + cooking + sum(one.total for one in loads)


@dataclass(frozen=True, slots=True)
class Several:
    """Several units, VA: each step as (percent, units, VA before), heating and cooling of all,
    what stands outside the units."""

    steps: tuple[UnitStep, ...]
    loads: float
    air: Air
    vehicles: float
    common: float
    common_counted: float


@dataclass(frozen=True, slots=True, kw_only=True)
class CecOutcome(Outcome):
    """VA ``connected`` and ``calculated``, the ``least`` that the rule asks for in VA or A; exact
    amperes; the device by its cell, or the one that is ``there``; its conductors by metal at the
    terminals' ``column``."""

    house: DwellingLoads | None
    several: Several | None
    connected: float
    before: float
    calculated: float
    least: Cell | None
    exact: float
    least_device: Cell | None
    device: Cell
    there: float
    column: int
    lines: Mapping[Metal, LineConductor]


def calculate(entries: CecDwelling, context: Context) -> CecOutcome:
    """A dwelling. Raises :class:`NotCoveredError` on a supply without a neutral."""
    edition, system = context.edition, context.supply.system
    if not system.has_neutral or not system.line_to_line or system.high_leg:
        raise NotCoveredError(edition.title, say("a dwelling on {label}", label=say(system.label)))
    house = several = None
    if entries.subject == "building":
        several = _several(entries, system, edition)
        before, connected, least = _sum(several), _connected(several), None
    else:
        house = _house(entries, system, edition)
        before, connected = house.calculated, house.connected
        least = None
        if entries.subject == "single":
            least = edition.limit(f"dwelling_least_{size_of(house.basic.above, edition)}")
    calculated = max(before, least.value if least else 0.0)
    exact = system.line_current(calculated)
    least_device = None
    if house is not None:
        large = entries.subject == "single" and size_of(house.basic.above, edition) == "large"
        least_device = edition.limit(f"service_least_{'large' if large else 'small'}")
    there = entries.existing or 0.0
    device = next_standard_device(max(exact, least_device.value if least_device else 0.0), edition)
    rating = there or device.value
    carried = max(exact, least_device.value if least_device else 0.0)
    column = terminal_column(rating, entries.terminals == "75", edition)
    installation = installation_of(entries, system)
    return CecOutcome(
        amperes=exact,
        house=house,
        several=several,
        connected=connected,
        before=before,
        calculated=calculated,
        least=least,
        exact=exact,
        least_device=least_device,
        device=device,
        there=there,
        column=column,
        lines={
            metal: _conductor(carried, rating, metal, installation, column, edition)
            for metal in METALS
        },
    )


def size_of(square_metres: float, edition: Edition) -> str:
    """Whether the floor without the basement is ``large`` or ``small`` for the least load."""
    return "large" if fits(edition.value("dwelling_large"), square_metres) else "small"


def _conductor(
    amperes: float,
    device: float,
    metal: Metal,
    installation: Installation,
    column: int,
    edition: Edition,
) -> LineConductor:
    """For the load where the next rating up may be its device; else for the device."""
    needed = device
    if fits(device, edition.value("next_size_up")):
        needed = max(amperes, previous_standard_device(device, edition) * (1 + 1e-6))
    return smallest(needed, metal, edition, installation=installation, column=column)


def installation_of(entries: CecDwelling, system: System) -> Installation:
    """How the service conductors lie, in a raceway."""
    lines = len(system.lines)
    counted = counted_conductors(lines, True, system.is_wye, False, entries.others)
    return Installation("EMT", entries.conductor_type, entries.ambient, counted)


def basic(above: float, basement: float, unit: bool, edition: Edition) -> Basic:
    """The basic load of so many m² above ground and of basement."""
    counted = above + basement * edition.value("basement_share") / 100
    if unit:
        half = edition.value("unit_area_first")
        steps = [(edition.value("unit_first_watts"), 1)]
        if not fits(counted, half):
            steps.append((edition.value("unit_second_watts"), 1))
        first = 2 * half
    else:
        first = edition.value("area_first")
        steps = [(edition.value("area_first_watts"), 1)]
    more = ceil((counted - first) / edition.value("area_step") - 1e-9)
    if more > 0:
        steps.append((edition.value("area_step_watts"), more))
    return Basic(above, basement, counted, tuple(steps))


def _house(entries: CecDwelling, system: System, edition: Edition) -> DwellingLoads:
    found = basic(
        round(entries.area or 0.0, AREA_DECIMALS),
        round(entries.basement or 0.0, AREA_DECIMALS),
        entries.subject == "unit",
        edition,
    )
    loads = [
        One(
            f"appliances.{row.id}.nameplate",
            row.name or str(say("Appliance")),
            _va(row.nameplate, row.connection, system, edition),
            row.count,
            row.counts_as,
        )
        for row in entries.appliances
    ]
    loads += [
        One(
            f"dryers.{row.id}.nameplate",
            row.name or str(say("Clothes dryer")),
            _va(row.nameplate, "240", system, edition),
            row.count,
            "other",
        )
        for row in entries.dryers
    ]
    cooking = [
        One(
            f"cooking.{row.id}.nameplate",
            row.name or str(say("Range")),
            _va(row.nameplate, "240", system, edition),
            row.count,
            "other",
        )
        for row in entries.cooking
    ]
    mark = edition.value("other_over")
    stove = max(cooking, key=lambda one: one.va, default=None)
    counted = 0.0
    if stove is not None and stove.va > mark * (1 + 1e-9):
        over = max(0.0, stove.va - edition.value("range_mark"))
        counted = edition.value("range_base") + over * edition.value("range_share") / 100
        # one range counts as such, all other cooking as other loads
        cooking.remove(stove)
        if stove.count > 1:
            cooking.append(One(stove.path, stove.name, stove.va, stove.count - 1, "other"))
    else:
        stove = None
    loads += cooking
    others = [one for one in loads if one.what == "other"]
    large = tuple(one for one in others if one.va > mark * (1 + 1e-9))
    return DwellingLoads(
        found,
        _air(entries, system, edition),
        stove,
        counted,
        tuple(one for one in loads if one.what in WHOLE),
        large,
        _others(sum(one.total for one in large), stove is not None, edition),
        tuple(one for one in others if one not in large),
        tuple(one for one in loads if one.what == "managed"),
    )


def _others(total: float, ranged: bool, edition: Edition) -> float:
    whole = 0.0 if ranged else min(total, edition.value("other_whole"))
    return whole + (total - whole) * edition.value("other_share") / 100


def _va(plate: Nameplate, connection: str, system: System, edition: Edition) -> float:
    return read_load(plate, connection_of(connection), system, edition)[0]


def _air(entries: CecDwelling, system: System, edition: Edition) -> Air:
    rooms = pump = backup = alone = storage = fan = cooling = 0.0
    for row in entries.climate:
        va = _va(row.nameplate, row.connection, system, edition) * row.count
        if row.what == "heating" and row.control == "rooms":
            rooms += va
        elif row.what in ("heating", "storage"):
            storage += va
        elif row.what == "heat_pump":
            pump += va
        elif row.what == "backup":
            backup += va
        elif row.what == "backup_alone":
            alone += va
        elif row.what == "fan":
            fan += va
        else:
            cooling += va
    # a backup that locks the compressor out runs instead of it
    whole = storage + backup + max(pump, alone) + fan
    connected = rooms + storage + backup + alone + pump + fan + cooling
    return Air(
        rooms,
        _rooms(rooms, edition),
        whole,
        cooling,
        pump + fan,
        entries.noncoincident_climate,
        connected,
    )


def _rooms(total: float, edition: Edition) -> float:
    first = min(total, edition.value("heat_first"))
    return first + (total - first) * edition.value("heat_rest") / 100


def _several(entries: CecDwelling, system: System, edition: Edition) -> Several:
    volts = system.line_to_line or system.to_neutral

    def va(load: Nameplate | None) -> float:
        # amperes of all units together are those of each line
        return load.va(volts, sqrt(3) if system.phases == 3 else 1.0) if load else 0.0

    loads = sorted(
        (row.load.va(volts) for row in entries.units for _ in range(row.count)), reverse=True
    )
    heating, cooling = va(entries.units_heating), va(entries.units_cooling)
    common = va(entries.units_common)
    air = Air(
        heating,
        _rooms(heating, edition),
        0.0,
        cooling,
        0.0,
        entries.noncoincident_units,
        heating + cooling,
    )
    return Several(
        _steps(loads, edition),
        sum(loads),
        air,
        va(entries.units_vehicles),
        common,
        common * edition.value("common_share") / 100,
    )


def _steps(loads: Sequence[float], edition: Edition) -> tuple[UnitStep, ...]:
    found, at = [], 0
    for row, percent in edition.cells("unit_demand", "percent").items():
        most = edition.cell_or_none("unit_demand", row, "units")
        count = int(most.value) if most else len(loads)  # the last step takes all that are left
        mine = loads[at : at + count]
        if mine:
            found.append((percent, len(mine), sum(mine), most))
        at += count
    return tuple(found)


def _sum(found: Several) -> float:
    units = sum(va * percent.value / 100 for percent, _, va, _ in found.steps)
    return units + found.air.load + found.vehicles + found.common_counted


def _connected(found: Several) -> float:
    return found.loads + found.air.connected + found.vehicles + found.common


def hand_up(entries: CecDwelling, outcome: CecOutcome, context: Context) -> Demand:
    """The dwelling as one piece on all its lines, its neutral taken as loaded as they."""
    exact, connected, calculated = outcome.exact, outcome.connected, outcome.calculated
    device = 0.0 if outcome.there else outcome.device.value
    lines = len(context.supply.system.lines)
    piece = Piece("", "dwelling", connected, calculated, exact, device=device, neutral=exact)
    if lines > 2:
        piece = Piece(
            "",
            "dwelling",
            connected,
            calculated,
            exact,
            "three-phase",
            device=device,
            neutral=exact,
        )
    return Demand(connected, calculated, exact, (exact,) * lines, (piece,))
