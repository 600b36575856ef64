"""The optional method (220.82), and the same arithmetic for an existing dwelling (220.83)."""

from __future__ import annotations

from dataclasses import replace

from voltaje.core.codes import Cell, Edition
from voltaje.core.electrical.loads import Load, paths, total
from voltaje.core.parts.dwelling.climate import (
    Side,
    larger_side,
    lowered_by_fourth_unit,
    selections,
    sides,
)
from voltaje.core.parts.dwelling.entries import DwellingEntries
from voltaje.core.parts.dwelling.loads import Loads
from voltaje.core.parts.dwelling.outcome import Outcome, lowered_line
from voltaje.core.parts.dwelling.standard import dropped_only
from voltaje.core.rules import dwelling_demand as demand
from voltaje.core.units import UnitSystem
from voltaje.core.worksheet import (
    Alternative,
    Finding,
    Flow,
    Line,
    Rule,
    Section,
    figure,
    fits,
    say,
)
from voltaje.core.worksheet import words as words_of


def _general(
    entries: DwellingEntries,
    loads: Loads,
    edition: Edition,
    units: UnitSystem,
    climate: tuple[str, str, tuple[Load, ...]],
) -> tuple[list[Line], list[tuple[str, str, float]]]:
    """The connected lines of "all other load", and the same as (band, label, VA). ``climate`` is
    what of heating and cooling goes in with it, as (band, label, loads)."""
    lines = list(
        demand.lighting_connected(
            entries.area or 0.0,
            entries.small_appliance_circuits,
            entries.laundry_circuits,
            edition,
            units,
        )
    )
    chargers = demand.chargers(loads.chargers, edition)
    bands = [("lighting", "General lighting", sum(line.value or 0.0 for line in lines))]
    for name, label, group in (
        ("fixed", "Appliances", (*loads.fixed, *loads.own)),
        ("cooking", "Cooking", loads.cooking),
        ("dryers", "Drying", loads.dryers),
        climate,
    ):
        for load in group:
            lines.append(
                Line(
                    f"nameplate_{load.path}",
                    say("{name}", name=load.name),
                    load.total,
                    "VA",
                    f"{load.count} × {figure(load.va)}" if load.count > 1 else "",
                    entries=(load.path,),
                    flow=name,
                )
            )
        if group:
            bands.append((name, label, total(group)))
    lines += chargers.lines
    if chargers.demand:
        bands.append(("charging", "Vehicle charging", chargers.demand))
    return lines, bands


def _split(
    lines: list[Line],
    bands: list[tuple[str, str, float]],
    first: Cell,
    rest_percent: Cell,
    rule: Rule,
) -> tuple[float, float, list[Flow]]:
    """Adds the sum and the two shares; gives (connected, calculated, bands of the drawing)."""
    connected = sum(band[2] for band in bands)
    rest = max(0.0, connected - first.value)
    calculated = min(connected, first.value) + rest_percent.value / 100 * rest
    lines.append(
        Line("general_connected", say("All other load"), connected, "VA",
             " + ".join(figure(band[2]) for band in bands), kind="sum")
    )  # fmt: skip
    lines.append(
        Line(
            "general_demand",
            say(
                "First {first} kVA whole, the rest at {percent} %",
                first=first.value / 1000,
                percent=rest_percent.value,
            ),
            calculated,
            "VA",
            f"{figure(min(connected, first.value))} + {figure(rest)}"
            f" × {figure(rest_percent.value / 100)}",
            (rule,),
            kind="sum",
        )
    )
    share = calculated / connected if connected else 0.0
    why = say("{percent} % of all", percent=round(share * 100, 1))
    flows = [Flow(name, say(label), va, va * share, why) for name, label, va in bands]
    return connected, calculated, flows


def calculate(
    entries: DwellingEntries, loads: Loads, edition: Edition, units: UnitSystem = "us"
) -> tuple[Outcome, tuple[Alternative, ...]]:
    """The optional method: its outcome and the six selections of heating and cooling."""
    lines, bands = _general(entries, loads, edition, units, ("fan", "Blower", loads.of("fan")))
    connected, general, flows = _split(
        lines, bands, edition.limit("optional_first"), edition.limit("optional_rest"),
        edition.rule("optional_general"),
    )  # fmt: skip
    choices = selections(loads, edition)
    climate = max(choice.value for choice in choices)
    chosen = next((choice for choice in choices if choice.chosen), None)
    kinds = ("heating", "cooling", "heat_pump", "backup", "backup_alone", "storage")
    all_climate = loads.of(*kinds)
    if chosen:
        lines.append(
            Line(
                "climate_selection",
                say("{label}", label=chosen.label),
                climate,
                "VA",
                "largest of "
                + ", ".join(figure(choice.value) for choice in choices if choice.value),
                (edition.rule("optional_climate"),),
                entries=paths(all_climate),
                flow="climate",
            )
        )
        flows.append(
            Flow("climate", say("Heating or cooling"), total(all_climate), climate, chosen.label)
        )
    by = lowered_by_fourth_unit(loads, edition)
    if by:
        rule = edition.rule("optional_climate")
        lines.append(lowered_line("heating", by, rule, paths(loads.of("heating"))))
    calculated = general + climate
    lines.append(
        Line(
            "calculated_load",
            say("Calculated load, optional method"),
            calculated,
            "VA",
            f"{figure(general)} + {figure(climate)}",
            (edition.rule("optional"),),
            kind="result",
        )
    )
    section = Section("optional", say("Optional method"), tuple(lines))
    groups = {"general_demand": general, "climate_demand": climate}
    return (
        Outcome(section, connected + total(all_climate), calculated, tuple(flows), groups),
        choices,
    )


def existing(
    entries: DwellingEntries, loads: Loads, edition: Edition, units: UnitSystem = "us"
) -> Outcome:
    """Existing dwelling with load added (220.83): the larger of heating and cooling whole when
    either is added, else in with all other load.

    Many separately controlled heaters count among the other load by the letter of (B). That
    governs; what they would come to if they counted whole stands beside it.
    """
    larger, smaller = larger_side(loads, (), edition)
    heaters = loads.of("heating")
    many = edition.limit("existing_many_from")
    spread = entries.adds_climate and fits(many.value, sum(load.count for load in heaters))
    cautious = _existing(entries, loads, edition, units, larger, smaller, ())
    if not spread:
        return cautious
    heating, cooling = sides(loads, (), edition)
    # whichever season then asks for more: heat at a share may be less than cooling whole
    ways = (
        _existing(entries, loads, edition, units, heating, cooling, heaters),
        _existing(entries, loads, edition, units, cooling, heating, ()),
    )
    letter = max(ways, key=lambda way: way.calculated)
    words = say(
        "{many} or more separately controlled heaters count among the other load: {letter} VA by"
        " the letter, which governs; {cautious} VA with the heaters whole.",
        many=words_of(many.value).capitalize(), letter=letter.calculated,
        cautious=cautious.calculated,
    )  # fmt: skip
    line = Line("existing_cautious", say("With the heaters whole"), cautious.calculated, "VA",
                rules=(many.rule,), entries=paths(heaters), kind="note",
                note=say("the cautious figure: all may run through a cold night"))  # fmt: skip
    finding = Finding(
        "look" if cautious.calculated > letter.calculated else "remark", "existing_heaters", words,
        f"{figure(cautious.calculated - letter.calculated)} VA",
        say("Where they all run through a cold night, keep to the larger figure."),
        (many.rule,), paths(heaters),
    )  # fmt: skip
    section = replace(letter.section, lines=(*letter.section.lines, line))
    return replace(letter, section=section, findings=(finding,), cautious=cautious.calculated)


def _existing(
    entries: DwellingEntries, loads: Loads, edition: Edition, units: UnitSystem, side: Side,
    dropped: Side, spread: tuple[Load, ...],
) -> Outcome:  # fmt: skip
    """``side`` counts and ``dropped`` does not; ``spread`` of it goes in with the other load."""
    extra = entries.adds_climate
    among = spread if extra else side.loads
    lines, bands = _general(entries, loads, edition, units, ("climate", "Heating", among))
    whole = tuple(load for load in side.loads if load not in among)
    rule = edition.rule("existing_b" if extra else "existing_a")
    connected, general, flows = _split(
        lines, bands, edition.limit("existing_first"), edition.limit("existing_rest"), rule
    )
    climate = total(whole)
    if whole:
        label = say("Heating whole") if side.name == "heating" else say("Cooling whole")
        lines.append(
            Line("climate_demand", label, climate, "VA", rules=(rule,),
                 entries=paths(whole), flow="climate_whole")
        )  # fmt: skip
        flows.append(Flow("climate_whole", label, climate, climate, say("whole")))
    out = dropped_only(side, dropped)
    if out:
        flows.append(
            Flow("dropped", say("The smaller of the two"), total(out), 0.0,
                 say("not at the same time"))
        )  # fmt: skip
    calculated = general + climate
    lines.append(
        Line(
            "calculated_load",
            say("Calculated load, existing and added"),
            calculated,
            "VA",
            f"{figure(general)} + {figure(climate)}" if climate else figure(general),
            (edition.rule("existing"),),
            kind="result",
        )
    )
    section = Section("existing", say("Existing dwelling, load added"), tuple(lines))
    groups = {"general_demand": general, "climate_demand": climate}
    return Outcome(section, connected + climate + total(out), calculated, tuple(flows), groups)
