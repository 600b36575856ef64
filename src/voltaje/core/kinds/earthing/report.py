"""The main earthing conductor and the main bonding on the worksheet."""

from __future__ import annotations

from voltaje.core.codes.vocabulary import Size
from voltaje.core.kinds.earthing.calculate import EarthingOutcome
from voltaje.core.kinds.earthing.entries import EarthingEntries, bare
from voltaje.core.report import (
    Findings,
    PulledConductor,
    Report,
    Result,
    Worksheet,
    figure,
    figure_beside,
    say,
)
from voltaje.core.rules.context import Context
from voltaje.core.rules.iec60364.protective_conductors import (
    bonding_rules,
    protective_rule,
    protective_shown,
)

LACKS = {
    "bare": say("buried, not protected against corrosion"),
    "struck": say("buried, not protected against blows"),
}


def report(outcome: EarthingOutcome, entries: EarthingEntries, context: Context) -> Report:
    """Both sizes, by which rule, and what the heat of a fault asks for."""
    edition, worksheet, bond, findings = context.edition, Worksheet(), Worksheet(), Findings()
    size, bonding = outcome.earthing, outcome.bonding
    rules = (protective_rule(_line(entries), edition), edition.rule("main_earthing"))
    note = LACKS.get(bare(entries))
    if outcome.least is not None:
        sign = "≤" if outcome.holds else ">"
        worksheet.step(
            "heat",
            say("By the heat of a fault"),
            outcome.least,
            "mm²",
            f"√({figure(outcome.current)}² × {figure(entries.clearing_time or 0.0, 3)}) ÷"
            f" {figure(outcome.k)} {sign} {size} mm²",
            edition.rule("adiabatic"),
            entries=("fault", "clearing_time"),
            flow="ground",
        )
    words = say("Main earthing conductor, copper")
    shown = protective_shown(_line(entries), edition)
    worksheet.result(
        "earthing",
        words,
        float(size),
        "mm²",
        shown,
        rules,
        note=note,
        entries=("line_conductor", "buried", "corrosion_protected", "mechanically_protected"),
    )
    words, shown = say("Main bonding, copper"), say("earthing {size} mm²", size=size)
    if outcome.combined and edition.has_table("bonding"):
        neutral = (
            entries.line_conductor if entries.supply_neutral == "auto" else entries.supply_neutral
        )
        shown = say("supply neutral {size} mm², combined with the earth", size=neutral)
    bond.result(
        "bonding",
        words,
        float(bonding),
        "mm²",
        shown,
        bonding_rules(outcome.combined, _neutral(entries), edition),
        entries=("supply_neutral", "earthing"),
    )
    if not outcome.holds:
        findings.fail(
            "heat",
            say(
                "The heat of a fault asks {least} mm²: more than the {size} mm² that is made.",
                least=figure_beside(outcome.least or 0.0, float(size), 0),
                size=size,
            ),
            mend=say("Two in parallel, or a device ahead that clears it sooner."),
            rules=edition.rule("adiabatic"),
            entries=("fault", "clearing_time"),
        )
    elif outcome.least is None:
        findings.remark(
            "heat",
            say("The heat of a fault is not judged: the tables hold for usual supplies."),
            mend=say("Enter the earth-fault current and the time of the supplier’s fuse."),
            rules=edition.rule("adiabatic"),
            entries=("fault", "clearing_time"),
        )
    if outcome.system == "TT":
        findings.check(
            "electrode",
            say("The electrode is the installation’s own: a residual-current device is wanted."),
            rules=edition.rule("tt"),
            entries="earthing",
        )
    results = {
        "earthing": Result(f"{size} mm² Cu", "", say("Main earthing conductor")),
        "bonding": Result(f"{bonding} mm² Cu", "", say("Main bonding")),
        "earthing_size": Result(float(size), "mm²", say("Main earthing conductor, area")),
        "bonding_size": Result(float(bonding), "mm²", say("Main bonding, area")),
    }
    return Report(
        "earthing",
        edition.id,
        (
            worksheet.section("earthing", say("Main earthing conductor")),
            bond.section("bonding", say("Main bonding")),
        ),
        results,
        tuple(findings),
        answer=("earthing", "bonding"),
        headline=f"{size} mm² · {bonding} mm²",
        wires=(PulledConductor("G", "green-yellow", f"{size} mm²"),),
    )


def _line(entries: EarthingEntries) -> Size:
    return Size(entries.line_conductor)


def _neutral(entries: EarthingEntries) -> Size:
    return Size(
        entries.line_conductor if entries.supply_neutral == "auto" else entries.supply_neutral
    )
