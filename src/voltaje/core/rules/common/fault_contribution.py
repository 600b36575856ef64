"""What sources below a part send back through it, and what they add to a fault there: electronics
give little more than they are rated for, yet it comes on top of what the supply gives."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.core.codes import Cell, Edition, practice
from voltaje.core.electrical.systems import Demand, SupplyPoint, System
from voltaje.core.report import Worksheet, figure, say


@dataclass(frozen=True, slots=True)
class Export:
    """What flows back with all sources on and no load: ``amperes`` of the heaviest line, what
    device and conductors must carry for it (``design``), and the percent's cell where a code has
    one."""

    amperes: float
    design: float
    more: Cell | None


def export(below: Demand, system: System, edition: Edition) -> Export | None:
    """What feeds in from below flows in every conductor above it while the loads are off; it is
    continuous. Single-phase sources whose line is open stand on the lightest. ``None`` where
    nothing feeds in."""
    if not below.infeed:
        return None
    lines = dict.fromkeys(system.lines, 0.0)
    for fed in sorted(below.infeed, key=lambda one: -one.va):
        each = fed.amperes(system)
        own = [name for name in fed.line.split("-") if name in lines]
        if fed.connection == "three-phase" or len(lines) == 1:
            own = list(lines)
        elif not own:
            light = sorted(lines, key=lambda name: (lines[name], name))
            own = light[: 1 if fed.connection == "line-neutral" else 2]
        for name in own:
            lines[name] += each
    amperes = max(lines.values())
    more = edition.limit("bus_inverter") if edition.has_limit("bus_inverter") else None
    return Export(amperes, amperes * (more.value / 100 if more else 1.0), more)


def report_export(found: Export | None, load: float, worksheet: Worksheet) -> None:
    """What flows back beside the load that the conductors are sized for, A."""
    if found is None:
        return
    shown = figure(found.amperes, 1)
    if found.more is not None:
        shown = f"{shown} × {figure(found.more.value / 100, 4)}"
    note = say("the loads may be off while it feeds in")
    words = say("What feeds in from below asks")
    rule = found.more.rule if found.more else None
    if found.design > load:
        note = say("more than the load asks: the loads may be off while it feeds in")
    worksheet.sum("export_design", words, found.design, "A", shown, rule, note=note, flow="load")


def at_fault(below: Demand, supply: SupplyPoint) -> float:
    """A that what turns and what feeds in below adds to a fault: inverters a little more than their
    rating, motors several times their full-load current for the first cycles."""
    book, system = practice(), supply.system
    found = 0.0
    if below.infeed:
        found += book.value("inverter_fault") * sum(fed.amperes(system) for fed in below.infeed)
    motors = sum(piece.motor for piece in below.pieces if piece.category in ("motor", "cooling"))
    return found + (supply.motor_times or book.value("motor_fault")) * motors


def with_fed(below: Demand, supply: SupplyPoint) -> float:
    """The fault current, A, with what is added from below; 0 where the supply's is not known."""
    return supply.fault + at_fault(below, supply) if supply.fault else 0.0
