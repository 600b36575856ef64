"""A dwelling by section 8 on the worksheet."""

from __future__ import annotations

from collections.abc import Iterator

from voltaje.core.codes import Edition
from voltaje.core.codes.vocabulary import Metal
from voltaje.core.electrical.systems import System
from voltaje.core.kinds.dwelling.alternatives import alternatives
from voltaje.core.kinds.dwelling.cec.calculate import (
    Air,
    CecOutcome,
    DwellingLoads,
    One,
    Several,
    installation_of,
)
from voltaje.core.kinds.dwelling.cec.entries import CecDwelling
from voltaje.core.report import (
    Alternative,
    AxisMark,
    Findings,
    Flow,
    Report,
    Result,
    Section,
    Text,
    Worksheet,
    conductor_figures,
    figure,
    fits,
    say,
)
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.conductors import carried_shown
from voltaje.core.rules.north_america.overcurrent import next_standard_device
from voltaje.core.rules.north_america.wiring import (
    METALS,
    SizeAmpacity,
    adjustment_factor,
    ambient_factor,
    options,
)

ANSWER = (
    "service_device",
    "service_conductor_copper",
    "service_conductor_aluminum",
    "grounding_conductor",
)
THERE = ("amperes", "existing_service", "spare_amperes")
WRITTEN_OUT = 6  # no code figure: beyond it a sum is named by its number


def report(outcome: CecOutcome, entries: CecDwelling, context: Context) -> Report:
    """A dwelling's worksheet."""
    edition, system = context.edition, context.supply.system
    worksheet, findings = Worksheet(), Findings()
    flows: list[Flow] = []
    if outcome.house is not None:
        _house(outcome.house, entries, edition, worksheet, flows)
        _look(outcome.house, entries, edition, findings)
    if outcome.several is not None:
        _several(outcome.several, edition, worksheet, flows)
        _one_only(outcome.several.air, "noncoincident_units", edition, findings)
    _total(outcome, edition, worksheet, flows)
    service = _service(outcome, entries, system, edition, findings)
    found = {
        "connected_load": Result(outcome.connected, "VA", say("Connected load")),
        "calculated_load": Result(outcome.calculated, "VA", say("Calculated load")),
        "amperes": Result(outcome.exact, "A", say("Amperes")),
    }
    found |= _results(outcome, edition)
    device = outcome.there or outcome.device.value
    return Report(
        "dwelling",
        edition.id,
        (worksheet.section("load", say("Calculated load")), service),
        found,
        tuple(findings),
        flows={"shown": tuple(flows)},
        answer=THERE if outcome.there else ANSWER,
        headline=f"{figure(outcome.exact)} A · {figure(device)} A",
        alternatives=()
        if outcome.there
        else tuple(_alternatives(outcome, entries, system, edition)),
        marks=() if outcome.there else _marks(outcome, entries, system, edition),
    )


def _sum(loads: tuple[One, ...]) -> str:
    if len(loads) > WRITTEN_OUT:
        return str(say("sum of {count}", count=len(loads)))
    return " + ".join(
        f"{one.count} × {figure(one.va)}" if one.count > 1 else figure(one.va) for one in loads
    )


def _house(
    found: DwellingLoads,
    entries: CecDwelling,
    edition: Edition,
    worksheet: Worksheet,
    flows: list[Flow],
) -> None:
    _basic(found, entries, edition, worksheet, flows)
    _air(found.air, edition, worksheet, flows, "noncoincident_climate", _air_paths(entries))
    if found.range is not None:
        _range(found.range, found.range_counted, edition, worksheet, flows)
    if found.whole:
        total = sum(one.total for one in found.whole)
        charged = any(one.what == "vehicle" for one in found.whole)
        water = any(one.what != "vehicle" for one in found.whole)
        rules = (
            edition.rule("dwelling_water") if water else None,
            edition.rule("dwelling_vehicle") if charged else None,
        )
        worksheet.step(
            "whole",
            say("Tankless, steam, pool, spa and vehicles, whole"),
            total,
            "VA",
            _sum(found.whole),
            rules,
            entries=[one.path for one in found.whole],
            flow="whole",
        )
        flows.append(Flow("whole", say("Counted whole"), total, total, say("whole")))
    _others(found, edition, worksheet, flows)
    for one in found.managed:
        worksheet.note(
            "managed",
            say("{name}: held back by energy management", name=one.name),
            -one.total,
            "VA",
            rules=edition.rule("managed"),
            entries=one.path,
        )


def _range(
    one: One, counted: float, edition: Edition, worksheet: Worksheet, flows: list[Flow]
) -> None:
    mark, base = edition.limit("range_mark"), edition.limit("range_base")
    share, rules = edition.limit("range_share"), [base.rule, mark.rule]
    shown = figure(base.value)
    if one.va > mark.value:
        shown += f" + ({figure(one.va)} − {figure(mark.value)}) × {figure(share.value / 100, 4)}"
        rules.append(share.rule)
    words = say("One range: {name}", name=one.name)
    worksheet.step("cooking", words, counted, "VA", shown, rules, entries=one.path, flow="cooking")
    why = say("{base} W", base=base.value)
    if one.va > mark.value:
        why = say("{base} W + {share} %", base=base.value, share=share.value)
    flows.append(Flow("cooking", say("Range"), one.va, counted, why))


def _basic(
    found: DwellingLoads,
    entries: CecDwelling,
    edition: Edition,
    worksheet: Worksheet,
    flows: list[Flow],
) -> None:
    area, unit = found.basic, entries.subject == "unit"
    if area.basement:
        share = edition.limit("basement_share")
        worksheet.step(
            "living_area",
            say("Living area"),
            area.counted,
            "m²",
            f"{figure(area.above)} + {figure(area.basement)} × {figure(share.value / 100, 4)}",
            share.rule,
            entries=("area", "basement"),
        )
    topics = (
        ["unit_area_first", "unit_first_watts", "unit_second_watts"]
        if unit
        else ["area_first", "area_first_watts"]
    )
    if unit and len(area.steps) == 1:
        topics.remove("unit_second_watts")
    if len(area.steps) > (2 if unit else 1) or (not unit and len(area.steps) > 1):
        topics += ["area_step", "area_step_watts"]
    shown = " + ".join(
        f"{count} × {figure(each)}" if count > 1 else figure(each) for each, count in area.steps
    )
    worksheet.step(
        "basic",
        say("Basic load for {area} m²", area=area.counted),
        area.load,
        "VA",
        shown,
        [edition.limit(topic).rule for topic in topics],
        entries=("area", "basement"),
        flow="basic",
    )
    flows.append(Flow("basic", say("Basic load"), area.load, area.load, say("by area")))


def _air_paths(entries: CecDwelling) -> tuple[str, ...]:
    return tuple(f"climate.{row.id}.nameplate" for row in entries.climate)


def _air(
    air: Air,
    edition: Edition,
    worksheet: Worksheet,
    flows: list[Flow],
    choice: str,
    paths: tuple[str, ...],
) -> None:
    """Heating, cooling, and which of them counts."""
    if not air.connected:
        return
    first, rest = edition.limit("heat_first"), edition.limit("heat_rest")
    if air.rooms:
        shown = figure(air.rooms)
        if air.rooms > first.value:
            shown = (
                f"{figure(first.value)} + {figure(air.rooms - first.value)}"
                f" × {figure(rest.value / 100, 4)}"
            )
        words = say("Heating, room by room")
        rules = (first.rule, rest.rule)
        worksheet.step("heating", words, air.rooms_counted, "VA", shown, rules, entries=paths)
    if air.whole:
        words = say("Furnaces, heat pumps, blowers and storage, whole")
        rule = edition.rule("dwelling_heating")
        worksheet.step("heating_whole", words, air.whole, "VA", rules=rule, entries=paths)
    rule = edition.rule("dwelling_heating")
    if air.cooling:
        worksheet.step("cooling", say("Cooling"), air.cooling, "VA", rules=rule, entries=paths)
    if air.larger:
        words = say("The larger of heating and cooling")
        cooling = air.cooling + air.both
        text: Text | str = say("{heating} or {cooling}", heating=air.heating, cooling=cooling)
    else:
        words = say("Heating and cooling")
        text = f"{figure(air.heating)} + {figure(air.cooling)}"
    cited = (edition.rule("noncoincident") if air.larger else None, rule)
    paths = (*paths, choice)
    worksheet.sum("climate", words, air.load, "VA", text, cited, entries=paths, flow="climate")
    why = say("the larger") if air.larger else say("both")
    flows.append(Flow("climate", say("Heating and cooling"), air.connected, air.load, why))


def _others(
    found: DwellingLoads, edition: Edition, worksheet: Worksheet, flows: list[Flow]
) -> None:
    if not found.others:
        return
    total = sum(one.total for one in found.others)
    share, mark = edition.limit("other_share"), edition.limit("other_over")
    factor, rules = figure(share.value / 100, 4), [share.rule, mark.rule]
    if found.range is not None:
        words = say("Other loads above {mark} W, beside a range", mark=mark.value)
        shown = f"({_sum(found.others)}) × {factor}"
    else:
        first = edition.limit("other_whole")
        rules.append(first.rule)
        words = say("Other loads above {mark} W, without a range", mark=mark.value)
        shown = _sum(found.others)
        if total > first.value:
            shown = f"{figure(first.value)} + {figure(total - first.value)} × {factor}"
    worksheet.step(
        "others",
        words,
        found.others_counted,
        "VA",
        shown,
        rules,
        entries=[one.path for one in found.others],
        flow="others",
    )
    why = say("{share} %", share=share.value)
    flows.append(Flow("others", say("Other loads"), total, found.others_counted, why))


def _look(found: DwellingLoads, entries: CecDwelling, edition: Edition, findings: Findings) -> None:
    _one_only(found.air, "noncoincident_climate", edition, findings)
    if found.small:
        names = ", ".join(dict.fromkeys(one.name for one in found.small[:4]))
        findings.remark(
            "small_loads",
            say(
                "Not above {mark} W, so not counted: {names}.",
                mark=edition.value("other_over"),
                names=names,
            ),
            rules=edition.limit("other_over").rule,
            entries=[one.path for one in found.small],
        )
    more = [one for one in found.others if one.path.startswith("cooking.")]
    if found.range is not None and more:
        findings.remark(
            "one_range",
            say("The rule speaks of one range: other cooking counts as other load."),
            rules=edition.rule("dwelling_range"),
            entries=[one.path for one in more],
        )
    if found.managed:
        findings.check(
            "managed",
            say("Managed charging is left out: the system must hold the service to its rating."),
            mend=say("Let the maker’s papers and the authority confirm it."),
            rules=edition.rule("managed"),
            entries=[one.path for one in found.managed],
        )


def _one_only(air: Air, choice: str, edition: Edition, findings: Findings) -> None:
    if air.larger or not (air.heating and air.cooling):
        return
    findings.check(
        "climate_both",
        say("Heating and cooling both count."),
        f"{figure(min(air.heating, air.cooling))} VA",
        mend=say("Say so if they are interlocked or never run together: the larger counts then."),
        rules=edition.rule("noncoincident"),
        entries=choice,
    )


def _several(found: Several, edition: Edition, worksheet: Worksheet, flows: list[Flow]) -> None:
    counted = 0.0
    for place, (percent, units, va, most) in enumerate(found.steps):
        words = say("Further units, {count} at {percent} %", count=units, percent=percent.value)
        if most:
            words = say(
                "Further units, {count} of at most {most} at {percent} %",
                count=units,
                most=most.value,
                percent=percent.value,
            )
        if not place:
            words = say("The unit with the heaviest load, at {percent} %", percent=percent.value)
        value = va * percent.value / 100
        counted += value
        shown = f"{figure(va)} × {figure(percent.value / 100, 4)}"
        rules = (percent.rule, most.rule if most else edition.rule("unit_demand", percent.rule.row))
        worksheet.step(f"units_{place + 1}", words, value, "VA", shown, rules, entries="units")
    flows.append(Flow("units", say("Units"), found.loads, counted, say("by their number")))
    paths = ("units_heating", "units_cooling")
    _air(found.air, edition, worksheet, flows, "noncoincident_units", paths)
    if found.vehicles:
        words, rule = say("Vehicle charging outside the units"), edition.rule("dwelling_vehicle")
        va = found.vehicles
        worksheet.step("vehicles", words, va, "VA", rules=rule, entries="units_vehicles")
        flows.append(
            Flow("vehicles", say("Vehicles"), found.vehicles, found.vehicles, say("whole"))
        )
    if found.common:
        share = edition.limit("common_share")
        shown = f"{figure(found.common)} × {figure(share.value / 100, 4)}"
        words = say("Other load outside the units")
        value = found.common_counted
        worksheet.step("common", words, value, "VA", shown, share.rule, entries="units_common")
        why = say("{share} %", share=share.value)
        flows.append(Flow("common", say("Outside the units"), found.common, value, why))


def _total(outcome: CecOutcome, edition: Edition, worksheet: Worksheet, flows: list[Flow]) -> None:
    words, least = say("Calculated load"), outcome.least
    shown = " + ".join(figure(flow.calculated) for flow in flows)
    if least is None or fits(least.value, outcome.before):
        worksheet.result(
            "calculated_load",
            words,
            outcome.calculated,
            "VA",
            shown,
            edition.rule("unit_demand" if outcome.several else "dwelling"),
        )
        return
    worksheet.sum("before", say("Together"), outcome.before, "VA", shown, edition.rule("dwelling"))
    mark = edition.limit("dwelling_large")
    asked = say("{load} → {least} at least", load=outcome.before, least=least.value)
    worksheet.result(
        "calculated_load", words, outcome.calculated, "VA", asked, (least.rule, mark.rule)
    )
    more = outcome.calculated - outcome.before
    flows.append(Flow("least", say("To the least"), 0.0, more, say("at least")))


def _service(
    outcome: CecOutcome,
    entries: CecDwelling,
    system: System,
    edition: Edition,
    findings: Findings,
) -> Section:
    worksheet = Worksheet()
    volts = (
        f"(1.732 × {figure(system.line_to_line)})"
        if system.phases == 3
        else figure(system.line_to_line)
    )
    worksheet.step(
        "amperes",
        say("÷ {volts} V", volts=system.line_to_line),
        outcome.exact,
        "A",
        f"{figure(outcome.calculated)} ÷ {volts}",
        note=say("not taken as continuous"),
        rules=edition.rule("dwelling"),
    )
    if outcome.there:
        return _against(outcome, edition, worksheet, findings)
    least, device = outcome.least_device, outcome.device
    below = least is not None and not fits(least.value, outcome.exact)
    shown = say("{amperes} A → {device} A", amperes=outcome.exact, device=device.value)
    rules = [device.rule]
    if least is not None and below:
        shown = say("{amperes} A → {least} A at least", amperes=outcome.exact, least=least.value)
    if least is not None:
        rules.append(least.rule)
    words = say("Service device, next standard size")
    worksheet.result("service_device", words, device.value, "A", shown, rules)
    findings.passes(
        "service_device",
        say(
            "{spare} A to spare on the {device} A device.",
            spare=device.value - outcome.exact,
            device=device.value,
        ),
        f"{figure(device.value - outcome.exact)} A",
    )
    _conditions(entries, outcome, system, edition, worksheet)
    installation = installation_of(entries, system)
    for metal in METALS:
        line = outcome.lines[metal]
        carried = carried_shown(line, installation, outcome.column, edition)
        worksheet.step(
            f"service_conductor_{metal}",
            say("Conductors: {size}", size=str(line)),
            line.ampacity,
            "A",
            f"{figure(line.needed)} ≤ {carried} A",
            (*line.rules, edition.rule("terminations"), edition.rule("next_size_up")),
            note=say("terminals at {column} °C; the neutral as large", column=outcome.column),
            entries=("conductor_type", "terminals"),
        )
    ground = edition.limit("grounding_conductor")
    worksheet.step(
        "grounding_conductor",
        say("Grounding conductor: {size} AWG Cu at least", size=figure(ground.value)),
        rules=ground.rule,
    )
    return worksheet.section("service", say("Service"))


def _conditions(
    entries: CecDwelling,
    outcome: CecOutcome,
    system: System,
    edition: Edition,
    worksheet: Worksheet,
) -> None:
    installation = installation_of(entries, system)
    column = installation.own_column(edition)
    ambient, rule = ambient_factor(column, installation.ambient_c, edition)
    if ambient != 1:
        words = say(
            "At {degrees} °C ambient, {column} °C insulation: × {factor}",
            degrees=installation.ambient_c,
            column=column,
            factor=figure(ambient),
        )
        worksheet.note("ambient", words, rules=rule, entries=("ambient", "conductor_type"))
    adjustment, rule = adjustment_factor(installation.counted, edition)
    if adjustment != 1:
        words = say(
            "{count} current-carrying conductors together: × {factor}",
            count=installation.counted,
            factor=figure(adjustment),
        )
        worksheet.note("adjustment", words, rules=rule, entries="others")


def _against(
    outcome: CecOutcome, edition: Edition, worksheet: Worksheet, findings: Findings
) -> Section:
    """A service that is there: the verdict on it."""
    rating, path = outcome.there, "existing"
    holds = fits(outcome.exact, rating)
    sign, over = ("≤" if holds else ">"), outcome.exact - rating
    shown = f"{figure(outcome.exact)} A {sign} {figure(rating)} A"
    worksheet.result("existing_service", say("Existing service"), rating, "A", shown, entries=path)
    if holds:
        words = say("{spare} A to spare on the existing {rating} A.", spare=-over, rating=rating)
        findings.passes("existing_service", words, f"{figure(-over)} A", entries=path)
    else:
        larger = next_standard_device(outcome.exact, edition).value
        words = say("{over} A more than the existing {rating} A.", over=over, rating=rating)
        mend = say("A service of {next} A would carry it; or shed or manage load.", next=larger)
        findings.fail(
            "existing_service",
            words,
            f"{figure(over)} A",
            mend=mend,
            entries=path,
            rules=edition.rule("dwelling_service"),
        )
    return worksheet.section("service", say("Against the existing service"))


def _results(outcome: CecOutcome, edition: Edition) -> dict[str, Result]:
    if outcome.there:
        spare = outcome.there - outcome.exact
        return {
            "existing_service": Result(outcome.there, "A", say("Existing service")),
            "spare_amperes": Result(spare, "A", say("To spare")),
        }
    found = {"service_device": Result(outcome.device.value, "A", say("Service device"))}
    for metal, words in (
        ("copper", say("Copper conductors")),
        ("aluminum", say("Aluminum conductors")),
    ):
        line = outcome.lines[metal]  # type: ignore[index]
        found[f"service_conductor_{metal}"] = Result(str(line), "", words)
        found |= conductor_figures(
            f"service_conductor_{metal}", line.size, line.sets, metal, line.ampacity
        )
    ground = edition.limit("grounding_conductor")
    words = say("Grounding conductor")
    found["grounding_conductor"] = Result(f"{figure(ground.value)} AWG Cu", "", words)
    return found


def _option(
    outcome: CecOutcome, metal: Metal, entries: CecDwelling, system: System, edition: Edition
) -> tuple[int, tuple[SizeAmpacity, ...]]:
    every = options(metal, installation_of(entries, system), edition)
    size = outcome.lines[metal].size
    return next(i for i, o in enumerate(every) if o.size == size), every


def _alternatives(
    outcome: CecOutcome, entries: CecDwelling, system: System, edition: Edition
) -> Iterator[Alternative]:
    """The conductors of both metals, and the next smaller one of each."""
    wires, installation = len(system.lines) + 1, installation_of(entries, system)
    device = outcome.device.value
    return alternatives(outcome.lines, device, wires, installation, outcome.column, edition)


def _marks(
    outcome: CecOutcome, entries: CecDwelling, system: System, edition: Edition
) -> tuple[AxisMark, ...]:
    line = outcome.lines[METALS[0]]
    place, every = _option(outcome, METALS[0], entries, system, edition)
    option = every[place]
    reads = option.terminal(outcome.column) * line.sets
    return (
        AxisMark("load", say("Load"), outcome.exact, "load"),
        AxisMark("device", say("Device"), outcome.device.value, "device"),
        AxisMark("own", say("In its own column"), option.base * line.sets, "conductor"),
        AxisMark("terminals", say("At the terminals"), reads, "conductor", True),
    )
