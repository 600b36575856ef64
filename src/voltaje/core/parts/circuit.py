"""A branch circuit for one load, or for outlets of one kind."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from voltaje.core.codes import Edition
from voltaje.core.electrical.systems import Category, Connection, Demand, Piece, System
from voltaje.core.entries import (
    BigNameplate,
    Current,
    Few,
    Name,
    Percent,
    PowerFactor,
    Usual,
    Voltage,
    WrongEntryError,
    entry,
)
from voltaje.core.parts.kind import Context, Kind
from voltaje.core.parts.wired import (
    WIRING_GROUPS,
    Feed,
    WiringEntries,
    amperes_of,
    divisor,
    lines_of,
    size,
    volts_of,
)
from voltaje.core.rules.choose import Need
from voltaje.core.rules.ladder import Shop
from voltaje.core.rules.overcurrent import (
    devices_between,
    largest_rating,
    next_standard_device,
    previous_standard_device,
    standard_ratings,
)
from voltaje.core.units import Nameplate
from voltaje.core.worksheet import Finding, Line, Result, Section, Worked, figure, fits, say

Use = Literal[
    "general", "lighting", "receptacles", "water heater", "space heating", "air conditioning",
    "vehicle charging", "kiln", "kitchen", "sign",
]  # fmt: skip
# Common practice: volts further off than this share are another connection's, not the supply's.
OTHER_VOLTS = 0.02
MANY = 6  # no code figure: how many devices below a nameplate's most are tried


@dataclass(frozen=True, slots=True)
class Usage:
    """What a use brings along: continuous or not, category above, and the rule it follows."""

    label: str
    continuous: bool
    category: Category
    topic: str = ""


USES: dict[str, Usage] = {
    "general": Usage("general load", False, "other"),
    "lighting": Usage("lighting", True, "lighting", "continuous"),
    "receptacles": Usage("receptacles", False, "receptacles", "receptacle_load"),
    "water heater": Usage("water heater", True, "other", "water_heater"),
    "space heating": Usage("space heating", True, "heating", "space_heating"),
    "air conditioning": Usage("air conditioning", False, "cooling",
                              "air_conditioning"),
    "vehicle charging": Usage("vehicle charging", True, "other", "vehicle_charging"),
    "kiln": Usage("kiln", True, "other", "process_heating"),
    "kitchen": Usage("kitchen equipment", False, "kitchen"),
    "sign": Usage("sign", True, "lighting", "sign_circuit"),
}  # fmt: skip
CONNECTIONS = {
    "line-neutral": "line and neutral", "two-line": "two lines", "three-phase": "three-phase",
}  # fmt: skip
LINE_LABELS = {
    "auto": "to balance", "L1": "L1", "L2": "L2", "L3": "L3", "L1-L2": "L1 and L2",
    "L2-L3": "L2 and L3", "L1-L3": "L1 and L3",
}  # fmt: skip


# common practice: what a circuit of that use usually is, VA
USUAL = Usual(
    5.0, 500_000.0, "a branch circuit", "use",
    (
        ("lighting", 5.0, 30_000.0, "a lighting circuit"),
        ("water heater", 1000.0, 60_000.0, "a water heater"),
        ("space heating", 250.0, 60_000.0, "a space heater"),
        ("vehicle charging", 1000.0, 200_000.0, "a vehicle charger"),
        ("kiln", 500.0, 150_000.0, "a kiln"), ("kitchen", 100.0, 60_000.0, "kitchen equipment"),
        ("sign", 20.0, 20_000.0, "a sign"),
    ),
)  # fmt: skip


class CircuitEntries(WiringEntries):
    """A load, how it is connected, and how it is run."""

    use: Use = entry(
        "general", "Use", choices={name: use.label for name, use in USES.items()}, group="load"
    )
    load: BigNameplate | None = entry(
        None, "Load", group="load", example="4.5 kW, 3.2 kVA, 24 A", usual=USUAL,
        when=("use", tuple(name for name in USES if name not in ("receptacles",
                                                                "air conditioning"))),
    )  # fmt: skip
    outlets: Few = entry(0, "Outlets", help="180 VA each", group="load",
                         when=("use", ("receptacles",)))  # fmt: skip
    minimum_ampacity: Current | None = entry(
        None, "Minimum circuit ampacity", group="load", when=("use", ("air conditioning",)),
        help="nameplate", example="23 A",
    )  # fmt: skip
    maximum_device: Current | None = entry(
        None, "Maximum device", group="load", when=("use", ("air conditioning",)),
        help="nameplate", example="40 A",
    )  # fmt: skip
    connection: Connection = entry("line-neutral", "Connection", choices=CONNECTIONS, group="load")
    rated_volts: Voltage | None = entry(
        None, "Rated volts", help="if not the supply’s", group="load", example="240 V"
    )
    power_factor: PowerFactor = entry(
        1.0, "Power factor", help="turns W into VA", group="load", example="0.9"
    )
    continuous: Literal["auto", "yes", "no", "part"] = entry(
        "auto", "Runs three hours or more", group="load",
        choices={"auto": "as usual for its use", "yes": "yes, continuous", "no": "no",
                 "part": "part of it"},
    )  # fmt: skip
    continuous_share: Percent | None = entry(
        None, "Share that is continuous, %", group="load", when=("continuous", ("part",)),
        example="60",
    )  # fmt: skip
    neutral: bool = entry(
        False, "Takes a neutral along", group="load",
        when=("connection", ("two-line", "three-phase")),
    )  # fmt: skip
    nonlinear: bool = entry(False, "Mostly nonlinear load", group="load")
    line: Literal["auto", "L1", "L2", "L3", "L1-L2", "L2-L3", "L1-L3"] = entry(
        "auto", "Line", choices=LINE_LABELS, group="place"
    )
    multiwire: Name = entry(
        "", "Shares its neutral", help="one name for those that share", group="place",
        example="K1",
    )  # fmt: skip
    together: Name = entry(
        "", "Never runs with", help="one name for the group", group="place", example="Kilns",
    )  # fmt: skip


GROUPS = {"load": "The load", **WIRING_GROUPS, "place": "In its board"}


def work(entries: CircuitEntries, context: Context) -> Worked:
    """The circuit's worksheet: amperes, device, conductors, what goes with them."""
    system, edition = context.supply.system, context.edition
    usage = USES[entries.use]
    volts = volts_of(system, entries.connection, "connection")
    findings: list[Finding] = []
    lines, va, amperes = _load(entries, volts, system, edition, findings)
    share = _continuous(entries, usage)
    design = amperes * (1 + share * (edition.limit("continuous").value - 100) / 100)
    if share:
        more = edition.limit("continuous")
        rules = (more.rule, *((edition.rule(usage.topic),) if usage.topic else ()))
        lines.append(
            Line("design_amperes", say("With 125 % of what is continuous"), design, "A",
                 f"{figure(amperes)} × {figure(more.value / 100)}" if share == 1 else
                 f"{figure(amperes * (1 - share))} + {figure(amperes * share)} × "
                 f"{figure(more.value / 100)}",
                 rules, entries=("use", "continuous"), kind="sum", flow="load")
        )  # fmt: skip
    need = _need(entries, amperes, design, edition, findings)
    shop = context.shop
    if entries.use == "air conditioning":  # a smaller device than the nameplate's may not start it
        shop = Shop("maximum", shop.prices)
        context = replace(context, shop=shop)
    count = lines_of(entries.connection)
    feed = Feed(
        entries.connection,
        volts,
        count,
        _has_neutral(entries, system),
        entries.power_factor,
        entries.nonlinear,
        system.is_wye and count == 2,
    )
    if entries.multiwire:
        feed = _multiwire_feed(feed, system)
        lines.append(_multiwire_line(entries, edition))
    sized = size(need, feed, entries, context)
    findings += sized.findings
    _high_leg(entries, system, edition, findings)
    if not any(f.severity == "fails" for f in findings):
        spare = sized.pair.device - design
        if entries.use != "air conditioning":
            findings.append(
                Finding("holds", "device", say("{spare} A to spare on the device.",
                                               spare=figure(spare, 1)), f"{figure(spare, 1)} A")
            )  # fmt: skip
    results = {
        "load": Result(va, "VA", say("Load")),
        "amperes": Result(amperes, "A", say("Full-load amperes")),
        "design_amperes": Result(design, "A", say("With 125 % of continuous")),
        "volts": Result(volts, "V", say("Volts")),
        **sized.results,
    }
    answer = [n for n in ("device", "conductor", "ground_conductor", "raceway", "drop_percent")
              if n in results]  # fmt: skip
    return Worked(
        "circuit",
        edition.id,
        (Section("load", say("Load"), tuple(lines)), *sized.sections),
        results,
        tuple(findings),
        answer=tuple(answer),
        headline=sized.headline,
        ladder=sized.ladder.rungs,
        marks=sized.marks,
        wires=sized.wires,
    )


def _load(
    entries: CircuitEntries, volts: float, system: System, edition: Edition,
    findings: list[Finding],
) -> tuple[list[Line], float, float]:  # fmt: skip
    """Lines of the load, its VA and its amperes."""
    if entries.use == "receptacles":
        if not entries.outlets:
            raise WrongEntryError("outlets", "Needed: how many outlets the circuit has, like 8.")
        each = edition.limit("receptacle_load")
        va = entries.outlets * each.value
        lines = [
            Line("load", say("{count} outlets", count=entries.outlets), va, "VA",
                 f"{entries.outlets} × {figure(each.value)}", (each.rule,),
                 entries=("outlets",), flow="load")
        ]  # fmt: skip
        return _divided(lines, va, volts, entries)
    if entries.use == "air conditioning":
        return _air_conditioning(entries, volts, edition)
    plate = entries.load
    if plate is None or not (plate.watts or plate.amperes or plate.horsepower):
        raise WrongEntryError("load", "Needed: the load, like 4.5 kW, 3.2 kVA or 24 A.")
    if plate.horsepower is not None:
        raise WrongEntryError("load", "Horsepower belongs on a motor circuit: its current is read"
                              " from the code’s tables, not converted.")  # fmt: skip
    rated = plate.volts or entries.rated_volts or volts
    va = _volt_amperes(plate, rated, entries)
    lines = []
    if plate.amperes is not None:
        lines.append(
            Line("load", say("Load"), va, "VA",
                 f"{figure(plate.amperes)} × {divisor(rated, entries.connection)}",
                 entries=("load",), flow="load")
        )  # fmt: skip
    elif plate.active and entries.power_factor < 1:
        lines.append(
            Line("load", say("Load"), va, "VA",
                 f"{figure(plate.watts)} W ÷ {figure(entries.power_factor)}",
                 entries=("load", "power_factor"), flow="load")
        )  # fmt: skip
    else:
        lines.append(Line("load", say("Load"), va, "VA", entries=("load",), flow="load"))
    if entries.use == "sign":
        least = edition.limit("sign_circuit")
        if va < least.value:
            va = least.value
            lines.append(Line("sign", say("A sign outlet counts at least"), va, "VA", "",
                              (least.rule,), flow="load"))  # fmt: skip
    if abs(rated - volts) > OTHER_VOLTS * volts:
        findings.append(_other_volts(rated, volts, va, edition))
        return _divided(lines, va, rated, entries, rated)
    return _divided(lines, va, volts, entries)


def _volt_amperes(plate: Nameplate, rated: float, entries: CircuitEntries) -> float:
    if plate.watts is not None:
        return plate.watts / entries.power_factor if plate.active else plate.watts
    return (plate.amperes or 0.0) / (amperes_of(1.0, rated, entries.connection))


def _divided(
    lines: list[Line], va: float, volts: float, entries: CircuitEntries, rated: float = 0.0
) -> tuple[list[Line], float, float]:
    amperes = amperes_of(va, volts, entries.connection)
    lines.append(
        Line("amperes", say("Full-load amperes"), amperes, "A",
             f"{figure(va)} ÷ {divisor(volts, entries.connection)}",
             note=say("at its own {volts} V, where it draws more", volts=rated) if rated else None,
             entries=("connection",), kind="sum", flow="load")
    )  # fmt: skip
    return lines, va, amperes


def _other_volts(rated: float, volts: float, va: float, edition: Edition) -> Finding:
    """A resistive load on volts other than its own: power goes with the square."""
    ratio = volts / rated
    if rated > volts:
        words = say(
            "Rated {rated} V on {volts} V: a heater gives {percent} % of its power, {va} VA.",
            rated=rated, volts=volts, percent=figure(100 * ratio**2, 0),
            va=figure(va * ratio**2, 0),
        )  # fmt: skip
        mend = say("Order it for the supply’s volts, or raise the volts with a buck-boost"
                   " transformer.")  # fmt: skip
        return Finding("look", "rated_volts", words, f"{figure(100 * (1 - ratio**2), 0)} %", mend,
                       entries=("rated_volts",))  # fmt: skip
    return Finding(
        "fails", "rated_volts",
        say("Rated {rated} V on {volts} V: too high for it.", rated=rated, volts=volts),
        f"{figure(volts - rated)} V",
        say("Connect it to the volts on its nameplate."), entries=("rated_volts",),
    )  # fmt: skip


def _air_conditioning(
    entries: CircuitEntries, volts: float, edition: Edition
) -> tuple[list[Line], float, float]:
    if entries.minimum_ampacity is None:
        raise WrongEntryError("minimum_ampacity", "Needed: the nameplate’s minimum circuit"
                              " ampacity, like 23 A.")  # fmt: skip
    if entries.maximum_device is None:
        raise WrongEntryError("maximum_device", "Needed: the nameplate’s maximum fuse or breaker,"
                              " like 40 A.")  # fmt: skip
    amperes = entries.minimum_ampacity
    va = amperes / amperes_of(1.0, volts, entries.connection)
    line = Line(
        "amperes", say("Minimum circuit ampacity"), amperes, "A", "",
        (edition.rule("air_conditioning"),),
        note=say("the quarter more for its motor is in it"),
        entries=("minimum_ampacity",), kind="sum", flow="load",
    )  # fmt: skip
    return [line], va, amperes


def _continuous(entries: CircuitEntries, usage: Usage) -> float:
    if entries.use == "air conditioning":
        return 0.0
    if entries.continuous == "part":
        if entries.continuous_share is None:
            raise WrongEntryError("continuous_share", "Needed: the share in percent, like 60.")
        return entries.continuous_share / 100
    if entries.continuous == "auto":
        return 1.0 if usage.continuous else 0.0
    return 1.0 if entries.continuous == "yes" else 0.0


def _need(
    entries: CircuitEntries, amperes: float, design: float, edition: Edition,
    findings: list[Finding],
) -> Need:  # fmt: skip
    use = entries.use
    if use == "air conditioning":
        most = entries.maximum_device or 0.0
        least = previous_standard_device(most * (1 + 1e-6), edition)
        if not least or amperes > most:
            raise WrongEntryError("maximum_device", "The maximum device is below the minimum"
                                  " circuit ampacity: read the nameplate again.")  # fmt: skip
        found = devices_between(amperes, most, edition, MANY) or (least,)
        return Need(amperes, 0.0, amperes, found, elsewhere=True,
                    device_topic="air_conditioning_device",
                    conductor_topic="air_conditioning",
                    ceiling_topic="air_conditioning_device", ceiling=most)  # fmt: skip
    any_rating = largest_rating(edition)
    most, topic = any_rating, "standard_devices"
    ratings: tuple[float, ...] = standard_ratings(edition)
    if use == "receptacles":
        ratings, topic = outlet_ratings(edition), "multi_outlet"
        ratings = tuple(r for r in ratings if fits(edition.value("receptacle_least"), r))
        most = edition.value("receptacle_most")
    elif use in ("lighting", "sign"):
        ratings, topic = outlet_ratings(edition), "circuit_ratings"
        most = ratings[-1]
    elif use == "water heater":
        topic = "single_appliance"
        most = edition.value("small_appliance_device")
        if not fits(amperes, edition.value("small_appliance_amperes")):
            percent = edition.limit("single_appliance").value
            most = next_standard_device(amperes * percent / 100, edition).value
    found = tuple(r for r in ratings if fits(design, r) and fits(r, most))[:4]
    if not found:
        count = int(-(-design // most))
        findings.append(
            Finding(
                "fails", "too_much",
                say("{design} A is more than the {most} A that such a circuit may have.",
                    design=figure(design, 1), most=most),
                f"{figure(design - most, 1)} A",
                say("Split it over {count} circuits.", count=max(2, count)),
                (edition.rule(topic),), ("load", "outlets"),
            )
        )  # fmt: skip
        found, most = devices_between(design, any_rating, edition, 2), any_rating
    return Need(amperes, design, design, found, next_size=use != "receptacles",
                ceiling_topic=topic, ceiling=most)  # fmt: skip


def outlet_ratings(edition: Edition) -> tuple[float, ...]:
    """The ratings of circuits with more than one outlet, A (210.18)."""
    return tuple(edition.table("circuit_ratings").column("A").values())


def _has_neutral(entries: CircuitEntries, system: System) -> bool:
    """Whether a neutral goes along. Raises :class:`WrongEntryError` where the supply has none."""
    if entries.connection == "line-neutral":
        return True
    if entries.neutral and not system.has_neutral:
        raise WrongEntryError(
            "neutral", f"The supply, {system.label}, has no neutral to take along."
        )
    return entries.neutral


def _multiwire_feed(feed: Feed, system: System) -> Feed:
    """A circuit that shares its neutral: its partners' lines are counted with it."""
    lines = 3 if system.phases == 3 else 2
    pair = system.is_wye and lines == 2
    return Feed(feed.connection, feed.volts, lines, True, feed.power_factor, feed.nonlinear, pair)


def _multiwire_line(entries: CircuitEntries, edition: Edition) -> Line:
    return Line(
        "multiwire",
        say("Shares its neutral as “{name}”", name=entries.multiwire),
        rules=(edition.rule("multiwire"),),
        note=say(
            "its lines open together, by one device or listed handle ties, and must differ:"
            " on one line the neutral would carry the sum"
        ),
        entries=("multiwire",),
        kind="note",
        flow="neutral",
    )


def _high_leg(
    entries: CircuitEntries, system: System, edition: Edition, findings: list[Finding]
) -> None:
    if entries.connection == "line-neutral" and system.high_leg and entries.line == system.high_leg:
        findings.append(
            Finding("fails", "high_leg",
                    say("{line} is the high leg: about 208 V to neutral.", line=system.high_leg),
                    "", say("Put it on L1 or L3."), (edition.rule("high_leg"),), ("line",))
        )  # fmt: skip


def hand_up(entries: CircuitEntries, worked: Worked, context: Context) -> Demand:
    """The load as one piece, with the line it stands on."""
    usage = USES[entries.use]
    va, amperes = worked.value("load"), worked.value("amperes")
    # lighting and receptacles between lines are counted on the neutral anyhow
    to_neutral = entries.neutral and usage.category not in ("lighting", "receptacles")
    return Demand.of(
        [
            Piece(
                "", usage.category, va, va, amperes, entries.connection,
                entries.line, _continuous(entries, usage), device=worked.value("device"),
                group=entries.together, multiwire=entries.multiwire,
                nonlinear=entries.nonlinear, neutral=amperes if to_neutral else 0.0,
                power_factor=entries.power_factor,
            )
        ]
    )  # fmt: skip


KIND = Kind(
    "circuit",
    "Circuit",
    "Any load: device, conductors, raceway",
    CircuitEntries,
    work,
    hand_up,
    lambda entries, above: above,
    GROUPS,
)
