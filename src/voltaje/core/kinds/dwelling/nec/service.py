"""From calculated load to amperes, main device and conductors."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from voltaje.core.codes import Cell, Edition
from voltaje.core.codes.vocabulary import Metal
from voltaje.core.electrical.systems import System
from voltaje.core.kinds.dwelling.alternatives import alternatives
from voltaje.core.kinds.dwelling.nec.neutral import PerLine
from voltaje.core.report import (
    Alternative,
    AxisMark,
    Findings,
    Result,
    Section,
    Worksheet,
    conductor_figures,
    figure,
    fits,
    say,
)
from voltaje.core.rules.north_america.conductors import (
    SERVICE,
    SERVICE_COLUMN,
    LineConductor,
    carried_shown,
    grounded_conductor_least,
    label,
    service_conductor,
    sizes,
    smallest,
)
from voltaje.core.rules.north_america.grounding import equipment_ground
from voltaje.core.rules.north_america.overcurrent import (
    next_standard_device,
    rounding_note,
    whole_amperes,
)
from voltaje.core.rules.north_america.wiring import (
    METALS,
    Installation,
    SizeAmpacity,
    adjustment_factor,
    ambient_factor,
    options,
)

ANSWER = (
    "service_device",
    "service_conductor_copper",
    "service_conductor_aluminum",
    "neutral_amperes",
    "neutral_conductor_copper",
)
WIRES = 3  # no code figure: two lines and a neutral
AGAINST = ("amperes", "existing_service", "spare_amperes")


@dataclass(frozen=True, slots=True)
class Service:
    """A service or feeder sized for a ``load`` in VA, or one that is there and judged.

    ``exact`` amperes of the load, the ``governing`` ones where a line is heavier, ``amperes``
    whole; the ``device`` in A, by its cell, not below the ``least`` of a rule; ungrounded and
    grounded conductors by their metal; amperes ``on_neutral``. ``there`` is the rating of a
    service that is there, 0 for one that is sized.
    """

    load: float
    exact: float
    governing: float
    amperes: int
    device: float
    device_cell: Cell | None = None
    least: Cell | None = None
    lines: Mapping[Metal, LineConductor] | None = None
    neutrals: Mapping[Metal, LineConductor] | None = None
    on_neutral: float = 0.0
    dwelling_rule: bool = False
    installation: Installation = SERVICE
    spread: bool = False
    there: float = 0.0


def size(
    load: float,
    method: str,
    neutral: float,
    per_line: PerLine,
    system: System,
    edition: Edition,
    feeder: bool = False,
    installation: Installation = SERVICE,
) -> Service:
    """The smallest standard device and conductors that pass for ``load`` VA and ``neutral`` A.
    Where the user has put 120 V loads on lines, the heavier line governs the standard method, as
    in annex D1(b); else the total.

    Raises :class:`NotCoveredError` above the largest standard device.
    """
    exact = governing = load / system.line_to_line
    on_neutral, spread = neutral, method == "standard"
    if per_line.assigned and spread:
        spread = False
        on_neutral = max(neutral, per_line.neutral)
        governing = max(exact, per_line.heaviest)
    amperes = whole_amperes(governing)
    least = _least_device(method, feeder, edition)
    cell = next_standard_device(max(amperes, least.value if least else 0.0), edition)
    rule = not system.is_wye or (feeder and edition.says("dwelling_208"))
    lines = {
        metal: service_conductor(amperes, cell.value, metal, edition, rule, installation)
        for metal in METALS
    }
    whole = whole_amperes(on_neutral)
    neutrals = {
        metal: _neutral_conductor(whole, line, cell.value, feeder, system, edition, installation)
        for metal, line in lines.items()
    }
    return Service(
        load,
        exact,
        governing,
        amperes,
        cell.value,
        cell,
        least,
        lines,
        neutrals,
        on_neutral,
        rule,
        installation,
        spread,
    )


def judged(load: float, rating: float, system: System) -> Service:
    """A service of ``rating`` A that is there, against the calculated load in VA."""
    exact = load / system.line_to_line
    return Service(load, exact, exact, whole_amperes(exact), rating, there=rating)


def _least_device(method: str, feeder: bool, edition: Edition) -> Cell | None:
    """The least rating that a rule asks for: of the service of a dwelling, and of whatever the
    optional method may be used for."""
    if method == "optional":
        return edition.limit("optional_least")
    return None if feeder else edition.limit("minimum_service")


def _neutral_conductor(
    amperes: int,
    line: LineConductor,
    device: float,
    feeder: bool,
    system: System,
    edition: Edition,
    installation: Installation,
) -> LineConductor:
    """The neutral of each set: for its load, not below the least of the rules, and never larger
    than the lines, whose rule makes both smaller; as large as they on two lines of a wye."""
    if feeder:  # a feeder's neutral is not below its equipment ground (215.2(A)(2))
        ground = equipment_ground(device, line.material, edition, line.size)
        least, rule = ground.size, ground.rules[0]
    else:
        least, rule = grounded_conductor_least(line, edition)
    order = sizes(edition)
    per_set = smallest(
        amperes / line.sets, line.material, edition, least, installation=installation
    )
    larger = order.index(per_set.size) > order.index(line.size) or per_set.sets > 1
    if larger or (system.is_wye and line.by_dwelling_rule):
        why = edition.rule("neutral_wye" if system.is_wye else "dwelling_conductors")
        rules = (why, *line.rules)
        return LineConductor(
            line.material,
            line.size,
            line.sets,
            line.ampacity,
            amperes,
            rules,
            line.by_dwelling_rule,
        )
    return LineConductor(
        line.material,
        per_set.size,
        line.sets,
        per_set.ampacity * line.sets,
        amperes,
        (*per_set.rules, rule),
        least=least,
    )


@dataclass(frozen=True, slots=True)
class ServiceReport:
    """A service in words."""

    section: Section
    findings: Findings
    results: dict[str, Result]
    answer: tuple[str, ...]
    alternatives: tuple[Alternative, ...] = ()
    marks: tuple[AxisMark, ...] = ()


def report(
    found: Service, per_line: PerLine | None, system: System, edition: Edition, feeder: bool = False
) -> ServiceReport:
    """A service that is sized, or one that is there against its load."""
    worksheet = Worksheet()
    volts = system.line_to_line
    worksheet.step(
        "amperes",
        say("÷ {volts} V", volts=volts),
        found.exact,
        "A",
        f"{figure(found.load)} ÷ {figure(volts)}",
        edition.rule("rounding"),
        rounding=rounding_note(found.exact),
    )
    if found.there:
        return _against(found, edition, worksheet)
    findings = Findings()
    if per_line is not None and found.governing > found.exact:
        words = say("The heavier line governs")
        shown = say("{one} on L1, {other} on L2", one=per_line.l1, other=per_line.l2)
        worksheet.step("heavier_line", words, found.governing, "A", shown)
    _device(found, feeder, worksheet)
    spare = found.device - found.amperes
    words = say("{spare} A to spare on the {device} A device.", spare=spare, device=found.device)
    findings.passes("service_device", words, f"{figure(spare)} A")
    if system.is_wye:
        _wye(feeder, found.dwelling_rule, edition, findings)
    results = {
        "amperes": Result(found.amperes, "A", say("Amperes")),
        "amperes_exact": Result(found.governing, "A", say("Amperes, not rounded")),
        "service_device": Result(found.device, "A", say("Service device")),
    }
    _conditions(found, edition, worksheet)
    for metal in METALS:
        _conductors(found, metal, edition, worksheet, results)
    if per_line is not None and found.spread:
        _heavier_line(found, per_line, findings)
    section = worksheet.section("service", say("Service"))
    return ServiceReport(
        section, findings, results, ANSWER, _alternatives(found, edition), _marks(found, edition)
    )


def _conditions(found: Service, edition: Edition, worksheet: Worksheet) -> None:
    """What heat and neighbours leave of the conductors, where they take something."""
    installation = found.installation
    column = installation.own_column(edition)
    ambient, rule = ambient_factor(column, installation.ambient_c, edition)
    if ambient != 1:
        words = say(
            "At {degrees} °C ambient, {column} °C insulation: × {factor}",
            degrees=installation.ambient_c,
            column=column,
            factor=figure(ambient),
        )
        worksheet.note("ambient", words, rules=rule, entries=("ambient", "insulation"))
    adjustment, rule = adjustment_factor(installation.counted, edition)
    if adjustment != 1:
        words = say(
            "{count} current-carrying conductors together: × {factor}",
            count=installation.counted,
            factor=figure(adjustment),
        )
        worksheet.note("adjustment", words, rules=rule, entries="others")


def _option(found: Service, metal: Metal, size_: str, edition: Edition) -> SizeAmpacity:
    """The ampacities of one set of ``size_`` as the service's conductors lie."""
    return next(one for one in options(metal, found.installation, edition) if one.size == size_)


def _carried(found: Service, one: LineConductor, edition: Edition) -> str:
    """Its ampacity as it comes of its cell."""
    return f"{carried_shown(one, found.installation, SERVICE_COLUMN, edition)} A"


def _alternatives(found: Service, edition: Edition) -> tuple[Alternative, ...]:
    """Copper first, the lighter before the heavier."""
    told = alternatives(
        found.lines or {}, found.device, WIRES, found.installation, SERVICE_COLUMN, edition
    )
    return tuple(sorted(told, key=lambda one: (one.material != METALS[0], one.mass)))


def _marks(found: Service, edition: Edition) -> tuple[AxisMark, ...]:
    line = (found.lines or {})[METALS[0]]
    option = _option(found, METALS[0], line.size, edition)
    own, reads = option.base * line.sets, option.terminal(SERVICE_COLUMN) * line.sets
    marks = [
        AxisMark("load", say("Load"), found.governing, "load"),
        AxisMark("device", say("Device"), found.device, "device"),
        AxisMark("own", say("In its own column"), own, "conductor"),
    ]
    corrected = option.corrected * line.sets
    if corrected != own:
        marks.append(
            AxisMark("adjusted", say("As it lies"), corrected, "conductor", corrected < reads)
        )
    marks.append(
        AxisMark("terminals", say("At the terminals"), reads, "conductor", reads <= corrected)
    )
    if line.by_dwelling_rule:
        marks.append(AxisMark("needed", say("Dwelling rule"), line.needed, "limit"))
    return tuple(marks)


def _device(found: Service, feeder: bool, worksheet: Worksheet) -> None:
    least, cell = found.least, found.device_cell
    assert cell is not None  # noqa: S101 - a service that is sized has one
    below = least is not None and not fits(least.value, found.amperes)
    shown = say("{amperes} A → {device} A", amperes=found.amperes, device=cell.value)
    if least and below:
        shown = say("{amperes} A → {least} A at least", amperes=found.amperes, least=least.value)
    words = say("Service device, next standard size")
    if feeder:
        words = say("Feeder device, next standard size")
    rules = (cell.rule, least.rule if least and below else None)
    worksheet.result("service_device", words, cell.value, "A", shown, rules)


def _conductors(
    found: Service, metal: Metal, edition: Edition, worksheet: Worksheet, results: dict[str, Result]
) -> None:
    line, neutral = (found.lines or {})[metal], (found.neutrals or {})[metal]
    copper = metal == "copper"
    words = say("Copper conductors") if copper else say("Aluminum conductors")
    results[f"service_conductor_{metal}"] = Result(str(line), "", words)
    words = say("Copper neutral") if copper else say("Aluminum neutral")
    results[f"neutral_conductor_{metal}"] = Result(str(neutral), "", words)
    for key, one in (("service_conductor", line), ("neutral_conductor", neutral)):
        results |= conductor_figures(f"{key}_{metal}", one.size, one.sets, metal, one.ampacity)
    shown = f"{figure(line.needed)} ≤ {_carried(found, line, edition)}"
    if line.by_dwelling_rule:
        share = figure(edition.value("dwelling_share") / 100)
        shown = f"{figure(found.device)} × {share} = {shown}"
    worksheet.step(
        f"service_conductor_{metal}",
        say("Conductors: {size}", size=str(line)),
        line.ampacity,
        "A",
        shown,
        line.rules,
        note=say("75 °C terminals, as service equipment is listed for"),
    )
    whole = whole_amperes(found.on_neutral)
    carried = _carried(found, neutral, edition)
    shown = f"{whole} A ≤ {carried}" if fits(whole, neutral.ampacity) else ""
    note = None
    if neutral.by_dwelling_rule:
        note = say("as large as the lines: never larger")
    elif neutral.least:
        note = say("at least {size}", size=label(neutral.least, metal))
    worksheet.step(
        f"neutral_conductor_{metal}",
        say("Neutral: {size}", size=str(neutral)),
        neutral.ampacity,
        "A",
        shown,
        neutral.rules,
        note=note,
    )


def _heavier_line(found: Service, per_line: PerLine, findings: Findings) -> None:
    heaviest = whole_amperes(per_line.heaviest)
    if heaviest <= found.device:
        return
    words = say(
        "With the 120 V loads spread as well as they will go, the heavier line"
        " carries {line} A: more than the {device} A device.",
        line=heaviest,
        device=found.device,
    )
    mend = say("Take the next size, or choose lines for the 120 V loads.")
    findings.check("heavier_line", words, f"{figure(heaviest - found.device)} A", mend=mend)


def _against(found: Service, edition: Edition, worksheet: Worksheet) -> ServiceReport:
    """A service that is there: the verdict on it."""
    rating, amperes, findings = found.there, found.amperes, Findings()
    holds, path = fits(amperes, rating), "existing_service"
    sign = "≤" if holds else ">"
    words, shown = say("Existing service"), f"{amperes} A {sign} {figure(rating)} A"
    worksheet.result("existing_service", words, rating, "A", shown, entries=path)
    if holds:
        words = say(
            "{spare} A to spare on the existing {rating} A.", spare=rating - amperes, rating=rating
        )
        findings.passes(path, words, f"{figure(rating - amperes)} A", entries=path)
    else:
        larger = next_standard_device(amperes, edition).value
        words = say(
            "{over} A more than the existing {rating} A.", over=amperes - rating, rating=rating
        )
        mend = say("A service of {next} A would carry it; or shed or manage load.", next=larger)
        findings.fail(path, words, f"{figure(amperes - rating)} A", mend=mend, entries=path)
    results = {
        "amperes": Result(amperes, "A", say("Amperes")),
        "amperes_exact": Result(found.exact, "A", say("Amperes, not rounded")),
        "existing_service": Result(rating, "A", say("Existing service")),
        "spare_amperes": Result(rating - amperes, "A", say("To spare")),
    }
    title = say("Against the existing service")
    return ServiceReport(worksheet.section("service", title), findings, results, AGAINST)


def _wye(feeder: bool, dwelling_rule: bool, edition: Edition, findings: Findings) -> None:
    """What two lines and neutral of a wye mean for the conductors."""
    rule, name, path = edition.limit_rule("dwelling_208"), "dwelling_208", "supplied"
    if dwelling_rule:
        words = say(
            "A single-phase feeder of this dwelling alone from a wye has the dwelling rule; its"
            " neutral stays as large as the lines."
        )
        findings.remark(name, words, rules=rule, entries=path)
    elif feeder:
        words = say(
            "Whether this edition lets a feeder from a wye have the dwelling rule is in doubt:"
            " it is sized without it."
        )
        mend = say("Ask the authority: later editions let it.")
        findings.check(name, words, mend=mend, rules=rule, entries=path)
    else:
        words = say(
            "A service from a wye has no dwelling rule: its conductors are sized as any others."
        )
        findings.remark(name, words, rules=rule, entries=path)
