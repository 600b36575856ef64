"""A supply: the utility's service point or a source, and what stands on it."""

from __future__ import annotations

from typing import Annotated, Literal

from voltaje.core import units
from voltaje.core.electrical.systems import SYSTEMS, Demand, SupplyPoint
from voltaje.core.entries import Current, Entries, Name, Reads, Voltage, entry
from voltaje.core.parts.kind import Context, Kind
from voltaje.core.rules.feeder_demand import calculate
from voltaje.core.rules.overcurrent import rounding_note, whole_amperes
from voltaje.core.worksheet import Finding, Line, Result, Section, Worked, figure, fits, say

SystemId = Literal[
    "1ph-120/240", "1ph-120/208", "1ph-120", "3ph-208Y/120", "3ph-480Y/277", "3ph-600Y/347",
    "3ph-400Y/230", "3ph-240", "3ph-240/120",
]  # fmt: skip
Fault = Annotated[float, Reads(units.CURRENT, 100.0, 300_000.0)]
# Common practice: the supply tolerance at which a word is due.
VOLTS_OFF = 0.05


class SupplyEntries(Entries):
    """System, its volts and colors and, where there is one, the rating that it may not exceed."""

    system: SystemId = entry(
        "1ph-120/240",
        "System",
        choices={name: system.label for name, system in SYSTEMS.items()},
        group="supply",
    )
    volts: Voltage | None = entry(
        None, "Measured volts", help="line to line, if measured", group="supply", example="236 V"
    )
    frequency: Literal["60", "50"] = entry(
        "60", "Frequency", choices={"60": "60 Hz", "50": "50 Hz"}, group="supply"
    )
    rating: Current | None = entry(None, "Rating", help="if the utility sets one", group="supply")
    fault: Fault | None = entry(
        None, "Available fault current", help="from the utility", group="supply", example="22 kA"
    )
    marking: Literal["usual", "own"] = entry(
        "usual", "Identification", group="marking",
        choices={"usual": "the usual colors", "own": "own marking"},
    )  # fmt: skip
    mark_l1: Name = entry("", "L1", group="marking", when=("marking", ("own",)), example="black")
    mark_l2: Name = entry("", "L2", group="marking", when=("marking", ("own",)), example="red")
    mark_l3: Name = entry("", "L3", group="marking", when=("marking", ("own",)), example="blue")
    mark_n: Name = entry("", "Neutral", group="marking", when=("marking", ("own",)),
                         example="white")  # fmt: skip


def point(entries: SupplyEntries, above: SupplyPoint) -> SupplyPoint:
    """What hangs on the supply stands on this."""
    marking: tuple[str, ...] = ()
    if entries.marking == "own":
        marking = (entries.mark_l1, entries.mark_l2, entries.mark_l3, entries.mark_n)
    return SupplyPoint(
        SYSTEMS[entries.system], entries.volts or 0.0, float(entries.frequency),
        entries.fault or 0.0, marking,
    )  # fmt: skip


def work(entries: SupplyEntries, context: Context) -> Worked:
    """The calculated load of all that stands on the supply, in VA and A, against its rating."""
    system, edition = SYSTEMS[entries.system], context.edition
    below = context.below
    found = calculate(below.pieces, edition) if below.pieces else None
    load = found.load if found else 0.0
    exact = system.line_current(load)
    amperes = max([exact, *below.lines])
    lines = [
        Line("connected_load", say("Connected below"), below.connected, "VA", kind="step"),
        *(found.lines if found and len(below.pieces) > 1 else ()),
    ]
    if not found or len(below.pieces) == 1:
        lines.append(
            Line("calculated_load", say("Calculated load below"), load, "VA", kind="sum")
        )  # fmt: skip
    lines.append(
        Line(
            "amperes",
            say("Amperes at {volts} V", volts=system.line_to_line or system.to_neutral),
            amperes,
            "A",
            f"{figure(load)} ÷ {figure(load / exact)}" if exact else "",
            (edition.rule("rounding"),),
            rounding_note(amperes),
            kind="result",
        )
    )
    findings = []
    if entries.rating is not None:
        holds = fits(whole_amperes(amperes), entries.rating)
        spare = abs(entries.rating - whole_amperes(amperes))
        findings.append(
            Finding(
                "holds" if holds else "fails",
                "rating",
                say("{spare} A to spare on {rating} A.", spare=spare, rating=entries.rating)
                if holds
                else say("{spare} A over the supply's {rating} A.", spare=spare,
                         rating=entries.rating),
                f"{figure(spare)} A",
                None if holds else say("Ask for a larger supply or shed load."),
                entries=("rating",),
            )
        )  # fmt: skip
    nominal = system.line_to_line or system.to_neutral
    if entries.volts is not None and abs(entries.volts / nominal - 1) > VOLTS_OFF:
        findings.append(
            Finding("look", "volts",
                    say("{volts} V measured is {percent} % off the nominal {nominal} V.",
                        volts=entries.volts, nominal=nominal,
                        percent=figure(100 * (entries.volts / nominal - 1), 1)), "",
                    say("Ask the utility, or change the transformer’s taps."), entries=("volts",))
        )  # fmt: skip
    if system.high_leg:
        findings.append(
            Finding("remark", "high_leg",
                    say("{line} is the high leg: about 208 V to neutral; nothing to neutral on it.",
                        line=system.high_leg), "", say("Mark it orange."),
                    (edition.rule("high_leg"),), ("system",))
        )  # fmt: skip
    marks = point(entries, context.supply)
    colors = tuple(
        Line(f"color_{name.lower()}", say("{line}: {color}", line=name, color=marks.color(name)),
             rules=(edition.rule("marking"),), kind="note", entries=("marking",))
        for name in (*system.lines, *(("N",) if system.has_neutral else ()))
    )  # fmt: skip
    results = {
        "connected_load": Result(below.connected, "VA", say("Connected load")),
        "calculated_load": Result(load, "VA", say("Calculated load")),
        "amperes": Result(whole_amperes(amperes), "A", say("Amperes")),
        "amperes_exact": Result(amperes, "A", say("Amperes, not rounded")),
    }
    return Worked(
        "supply",
        edition.id,
        (
            Section("supply", say("What stands on it"), tuple(lines)),
            Section("marking", say("Identification"), colors),
        ),
        results,
        tuple(findings),
        answer=("amperes", "calculated_load"),
        headline=f"{figure(load / 1000, 1)} kVA · {whole_amperes(amperes)} A",
    )


def hand_up(entries: SupplyEntries, worked: Worked, context: Context) -> Demand:
    """All that stands on it."""
    return context.below


KIND = Kind(
    "supply",
    "Supply",
    "Service point and system",
    SupplyEntries,
    work,
    hand_up,
    point,
    {"supply": "The supply", "marking": "Identification of conductors"},
    holds_parts=True,
    fault_out=lambda entries, worked, context: entries.fault or 0.0,
)
