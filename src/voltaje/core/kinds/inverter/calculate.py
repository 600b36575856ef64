"""An inverter in numbers: amperes, what its breaker carries where it stands, cable, rise, bus."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt
from typing import Literal

from voltaje.core.codes import practice
from voltaje.core.electrical.connection import line_count
from voltaje.core.electrical.systems import Demand, Infeed
from voltaje.core.entries import WrongEntryError
from voltaje.core.kinds.interface import SizedOutcome
from voltaje.core.kinds.inverter.entries import InverterLoad
from voltaje.core.kinds.placing import load_voltage
from voltaje.core.report import Rule, fits, say
from voltaje.core.rules.common.heat import Heat, heat
from voltaje.core.rules.context import Context
from voltaje.core.rules.interface import CircuitLoadRequest, CircuitRequest, Feed, Sized

USE = "inverter"
# a device equal to the current is not enough: it carries that for hours
ABOVE = 1 + 1e-6


@dataclass(frozen=True, slots=True)
class BusOption:
    """A way in which a bus holds what feeds it: ``asked`` A of it beside what it ``may`` be."""

    name: Literal["sum", "opposite", "devices", "rating"]
    asked: float
    may: float

    @property
    def holds(self) -> bool:
        return fits(self.asked, self.may)


@dataclass(frozen=True, slots=True)
class Bus:
    """The ways that may be gone, and A that count for the inverter."""

    ways: tuple[BusOption, ...]
    counted: float

    @property
    def holds(self) -> bool:
        return any(way.holds for way in self.ways)


@dataclass(frozen=True, slots=True, kw_only=True)
class InverterOutcome(SizedOutcome[Sized]):
    """A by its power and by its data sheet, the larger counting; the breaker's ``heat`` and the
    ``least`` rating for it, A; what its device ``carries`` there; percent of ``rise`` (``None``:
    no length) and what it may be, with the rule where nothing is told; the bus (``None``: not
    told)."""

    by_power: float
    by_sheet: float
    output: float
    heat: Heat
    least: float
    carries: float
    asked: CircuitRequest
    rise: float | None
    rise_most: float
    rise_rule: Rule | None
    bus: Bus | None
    feed: Feed
    sizing: Sized
    across: float


def calculate(entries: InverterLoad, context: Context) -> InverterOutcome:
    """Raises :class:`WrongEntryError` where neither its power nor its current is told."""
    system, code, edition = context.supply.system, context.code, context.edition
    volts = load_voltage(system, entries.connection, "connection")
    across = volts * (sqrt(3) if entries.connection == "three-phase" else 1.0)
    plate = entries.power
    if plate is not None and plate.watts is None:
        words = say("Give its rated output in kW or kVA; its amperes have a field of their own.")
        raise WrongEntryError("power", words)
    by_power = 0.0
    if plate is not None and plate.watts is not None:
        va = plate.watts / entries.power_factor if plate.active else plate.watts
        by_power = va / across
    by_sheet = entries.maximum_current or 0.0
    output = max(by_power, by_sheet)
    if not output:
        words = say(
            "Needed: its rated output, like 30 kW, or the maximum current of its data sheet."
        )
        raise WrongEntryError("power", words)
    found = heat(entries)
    least = output / found.factor * ABOVE
    asked = code.ask(CircuitLoadRequest(USE, output, 1.0, least_device=least), edition)
    feed = Feed(
        entries.connection,
        volts,
        line_count(entries.connection),
        entries.connection == "line-neutral" or system.has_neutral,
        entries.power_factor,
    )
    sizing = code.size(asked.need, feed, entries, context)
    usual = practice().limit("rise")
    lines = ("N",) if feed.has_neutral else ()
    return InverterOutcome(
        amperes=output,
        wires=(*system.lines[: feed.lines], *lines),
        drop=sizing.lost_percent,
        by_power=by_power,
        by_sheet=by_sheet,
        output=output,
        heat=found,
        least=least,
        carries=sizing.device * found.factor,
        asked=asked,
        rise=sizing.lost_percent,
        rise_most=entries.maximum_drop,
        rise_rule=usual.rule if entries.maximum_rise is None else None,
        bus=bus_of(entries, output, sizing.device, context),
        feed=feed,
        sizing=sizing,
        across=across,
    )


def bus_of(entries: InverterLoad, output: float, device: float, context: Context) -> Bus | None:
    """The ways in which the bus may hold it: with 125 % of its output where the code says so, else
    by its device beside the main; ``None`` where the bus is not told, or it joins ahead of it."""
    if entries.bus_rating is None or entries.connection_point == "line":
        return None
    edition, bus = context.edition, entries.bus_rating
    if entries.main is None:
        raise WrongEntryError("main", say("Needed to judge the bus: its main device, like 200 A."))
    main = entries.main
    if not edition.has_limit("bus_inverter"):
        return Bus((BusOption("rating", main + device, bus),), device)
    counted = output * edition.value("bus_inverter") / 100
    ways = [BusOption("sum", main + counted, bus)]
    # 705.12: a bus fed in its middle takes 120 % in dwellings alone
    if entries.connection_point == "opposite" or (
        entries.connection_point == "center" and entries.dwelling
    ):
        ways.append(BusOption("opposite", main + counted, bus * edition.value("bus_share") / 100))
    if entries.bus_other_devices is not None:
        ways.append(BusOption("devices", entries.bus_other_devices + device, bus))
    return Bus(tuple(ways), counted)


def hand_up(entries: InverterLoad, outcome: InverterOutcome, context: Context) -> Demand:
    """No load, for it may stand still when the load is highest: a source that feeds in."""
    va = outcome.output * outcome.across
    return Demand(infeed=(Infeed(va, entries.connection, "auto", entries.power_factor),))
