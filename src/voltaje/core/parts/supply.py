"""A supply: the utility's service point or a source, and what stands on it."""

from __future__ import annotations

from typing import Literal

from voltaje.core.electrical.systems import SYSTEMS, Demand, SupplyPoint
from voltaje.core.entries import Current, Entries, entry
from voltaje.core.parts.kind import Context, Kind
from voltaje.core.rules.overcurrent import rounding_note, whole_amperes
from voltaje.core.worksheet import Finding, Line, Result, Section, Worked, figure, fits, say

SystemId = Literal[
    "1ph-120/240", "1ph-120/208", "1ph-120", "3ph-208Y/120", "3ph-480Y/277", "3ph-600Y/347",
    "3ph-400Y/230", "3ph-240", "3ph-240/120",
]  # fmt: skip


class SupplyEntries(Entries):
    """System and, where there is one, the rating that the supply may not exceed."""

    system: SystemId = entry(
        "1ph-120/240",
        "System",
        choices={name: system.label for name, system in SYSTEMS.items()},
        group="supply",
    )
    rating: Current | None = entry(None, "Rating", help="if the utility sets one", group="supply")


def work(entries: SupplyEntries, context: Context) -> Worked:
    """The calculated load of all that stands on the supply, in VA and A, against its rating."""
    system = SYSTEMS[entries.system]
    below = context.below
    exact = system.line_current(below.calculated)
    amperes = max([exact, *below.lines])
    lines = [
        Line("connected_load", say("Connected below"), below.connected, "VA", kind="step"),
        Line("calculated_load", say("Calculated load below"), below.calculated, "VA", kind="sum"),
        Line(
            "amperes",
            say("Amperes at {volts} V", volts=system.line_to_line or system.to_neutral),
            amperes,
            "A",
            f"{figure(below.calculated)} ÷ {figure(below.calculated / exact)}" if exact else "",
            (context.edition.rule("rounding"),),
            rounding_note(amperes),
            kind="result",
        ),
    ]
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
    results = {
        "connected_load": Result(below.connected, "VA", say("Connected load")),
        "calculated_load": Result(below.calculated, "VA", say("Calculated load")),
        "amperes": Result(whole_amperes(amperes), "A", say("Amperes")),
    }
    return Worked(
        "supply",
        context.edition.id,
        (Section("supply", say("What stands on it"), tuple(lines)),),
        results,
        tuple(findings),
        answer=("amperes", "calculated_load"),
        headline=f"{figure(below.calculated / 1000, 1)} kVA · {whole_amperes(amperes)} A",
    )


KIND = Kind(
    "supply",
    "Supply",
    "Service point and system",
    SupplyEntries,
    work,
    lambda entries, worked: Demand(worked.value("connected_load"), worked.value("calculated_load")),
    lambda entries, above: SupplyPoint(SYSTEMS[entries.system]),
    {"supply": "The supply"},
    holds_parts=True,
)
