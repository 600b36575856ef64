"""An existing service by its measured maximum demand (220.87)."""

from __future__ import annotations

from voltaje.core.codes import Edition
from voltaje.core.electrical.systems import System
from voltaje.core.parts.dwelling.entries import DwellingEntries
from voltaje.core.parts.dwelling.loads import read_load
from voltaje.core.parts.dwelling.service import amperes_line, judged
from voltaje.core.rules.overcurrent import whole_amperes
from voltaje.core.units import Nameplate
from voltaje.core.worksheet import Finding, Flow, Line, Result, Section, Worked, figure, say


def work(entries: DwellingEntries, system: System, edition: Edition) -> Worked:
    """Highest measured demand × 125 % plus the new load, against the service that is there."""
    plate = entries.measured_demand or Nameplate(watts=0.0)
    demand, _, _ = read_load(plate, "line-line", system, edition)
    new = entries.new_load or 0.0
    margin = edition.limit("measured_margin")
    rule, factor = margin.rule, margin.value / 100
    calculated = demand * factor + new
    lines = [
        Line("measured_demand", say("Highest measured demand"), demand, "VA",
             f"{figure(plate.amperes)} A × {figure(plate.volts or system.line_to_line)} V"
             if plate.amperes is not None else "", entries=("measured_demand",)),
        Line("measured_margin", say("At {percent} %", percent=margin.value),
             demand * factor, "VA", f"{figure(demand)} × {figure(factor)}", (rule,),
             entries=("measured_demand",)),
        Line("new_load", say("New load"), new, "VA", entries=("new_load",)),
        Line("calculated_load", say("Calculated load"), calculated, "VA",
             f"{figure(demand * factor)} + {figure(new)}", (rule,), kind="result"),
    ]  # fmt: skip
    line = amperes_line(calculated, system, edition)
    exact = line.value or 0.0
    service = judged(entries.existing_service or 0.0, whole_amperes(exact), exact, [line], edition)
    findings = list(service.findings)
    if entries.measured_over == "days30" and not entries.season_covered:
        findings.append(
            Finding(
                "look",
                "season",
                say("A 30-day recording must hold the heating or cooling at its highest, or their"
                    " larger load must be added."),
                remedy=say("Add it to the new load, or tick that it ran."),
                rules=(rule,),
                entries=("season_covered",),
            )
        )  # fmt: skip
    results = {
        "connected_load": Result(demand + new, "VA", say("Connected load")),
        "calculated_load": Result(calculated, "VA", say("Calculated load")),
        **service.results,
    }
    flows = (
        Flow(
            "measured",
            say("Measured demand"),
            demand,
            demand * factor,
            say("{percent} %", percent=margin.value),
        ),
        Flow("new", say("New load"), new, new, say("whole")),
    )
    return Worked(
        "dwelling",
        edition.id,
        (Section("measured", say("By measured demand"), tuple(lines)), service.section),
        results,
        tuple(findings),
        (),
        {"shown": flows},
        service.answer,
        f"{service.amperes} A · {figure(service.device)} A",
    )
