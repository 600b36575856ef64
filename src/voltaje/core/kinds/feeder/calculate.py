"""A feeder in numbers: what is entered, what hangs below, its demand, its sizing."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from voltaje.core.capabilities import FullyRated, can
from voltaje.core.codes import Cell, Edition
from voltaje.core.codes.vocabulary import Size
from voltaje.core.electrical.connection import load_current
from voltaje.core.electrical.systems import Category, Connection, Demand, Piece, System
from voltaje.core.entries import NothingBelowError, WrongEntryError
from voltaje.core.kinds.elements import at_its_volts
from voltaje.core.kinds.feeder.carried import Carried, carry, connection_of
from voltaje.core.kinds.feeder.entries import FeederEntries, FeederLoad, Floor
from voltaje.core.kinds.interface import SizedOutcome
from voltaje.core.quantities import feet, square_feet
from voltaje.core.report import Rule, fits, say
from voltaje.core.rules.common.fault_contribution import Export, export
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.checks import SizingRequest
from voltaje.core.rules.north_america.feeder_demand import feeder_load, taken_whole
from voltaje.core.rules.north_america.grounding import equipment_ground
from voltaje.core.rules.north_america.overcurrent import (
    devices_between,
    largest_rating,
    next_standard_device,
    standard_ratings,
)
from voltaje.core.rules.north_america.wired import Feed, Sizing, size, smallest_neutral
from voltaje.core.rules.north_america.wiring import size_ranks


@dataclass(frozen=True, slots=True)
class Entered:
    """One thing entered on the feeder: its ``pieces``, VA in all, what it was counted from:
    ``count`` of ``each``. ``name`` as it is shown, ``path`` its row, ``rule`` where a code gives
    the figure, ``occupancy`` the table's row of a floor, ``as_other`` where that is named
    otherwise."""

    what: str
    name: str
    va: float
    count: float
    each: float
    category: Category
    pieces: tuple[Piece, ...]
    path: str = ""
    rule: Rule | None = None
    occupancy: str = ""
    as_other: str = ""


@dataclass(frozen=True, slots=True)
class Once:
    """Lighting counted once: VA ``by_area`` and by ``circuits``."""

    by_area: float
    circuits: float


@dataclass(frozen=True, slots=True)
class ByArea:
    """Receptacles of banks and offices by floor area: the ``least`` VA of the floors with the VA
    for each ft², and VA ``by_number`` after the demand factor."""

    least: float
    by_number: float
    floors: tuple[tuple[float, Cell], ...]


@dataclass(frozen=True, slots=True)
class MotorCeiling:
    """The most that the feeder's device may be for its motors, A: the standard rating ``most`` of
    the ``exact`` sum of ``terms``; ``mixed`` with other load, ``instantaneous`` the largest's
    device."""

    most: float
    exact: float
    terms: tuple[float, ...]
    mixed: bool
    instantaneous: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class FeederOutcome(SizedOutcome[Sizing]):
    """``entered`` here and what of all is counted, its amperes by line, the ``neutral`` in A; the
    devices ahead of its motors: the ``ceiling``, and the ``largest`` of them in A; the ``design``
    amperes, those that flow ``back`` included."""

    entered: tuple[Entered, ...]
    once: Once | None
    by_area: ByArea | None
    carried: Carried
    neutral: float
    ceiling: MotorCeiling | None
    largest: float
    design: float
    back: Export | None


def occupancy(name: str, edition: Edition) -> str | None:
    """The row of the occupancy table that a name stands for, by itself or as the table's notes
    take it; ``None`` where neither knows it."""
    wanted = " ".join(name.lower().split())
    own = next((row for row in edition.rows("occupancy_load") if row.lower() == wanted), None)
    noted = (row for row in edition.rows("occupancy_names") if row.lower() == wanted)
    return own or next((edition.word("occupancy_names", row, "row") for row in noted), None)


def entered(entries: FeederEntries, system: System, edition: Edition) -> tuple[Entered, ...]:
    """What is entered on the feeder, each with its pieces. Raises :class:`WrongEntryError`."""
    return (
        *(_floor(row, system, edition) for row in entries.floors),
        *_outlets(entries, system, edition),
        *(_load(row, system) for row in entries.loads),
    )


def _piece(
    name: str,
    category: Category,
    va: float,
    system: System,
    connection: Connection,
    continuous: float = 0.0,
    by_area: bool = False,
    group: str = "",
    choice: str = "",
) -> Piece:
    amperes = load_current(va, system.volts(connection) or 1.0, connection)
    # the compressor is a motor: where only the nameplate's amperes are given it takes part in the
    # quarter of the largest
    motor = amperes if category == "cooling" else 0.0
    return Piece(
        name,
        category,
        va,
        va,
        amperes,
        connection,
        continuous=continuous,
        by_area=by_area,
        motor=motor,
        group=group,
        choice=choice,
    )


def _floor(floor: Floor, system: System, edition: Edition) -> Entered:
    path = f"floors.{floor.id}"
    row = occupancy(floor.name, edition)
    if row is None:
        near = ", ".join(sorted(edition.rows("occupancy_load"))[:6])
        raise WrongEntryError(
            f"{path}.name",
            say(
                "{title} has no such occupancy: choose one from the list, like {near}.",
                title=edition.title,
                near=near,
            ),
        )
    if floor.area is None:
        raise WrongEntryError(f"{path}.area", say("Needed: the floor area, like 3000 sq ft."))
    each = edition.cell("occupancy_load", row, "VA/ft²")
    va = square_feet(floor.area) * each.value
    # where the unit loads hold the continuous quarter it is not added again
    continuous = 0.0 if edition.says("unit_loads_continuous") else 1.0
    piece = _piece(row, "lighting", va, system, connection_of(system), continuous, by_area=True)
    given = floor.name.strip()
    other = given if row.lower() != given.lower() else ""
    return Entered(
        "floor",
        row,
        va,
        floor.area,
        each.value,
        "lighting",
        (piece,),
        path,
        each.rule,
        row,
        other,
    )


def _outlets(entries: FeederEntries, system: System, edition: Edition) -> Iterator[Entered]:
    rows: tuple[tuple[float, str, str, Category, float], ...] = (
        (entries.receptacles, "receptacle_load", "Receptacles", "receptacles", 0.0),
        (feet(entries.show_window or 0.0), "show_window", "Show window", "lighting", 1.0),
        (entries.signs, "sign_circuit", "Sign circuits", "lighting", 1.0),
    )
    for count, topic, name, category, continuous in rows:
        if count:
            each = edition.limit(topic)
            va = count * each.value
            piece = _piece(name, category, va, system, connection_of(system), continuous)
            yield Entered(topic, name, va, count, each.value, category, (piece,), rule=each.rule)


def _load(load: FeederLoad, system: System) -> Entered:
    path = f"loads.{load.id}"
    connection: Connection = connection_of(system) if load.connection == "auto" else load.connection
    volts = system.volts(connection)
    if not volts:
        raise WrongEntryError(
            f"{path}.connection",
            say(
                "The supply, {label}, has no such connection: choose another.",
                label=say(system.label),
            ),
        )
    plate = load.nameplate
    if plate is None:
        raise WrongEntryError(f"{path}.nameplate", say("Needed: the load, like 4.5 kW or 24 A."))
    plate = at_its_volts(plate, volts, connection, f"{path}.nameplate")
    if plate.horsepower is not None:
        raise WrongEntryError(
            f"{path}.nameplate",
            say(
                "Motors are added below the feeder as motor"
                " circuits: their current is read from the code’s tables."
            ),
        )
    one = plate.watts
    if one is None:
        one = (plate.amperes or 0.0) / load_current(1.0, plate.volts or volts, connection)
    va = one * load.count
    # of kitchen equipment and air conditioning the single ones matter
    alone = load.category in ("kitchen", "cooling")
    name, continuous = load.name or str(say("Load")), 1.0 if load.continuous else 0.0
    piece = _piece(
        name,
        load.category,
        one if alone else va,
        system,
        connection,
        continuous,
        group=load.noncoincident_with,
        choice=load.id,
    )
    pieces = (piece,) * (load.count if alone else 1)
    return Entered("load", name, va, load.count, one, load.category, pieces, path)


def pieces_of(
    found: Sequence[Entered], below: Sequence[Piece]
) -> tuple[tuple[Piece, ...], Once | None]:
    """All pieces, the lighting counted once: by floor area or by its circuits, the larger."""
    own = [piece for one in found for piece in one.pieces]
    by_area = [p for p in own if p.by_area]
    by_circuit = [p for p in below if p.category == "lighting" and not p.by_area]
    area, circuits = (sum(p.calculated for p in group) for group in (by_area, by_circuit))
    if not by_area or not by_circuit:
        return (*own, *below), None
    less = by_area if area < circuits else by_circuit
    pieces = tuple(
        replace(p, connected=0.0, calculated=0.0, amperes=0.0) if any(p is q for q in less) else p
        for p in (*own, *below)
    )
    return pieces, Once(area, circuits)


def office_receptacles(
    entries: FeederEntries, pieces: Sequence[Piece], system: System, edition: Edition
) -> tuple[tuple[Piece, ...], ByArea | None]:
    """What receptacles of banks and offices count more by floor area than by their number after
    the demand factor (220.14(K)), as a piece of its own."""
    if not entries.floors:
        return (), None
    each = edition.cells("occupancy_load", "receptacles VA/ft²")
    floors = [
        (square_feet(floor.area), cell)
        for floor in entries.floors
        if floor.area and (cell := each.get(occupancy(floor.name, edition) or ""))
    ]
    least = sum(area * cell.value for area, cell in floors)
    if not least:
        return (), None
    counted = [p for p in pieces if p.category == "receptacles"]
    by_number = feeder_load(counted, edition).load if counted else 0.0
    found = ByArea(least, by_number, tuple(floors))
    more = least - by_number
    if more <= 0:
        return (), found
    connection = connection_of(system)
    amperes = load_current(more, system.volts(connection) or 1.0, connection)
    neutral = amperes if system.has_neutral else 0.0
    name = "Receptacles by area"
    piece = Piece(name, "other", more, more, amperes, connection, neutral=neutral)
    return (piece,), found


def calculate(entries: FeederEntries, context: Context) -> FeederOutcome:
    """The feeder: demand, amperes by line, device, conductors, neutral."""
    system, edition = context.supply.system, context.edition
    own = entered(entries, system, edition)
    pieces, once = pieces_of(own, context.below.pieces)
    extra, by_area = office_receptacles(entries, pieces, system, edition)
    pieces = (*pieces, *extra)
    if not pieces and not context.below.infeed:
        raise NothingBelowError(
            "",
            say(
                "Nothing hangs on this feeder yet: add loads here, or boards and circuits below it."
            ),
        )
    # the occupancy of each lighting piece, by the order of the pieces
    kinds = [one.occupancy for one in own for _ in one.pieces]
    whole = entries.demand != "calculated"
    found = taken_whole(pieces, edition) if whole else feeder_load(pieces, edition, kinds)
    carried = carry(pieces, found, system)
    neutral = carried.neutral(system, edition, entries.nonlinear)
    # equipment marked for it carries its rating continuously
    full = can(entries, FullyRated) and entries.continuous_rating == "100"
    design = carried.load if full else carried.design
    back = export(context.below, system, edition)
    design = max(design, back.design) if back else design
    need = SizingRequest(
        carried.load,
        design,
        design,
        devices_between(design, largest_rating(edition), edition, 3),
        device_topic="feeder_device",
        conductor_topic="feeder_conductor",
    )
    cut = not fits(carried.unbalanced, neutral)
    sizing = _sized(need, entries, context, neutral, cut)
    motors = [p for p in carried.placed if p.category == "motor"]
    return FeederOutcome(
        amperes=carried.load,
        wires=sizing.feed.wires(context.supply.system),
        drop=sizing.lost.percent if sizing.lost else None,
        sizing=sizing,
        entered=own,
        once=once,
        by_area=by_area,
        carried=carried,
        neutral=neutral,
        ceiling=_motor_ceiling(carried, system, edition),
        largest=max((p.device for p in motors), default=0.0),
        design=design,
        back=back,
    )


def _sized(
    need: SizingRequest, entries: FeederEntries, context: Context, neutral: float, cut: bool
) -> Sizing:
    """``neutral`` in A; ``cut`` says that a part of its load is left out."""
    system, edition = context.supply.system, context.edition
    count = len(system.lines)
    feed = Feed(
        connection_of(system),
        system.line_to_line or system.to_neutral,
        count,
        system.has_neutral,
        nonlinear=entries.nonlinear,
        wye_pair=system.is_wye and count == 2,
        passes_on=True,
    )
    if not system.has_neutral:
        return size(need, feed, entries, context)
    # the neutral carries its own load, and is never below the equipment ground (215.2(A)(2))
    free = size(need, feed, entries, context)  # with a neutral as large as its lines
    pair, feed = free.pair, free.feed
    rank = size_ranks(edition)
    line = pair.option.size
    least = equipment_ground(pair.device, entries.material, edition).size
    least = min(least, line, key=lambda name: rank[name])
    if pair.sets > 1:
        least = Size(max(least, edition.limit_size("parallel"), key=lambda name: rank[name]))
    found = smallest_neutral(neutral, least, count, pair, entries, edition) or line
    feed = replace(
        feed,
        neutral_size=Size(min(found, line, key=lambda name: rank[name])),
        neutral_rules=(
            edition.rule("neutral"),
            *((edition.rule("neutral_200"),) if cut else ()),
            edition.rule("equipment_grounding"),
        ),
    )
    return size(need, feed, entries, context)


def _motor_ceiling(carried: Carried, system: System, edition: Edition) -> MotorCeiling | None:
    """The most that 430.62 and 430.63 let the feeder's device be."""
    found = carried.calculated
    shares = zip(carried.placed, found.shares, strict=True)
    motors = [(p, va) for p, va in shares if p.category == "motor" and va]
    if not motors:
        return None
    first, _ = max(motors, key=lambda m: m[0].device)
    others = [p.motor for p, _ in motors if p is not first]
    rest = found.load - found.largest_motor - sum(va for _, va in motors)
    rest_amperes = system.line_current(rest) if rest > 0 else 0.0
    exact = first.device + sum(others) + rest_amperes
    below = [r for r in standard_ratings(edition) if fits(r, exact)]
    most = max(below, default=next_standard_device(exact, edition).value)
    terms = (first.device, *others, *((rest_amperes,) if rest_amperes else ()))
    return MotorCeiling(most, exact, terms, bool(rest_amperes), first.instantaneous)


def hand_up(entries: FeederEntries, outcome: FeederOutcome, context: Context) -> Demand:
    """What is entered here and what hangs below, piece by piece: the demand rules apply once,
    where the load is calculated."""
    return Demand.of(outcome.carried.placed)
