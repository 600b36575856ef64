"""An autotransformer on the worksheet."""

from __future__ import annotations

from itertools import pairwise
from math import sqrt

from voltaje.core.codes import practice
from voltaje.core.kinds.autotransformer.calculate import (
    AutotransformerOutcome,
    Hookup,
    Tapped,
    at_unit,
)
from voltaje.core.kinds.autotransformer.entries import AutotransformerEntries
from voltaje.core.kinds.autotransformer.faults import Faulted
from voltaje.core.report import (
    Findings,
    LineKind,
    Report,
    Result,
    Section,
    Text,
    Worksheet,
    figure,
    say,
    signed,
)
from voltaje.core.rules.common.loading import judge_loading
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.autotransformers import (
    device_result,
    report_device,
    report_isolation,
)

ANSWER = (
    "output",
    "fault_load",
    "output_power",
    "source_amperes",
    "fault_source",
    "load_amperes",
    "device",
)


def report(
    outcome: AutotransformerOutcome, entries: AutotransformerEntries, context: Context
) -> Report:
    """The sheet of an autotransformer."""
    edition, findings = context.edition, Findings()
    results: dict[str, Result] = {
        "source_voltage": Result(entries.source_voltage or 0.0, "V", say("Source"))
    }
    sections: list[Section] = []
    headline = say("no way fits")
    if outcome.tapped is not None:
        sections.append(_tapped(outcome.tapped, entries))
        results |= _of_tapped(outcome.tapped)
        headline = say("{volts} V out", volts=figure(outcome.tapped.out, 1))
    elif outcome.chosen is not None:
        sections.append(_chosen(outcome.chosen, outcome, entries))
        results |= _of_way(outcome.chosen, outcome)
        _judge(outcome.chosen, findings)
        headline = say(
            "{volts} V · {kva} kVA",
            volts=figure(outcome.chosen.out, 1),
            kva=figure(outcome.chosen.delivers / 1000),
        )
    else:
        findings.fail(
            "none",
            say("In every way its windings would stand above their volts."),
            mend=say("Take a unit of more volts."),
            entries="source_voltage",
        )
    if entries.phases != "1":
        sections.append(_both(outcome, entries))
    if outcome.faulted is not None:
        sections.append(_fault(outcome.faulted, outcome, entries, findings, results))
    if outcome.device is not None:
        results |= device_result(outcome.device)
        sections.append(report_device(outcome.device, edition))
    elif outcome.amperes is not None and not edition.has_limit("autotransformer_volts"):
        findings.remark(
            "no_device",
            say(
                "The device ahead is not sized: {code} has no rule for it here.", code=edition.title
            ),
        )
    elif outcome.amperes is not None:
        findings.check(
            "no_device",
            say("The device ahead is not sized here: the rule and the standard sizes end below."),
            rules=(edition.limit("autotransformer_volts").rule,),
        )
    if outcome.ways:
        sections.append(_ways(outcome, entries))
    report_isolation(findings, edition)
    return Report(
        "autotransformer",
        edition.id,
        tuple(sections),
        results,
        tuple(findings),
        answer=tuple(name for name in ANSWER if name in results) or ("source_voltage",),
        headline=str(headline),
    )


def _of_way(way: Hookup, outcome: AutotransformerOutcome) -> dict[str, Result]:
    stacked = way.stacked
    return {
        "output": Result(way.out, "V", say("Output")),
        "output_power": Result(way.delivers / 1000, "kVA", say("Delivers")),
        "two_winding_kva": Result(outcome.units * stacked.unit.va / 1000, "kVA", say("Made of")),
        "source_amperes": Result(way.source, "A", say("From the source")),
        "load_amperes": Result(way.load, "A", say("To the load")),
        "series_amperes": Result(way.in_series, "A", say("In the series winding")),
        "common_amperes": Result(way.in_common, "A", say("In the common winding")),
        "common": Result(stacked.common, "V", say("Common winding")),
        "series": Result(stacked.series, "V", say("Series winding")),
        "aiding": Result("yes" if stacked.aiding else "no", "", say("Aiding")),
        "direction": Result(stacked.way, "", say("Way")),
    }


def _of_tapped(found: Tapped) -> dict[str, Result]:
    results = {
        "output": Result(found.out, "V", say("Output")),
        "each": Result(found.each, "V", say("Each turn")),
        "points": Result(", ".join(f"{p:g}" for p in found.points), "", say("Points")),
        "source_on": Result(", ".join(f"{p:g}" for p in found.source_on), "", say("Source on")),
        "load_on": Result(", ".join(f"{p:g}" for p in found.load_on), "", say("Load on")),
    }
    if found.source is not None and found.load is not None:
        results["source_amperes"] = Result(found.source, "A", say("From the source"))
        results["load_amperes"] = Result(found.load, "A", say("To the load"))
    return results


def _both(outcome: AutotransformerOutcome, entries: AutotransformerEntries) -> Section:
    """Lines and one unit side by side."""
    worksheet, way, tapped = Worksheet(), outcome.chosen, outcome.tapped
    out = way.out if way else tapped.out if tapped else 0.0
    by = " ÷ 1.732" if entries.phases == "wye" else ""
    rows = ((say("Source"), entries.source_voltage or 0.0), (say("Load"), out))
    for name, volts in rows:
        shown = f"{figure(volts, 1)} V{by}"
        words = say("{side}: {volts} V line to line, each unit", side=name, volts=figure(volts, 1))
        worksheet.step("unit_volts", words, at_unit(entries, volts), "V", shown)
    if way is not None:
        asked = entries.load_va(way.out)
        va = way.delivers if asked is None else asked
        words = say("Line amperes, and in each unit’s leads")
        shown = str(say("to the load {amperes} A", amperes=figure(way.load)))
        worksheet.step("unit_source", words, way.source, "A", shown)
        if entries.phases == "wye":
            note = say("a third of the bank’s")
            worksheet.step("unit_va", say("Each unit passes"), va / 3 / 1000, "kVA", note=note)
        else:
            note = say("of two units 86.6 %: each carries the line’s amperes at the line’s volts")
            passed = va / 1000 / sqrt(3)
            worksheet.step("unit_va", say("Each unit passes"), passed, "kVA", note=note)
    return worksheet.section("both", say("Line and unit side by side"))


SEEN = {
    "series shorted": say(
        "Series winding shorted: the source’s volts stand on the load, and the shorted turns draw"
        " through the common winding."
    ),
    "series open": say("Series winding open: the load gets nothing, or next to nothing."),
    "common shorted": say("Common winding shorted: the source is shorted through what is left."),
    "common open": say(
        "Common winding open: the source’s volts reach the load through the series winding, which"
        " then is a choke."
    ),
    "load shorted": say("Load shorted: more flows than an isolating unit of that size would pass."),
    "load earthed": say(
        "Load’s line to earth: with the conductor that goes through earthed, it is a short of the"
        " load; nothing isolates the two sides."
    ),
    "source earthed": say(
        "Source’s line to earth: a short ahead of the windings, and the load loses its volts."
    ),
}
OPENS = {
    "holds": say("The device ahead does not open."),
    "late": say("The device ahead opens late: until then it goes on."),
    "opens": say("The device ahead opens at once."),
    "unknown": say("No device is sized here that could be told to open."),
}


def _fault(
    found: Faulted,
    outcome: AutotransformerOutcome,
    entries: AutotransformerEntries,
    findings: Findings,
    results: dict[str, Result],
) -> Section:
    """What the fault does to one unit."""
    worksheet, rule = Worksheet("fault"), practice().rule("unit_impedance")
    shown = str(say("before {volts} V", volts=figure(found.healthy, 1)))
    worksheet.result(
        "fault_load", say("Volts at the load"), found.load, "V", shown, entries="fault"
    )
    worksheet.step("fault_source", say("From the source"), found.source, "A", "", rule)
    for name, amperes, times in (
        (say("In the series winding"), found.series, found.series_times),
        (say("In the common winding"), found.common, found.common_times),
    ):
        note = say("{times} times its rated", times=figure(times, 1))
        worksheet.step("fault_winding", name, amperes, "A", note=note)
    if found.isolating is not None:
        words = say("An isolating unit of that size would pass")
        worksheet.note("isolating_short", words, found.isolating, "A", rules=rule)
    device = outcome.device.size if outcome.device else None
    if device is not None:
        shown = f"{figure(found.source)} A ÷ {figure(device)} A"
        words = say("Of the device’s rating")
        worksheet.step("fault_device", words, found.source / device, "×", shown)
    results["fault"] = Result(found.fault, "", say("Fault"))
    results["fault_load"] = Result(found.load, "V", say("At the load, with the fault"))
    results["fault_source"] = Result(found.source, "A", say("From the source, with it"))
    results["device_response"] = Result(found.opens, "", say("The device ahead"))
    findings.fail("fault", SEEN[found.fault], mend=OPENS[found.opens], entries="fault")
    return worksheet.section("fault", say("With the fault, one unit"))


def _named(way: Hookup) -> Text:
    stacked = way.stacked
    given = {"common": stacked.common, "series": stacked.series}
    if stacked.aiding and stacked.way == "up":
        return say("{common} V common, {series} V in series and aiding, up", **given)
    if stacked.aiding:
        return say("{common} V common, {series} V in series and aiding, down", **given)
    if stacked.way == "up":
        return say("{common} V common, {series} V in series and opposing, up", **given)
    return say("{common} V common, {series} V in series and opposing, down", **given)


def _chosen(
    way: Hookup, outcome: AutotransformerOutcome, entries: AutotransformerEntries
) -> Section:
    worksheet, stacked = Worksheet("windings"), way.stacked
    sign = "+" if stacked.aiding else "−"
    sum_ = f"({figure(stacked.common)} {sign} {figure(stacked.series)})"
    up = f"{sum_} ÷ {figure(stacked.common)}"
    down = f"{figure(stacked.common)} ÷ {sum_}"
    shown = f"{figure(entries.source_voltage)} V × "
    shown += up if (stacked.way == "up") == stacked.aiding else down
    worksheet.result(
        "output", say("Output"), way.out, "V", shown, entries=("source_voltage", "required_voltage")
    )
    if way.error is not None:
        shown = f"{figure(way.out, 1)} ÷ {figure(entries.required_voltage)} − 1"
        worksheet.step(
            "deviation",
            say("Off the volts wanted"),
            way.error,
            "%",
            shown,
            entries="required_voltage",
        )
    words = say("Its windings, of their rated volts")
    worksheet.step(
        "flux", words, way.flux, "%", "", practice().rule("overflux"), entries="source_voltage"
    )
    words = say("The series winding carries, at most")
    shown = f"{figure(stacked.unit.va)} VA ÷ {figure(stacked.series)} V"
    worksheet.step("series_rated", words, stacked.series_amperes, "A", shown, entries="kva")
    made = outcome.units * stacked.unit.va / 1000
    worksheet.note("two_winding_kva", say("Made of, as two windings"), made, "kVA", entries="kva")
    high, low = (
        max(way.out, entries.source_voltage or 0.0),
        min(way.out, entries.source_voltage or 0.0),
    )
    note = None
    if outcome.units != 2 and high > low:
        note = say(
            "as {made} kVA × {high} ÷ ({high} − {low})",
            made=figure(made),
            high=figure(high, 1),
            low=figure(low, 1),
        )
    worksheet.sum("output_power", say("Delivers"), way.delivers / 1000, "kVA", "", note=note)
    worksheet.step("source", say("From the source"), way.source, "A", entries="load")
    worksheet.step("load", say("To the load"), way.load, "A", entries="load")
    worksheet.step("in_series", say("In the series winding"), way.in_series, "A")
    shown = f"| {figure(way.source)} − {figure(way.load)} |"
    worksheet.step("in_common", say("In the common winding"), way.in_common, "A", shown)
    return worksheet.section("chosen", _named(way))


def _judge(way: Hookup, findings: Findings) -> None:
    if way.loaded is None:
        return
    judge_loading(findings, way.loaded, "loaded", mend=say("A larger unit, or less load."))


def _ways(outcome: AutotransformerOutcome, entries: AutotransformerEntries) -> Section:
    worksheet = Worksheet()
    for index, way in enumerate(outcome.ways):
        kind: LineKind = "sum" if way is outcome.chosen else "step"
        shown = say(
            "delivers {kva} kVA at {fed} V in",
            kva=figure(way.delivers / 1000),
            fed=entries.source_voltage,
        )
        worksheet.step(
            f"way_{index}", _named(way), way.out, "V", shown, note=_verdict(way), kind=kind
        )
    return worksheet.section("ways", say("Every way to put them in series"))


def _verdict(way: Hookup) -> Text:
    if not way.fits:
        over = figure(way.flux - 100, 0)
        return say("its windings would stand {percent} % above their volts", percent=over)
    if way.error is None:
        return say("its windings at {percent} % of their volts", percent=figure(way.flux, 0))
    off = signed(way.error)
    return say("{percent} % off the volts wanted", percent=off)


def _tapped(found: Tapped, entries: AutotransformerEntries) -> Section:
    worksheet = Worksheet("windings")
    one, other = sorted(found.source_on)
    shown = f"{figure(entries.source_voltage)} V ÷ ({figure(other)} − {figure(one)})"
    worksheet.step(
        "each", say("Each turn"), found.each, "V", shown, entries=("source_on", "source_voltage")
    )
    if found.found is not None:
        shown = f"{figure(one)} + {figure(entries.required_voltage)} V ÷ {figure(found.each, 4)} V"
        words = say("The tap for the volts wanted, in turns")
        worksheet.result("tap", words, found.found, "", shown, entries="required_voltage")
    one, other = sorted(found.load_on)
    shown = f"({figure(other)} − {figure(one)}) × {figure(found.each, 4)} V"
    worksheet.result(
        "output", say("Output"), found.out, "V", shown, entries=("load_on", "required_voltage")
    )
    low = found.points[0]
    for point in found.points[1:]:
        words = say("From {low} to {point}", low=low, point=point)
        worksheet.note("between", words, (point - low) * found.each, "V")
    if found.source is not None and found.load is not None:
        worksheet.step("source", say("From the source"), found.source, "A", entries="load")
        worksheet.step("load", say("To the load"), found.load, "A", entries="load")
        for (low, high), amperes in zip(pairwise(found.points), found.pieces, strict=True):
            words = say("In the winding from {low} to {high}", low=low, high=high)
            worksheet.step("piece", words, amperes, "A")
    return worksheet.section("tapped", say("The winding and its taps"))
