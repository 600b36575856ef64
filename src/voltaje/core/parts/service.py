"""A service: its disconnects, its conductors, and everything that is grounded and bonded there."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Any

from voltaje.core import units
from voltaje.core.codes import Edition, NotCoveredError
from voltaje.core.electrical.lines import place
from voltaje.core.electrical.systems import Demand
from voltaje.core.entries import Reads, WrongEntryError, entry
from voltaje.core.parts.far_end import brings, fault_at_far_end, lost_at_far_end
from voltaje.core.parts.feeder import amperes_lines, amperes_on_lines, connection_of
from voltaje.core.parts.kind import Context, Kind
from voltaje.core.parts.wired import (
    SIZE_LABELS,
    WIRING_GROUPS,
    Feed,
    Interrupting,
    Size,
    WiringEntries,
    interrupting_finding,
    size,
)
from voltaje.core.rules.choose import Need
from voltaje.core.rules.conductors import label
from voltaje.core.rules.feeder_demand import calculate
from voltaje.core.rules.grounding import Jumper, bonding_size, electrode_size
from voltaje.core.rules.ladder import Pair
from voltaje.core.rules.neutral import reduced
from voltaje.core.rules.overcurrent import devices_between, largest_rating
from voltaje.core.rules.wiring import options
from voltaje.core.worksheet import (
    Finding,
    Line,
    Result,
    Rule,
    Section,
    Worked,
    conductor_figures,
    figure,
    fits,
    say,
)

Disconnects = Annotated[int, Reads(units.COUNT, 1, 6, whole=True)]
ELECTRODES = {
    "water_pipe": ("water pipe", "Metal underground water pipe"),
    "steel": ("structural steel", "Structural steel"),
    "concrete": ("concrete-encased", "Concrete-encased electrode"),
    "rod": ("rod", "Rod, pipe or plate"),
    "ring": ("ring", "Ground ring"),
}


class ServiceEntries(WiringEntries):
    """Disconnects, raceways, electrodes, and how the service conductors are run."""

    disconnects: Disconnects = entry(1, "Disconnects", group="service")
    interrupting: Interrupting | None = entry(
        None, "Interrupting rating", group="service", help="of its devices", example="22 kA"
    )
    water_pipe: bool = entry(False, "Metal underground water pipe", group="electrodes")
    steel: bool = entry(False, "Structural steel", group="electrodes")
    concrete: bool = entry(False, "Concrete-encased electrode", group="electrodes")
    rod: bool = entry(False, "Rod, pipe or plate", group="electrodes")
    ring: bool = entry(False, "Ground ring", group="electrodes")
    ring_size: Size = entry("2", "Ring conductor", choices=SIZE_LABELS, group="electrodes")


GROUPS = {
    "service": "The service", "electrodes": "Electrodes that are there", **WIRING_GROUPS,
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Grounded:
    """The grounded conductor of each set or raceway, and why."""

    size: str
    count: int
    rules: tuple[Rule, ...]
    by: str


def grounded_conductor(
    pair: Pair, one_raceway: bool, neutral: float, edition: Edition, installation: Any
) -> Grounded:
    """The larger of 250.102(C)(1) and the unbalanced load; with sets in raceways of their own by
    the conductors of each raceway and not below 1/0 AWG.

    ``neutral`` in A for the whole service.
    """
    order = list(edition.table("conductor_properties").rows)
    together = one_raceway or pair.sets == 1
    mils = pair.option.mils * (pair.sets if together else 1)
    jumper = bonding_size(mils, pair.option.material, edition)
    least, rules, by = jumper.size, jumper.rules, "table"
    if any(rule.topic == "over_1100" for rule in rules):
        by = "12.5 % of the area"
    count = 1 if together else pair.sets
    floor = edition.limit_size("parallel")
    if not together and order.index(least) < order.index(floor):
        least, rules, by = floor, (edition.rule("parallel"), *rules), "the least of parallel sets"
    each = neutral / count
    carries = next(
        (o.size for o in options(pair.option.material, installation, edition)
         if fits(each, o.final(pair.verdict.column))),
        None,
    )  # fmt: skip
    if carries is None:
        raise NotCoveredError(edition.title, f"a grounded conductor for {each:,.0f} A")
    if order.index(carries) > order.index(least):
        least, rules, by = carries, (edition.rule("neutral"), *rules), "the unbalanced load"
    return Grounded(least, count, rules, by)


def work(entries: ServiceEntries, context: Context) -> Worked:
    """The service's worksheet."""
    system, edition = context.supply.system, context.edition
    pieces = context.below.pieces
    if not pieces:
        raise WrongEntryError("", "Nothing hangs on this service yet: add feeders, boards or loads"
                              " below it.")  # fmt: skip
    if entries.ring_size == "auto" or (entries.ring and _under_least(entries.ring_size, edition)):
        raise WrongEntryError("ring_size", f"A ring is {label(edition.limit_size('ring_least'))} at"
                              " least: choose its size.")  # fmt: skip
    found = calculate(pieces, edition)
    placed = place(pieces, system)
    carried = amperes_on_lines(placed, found, system)
    lines = carried.lines
    neutral = reduced(carried.unbalanced, carried.nonlinear, system, edition)
    balanced = system.line_current(found.load)
    load = max([balanced, *lines.values()])
    design = load * found.design / found.load if found.load else load
    need = Need(load, design, design, devices_between(design, largest_rating(edition), edition, 3),
                device_topic="service_device", conductor_topic="service_device")  # fmt: skip
    feed = Feed(connection_of(system), system.line_to_line or system.to_neutral,
                len(system.lines), system.has_neutral,
                wye_pair=system.is_wye and system.phases == 1, drop_topic="drop_total",
                passes_on=True)  # fmt: skip
    sized = size(need, feed, entries, context)
    pair = sized.pair
    tape = [
        *found.lines, *amperes_lines(found, placed, carried, load, system, edition),
    ]  # fmt: skip
    results: dict[str, Result] = {
        "connected_load": Result(found.connected, "VA", say("Connected load")),
        "calculated_load": Result(found.load, "VA", say("Calculated load")),
        "amperes": Result(load, "A", say("Amperes")),
        "design_amperes": Result(design, "A", say("With 125 % of continuous")),
        "neutral_amperes": Result(neutral, "A", say("Unbalanced load")),
        **sized.results,
    }
    findings = list(sized.findings)
    bonds = _bonds(entries, pair, neutral, context, results, findings)
    _fault(entries, context, results, findings)
    if not any(f.severity == "fails" for f in findings):
        spare = pair.device - design
        findings.append(
            Finding("holds", "device", say("{spare} A to spare on the device.",
                                           spare=figure(spare, 1)), f"{figure(spare, 1)} A")
        )  # fmt: skip
    # the service has no equipment ground of its own: supply-side bonding takes its place
    sections = [
        replace(s, lines=tuple(line for line in s.lines if line.name not in
                               ("ground_conductor", "neutral_conductor")))
        for s in sized.sections
    ]  # fmt: skip
    results.pop("ground_conductor", None)
    results.pop("neutral_conductor", None)
    answer = [n for n in ("device", "conductor", "grounded_conductor", "main_bonding_jumper",
                          "electrode_conductor", "calculated_load") if n in results]  # fmt: skip
    return Worked(
        "service", edition.id,
        (Section("load", say("Calculated load"), tuple(tape)), *sections,
         Section("grounding", say("Grounding and bonding"), bonds)),
        results, tuple(findings), answer=tuple(answer), headline=sized.headline,
        ladder=sized.ladder.rungs, marks=sized.marks,
        wires=tuple(w for w in sized.wires if w.role != "G"),
    )  # fmt: skip


def _under_least(size_: str, edition: Edition) -> bool:
    order = list(edition.table("conductor_properties").rows)
    return order.index(size_) < order.index(edition.limit_size("ring_least"))


def _bonds(
    entries: ServiceEntries, pair: Pair, neutral: float, context: Context,
    results: dict[str, Result], findings: list[Finding],
) -> tuple[Line, ...]:  # fmt: skip
    system, edition = context.supply.system, context.edition
    material = pair.option.material
    total = pair.option.mils * pair.sets
    lines: list[Line] = []
    if system.has_neutral:
        grounded = grounded_conductor(pair, entries.raceways == "one", neutral, edition,
                                      entries.installation(len(system.lines))
                                      .of_sets(pair.sets))  # fmt: skip
        text = label(grounded.size, material, grounded.count)
        results["grounded_conductor"] = Result(text, "", say("Grounded conductor"))
        results |= conductor_figures("grounded_conductor", grounded.size, grounded.count, material)
        lines.append(
            Line("grounded_conductor", say("Grounded conductor: {size}", size=text),
                 expression=f"by {grounded.by}; {figure(neutral, 1)} A of unbalanced load",
                 rules=(edition.rule("grounded_to_disconnect"), *grounded.rules),
                 note=say("to every disconnect: it is the path of fault current")
                 if entries.disconnects > 1 else say("it is the path of fault current"),
                 flow="grounded")
        )  # fmt: skip
        jumper = bonding_size(total, material, edition)
        text = label(jumper.size, material)
        results["main_bonding_jumper"] = Result(text, "", say("Main bonding jumper"))
        lines.append(
            Line("main_bonding_jumper", say("Main bonding jumper: {size}", size=text),
                 expression=f"{figure(total)} circular mils",
                 rules=(edition.rule("main_bonding_jumper"), *jumper.rules),
                 note=say("ties the grounded conductor to ground, in each disconnect")
                 if entries.disconnects > 1 else
                 say("ties the grounded conductor to ground, here and nowhere after it"),
                 flow="mbj")
        )  # fmt: skip
    side = bonding_size(total if entries.raceways == "one" else pair.option.mils, material, edition)
    results["supply_side_jumper"] = Result(label(side.size, material), "",
                                           say("Supply-side bonding jumper"))  # fmt: skip
    lines.append(
        Line("supply_side_jumper", say("Supply-side bonding jumper: {size}",
                                       size=label(side.size, material)),
             rules=(edition.rule("supply_side_jumper"), *side.rules),
             note=say("for each metal raceway of the service"), flow="ssbj")
    )  # fmt: skip
    lines += _electrodes(entries, total, material, edition, results, findings)
    return tuple(lines)


def _electrodes(
    entries: ServiceEntries, mils: float, material: str, edition: Edition,
    results: dict[str, Result], findings: list[Finding],
) -> list[Line]:  # fmt: skip
    present = [name for name in ELECTRODES if getattr(entries, name)]
    lines: list[Line] = []
    largest: Jumper | None = None
    areas = edition.table("conductor_properties").column("circular mils")
    for name in present:
        kind, words = ELECTRODES[name]
        # electrode conductors are of copper here: aluminum ones may not touch earth or concrete
        found = electrode_size(mils if material == "copper" else _as_copper(mils, edition),
                               "copper", kind, edition, entries.ring_size)  # fmt: skip
        text = label(found.size, "copper")
        results[f"electrode_{name}"] = Result(text, "", say("To the {what}", what=words.lower()))
        lines.append(
            Line(f"electrode_{name}", say("To the {what}: {size}", what=words.lower(), size=text),
                 rules=found.rules, entries=(name,), flow=f"electrode_{name}")
        )  # fmt: skip
        if largest is None or areas[found.size] > areas[largest.size]:
            largest = found
    if largest is None:
        findings.append(
            Finding("fails", "electrode", say("No grounding electrode is entered."), "",
                    say("Choose those that are there; drive rods if there are none."),
                    (edition.rule("electrode_system"),), ("rod",))
        )  # fmt: skip
        return lines
    results["electrode_conductor"] = Result(label(largest.size, "copper"), "",
                                            say("Grounding electrode conductor"))  # fmt: skip
    if present == ["rod"]:
        findings.append(
            Finding("look", "rod_two", say("A single rod needs a second one beside it unless it"
                                           " measures 25 Ω or less."), "",
                    say("Drive two, 6 ft apart at least."), (edition.rule("rod_two"),), ("rod",))
        )  # fmt: skip
    if present == ["water_pipe"]:
        findings.append(
            Finding("look", "water_pipe", say("A water pipe is supplemented by another electrode."),
                    "", say("Add a rod or the concrete-encased electrode."),
                    (edition.rule("electrode_system"),), ("water_pipe",))
        )  # fmt: skip
    return lines


def _as_copper(mils: float, edition: Edition) -> float:
    """Copper circular mils of the same row of Table 250.66 as aluminum ones."""
    areas = edition.table("conductor_properties").column("circular mils")

    def area(text: str) -> float:
        return areas.get(text) or float(text) * 1000

    rows = list(edition.table("electrode_conductor").rows.values())
    row = next((r for r in rows if fits(mils, area(r["aluminum to"]))), rows[-1])
    return area(row["copper to"])


def _fault(
    entries: ServiceEntries, context: Context, results: dict[str, Result], findings: list[Finding]
) -> None:
    fault = context.supply.fault
    if not fault:
        return
    results["fault"] = Result(fault, "A", say("Available fault current"))
    finding = interrupting_finding(fault, entries.interrupting, context)
    findings += [finding] if finding else []


def hand_up(entries: ServiceEntries, worked: Worked, context: Context) -> Demand:
    """Its loads, each on its line."""
    return Demand.of(place(context.below.pieces, context.supply.system))


KIND = Kind(
    "service",
    "Service",
    "Disconnect, conductors, grounding",
    ServiceEntries,
    work,
    hand_up,
    lambda entries, above: above,
    GROUPS,
    holds_parts=True,
    fault_out=fault_at_far_end,
    lost_out=lost_at_far_end,
    brings=brings,
    uses_fault=True,
)
