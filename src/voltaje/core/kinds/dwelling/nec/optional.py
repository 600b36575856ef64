"""The optional method (220.82), and the same arithmetic for an existing dwelling (220.83)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from voltaje.core.codes import Cell, Edition
from voltaje.core.electrical.loads import CountedLoad, paths, total
from voltaje.core.kinds.dwelling.nec.climate import (
    Selection,
    Side,
    dropped_only,
    larger_side,
    lowered_by_fourth_unit,
    selection_label,
    selections,
    sides,
)
from voltaje.core.kinds.dwelling.nec.entries import DwellingEntries
from voltaje.core.kinds.dwelling.nec.loads import Loads
from voltaje.core.kinds.dwelling.nec.standard import lowered
from voltaje.core.quantities import UnitSystem
from voltaje.core.report import Findings, Flow, Rule, Section, Text, Worksheet, figure, fits, say
from voltaje.core.report import words as words_of
from voltaje.core.rules.north_america import dwelling_demand as demand
from voltaje.core.rules.north_america.dwelling_demand import GroupDemand, Lighting

Band = Literal["fixed", "cooking", "dryers", "fan", "climate"]
LABELS: dict[str, Text] = {
    "lighting": say("General lighting"),
    "fixed": say("Appliances"),
    "cooking": say("Cooking"),
    "dryers": say("Drying"),
    "fan": say("Blower"),
    "climate": say("Heating"),
    "charging": say("Vehicle charging"),
}


@dataclass(frozen=True, slots=True)
class General:
    """All other load: lighting, the loads by the band of the drawing, vehicle charging; the
    ``first`` VA of it whole, the rest at a percentage."""

    lighting: Lighting
    bands: tuple[tuple[Band, tuple[CountedLoad, ...]], ...]
    chargers: GroupDemand
    first: Cell
    rest_percent: Cell

    @property
    def amounts(self) -> tuple[tuple[str, float], ...]:
        """VA by band; those that hold nothing are left out."""
        found = [("lighting", self.lighting.connected)]
        found += [(name, total(loads)) for name, loads in self.bands if loads]
        if self.chargers.demand:
            found.append(("charging", self.chargers.demand))
        return tuple(found)

    @property
    def connected(self) -> float:
        return sum(va for _, va in self.amounts)

    @property
    def rest(self) -> float:
        """What is at a percentage, VA."""
        return max(0.0, self.connected - self.first.value)

    @property
    def calculated(self) -> float:
        whole = min(self.connected, self.first.value)
        return whole + self.rest_percent.value / 100 * self.rest


def _general(
    entries: DwellingEntries,
    loads: Loads,
    edition: Edition,
    climate: tuple[Band, tuple[CountedLoad, ...]],
    topic: str,
) -> General:
    """``climate`` is what of heating and cooling goes in with it, ``topic`` whose limits hold."""
    return General(
        demand.lighting(
            entries.area or 0.0, entries.small_appliance_circuits, entries.laundry_circuits, edition
        ),
        (
            ("fixed", (*loads.fixed, *loads.own)),
            ("cooking", loads.cooking),
            ("dryers", loads.dryers),
            climate,
        ),
        demand.chargers(loads.chargers, edition),
        edition.limit(f"{topic}_first"),
        edition.limit(f"{topic}_rest"),
    )


def _report_general(
    found: General, rule: Rule, edition: Edition, units: UnitSystem, worksheet: Worksheet
) -> list[Flow]:
    """The lines of all other load and of its two shares; the bands of the drawing."""
    worksheet += demand.report_lighting_connected(found.lighting, edition, units)
    for band, loads in found.bands:
        for load in loads:
            shown = f"{load.count} × {figure(load.va)}" if load.count > 1 else ""
            words, name = say("{name}", name=load.name), f"nameplate_{load.path}"
            worksheet.step(name, words, load.total, "VA", shown, entries=load.path, flow=band)
    worksheet += demand.report_chargers(found.chargers, edition)
    connected, first, percent = found.connected, found.first.value, found.rest_percent.value
    shown = " + ".join(figure(va) for _, va in found.amounts)
    worksheet.sum("general_connected", say("All other load"), connected, "VA", shown)
    words = say(
        "First {first} kVA whole, the rest at {percent} %", first=first / 1000, percent=percent
    )
    shown = f"{figure(min(connected, first))} + {figure(found.rest)} × {figure(percent / 100, 4)}"
    worksheet.sum("general_demand", words, found.calculated, "VA", shown, rule)
    share = found.calculated / connected if connected else 0.0
    why = say("{percent} % of all", percent=round(share * 100, 1))
    return [Flow(name, LABELS[name], va, va * share, why) for name, va in found.amounts]


@dataclass(frozen=True, slots=True)
class Optional:
    """The optional method, VA: all other load, the six selections of heating and cooling, all of
    its loads, and by how much the fourth heater lowers it."""

    general: General
    choices: tuple[Selection, ...]
    climate_loads: tuple[CountedLoad, ...]
    heaters: tuple[CountedLoad, ...]
    lowered_by: float
    cautious: float = 0.0

    @property
    def chosen(self) -> Selection | None:
        """The selection that counts; ``None`` without heating and cooling."""
        return next((choice for choice in self.choices if choice.chosen), None)

    @property
    def climate(self) -> float:
        return max(choice.value for choice in self.choices)

    @property
    def connected(self) -> float:
        """All that is connected, VA."""
        return self.general.connected + total(self.climate_loads)

    @property
    def calculated(self) -> float:
        """The calculated load, VA."""
        return self.general.calculated + self.climate

    @property
    def groups(self) -> Mapping[str, float]:
        """The demands by name, VA."""
        return {"general_demand": self.general.calculated, "climate_demand": self.climate}


def calculate(entries: DwellingEntries, loads: Loads, edition: Edition) -> Optional:
    """The optional method."""
    kinds = ("heating", "cooling", "heat_pump", "backup", "backup_alone", "storage")
    return Optional(
        _general(entries, loads, edition, ("fan", loads.of("fan")), "optional"),
        selections(loads, edition),
        loads.of(*kinds),
        loads.of("heating"),
        lowered_by_fourth_unit(loads, edition),
    )


def report(
    found: Optional, edition: Edition, units: UnitSystem
) -> tuple[Section, tuple[Flow, ...]]:
    """The section of the optional method, and the bands of its drawing."""
    worksheet, rule = Worksheet(), edition.rule("optional_climate")
    flows = _report_general(
        found.general, edition.rule("optional_general"), edition, units, worksheet
    )
    chosen, climate = found.chosen, found.climate
    if chosen:
        label = selection_label(chosen.name, edition)
        terms = ", ".join(figure(choice.value) for choice in found.choices if choice.value)
        largest, loads = say("largest of {terms}", terms=terms), found.climate_loads
        words, entries = say("{label}", label=label), paths(loads)
        name = "climate_selection"
        worksheet.step(name, words, climate, "VA", largest, rule, entries=entries, flow="climate")
        words = say("Heating or cooling")
        flows.append(Flow("climate", words, total(loads), climate, label))
    lowered(worksheet, "heating", found.lowered_by, rule, found.heaters)
    shown = f"{figure(found.general.calculated)} + {figure(climate)}"
    words, rule = say("Calculated load, optional method"), edition.rule("optional")
    worksheet.result("calculated_load", words, found.calculated, "VA", shown, rule)
    return worksheet.section("optional", say("Optional method")), tuple(flows)


@dataclass(frozen=True, slots=True)
class Existing:
    """An existing dwelling with load added (220.83), VA: all other load, the season that counts
    with what of it is taken ``whole``, what drops ``out``; whether heating or cooling is added.
    ``cautious`` is a larger figure that stands beside it (0: none), ``heaters`` whose they are."""

    general: General
    season: str
    whole: tuple[CountedLoad, ...]
    out: tuple[CountedLoad, ...]
    adds_climate: bool
    cautious: float = 0.0
    heaters: tuple[CountedLoad, ...] = ()

    @property
    def climate(self) -> float:
        return total(self.whole)

    @property
    def connected(self) -> float:
        """All that is connected, VA."""
        return self.general.connected + self.climate + total(self.out)

    @property
    def calculated(self) -> float:
        """The calculated load, VA."""
        return self.general.calculated + self.climate


def existing(entries: DwellingEntries, loads: Loads, edition: Edition) -> Existing:
    """Existing dwelling with load added (220.83): the larger of heating and cooling whole when
    either is added, else in with all other load.

    Many separately controlled heaters count among the other load by the letter of (B). That
    governs; what they would come to if they counted whole stands beside it.
    """
    larger, smaller = larger_side(loads, (), edition)
    heaters = loads.of("heating")
    many = edition.value("existing_many_from")
    spread = entries.adds_climate and fits(many, sum(load.count for load in heaters))
    cautious = _existing(entries, loads, edition, larger, smaller, ())
    if not spread:
        return cautious
    heating, cooling = sides(loads, (), edition)
    # whichever season then asks for more: heat at a share may be less than cooling whole
    ways = (
        _existing(entries, loads, edition, heating, cooling, heaters),
        _existing(entries, loads, edition, cooling, heating, ()),
    )
    letter = max(ways, key=lambda way: way.calculated)
    return Existing(
        letter.general,
        letter.season,
        letter.whole,
        letter.out,
        letter.adds_climate,
        cautious.calculated,
        heaters,
    )


def _existing(
    entries: DwellingEntries,
    loads: Loads,
    edition: Edition,
    side: Side,
    dropped: Side,
    spread: tuple[CountedLoad, ...],
) -> Existing:
    """``side`` counts and ``dropped`` does not; ``spread`` of it goes in with the other load."""
    extra = entries.adds_climate
    among = spread if extra else side.loads
    general = _general(entries, loads, edition, ("climate", among), "existing")
    whole = tuple(load for load in side.loads if load not in among)
    return Existing(general, side.name, whole, tuple(dropped_only(side, dropped)), extra)


def report_existing(
    found: Existing, edition: Edition, units: UnitSystem
) -> tuple[Section, tuple[Flow, ...]]:
    """The section of the existing dwelling, and the bands of its drawing."""
    worksheet, rule = (
        Worksheet(),
        edition.rule("existing_b" if found.adds_climate else "existing_a"),
    )
    flows = _report_general(found.general, rule, edition, units, worksheet)
    climate, general = found.climate, found.general.calculated
    if found.whole:
        label: Text = say("Cooling whole")
        if found.season == "heating":
            label = say("Heating whole")
        entries, name = paths(found.whole), "climate_whole"
        worksheet.step("climate_demand", label, climate, "VA", "", rule, entries=entries, flow=name)
        flows.append(Flow(name, label, climate, climate, say("whole")))
    if found.out:
        words, why = say("The smaller of the two"), say("not at the same time")
        flows.append(Flow("dropped", words, total(found.out), 0.0, why))
    shown = f"{figure(general)} + {figure(climate)}" if climate else figure(general)
    words, rule = say("Calculated load, existing and added"), edition.rule("existing")
    worksheet.result("calculated_load", words, found.calculated, "VA", shown, rule)
    if found.cautious:
        worksheet.note(
            "existing_cautious",
            say("With the heaters whole"),
            found.cautious,
            "VA",
            rules=edition.limit("existing_many_from").rule,
            entries=paths(found.heaters),
            note=say("the cautious figure: all may run through a cold night"),
        )
    return worksheet.section("existing", say("Existing dwelling, load added")), tuple(flows)


def existing_findings(found: Existing, edition: Edition) -> Findings:
    """The letter beside the cautious figure, where many heaters part them."""
    told = Findings()
    if not found.cautious:
        return told
    many = edition.limit("existing_many_from")
    more = found.cautious - found.calculated
    words = say(
        "{many} or more separately controlled heaters count among the other load: {letter} VA by"
        " the letter, which governs; {cautious} VA with the heaters whole.",
        many=words_of(many.value).capitalize(),
        letter=found.calculated,
        cautious=found.cautious,
    )
    told.add(
        "check" if more > 0 else "remark",
        "existing_heaters",
        words,
        f"{figure(more)} VA",
        mend=say("Where they all run through a cold night, keep to the larger figure."),
        rules=many.rule,
        entries=paths(found.heaters),
    )
    return told
