"""A motor by its kW in numbers: its amperes and those at its start, device, cable, drop."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import sqrt
from typing import Literal

from voltaje.core.codes import Cell, Edition
from voltaje.core.electrical.connection import line_count
from voltaje.core.electrical.systems import Demand, Piece
from voltaje.core.entries import WrongEntryError
from voltaje.core.kinds.interface import SizedOutcome
from voltaje.core.kinds.machine.entries import MachineEntries
from voltaje.core.kinds.placing import check_line, load_voltage
from voltaje.core.report import say
from voltaje.core.rules.context import Context
from voltaje.core.rules.iec60364.entries import BREAKERS
from voltaje.core.rules.iec60364.sizing import CableSizing
from voltaje.core.rules.interface import CircuitLoadRequest, Feed

USE = "motor"


@dataclass(frozen=True, slots=True)
class RatedCurrent:
    """Its rated amperes and where they come from: the nameplate, the ``cell`` of usual currents, or
    its power with efficiency and power factor."""

    amperes: float
    by: Literal["nameplate", "table", "power"]
    cell: Cell | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class MachineOutcome(SizedOutcome[CableSizing]):
    """Its rated amperes, ``times`` and A at its ``start``; the cell of the times where they are
    usual ones, that of what the device ``stands`` and the ``least`` device for it, A; percent that
    it loses while it starts (``None``: no length is known) by the cell that asks for a look."""

    rated: RatedCurrent
    va: float
    times: float
    start: float
    usual: Cell | None
    stands: Cell
    least: float
    start_lost: float | None
    start_most: Cell
    feed: Feed


def calculate(entries: MachineEntries, context: Context) -> MachineOutcome:
    """Raises :class:`WrongEntryError` where neither its power nor its amperes are told."""
    system, edition, code = context.supply.system, context.edition, context.code
    volts = load_voltage(system, entries.connection, "connection")
    check_line(entries.line, entries.connection, system)
    rated = rated_of(entries, volts, edition)
    usual = None if entries.starting_current else edition.limit(f"start_{entries.starting}")
    times = entries.starting_current or (usual.value if usual else 1.0)
    start = times * rated.amperes
    stands, least = least_device(start, entries, edition)
    asked = code.ask(CircuitLoadRequest(USE, rated.amperes), edition)
    relay = rated.amperes if entries.relay == "yes" else 0.0
    need = replace(asked.need, relay=relay, least=least)
    feed = Feed(
        entries.connection,
        volts,
        line_count(entries.connection),
        entries.connection == "line-neutral",
        entries.power_factor,
    )
    sizing: CableSizing = code.size(need, feed, entries, context)  # type: ignore[assignment]
    lost = sizing.pair.lost
    across = sqrt(3) if entries.connection == "three-phase" else 1.0
    lines = ("N",) if feed.has_neutral else ()
    return MachineOutcome(
        amperes=rated.amperes,
        wires=(*system.lines[: feed.lines], *lines),
        drop=lost,
        drop_limit=sizing.total_limit,
        rated=rated,
        va=rated.amperes * volts * across,
        times=times,
        start=start,
        usual=usual,
        stands=stands,
        least=least,
        start_lost=None if lost is None else lost * times / sizing.pair.dropped.taken,
        start_most=edition.limit("start_drop"),
        feed=feed,
        sizing=sizing,
    )


def rated_of(entries: MachineEntries, volts: float, edition: Edition) -> RatedCurrent:
    """Its amperes: the nameplate's, as usual for its kW at three-phase, or its power with
    efficiency and power factor. Raises :class:`WrongEntryError`."""
    plate = entries.power
    if plate is not None and plate.watts is None and plate.horsepower is None:
        words = say("Give its rated power in kW or hp; its amperes have a field of their own.")
        raise WrongEntryError("power", words)
    if entries.nameplate is not None:
        return RatedCurrent(entries.nameplate, "nameplate")
    if plate is None:
        raise WrongEntryError("power", say("Needed: its rated power, like 7.5 kW, or its amperes."))
    watts = plate.watts if plate.watts is not None else WATTS_PER_HP * (plate.horsepower or 0.0)
    cell = edition.cell_or_none("motor_current", f"{watts / 1000:g}", "400 V")
    if entries.connection == "three-phase" and cell is not None:
        return RatedCurrent(cell.value * TABLE_VOLTS / volts, "table", cell)
    across = sqrt(3) if entries.connection == "three-phase" else 1.0
    share = entries.efficiency / 100 * entries.power_factor
    if not share:
        raise WrongEntryError("efficiency", say("Give its efficiency in percent, like 85."))
    return RatedCurrent(watts / (across * volts * share), "power")


WATTS_PER_HP = 745.7  # physics
TABLE_VOLTS = 400.0  # IEC 60947-4-1, annex G: the volts of its column


def least_device(start: float, entries: MachineEntries, edition: Edition) -> tuple[Cell, float]:
    """The cell of what a device stands while a motor starts, and the least rating for it, A."""
    kind = entries.device_type
    if kind == "MCCB":
        stands = edition.limit("start_moulded")
        times = entries.magnetic_setting or edition.value("moulded_times")
        return stands, start / (times * stands.value)
    topic = f"start_{kind.lower()}" if kind in BREAKERS else "start_fuse"
    stands = edition.limit(topic)
    return stands, start / stands.value


def hand_up(entries: MachineEntries, outcome: MachineOutcome, context: Context) -> Demand:
    """The motor as one piece."""
    amperes = outcome.rated.amperes
    piece = Piece(
        "",
        "motor",
        outcome.va,
        outcome.va,
        amperes,
        entries.connection,
        entries.line,
        motor=amperes,
        device=outcome.sizing.device,
        group=entries.noncoincident_with,
        power_factor=entries.power_factor,
    )
    return Demand.of([piece])
