"""A buck-boost transformer in numbers: the way taken, the load, the device ahead, the conductors on
both sides; what it hands up and down."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from math import sqrt

from voltaje.core.codes import Cell, Edition, NotCoveredError
from voltaje.core.codes.vocabulary import Size
from voltaje.core.electrical.connection import line_count
from voltaje.core.electrical.fault import FaultCurrent
from voltaje.core.electrical.network.contribution import Boost, NetworkContribution, NetworkSegment
from voltaje.core.electrical.off_volts import OffVolts
from voltaje.core.electrical.systems import LINES, Connection, Demand, Piece, SupplyPoint, System
from voltaje.core.entries import NothingBelowError, WrongEntryError, ask_needed
from voltaje.core.kinds.buck_boost.entries import BuckBoostEntries, BuckBoostLoad
from voltaje.core.kinds.buck_boost.ways import BoostRequest, Choice, every_way, nearest
from voltaje.core.kinds.feeder.carried import carry
from voltaje.core.kinds.interface import Equipment, Outcome
from voltaje.core.report import figure, fits, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.autotransformers import InputDevice, autotransformer_device
from voltaje.core.rules.north_america.checks import SizingRequest
from voltaje.core.rules.north_america.feeder_demand import feeder_load
from voltaje.core.rules.north_america.motors import FEEDER_DEVICE, table_current
from voltaje.core.rules.north_america.overcurrent import next_standard_device
from voltaje.core.rules.north_america.transformers import ratings_with_fuses, standard_kva
from voltaje.core.rules.north_america.wired import Feed, SideRun, size
from voltaje.core.rules.north_america.wired.far_end import conductors

BEHIND = {
    "three-phase": say("three lines behind a buck-boost transformer"),
    "two-line": say("two lines behind a buck-boost transformer"),
    "line-neutral": say("line and neutral behind a buck-boost transformer"),
}
CATEGORIES = {"motor": "motor", "heater": "heating", "other": "other"}


@dataclass(frozen=True, slots=True)
class BoostedLoad:
    """``amperes`` at the volts wanted and with the quarter of what is continuous (``design``), VA;
    the ``table``'s cell of a motor. ``below`` is what of the VA hangs on it in a job; of a
    ``motor`` the design amperes are 125 %."""

    amperes: float
    design: float
    va: float
    table: Cell | None = None
    below: float = 0.0
    motor: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class BuckBoostOutcome(Outcome):
    """Fed at V ``measured`` on ``connection`` (``nominal``: none are measured); all ways, the
    nearest first; the one taken; the ``load``; what it does without one; kVA of an isolating unit
    for it; units that make the bank; the device ahead; input and output sized, or the words why
    they are not."""

    measured: float
    nominal: bool
    connection: Connection
    choices: tuple[Choice, ...]
    chosen: Choice | None
    load: BoostedLoad
    alone: OffVolts
    isolating: float | None
    units: int
    device: InputDevice | None
    sides: tuple[SideRun, SideRun] | None
    unsized: str
    let_through: float = 0.0

    @property
    def va(self) -> float:
        return self.load.va


def connection_of(entries: BuckBoostLoad, system: System) -> Connection:
    """How it is fed: three lines, two, or a line and the neutral."""
    if entries.phases != "1":
        return "three-phase"
    if entries.line == "auto":
        return "two-line" if system.line_to_line else "line-neutral"
    return "two-line" if "-" in entries.line else "line-neutral"


def lines_fed(entries: BuckBoostLoad, system: System) -> tuple[str, ...]:
    """The lines that feed it, by name."""
    if entries.phases != "1":
        return LINES
    if entries.line == "auto":
        return system.lines[:2] if system.line_to_line else system.lines[:1]
    return tuple(entries.line.split("-"))


def calculate(entries: BuckBoostLoad, context: Context) -> BuckBoostOutcome:
    """Raises :class:`WrongEntryError` at what is missing."""
    pieces = context.below.pieces
    there = _there(entries, context.supply) if context.in_job else 0.0
    known = {"measured_voltage"} if context.in_job else set()
    ask_needed(entries, known | ({"load"} if pieces or context.below.missing else set()))
    assert entries.required_voltage is not None  # noqa: S101 - asked above
    measured = entries.measured_voltage or there
    connection = connection_of(entries, context.supply.system)
    asked = BoostRequest.of(entries, measured)
    load = _load(entries, asked, connection, context)
    if load.va <= 0:
        raise NothingBelowError("load", say("Needed: a load above zero, like 9.6 kVA."))
    found = every_way(asked, load.va)
    chosen = found[0] if found and found[0].fault not in ("volts", "flux") else None
    try:
        isolating = standard_kva(load.va / 1000, entries.phases != "1", context.edition)
    except NotCoveredError:
        isolating = None
    device, sides, unsized = None, None, ""
    let_through = 0.0
    if chosen is not None and chosen.kva is not None and isinstance(entries, BuckBoostEntries):
        share = load.design / load.amperes
        full = chosen.source * chosen.series_rated / chosen.in_series
        device = autotransformer_device(full, chosen.source * share, context.edition)
        if load.motor and device.size is not None:
            # the largest that is allowed: a motor draws several times its amperes as it starts
            largest = max(r for r in ratings_with_fuses(context.edition) if fits(r, device.most))
            device = replace(device, size=max(device.size, largest))
        try:
            sides, let_through = _sides(entries, asked, chosen, device, load, connection, context)
        except NotCoveredError as error:
            unsized = str(error)
    output = sides[1] if sides else None
    lost = [side.sizing.lost for side in sides or ()]
    return BuckBoostOutcome(
        amperes=chosen.source if chosen else load.amperes,
        wires=output.sizing.feed.wires(output.context(context).supply.system) if output else (),
        poles=line_count(connection),
        drop=sum(one.percent for one in lost if one) if any(lost) else None,
        fault=_fault(context.supply.fault, chosen),
        measured=measured,
        nominal=entries.measured_voltage is None and not context.supply.volts,
        connection=connection,
        choices=found,
        chosen=chosen,
        load=load,
        alone=OffVolts(measured / entries.required_voltage),
        isolating=isolating,
        units=asked.units,
        device=device,
        sides=sides,
        unsized=unsized,
        let_through=let_through,
    )


def _there(entries: BuckBoostLoad, above: SupplyPoint) -> float:
    """V of the lines of the job that feed it. Raises :class:`WrongEntryError` for lines that it
    has not."""
    connection = connection_of(entries, above.system)
    volts = above.at(connection)
    if connection == "three-phase" and above.system.phases != 3:
        volts = 0.0
    if not volts or not set(lines_fed(entries, above.system)) <= set(above.system.lines):
        path = "phases" if connection == "three-phase" else "line"
        words = say(
            "The supply, {label}, has no such lines: choose others.", label=say(above.system.label)
        )
        raise WrongEntryError(path, words)
    return volts


def _load(
    entries: BuckBoostLoad, asked: BoostRequest, connection: Connection, context: Context
) -> BoostedLoad:
    """Line amperes of the load at the volts wanted; a motor's by the code's table. In a job what
    hangs below counts, or what is entered where that is more."""
    across = asked.wanted * asked.root
    below = BoostedLoad(0.0, 0.0, 0.0)
    if context.below.pieces:
        system = system_behind(connection, asked.wanted)
        if isinstance(entries, BuckBoostEntries):
            found = feeder_load(context.below.pieces, context.edition)
            carried = carry(context.below.pieces, found, system)
            va = carried.load * across
            below = BoostedLoad(carried.load, carried.design, va, None, va)
        else:  # added up as the family does; the heaviest line for all
            whole = context.code.calculated_load(context.below.pieces, context.edition)
            amperes = system.line_current(whole.load)
            below = BoostedLoad(amperes, amperes, whole.load, None, whole.load)
    plate = entries.load
    if plate is None:
        return below
    table = None
    if plate.horsepower is not None:
        kind = "single-phase" if asked.root == 1 else "squirrel cage"
        try:
            table = table_current(
                plate.horsepower, asked.wanted, kind, asked.root > 1, context.edition
            )
        except NotCoveredError:
            words = say("The motor tables have none of these volts: give amperes, like 28 A.")
            raise WrongEntryError("load", words) from None
        amperes = table.value
    elif plate.amperes is not None:
        amperes = plate.amperes
    else:
        amperes = (plate.watts or 0.0) / across
    if fits(amperes, below.amperes):
        return below
    edition = context.edition
    motor = table is not None or entries.load_type == "motor"
    ruled = isinstance(entries, BuckBoostEntries)
    share = edition.value("continuous") / 100 if entries.runs_long and ruled else 1.0
    if motor and ruled:  # 430.22, not added to the quarter of what is continuous
        share = max(share, edition.value("motor_conductor") / 100)
    design = max(amperes * share, below.design)
    return BoostedLoad(amperes, design, amperes * across, table, below.va, motor)


def _sides(
    entries: BuckBoostEntries,
    asked: BoostRequest,
    chosen: Choice,
    device: InputDevice,
    load: BoostedLoad,
    connection: Connection,
    context: Context,
) -> tuple[tuple[SideRun, SideRun] | None, float]:
    """Input and output sized, and A that the input device lets through to the output. Nothing
    where no standard device goes ahead."""
    if device.size is None:
        return None, 0.0
    share = load.design / load.amperes
    above = context.supply.system if context.in_job else _own_system(connection, asked.measured)
    edition, count = context.edition, line_count(connection)
    between = [
        r for r in ratings_with_fuses(edition) if fits(device.size, r) and fits(r, device.most)
    ]
    need = SizingRequest(
        chosen.source,
        chosen.source * share,
        chosen.source * share,
        tuple(between) or (device.size,),
        device_topic="autotransformer_device",
        conductor_topic="primary_conductors",
        ceiling_topic="autotransformer_device",
        ceiling=device.most,
    )
    # three units in wye stand between each line and the neutral, which goes along
    wye = entries.phases == "wye" and (above.has_neutral or not context.in_job)
    neutral = connection == "line-neutral" or wye
    feed = Feed(connection, asked.measured, count, neutral, drop_topic="drop_total", passes_on=True)
    pinned = entries.model_copy(update={"device": entries.device or device.size})
    into = SideRun(
        size(need, feed, pinned, replace(context, supply=replace(context.supply, system=above))),
        pinned,
        replace(context.supply, system=above),
    )
    out, let_through = _output(entries, asked, chosen, into, load, connection, context)
    return (into, out), let_through


def _output(
    entries: BuckBoostEntries,
    asked: BoostRequest,
    chosen: Choice,
    into: SideRun,
    whole: BoostedLoad,
    connection: Connection,
    context: Context,
) -> tuple[SideRun, float]:
    """The output: its conductors carry what the input device lets through, as the other side's
    volts have it, so that it protects them; and its own device is the smallest for the load."""
    edition, share = context.edition, whole.design / whole.amperes
    load = max(chosen.load, whole.amperes)
    let_through = into.sizing.pair.device * asked.measured / chosen.out
    rating = next_standard_device(load * share, edition).value
    if whole.motor:
        rating = _starting_device(load, entries, edition)
    need = SizingRequest(
        load,
        load * share,
        max(load * share, let_through),
        (rating,),
        next_size=False,
        elsewhere=whole.motor,
        device_topic="motor_devices" if whole.motor else "feeder_device",
        conductor_topic="autotransformer_output",
        no_next_topic="secondary_no_next",
    )
    feed = Feed(
        connection,
        chosen.out,
        line_count(connection),
        connection == "line-neutral",
        drop_topic="drop_total",
        passes_on=True,
    )
    point = hand_down(entries, context.supply)
    if not context.in_job:
        point = SupplyPoint(system_behind(connection, asked.wanted), chosen.out)
    by_hand = None if entries.output_size == "auto" else Size(entries.output_size)
    run = entries.model_copy(
        update={
            "device": None,
            "size": by_hand or "auto",
            "sets": None,
            "length": entries.output_length,
            "line": "auto",
        }
    )
    return SideRun(size(need, feed, run, replace(context, supply=point)), run, point), let_through


def _starting_device(load: float, entries: BuckBoostEntries, edition: Edition) -> float:
    """The usual breaker of a motor: it lets the motor start (430.52)."""
    kind = "single-phase" if entries.phases == "1" else "squirrel cage"
    percent = edition.cell("motor_devices", kind, FEEDER_DEVICE).value
    exact = load * percent / 100
    if edition.cites("motor_next_size") is not None:
        return next_standard_device(exact, edition).value
    below = [r for r in ratings_with_fuses(edition) if fits(load, r) and fits(r, exact)]
    return max(below, default=next_standard_device(load, edition).value)


def _own_system(connection: Connection, volts: float) -> System:
    """The lines that feed a sheet by itself."""
    neutral = volts if connection == "line-neutral" else 0.0
    return replace(system_behind(connection, volts), to_neutral=neutral)


def system_behind(connection: Connection, volts: float) -> System:
    """The system behind it: only the lines that it changes, of the volts wanted; no neutral but
    that of a line and neutral."""
    label = BEHIND[connection].template
    if connection == "three-phase":
        return System(f"3ph-{volts:g}", label, 3, 3, volts, 0.0)
    if connection == "two-line":
        return System(f"1ph-{volts:g}", label, 1, 2, volts, 0.0)
    return System(f"1ph-{volts:g}", label, 1, 2, 0.0, volts)


def _fault(above: float, chosen: Choice | None) -> float:
    """A at most behind it, with nothing of its own impedance counted: by the ratio of the volts."""
    return above / chosen.stacked.ratio if chosen else 0.0


def hand_down(entries: BuckBoostLoad, above: SupplyPoint) -> SupplyPoint:
    """The volts wanted as the nominal ones, those of the nearest way as they are."""
    connection = connection_of(entries, above.system)
    measured = entries.measured_voltage or above.at(connection)
    if entries.required_voltage is None or not measured:
        return above
    chosen = nearest(BoostRequest.of(entries, measured))
    marking = above.marking
    if entries.phases == "1":
        names = lines_fed(entries, above.system)
        colors = [above.color(name) for name in names]
        # the lines behind are L1 and L2 whatever they are called above, in the same colors
        marking = (*colors, *[""] * (len(LINES) - len(colors)), above.color("N"))
    return SupplyPoint(
        system_behind(connection, entries.required_voltage),
        chosen.out if chosen else measured,
        above.hertz,
        _fault(above.fault, chosen),
        marking,
        xr=above.xr,
        motor_times=above.motor_times,
        unknown=above.unknown,
    )


def hand_up(entries: BuckBoostLoad, outcome: BuckBoostOutcome, context: Context) -> Demand:
    """The load as its input sees it: the same VA, the amperes by the ratio, on the lines that feed
    it. What is entered beyond what hangs below is a piece of its own."""
    ratio = outcome.chosen.stacked.ratio if outcome.chosen else 1.0
    connection = outcome.connection
    names = lines_fed(entries, context.supply.system)
    line = "all" if connection == "three-phase" else "-".join(names)
    found = [_above(piece, ratio, connection, line) for piece in context.below.pieces]
    more = outcome.load.va - outcome.load.below
    if more > 0 and entries.load is not None:
        found.append(_own_piece(entries, outcome, more, connection, line))
    return Demand.of(found)


def _above(piece: Piece, ratio: float, connection: Connection, line: str) -> Piece:
    single = connection != "three-phase"
    return replace(
        piece,
        connection=connection if single else piece.connection,
        line=line if single else piece.line,
        multiwire="",
        neutral=0.0,
        motor=piece.motor * ratio,
        device=piece.device * ratio,
        amperes=piece.amperes * ratio,
    )


def _own_piece(
    entries: BuckBoostLoad,
    outcome: BuckBoostOutcome,
    va: float,
    connection: Connection,
    line: str,
) -> Piece:
    root = sqrt(3) if connection == "three-phase" else 1.0
    amperes = va / (outcome.measured * root)
    is_motor = entries.load_type == "motor" or outcome.load.table is not None
    device = outcome.sides[0].sizing.pair.device if outcome.sides else 0.0
    return Piece(
        "",
        "motor" if is_motor else CATEGORIES[entries.load_type],  # type: ignore[arg-type]
        va,
        va,
        amperes,
        connection,
        line,
        continuous=1.0 if entries.runs_long else 0.0,
        motor=amperes if is_motor else 0.0,
        device=device,
    )


def voltage_drop(entries: BuckBoostLoad, outcome: BuckBoostOutcome, context: Context) -> float:
    """Percent of the volts that the conductors of both sides lose."""
    return outcome.drop or 0.0


def fault_current(
    entries: BuckBoostLoad, outcome: BuckBoostOutcome, context: Context
) -> FaultCurrent:
    """At the output, with nothing of its own impedance counted."""
    return FaultCurrent(outcome.fault, context.supply.xr)


def network_contribution(
    entries: BuckBoostLoad, outcome: BuckBoostOutcome, context: Context
) -> NetworkContribution:
    """Its windings with the conductors on both sides. Without a way that gives the volts it leaves
    them as they are."""
    chosen, sides = outcome.chosen, outcome.sides
    if chosen is None:
        return NetworkContribution()
    ahead, behind = None, None
    if sides is not None and isinstance(entries, BuckBoostEntries):
        ahead = conductors(sides[0].sizing, "", entries.length, entries, context)
        behind = conductors(sides[1].sizing, "", entries.output_length, entries, context)
    way = chosen.stacked
    windings = Boost(
        lines_fed(entries, context.supply.system),
        entries.phases,
        way.common,
        way.series,
        way.aiding,
        chosen.fed_at_common,
        chosen.kva or 1.0,
        entries.impedance or 0.0,
        behind or NetworkSegment(0j, 0j),
    )
    return NetworkContribution((ahead,) if ahead else (), windings)


def equipment(
    entries: BuckBoostLoad, outcome: BuckBoostOutcome, context: Context
) -> Iterable[Equipment]:
    """The units of the booster that was chosen."""
    chosen = outcome.chosen
    if chosen is not None and chosen.kva is not None:
        kva = figure(chosen.kva, 2)
        given = {"kva": kva, "windings": chosen.windings}
        words = say("Buck-boost transformer, {kva} kVA, {windings}", **given)
        yield Equipment(f"booster|{kva}|{chosen.windings}", words, outcome.units)
