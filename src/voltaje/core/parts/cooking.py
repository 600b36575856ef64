"""A household cooking circuit: a range, an oven, a cooktop, or a cooktop and ovens together."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from voltaje.core.codes import Edition, NotCoveredError, editions
from voltaje.core.electrical.loads import Load
from voltaje.core.electrical.systems import Demand, Piece
from voltaje.core.entries import Nameplate, Usual, WrongEntryError, entry
from voltaje.core.parts.circuit import LINE_LABELS
from voltaje.core.parts.kind import Context, Kind
from voltaje.core.parts.wired import WIRING_GROUPS, Feed, Sized, WiringEntries, size, volts_of
from voltaje.core.rules.choose import Need
from voltaje.core.rules.conductors import label
from voltaje.core.rules.cooking import in_table, ways
from voltaje.core.rules.overcurrent import devices_between, largest_rating, next_standard_device
from voltaje.core.rules.wiring import Installation, options, terminal_column
from voltaje.core.units import Nameplate as Plate
from voltaje.core.worksheet import Finding, Line, Result, Section, Worked, figure, fits, say

TOGETHER = ("together",)
ONE = ("range", "oven", "cooktop")
LABELS = {
    "range": "one range", "oven": "one wall oven", "cooktop": "one cooktop",
    "together": "a cooktop and wall ovens on one circuit",
}  # fmt: skip
UNIT_LABELS = {"cooktop": "Cooktop", "oven_1": "Wall oven", "oven_2": "Second wall oven"}


# common practice: what household cooking usually is, VA
USUAL = Usual(1200.0, 27_000.0, "a range, oven or cooktop")


class CookingEntries(WiringEntries):
    """What cooks, by its nameplates, and how the circuit is run."""

    layout: Literal["range", "oven", "cooktop", "together"] = entry(
        "range", "What it feeds", choices=LABELS, group="units"
    )
    nameplate: Nameplate | None = entry(
        None, "Nameplate", group="units", example="11.4 kW", when=("layout", ONE), usual=USUAL
    )
    cooktop: Nameplate | None = entry(
        None, "Cooktop", group="units", example="7.2 kW", when=("layout", TOGETHER), usual=USUAL
    )
    oven_1: Nameplate | None = entry(
        None, "Wall oven", group="units", example="4.5 kW", when=("layout", TOGETHER), usual=USUAL
    )
    oven_2: Nameplate | None = entry(
        None, "Second wall oven", group="units", help="if there is one", example="3.6 kW",
        when=("layout", TOGETHER), usual=USUAL,
    )  # fmt: skip
    neutral: Literal["yes", "no"] = entry(
        "yes", "Neutral", choices={"yes": "needed: clock, lamp, 120 V parts", "no": "not needed"},
        group="units",
    )  # fmt: skip
    line: Literal["auto", "L1-L2", "L2-L3", "L1-L3"] = entry(
        "auto", "Line", group="place",
        choices={k: LINE_LABELS[k] for k in ("auto", "L1-L2", "L2-L3", "L1-L3")},
    )  # fmt: skip


GROUPS = {"units": "What cooks", **WIRING_GROUPS, "place": "In its board"}


@dataclass(frozen=True, slots=True)
class Tap:
    """A tap conductor to one unit: its nameplate amperes, what it must carry, its size."""

    name: str
    amperes: float
    needed: float
    size: str
    ampacity: float


@dataclass(frozen=True, slots=True)
class Solved:
    """One edition's answer."""

    demand: float
    amperes: float
    lines: tuple[Line, ...]
    need: Need
    sized: Sized
    taps: tuple[Tap, ...]
    findings: tuple[Finding, ...]


def units_of(entries: CookingEntries, volts: float) -> list[tuple[str, float]]:
    """Each unit with its nameplate in VA. Raises :class:`WrongEntryError`."""
    names = ("nameplate",) if entries.layout != "together" else ("cooktop", "oven_1", "oven_2")
    found = []
    for name in names:
        plate: Plate | None = getattr(entries, name)
        if plate is None:
            if name != "oven_2":
                raise WrongEntryError(name, "Needed: the nameplate, like 7.2 kW.")
            continue
        if plate.horsepower is not None:
            raise WrongEntryError(name, "Cooking units are given in kW or A, not in horsepower.")
        va = plate.watts if plate.watts is not None else (plate.amperes or 0) * (
            plate.volts or volts)  # fmt: skip
        if not va:
            raise WrongEntryError(name, "Needed: the nameplate, like 7.2 kW.")
        found.append((name, va))
    return found


def solve(entries: CookingEntries, context: Context) -> Solved:
    """The circuit under the context's edition."""
    edition = context.edition
    volts = volts_of(context.supply.system, "two-line", "layout")
    units = units_of(entries, volts)
    total = sum(va for _, va in units)
    findings: list[Finding] = []
    demand, lines = _demand(entries, units, total, edition)
    amperes = demand / volts
    lines.append(
        Line("amperes", say("Amperes"), amperes, "A", f"{figure(demand)} ÷ {figure(volts)}",
             kind="sum", flow="load")
    )  # fmt: skip
    need = _need(entries, amperes, total, lines, edition, findings)
    feed = Feed(
        "two-line", volts, 2, entries.neutral == "yes", wye_pair=context.supply.system.is_wye
    )
    sized = size(need, feed, entries, context)
    least_kw = edition.limit("range_kw").value
    if entries.neutral == "yes" and fits(least_kw * 1000, total):
        neutral_size = _neutral(entries, sized.pair.device, edition)
        share = edition.limit("range_neutral")
        feed = Feed("two-line", volts, 2, True, wye_pair=context.supply.system.is_wye,
                    neutral_size=_not_larger(neutral_size, sized.pair.option.size, edition),
                    neutral_rules=(share.rule,))  # fmt: skip
        sized = size(need, feed, entries, context)
    taps = _taps(entries, units, volts, edition) if entries.layout == "together" else ()
    return Solved(demand, amperes, tuple(lines), need, sized, taps, tuple(findings))


def work(entries: CookingEntries, context: Context) -> Worked:
    """The cooking circuit's worksheet, with what other editions would change."""
    found = solve(entries, context)
    edition, pair = context.edition, found.sized.pair
    findings = [*found.findings, *found.sized.findings]
    units = units_of(entries, volts_of(context.supply.system, "two-line", "layout"))
    connected = sum(va for _, va in units)
    sections = [Section("load", say("Load"), found.lines), *found.sized.sections]
    results = {
        "connected_load": Result(connected, "VA", say("Nameplates")),
        "load": Result(found.demand, "VA", say("Branch-circuit load")),
        "amperes": Result(found.amperes, "A", say("Amperes")),
        **found.sized.results,
    }
    if found.taps:
        sections.append(Section("taps", say("Taps from the junction box"),
                                _tap_lines(found.taps, entries, edition)))  # fmt: skip
        for tap in found.taps:
            text = label(tap.size, entries.material)
            results[f"tap_{tap.name}"] = Result(
                text, "", say("Tap to the {unit}", unit=UNIT_LABELS[tap.name].lower())
            )
            results[f"amperes_{tap.name}"] = Result(tap.amperes, "A", say(UNIT_LABELS[tap.name]))
    others = _other_editions(entries, context, found)
    if others:
        sections.append(Section("editions", say("Under the other editions"), others))
    if not any(f.severity == "fails" for f in findings):
        spare = pair.device - found.amperes
        findings.append(
            Finding("holds", "device", say("{spare} A to spare on the device.",
                                           spare=figure(spare, 1)), f"{figure(spare, 1)} A")
        )  # fmt: skip
    answer = [n for n in ("device", "conductor", "neutral_conductor", "ground_conductor",
                          "tap_cooktop", "tap_oven_1", "tap_oven_2", "drop_percent")
              if n in results]  # fmt: skip
    return Worked(
        "cooking", edition.id, tuple(sections), results, tuple(findings), answer=tuple(answer),
        headline=found.sized.headline, ladder=found.sized.ladder.rungs, marks=found.sized.marks,
        wires=found.sized.wires,
    )  # fmt: skip


def _demand(
    entries: CookingEntries, units: list[tuple[str, float]], total: float, edition: Edition
) -> tuple[float, list[Line]]:
    paths = tuple(name for name, _ in units)
    together = entries.layout == "together"
    note = edition.rule("cooking_note_together" if together else "cooking_note_one")
    if entries.layout in ("oven", "cooktop"):
        line = Line("nameplate", say("{what}: its nameplate", what=LABELS[entries.layout]
                                     .removeprefix("one ").capitalize()),
                    total, "VA", "", (note,), entries=paths, flow="load")  # fmt: skip
        return total, [line]
    lines = []
    if entries.layout == "together":
        lines.append(
            Line("nameplates", say("Nameplates, taken as one range"), total, "VA",
                 " + ".join(figure(va) for _, va in units), (note,), entries=paths,
                 kind="note", flow="load")
        )  # fmt: skip
    load = Load("nameplate", "range", total, 0.0)
    if not in_table(load, edition):
        lines.append(Line("nameplate", say("Up to 1¾ kW: its nameplate"), total, "VA",
                          entries=paths, flow="load"))  # fmt: skip
        return total, lines
    way = ways([load], edition)[0]
    if way.demand > total:  # a demand is never more than what is connected
        lines.append(Line("nameplate", say("Its nameplate, less than the table"), total, "VA", "",
                          (edition.rule("cooking"),), entries=paths, flow="load"))  # fmt: skip
        return total, lines
    return way.demand, [*lines, *way.lines]


def _need(
    entries: CookingEntries, amperes: float, total: float, lines: list[Line], edition: Edition,
    findings: list[Finding],
) -> Need:  # fmt: skip
    least = edition.limit("range_circuit")
    floor = 0.0
    if entries.layout in ("range", "together") and fits(
        edition.limit("range_kw").value * 1000, total
    ):
        floor = least.value
        words = say("Circuit of {kw} kW or more, at least", kw=edition.value("range_kw"))
        lines.append(
            Line("range_circuit", words, floor, "A", rules=(least.rule,), kind="note",
                 flow="device")
        )  # fmt: skip
    most = any_rating = largest_rating(edition)
    topic = "standard_devices"
    if entries.layout == "together":
        tap = edition.limit("tap_circuit_most")
        topic, most = "cooking_tap", tap.value
        if edition.says("taps_from_most"):
            floor = tap.value
            words = say("This edition takes taps from a {amperes} A circuit", amperes=floor)
            lines.append(
                Line("tap_circuit", words, floor, "A", rules=(tap.rule,), kind="note",
                     flow="device")
            )  # fmt: skip
        if not fits(amperes, most):
            findings.append(
                Finding("fails", "taps",
                        say("{amperes} A is more than the {most} A circuit that taps may leave.",
                            amperes=figure(amperes, 1), most=most),
                        f"{figure(amperes - most, 1)} A",
                        say("Give the cooktop and the ovens circuits of their own."),
                        (edition.rule("cooking_tap"),), ("cooktop",))
            )  # fmt: skip
            most = any_rating
    wanted = max(amperes, floor)
    return Need(amperes, wanted, amperes, devices_between(wanted, most, edition, 3),
                device_topic="range_circuit" if floor > amperes else "branch_device",
                ceiling_topic=topic, ceiling=most)  # fmt: skip


def _neutral(entries: CookingEntries, device: float, edition: Edition) -> str:
    share = edition.limit("range_neutral").value
    least = edition.limit_size("range_neutral_least")
    column = terminal_column(device, entries.terminals == "75", edition)
    order = list(edition.table("ampacity").rows)
    for option in options(entries.material, entries.installation(3), edition):
        if order.index(option.size) >= order.index(least) and fits(
            device * share / 100, option.final(column)
        ):
            return option.size
    raise NotCoveredError(edition.title, f"a neutral for {device:,.0f} A")


def _not_larger(size_: str, line: str, edition: Edition) -> str:
    order = list(edition.table("ampacity").rows)
    return min(size_, line, key=order.index)


def _taps(
    entries: CookingEntries, units: list[tuple[str, float]], volts: float, edition: Edition
) -> tuple[Tap, ...]:
    """Each tap: 20 A at least and the unit's whole nameplate, no demand factor."""
    least = edition.limit("tap_least").value
    installation: Installation = entries.installation(2)
    found = []
    for name, va in units:
        amperes = va / volts
        needed = max(amperes, least)
        column = terminal_column(next_standard_device(needed, edition).value,
                                 entries.terminals == "75", edition)  # fmt: skip
        for option in options(entries.material, installation, edition):
            if fits(needed, option.final(column)):
                found.append(Tap(name, amperes, needed, option.size, option.final(column)))
                break
        else:
            raise NotCoveredError(edition.title, f"a tap for {amperes:,.0f} A")
    return tuple(found)


def _tap_lines(
    taps: tuple[Tap, ...], entries: CookingEntries, edition: Edition
) -> tuple[Line, ...]:
    rule = edition.rule("cooking_tap")
    note = say("no longer than needed to service the unit")
    return tuple(
        Line(
            f"tap_{tap.name}",
            say("{unit}: {size}", unit=UNIT_LABELS[tap.name], size=label(tap.size,
                                                                        entries.material)),
            tap.ampacity,
            "A",
            f"{figure(tap.amperes)} A, at least {figure(edition.limit('tap_least').value)}"
            f" ≤ {figure(tap.ampacity)} A",
            (rule,),
            note=note,
            entries=(tap.name,),
            flow=f"tap_{tap.name}",
        )
        for tap in taps
    )  # fmt: skip


def _other_editions(entries: CookingEntries, context: Context, mine: Solved) -> tuple[Line, ...]:
    """What changes elsewhere, where it does: device and conductors."""
    lines = []
    for other in editions():
        if other.id == context.edition.id:
            continue
        try:
            theirs = solve(
                entries,
                Context(other, context.units, context.supply, context.below, context.shop),
            )
        except (NotCoveredError, WrongEntryError):
            continue
        here, there = mine.sized.pair, theirs.sized.pair
        if (here.device, here.conductor) == (there.device, there.conductor):
            continue
        lines.append(
            Line(f"edition_{other.id}", say("{edition}: {device} A, {conductor}",
                                            edition=other.title, device=there.device,
                                            conductor=there.conductor),
                 rules=(other.rule("cooking_tap" if entries.layout == "together"
                                   else "range_circuit"),),
                 note=say("here {device} A, {conductor}", device=here.device,
                          conductor=here.conductor), kind="note")
        )  # fmt: skip
    return tuple(lines)


def hand_up(entries: CookingEntries, worked: Worked, context: Context) -> Demand:
    """The circuit as one piece."""
    return Demand.of(
        [Piece("", "cooking", worked.value("connected_load"), worked.value("load"),
               worked.value("amperes"), "two-line", entries.line,
               device=worked.value("device"))]
    )  # fmt: skip


KIND = Kind(
    "cooking",
    "Cooking circuit",
    "Range, oven, cooktop, taps",
    CookingEntries,
    work,
    hand_up,
    lambda entries, above: above,
    GROUPS,
)
