"""A motor in numbers: table current, conductors, device, overload, start, volts."""

from __future__ import annotations

from dataclasses import dataclass, replace

from voltaje.core.capabilities import Starting, can
from voltaje.core.codes import Cell, Edition
from voltaje.core.electrical.connection import line_count, load_current
from voltaje.core.electrical.systems import Connection, Demand, Piece
from voltaje.core.entries import WrongEntryError
from voltaje.core.kinds.interface import SizedOutcome
from voltaje.core.kinds.motor.entries import CAGES, MotorEntries
from voltaje.core.kinds.placing import check_line, load_voltage
from voltaje.core.report import fits, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.checks import SizingRequest
from voltaje.core.rules.north_america.drop import Drop, drop
from voltaje.core.rules.north_america.motors import (
    FEEDER_DEVICE,
    larger_percent,
    largest_fuse,
    table_current,
)
from voltaje.core.rules.north_america.overcurrent import (
    devices_between,
    next_standard_device,
    standard_ratings,
)
from voltaje.core.rules.north_america.wired import Feed, Sizing, size

# common practice: the power factor of a motor with its rotor locked
START_POWER_FACTOR = 0.35
# the device of a feeder, as it is chosen here, no code figure
SHOWN_DEVICES = 4  # no code figure: how many alternatives are shown


@dataclass(frozen=True, slots=True)
class Larger:
    """Where the motor does not start on the usual device: up to ``limit`` A by ``percent``; of
    fuses of a class that ends at ``ends`` A, those above it up to ``higher`` A by ``above``."""

    percent: Cell
    limit: float
    ends: Cell | None = None
    above: Cell | None = None
    higher: float = 0.0


@dataclass(frozen=True, slots=True)
class Devices:
    """What may protect the motor: ``percent`` of its current gives ``exact`` A, which lets the
    device be ``most`` A: one of ``ratings``, or a setting. ``usual`` is what it would be without
    the exception for a motor that does not start, ``ground`` the rating that the equipment ground
    of an instantaneous breaker goes by (250.122(D)(2)), 0 elsewhere."""

    percent: Cell
    exact: float
    most: float
    ratings: tuple[float, ...]
    usual: float
    larger: Larger | None = None
    ground: float = 0.0


@dataclass(frozen=True, slots=True)
class Overload:
    """``share`` of the ``plate`` amperes, at ``most`` where it will not start, both in A beside
    their limits. ``read`` says that the plate was entered, not taken from the table;
    ``secondary`` what a wound rotor's secondary conductors carry, A."""

    plate: float
    read: bool
    share: Cell
    amperes: float
    most_share: Cell
    most: float
    secondary: float | None


@dataclass(frozen=True, slots=True)
class Start:
    """``locked`` rotor amperes, by its code ``letter``'s kVA for each hp or a multiple of the
    table's, and the drop they make over its run."""

    locked: float
    letter: Cell | None
    lost: Drop | None


@dataclass(frozen=True, slots=True, kw_only=True)
class MotorOutcome(SizedOutcome[Sizing]):
    """``current`` by the table's cell, or the nameplate's where the code goes by that, A; what its
    ``conductor`` carries, by a duty's cell or by 125 %; the load in VA at ``volts``."""

    current: Cell
    volts: float
    va: float
    conductor: float
    conductor_by: Cell
    devices: Devices
    overload: Overload
    start: Start | None


def connection_of(entries: MotorEntries) -> Connection:
    """Its connection; a direct-current motor stands on two conductors."""
    return "two-line" if entries.motor == "direct current" else entries.connection


def calculate(entries: MotorEntries, context: Context) -> MotorOutcome:
    """The motor: table current, conductors, device, overload, start."""
    edition = context.edition
    if entries.horsepower is None:
        raise WrongEntryError(
            "horsepower", say("Needed: the horsepower on the nameplate, like 10 hp.")
        )
    connection = connection_of(entries)
    check_line(entries.line, connection, context.supply.system)
    volts = _volts(entries, connection, context)
    three = connection == "three-phase"
    if entries.nameplate is not None and edition.says("motor_by_nameplate"):
        cell = Cell(entries.nameplate, edition.rule("motor_nameplate"))
    else:
        cell = table_current(entries.horsepower, volts, entries.motor, three, edition)
    current = cell.value
    conductor, conductor_by = _conductor(entries, current, edition)
    devices = _devices(entries, current, edition)
    need = SizingRequest(
        current,
        0.0,
        conductor,
        devices.ratings,
        elsewhere=True,
        device_topic="motor_devices",
        conductor_topic="motor_conductor",
        ceiling_topic="motor_devices",
        ceiling=devices.most,
    )
    feed = Feed(
        connection,
        volts,
        line_count(connection),
        connection == "line-neutral",
        1.0 if entries.motor == "direct current" else entries.power_factor,
        ground_device=devices.ground,
    )
    context = under(context)
    sizing = size(need, feed, entries, context)
    return MotorOutcome(
        amperes=current,
        wires=feed.wires(context.supply.system, entries.line),
        drop=sizing.lost.percent if sizing.lost else None,
        sizing=sizing,
        current=cell,
        volts=volts,
        va=current / load_current(1.0, volts, connection),
        conductor=conductor,
        conductor_by=conductor_by,
        devices=devices,
        overload=_overload(entries, current, edition),
        start=_start(entries, sizing, current, context),
    )


def under(context: Context) -> Context:
    """The habit for motors: the largest device allowed, for a smaller one may open while the motor
    starts."""
    return replace(context, shop=replace(context.shop, preference="maximum"))


def _volts(entries: MotorEntries, connection: Connection, context: Context) -> float:
    if entries.motor == "direct current":
        return float(entries.dc_volts)
    if (entries.motor == "single-phase") == (connection == "three-phase"):
        raise WrongEntryError(
            "connection",
            say(
                "A single-phase motor stands on two lines or on a line and neutral; every other"
                " one here is three-phase."
            ),
        )
    return load_voltage(context.supply.system, connection, "connection")


def _conductor(entries: MotorEntries, current: float, edition: Edition) -> tuple[float, Cell]:
    """What the conductors must carry, A, and the percent's cell."""
    if entries.duty == "continuous":
        more = edition.limit("motor_conductor")
        return current * more.value / 100, more
    if entries.nameplate is None:
        raise WrongEntryError(
            "nameplate", say("Needed for this duty: the amperes on the nameplate, like 13.2 A.")
        )
    duty = edition.cell_or_none("motor_duty", entries.duty, entries.rated_time)
    if duty is None:
        raise WrongEntryError(
            "rated_time",
            say("This duty has no figure for a continuous rated time: choose another."),
        )
    return entries.nameplate * duty.value / 100, duty


def device_row(entries: MotorEntries, current: float, edition: Edition) -> str:
    """The row of the table of devices: its kind, or where a code asks for it how it starts."""
    starting = entries.starting if can(entries, Starting) else "full voltage"
    if starting == "full voltage" or entries.motor not in CAGES:
        return entries.motor
    mark = edition.value("motor_reduced_small")
    side = "up to" if fits(current, mark) else "above"
    return f"reduced {side} {mark:g} A"


def _devices(entries: MotorEntries, current: float, edition: Edition) -> Devices:
    """The ratings to choose from, and the most allowed."""
    row = device_row(entries, current, edition)
    percent = edition.cell("motor_devices", row, entries.protection)
    exact = current * percent.value / 100
    if entries.protection == "instantaneous breaker":
        fuse = edition.cell("motor_devices", row, "dual-element fuse").value
        ground = next_standard_device(current * fuse / 100, edition).value
        larger, most = None, exact
        if entries.starts_on_device == "no":
            cell = larger_percent(entries.protection, entries.motor, current, edition)
            most = current * cell.value / 100
            larger = Larger(cell, most)
        return Devices(percent, exact, most, (most,), exact, larger, ground)
    most = usual = _rated(exact, edition)
    larger = None
    if entries.starts_on_device == "no":
        most, larger = _larger(entries, current, usual, edition)
    found = devices_between(current, most, edition, len(standard_ratings(edition)))
    return Devices(percent, exact, most, found[-SHOWN_DEVICES:] or (most,), usual, larger)


def _rated(exact: float, edition: Edition) -> float:
    """The rating that ``exact`` A allow: the next one up where a rule lets it, else the one below,
    never less than the smallest that is made."""
    if edition.cites("motor_next_size") is not None:
        return next_standard_device(exact, edition).value
    ratings = standard_ratings(edition)
    return max((r for r in ratings if fits(r, exact)), default=ratings[0])


def _larger(
    entries: MotorEntries, current: float, usual: float, edition: Edition
) -> tuple[float, Larger]:
    """The most that the exception allows where the motor does not start on the usual device: a
    ceiling, not a next size up."""
    cell = larger_percent(entries.protection, entries.motor, current, edition)
    limit = current * cell.value / 100
    ratings, step = standard_ratings(edition), largest_fuse(entries.protection, current, edition)
    allowed = [r for r in ratings if fits(r, limit)]
    if step is None:
        return max([*allowed, usual]), Larger(cell, limit)
    ends, above = step
    allowed = [r for r in allowed if fits(r, ends.value)]
    if fits(limit, ends.value):
        return max([*allowed, usual]), Larger(cell, limit)
    higher = current * above.value / 100
    allowed += [r for r in ratings if fits(r, higher)]
    return max([*allowed, usual]), Larger(cell, limit, ends, above, higher)


def _overload(entries: MotorEntries, current: float, edition: Edition) -> Overload:
    plate = entries.nameplate if entries.nameplate is not None else current
    factor = entries.service_factor or 0.0
    marked = fits(edition.value("service_factor_mark"), factor) or entries.temperature_rise == "40"
    name = "overload_marked" if marked else "overload_others"
    share, most = edition.limit(name), edition.limit(f"{name}_most")
    secondary = None
    if entries.motor == "wound rotor" and entries.secondary is not None:
        secondary = entries.secondary * edition.value("motor_conductor") / 100
    return Overload(
        plate,
        entries.nameplate is not None,
        share,
        plate * share.value / 100,
        most,
        plate * most.value / 100,
        secondary,
    )


def _start(entries: MotorEntries, sizing: Sizing, current: float, context: Context) -> Start | None:
    """The drop with the rotor locked. A direct-current motor is started through a controller."""
    if entries.motor == "direct current":
        return None
    feed, letter = sizing.feed, None
    if entries.code_letter:
        letter = context.edition.cell("locked_rotor", entries.code_letter, "kVA/hp")
        va = (entries.horsepower or 0.0) * letter.value * 1000
        locked = load_current(va, feed.volts, feed.connection)
    else:
        locked = current * entries.starting_current
    if not entries.length:
        return Start(locked, letter, None)
    option = sizing.pair.option
    lost = drop(
        locked,
        feed.volts,
        entries.length,
        option.size,
        option.material,
        entries.wiring_method,
        context.edition,
        feed.connection == "three-phase",
        START_POWER_FACTOR,
        sizing.pair.sets,
    )
    return Start(locked, letter, lost)


def hand_up(entries: MotorEntries, outcome: MotorOutcome, context: Context) -> Demand:
    """The motor as one piece, with its table current and its device for the feeder."""
    current, device = outcome.current.value, outcome.sizing.pair.device
    instantaneous = entries.protection == "instantaneous breaker"
    if instantaneous:
        # 430.62(A) Exception 1: not the setting, but the percentage of the feeder's own device
        row = device_row(entries, current, context.edition)
        percent = context.edition.cell("motor_devices", row, FEEDER_DEVICE)
        device = current * percent.value / 100
    piece = Piece(
        "",
        "motor",
        outcome.va,
        outcome.va,
        current,
        connection_of(entries),
        entries.line,
        motor=current,
        device=device,
        group=entries.noncoincident_with,
        power_factor=entries.power_factor,
        instantaneous=instantaneous,
    )
    return Demand.of([piece])
