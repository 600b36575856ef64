"""From calculated load to amperes, main device and conductors."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from voltaje.core.codes import Cell, Edition
from voltaje.core.electrical.systems import System
from voltaje.core.parts.dwelling.neutral import Neutral, PerLine
from voltaje.core.parts.dwelling.outcome import Outcome
from voltaje.core.rules.conductors import (
    MATERIALS,
    Conductor,
    grounded_conductor_least,
    service_conductor,
    sizes,
    smallest,
)
from voltaje.core.rules.grounding import equipment_ground
from voltaje.core.rules.overcurrent import next_standard_device, rounding_note, whole_amperes
from voltaje.core.worksheet import (
    Finding,
    Line,
    Result,
    Section,
    conductor_figures,
    figure,
    fits,
    say,
)


@dataclass(frozen=True, slots=True)
class Service:
    """The service: rounded ``amperes``, the ``device`` in A, its lines, findings and results."""

    amperes: int
    device: float
    section: Section
    findings: tuple[Finding, ...]
    results: Mapping[str, Result]
    answer: tuple[str, ...]
    neutral_amperes: float = 0.0

    @staticmethod
    def whole(amperes: float) -> int:
        return whole_amperes(amperes)


def amperes_line(load: float, system: System, edition: Edition) -> Line:
    """The load divided by the line-to-line volts, with its rounding."""
    exact = load / system.line_to_line
    return Line(
        "amperes",
        say("÷ {volts} V", volts=system.line_to_line),
        exact,
        "A",
        f"{figure(load)} ÷ {figure(system.line_to_line)}",
        (edition.rule("rounding"),),
        rounding_note(exact),
        kind="step",
    )


def size(
    outcome: Outcome,
    method: str,
    neutral: Neutral,
    per_line: PerLine,
    system: System,
    edition: Edition,
    feeder: bool = False,
) -> Service:
    """The smallest standard device and conductors that pass. Where the user has put 120 V loads
    on lines, the heavier line governs the standard method, as in annex D1(b); else the total.

    Raises :class:`NotCoveredError` above the largest standard device.
    """
    lines = [amperes_line(outcome.calculated, system, edition)]
    exact = lines[0].value or 0.0
    governing, on_neutral = exact, neutral.amperes
    by_lines = per_line.assigned and method == "standard"
    if by_lines:
        on_neutral = max(neutral.amperes, per_line.neutral)
        if per_line.heaviest > exact:
            governing = per_line.heaviest
            lines.append(
                Line("heavier_line", say("The heavier line governs"), governing, "A",
                     f"{figure(per_line.l1)} on L1, {figure(per_line.l2)} on L2",
                     kind="step")
            )  # fmt: skip
    amperes = whole_amperes(governing)
    floor = _least_device(method, feeder, edition)
    cell = next_standard_device(max(amperes, floor.value if floor else 0.0), edition)
    least = floor is not None and not fits(floor.value, amperes)
    lines.append(
        Line(
            "service_device",
            say("Feeder device, next standard size")
            if feeder
            else say("Service device, next standard size"),
            cell.value,
            "A",
            f"{amperes} A → {figure(floor.value)} A at least"
            if floor and least
            else f"{amperes} A → {figure(cell.value)} A",
            (cell.rule, floor.rule) if floor and least else (cell.rule,),
            kind="result",
        )
    )
    results: dict[str, Result] = {
        "amperes": Result(amperes, "A", say("Amperes")),
        "amperes_exact": Result(governing, "A", say("Amperes, not rounded")),
        "service_device": Result(cell.value, "A", say("Service device")),
    }
    findings = _spare(amperes, cell.value)
    dwelling_rule = not system.is_wye or (feeder and edition.says("dwelling_208"))
    if system.is_wye:
        findings.append(_wye(feeder, dwelling_rule, edition))
    for material in MATERIALS:
        line = service_conductor(amperes, cell.value, material, edition, dwelling_rule)
        grounded = _neutral_conductor(
            whole_amperes(on_neutral), line, cell.value, feeder, system, edition
        )
        results[f"service_conductor_{material}"] = Result(
            str(line), "", say("{material} conductors", material=material.capitalize())
        )
        results[f"neutral_conductor_{material}"] = Result(
            str(grounded), "", say("{material} neutral", material=material.capitalize())
        )
        for name, one in (("service_conductor", line), ("neutral_conductor", grounded)):
            results |= conductor_figures(
                f"{name}_{material}", one.size, one.sets, material, one.ampacity
            )
        lines.append(_conductor_line(f"service_conductor_{material}", line, cell.value, edition))
        lines.append(
            Line(
                f"neutral_conductor_{material}",
                say("Neutral: {size}", size=str(grounded)),
                grounded.ampacity,
                "A",
                f"{whole_amperes(on_neutral)} A ≤ {figure(grounded.ampacity)} A"
                if fits(whole_amperes(on_neutral), grounded.ampacity)
                else "",
                grounded.rules,
                note=say("as large as the lines: never larger") if grounded.by_dwelling_rule
                else None,
            )
        )  # fmt: skip
    if not by_lines and method == "standard" and whole_amperes(per_line.heaviest) > cell.value:
        findings.append(
            Finding(
                "look",
                "heavier_line",
                say(
                    "With the 120 V loads spread as well as they will go, the heavier line"
                    " carries {line} A: more than the {device} A device.",
                    line=whole_amperes(per_line.heaviest),
                    device=cell.value,
                ),
                f"{figure(whole_amperes(per_line.heaviest) - cell.value)} A",
                say("Take the next size, or choose lines for the 120 V loads."),
            )
        )
    answer = (
        "service_device",
        "service_conductor_copper",
        "service_conductor_aluminum",
        "neutral_amperes",
        "neutral_conductor_copper",
    )
    return Service(
        amperes,
        cell.value,
        Section("service", say("Service"), tuple(lines)),
        tuple(findings),
        results,
        answer,
        on_neutral,
    )


def against_existing(rating: float, outcome: Outcome, system: System, edition: Edition) -> Service:
    """The calculated load against the rating of the service that is there."""
    line = amperes_line(outcome.calculated, system, edition)
    return judged(rating, whole_amperes(line.value or 0.0), line.value or 0.0, [line], edition)


def judged(
    rating: float, amperes: int, exact: float, lines: list[Line], edition: Edition
) -> Service:
    """Adds the verdict on an existing service of ``rating`` A to ``lines``."""
    holds = fits(amperes, rating)
    lines.append(
        Line(
            "existing_service",
            say("Existing service"),
            rating,
            "A",
            f"{amperes} A {'≤' if holds else '>'} {figure(rating)} A",
            entries=("existing_service",),
            kind="result",
        )
    )
    if holds:
        finding = Finding(
            "holds",
            "existing_service",
            say("{spare} A to spare on the existing {rating} A.", spare=rating - amperes,
                rating=rating),
            f"{figure(rating - amperes)} A",
            entries=("existing_service",),
        )  # fmt: skip
    else:
        next_size = next_standard_device(amperes, edition).value
        finding = Finding(
            "fails",
            "existing_service",
            say("{over} A more than the existing {rating} A.", over=amperes - rating,
                rating=rating),
            f"{figure(amperes - rating)} A",
            say("A service of {next} A would carry it; or shed or manage load.", next=next_size),
            entries=("existing_service",),
        )  # fmt: skip
    results = {
        "amperes": Result(amperes, "A", say("Amperes")),
        "amperes_exact": Result(exact, "A", say("Amperes, not rounded")),
        "existing_service": Result(rating, "A", say("Existing service")),
        "spare_amperes": Result(rating - amperes, "A", say("To spare")),
    }
    return Service(
        amperes,
        rating,
        Section("service", say("Against the existing service"), tuple(lines)),
        (finding,),
        results,
        ("amperes", "existing_service", "spare_amperes"),
    )


def _least_device(method: str, feeder: bool, edition: Edition) -> Cell | None:
    """The least rating that a rule asks for: of the service of a dwelling, and of whatever the
    optional method may be used for."""
    if method == "optional":
        return edition.limit("optional_least")
    return None if feeder else edition.limit("minimum_service")


def _wye(feeder: bool, dwelling_rule: bool, edition: Edition) -> Finding:
    """What two lines and neutral of a wye mean for the conductors."""
    rule = edition.limit_rule("dwelling_208")
    if dwelling_rule:
        return Finding(
            "remark", "dwelling_208",
            say("A single-phase feeder of this dwelling alone from a wye has the dwelling rule; its"
                " neutral stays as large as the lines."), rules=(rule,), entries=("supplied",),
        )  # fmt: skip
    if feeder:
        return Finding(
            "look", "dwelling_208",
            say("Whether this edition lets a feeder from a wye have the dwelling rule is in doubt:"
                " it is sized without it."),
            remedy=say("Ask the authority: later editions let it."), rules=(rule,),
            entries=("supplied",),
        )  # fmt: skip
    return Finding(
        "remark", "dwelling_208",
        say("A service from a wye has no dwelling rule: its conductors are sized as any others."),
        rules=(rule,), entries=("supplied",),
    )  # fmt: skip


def _neutral_conductor(
    amperes: int, line: Conductor, device: float, feeder: bool, system: System, edition: Edition
) -> Conductor:
    """The neutral of each set: for its load, not below the least of the rules, and never larger
    than the lines, whose rule makes both smaller; as large as they on two lines of a wye."""
    if feeder:  # a feeder's neutral is not below its equipment ground (215.2(A)(2))
        ground = equipment_ground(device, line.material, edition, line.size)
        least, rule = ground.size, ground.rules[0]
    else:
        least, rule = grounded_conductor_least(line, edition)
    order = sizes(edition)
    per_set = smallest(amperes / line.sets, line.material, edition, least=least)
    larger = order.index(per_set.size) > order.index(line.size) or per_set.sets > 1
    if larger or (system.is_wye and line.by_dwelling_rule):
        why = edition.rule("neutral_wye" if system.is_wye else "dwelling_conductors")
        return Conductor(
            line.material, line.size, line.sets, line.ampacity, amperes, (why, *line.rules),
            line.by_dwelling_rule,
        )  # fmt: skip
    return Conductor(
        line.material,
        per_set.size,
        line.sets,
        per_set.ampacity * line.sets,
        amperes,
        (*per_set.rules, rule),
    )


def _conductor_line(name: str, conductor: Conductor, device: float, edition: Edition) -> Line:
    share = figure(edition.value("dwelling_share") / 100)
    expression = (
        f"{figure(device)} × {share} = {figure(conductor.needed)} ≤ {figure(conductor.ampacity)} A"
        if conductor.by_dwelling_rule
        else f"{figure(conductor.needed)} ≤ {figure(conductor.ampacity)} A"
    )
    return Line(
        name,
        say("Conductors: {size}", size=str(conductor)),
        conductor.ampacity,
        "A",
        expression,
        conductor.rules,
        note=say("75 °C terminals, as service equipment is listed for"),
    )


def _spare(amperes: int, device: float) -> list[Finding]:
    return [
        Finding(
            "holds",
            "service_device",
            say("{spare} A to spare on the {device} A device.", spare=device - amperes,
                device=device),
            f"{figure(device - amperes)} A",
        )
    ]  # fmt: skip
