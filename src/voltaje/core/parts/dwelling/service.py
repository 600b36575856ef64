"""From calculated load to amperes, main device and conductors."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from voltaje.core.codes import Edition
from voltaje.core.electrical.systems import System
from voltaje.core.parts.dwelling.neutral import Neutral, PerLine
from voltaje.core.parts.dwelling.outcome import Outcome
from voltaje.core.rules.conductors import (
    MATERIALS,
    Conductor,
    grounded_conductor_least,
    service_conductor,
    smallest,
)
from voltaje.core.rules.overcurrent import next_standard_device, rounding_note, whole_amperes
from voltaje.core.worksheet import Finding, Line, Result, Section, figure, fits, say

LEAST_SERVICE = 100.0


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
    cell = next_standard_device(max(amperes, LEAST_SERVICE), edition)
    least = amperes < LEAST_SERVICE
    lines.append(
        Line(
            "service_device",
            say("Service device, next standard size"),
            cell.value,
            "A",
            f"{amperes} A → {figure(cell.value)} A"
            if not least
            else f"{amperes} A → 100 A at least",
            (cell.rule, edition.rule("optional" if method == "optional" else "minimum_service"))
            if least
            else (cell.rule,),
            kind="result",
        )
    )
    results: dict[str, Result] = {
        "amperes": Result(amperes, "A", say("Amperes")),
        "amperes_exact": Result(governing, "A", say("Amperes, not rounded")),
        "service_device": Result(cell.value, "A", say("Service device")),
    }
    dwelling_rule = system.line_to_line > 1.9 * system.to_neutral
    for material in MATERIALS:
        line = service_conductor(amperes, cell.value, material, edition, dwelling_rule)
        grounded = _neutral_conductor(whole_amperes(on_neutral), line, edition)
        results[f"service_conductor_{material}"] = Result(
            str(line), "", say("{material} conductors", material=material.capitalize())
        )
        results[f"neutral_conductor_{material}"] = Result(
            str(grounded), "", say("{material} neutral", material=material.capitalize())
        )
        lines.append(_conductor_line(f"service_conductor_{material}", line, cell.value))
        lines.append(
            Line(
                f"neutral_conductor_{material}",
                say("{material} neutral: {size}", material=material.capitalize(),
                    size=str(grounded)),
                grounded.ampacity,
                "A",
                f"{whole_amperes(on_neutral)} A ≤ {figure(grounded.ampacity)} A",
                grounded.rules,
            )
        )  # fmt: skip
    findings = _spare(amperes, cell.value)
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


def _neutral_conductor(amperes: int, line: Conductor, edition: Edition) -> Conductor:
    least, rule = grounded_conductor_least(line, edition)
    per_set = smallest(amperes / line.sets, line.material, edition, least=least)
    return Conductor(
        line.material,
        per_set.size,
        line.sets,
        per_set.ampacity * line.sets,
        amperes,
        (*per_set.rules, rule),
    )


def _conductor_line(name: str, conductor: Conductor, device: float) -> Line:
    expression = (
        f"{figure(device)} × 0.83 = {figure(conductor.needed)} ≤ {figure(conductor.ampacity)} A"
        if conductor.by_dwelling_rule
        else f"{figure(conductor.needed)} ≤ {figure(conductor.ampacity)} A"
    )
    return Line(
        name,
        say("{material}: {size}", material=conductor.material.capitalize(), size=str(conductor)),
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
