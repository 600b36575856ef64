"""What all circuits and feeders share: how they are run, and their sizing on the tape."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt
from typing import Annotated, Any, Literal

from voltaje.core import units
from voltaje.core.codes import NotCoveredError, editions
from voltaje.core.electrical.systems import Connection, System
from voltaje.core.entries import (
    Current,
    Entries,
    Few,
    Length,
    Reads,
    Temperature,
    Units,
    Usual,
    WrongEntryError,
    entry,
)
from voltaje.core.parts import voltage_drop
from voltaje.core.parts.kind import Context
from voltaje.core.rules import ladder
from voltaje.core.rules.choose import Need
from voltaje.core.rules.conductors import label
from voltaje.core.rules.grounding import EquipmentGround, equipment_ground
from voltaje.core.rules.ladder import Ladder, Pair, Pin, Wires, circular_mils
from voltaje.core.rules.overcurrent import largest_rating, next_standard_device
from voltaje.core.rules.raceway import raceway
from voltaje.core.rules.wiring import (
    COLUMNS,
    RACEWAYS,
    Installation,
    adjustment_factor,
    ambient_factor,
    cable,
    counted_conductors,
    options,
)
from voltaje.core.worksheet import (
    Finding,
    Line,
    Mark,
    Result,
    Rule,
    Section,
    Wire,
    conductor_figures,
    figure,
    fits,
    say,
)

Size = Literal[
    "auto", "14", "12", "10", "8", "6", "4", "3", "2", "1", "1/0", "2/0", "3/0", "4/0", "250",
    "300", "350", "400", "500", "600", "700", "750", "800", "900", "1000",
]  # fmt: skip
SIZE_LABELS = {"auto": "as calculated"} | {
    name: label(name)
    for name in Size.__args__[1:]  # type: ignore[attr-defined]
}
METHOD_LABELS = {
    "EMT": "EMT", "PVC 40": "PVC schedule 40", "PVC 80": "PVC schedule 80",
    "RMC": "rigid metal conduit", "NM-B": "NM-B cable", "UF-B": "UF-B cable", "SE": "SE cable",
    "MC": "MC cable",
}  # fmt: skip
Interrupting = Annotated[float, Reads(units.CURRENT, 1000.0, 300_000.0)]
WIRING_GROUPS = {"run": "How it is run", "hand": "By hand"}


Method = Literal["EMT", "PVC 40", "PVC 80", "RMC", "NM-B", "UF-B", "SE", "MC"]
Insulation = Literal["THHN", "THWN-2", "THWN", "XHHW-2", "XHHW", "THW-2", "THW", "TW"]
Metal = Literal["copper", "aluminum"]


def method_entry(usual: Method) -> Any:
    """The wiring method, one and the same on every sheet but for what is usual there."""
    return entry(usual, "Wiring method", choices=METHOD_LABELS, group="run")


def insulation_entry(usual: Insulation) -> Any:
    """The insulation of conductors in a raceway."""
    table = editions()[-1].table("insulations")
    labels = {name: f"{name}, {cells['°C']} °C" for name, cells in table.rows.items()}
    return entry(usual, "Insulation", group="run", when=("method", RACEWAYS), choices=labels)


def metal_entry(title: str) -> Any:
    """Copper or aluminum."""
    return entry("copper", title, choices={"copper": "copper", "aluminum": "aluminum"},
                 group="run")  # fmt: skip


class WiringEntries(Entries):
    """How the conductors are run, and what the user fixes by hand."""

    material: Metal = metal_entry("Conductors")
    method: Method = method_entry("EMT")
    insulation: Insulation = insulation_entry("THHN")
    compact: bool = entry(False, "Compact stranding", group="run", when=("material", ("aluminum",)))
    terminals: Literal["rule", "75"] = entry(
        "rule", "Terminals", group="run",
        choices={"rule": "by the rule: 60 °C to 100 A", "75": "all listed for 75 °C"},
    )  # fmt: skip
    ambient: Temperature = entry(30.0, "Ambient", group="run", help="°C, or write 104 °F")
    others: Few = entry(
        0, "Other current-carrying conductors", help="in the same raceway or cable", group="run"
    )
    length: Length | None = entry(
        None, "Length, one way", group="run", help="for the drop",
        usual=Usual(1.0, 5000.0, "a run inside or between buildings"),
    )  # fmt: skip
    drop_sizing: Literal["job", "told", "part", "total"] = entry(
        "job", "Sized for the drop", choices=voltage_drop.SIZING, group="run"
    )
    device: Current | None = entry(
        None, "Device", help="empty: as calculated", group="hand", example="30 A"
    )
    size: Size = entry("auto", "Conductor", choices=SIZE_LABELS, group="hand")
    sets: Units | None = entry(None, "Sets in parallel", help="empty: one", group="hand")
    raceways: Literal["each", "one"] = entry(
        "each", "Sets in parallel lie", group="run", when=("method", RACEWAYS),
        choices={"each": "each in its raceway", "one": "all in one raceway"},
    )  # fmt: skip

    def installation(self, counted: int) -> Installation:
        """Where the conductors lie, with that many current-carrying ones of their own."""
        return Installation(
            self.method,
            self.insulation,
            self.ambient,
            counted + self.others,
            self.terminals == "75",
            self.compact and self.material == "aluminum",
            counted if self.raceways == "one" and self.is_raceway else 0,
        )

    def pin(self) -> Pin:
        """What is fixed by hand."""
        return Pin(self.device, None if self.size == "auto" else self.size, self.sets)

    @property
    def is_raceway(self) -> bool:
        return self.method in RACEWAYS


@dataclass(frozen=True, slots=True)
class Feed:
    """The electrical side of what is to be sized.

    ``lines`` ungrounded conductors, ``neutral`` amperes the neutral must carry (0 with
    ``has_neutral`` false), ``neutral_size`` where a rule fixes it, ``volts`` of the load.
    """

    connection: Connection
    volts: float
    lines: int
    has_neutral: bool
    power_factor: float = 1.0
    nonlinear: bool = False
    wye_pair: bool = False
    neutral_size: str = ""
    neutral_rules: tuple[Rule, ...] = ()
    ground_device: float = 0.0
    drop_topic: str = "drop_branch"
    drop_amperes: float = 0.0
    passes_on: bool = False


@dataclass(frozen=True, slots=True)
class Sized:
    """A sizing: its ladder, sections of the tape, findings, results, marks on the axis."""

    ladder: Ladder
    sections: tuple[Section, ...]
    findings: tuple[Finding, ...]
    results: dict[str, Result]
    marks: tuple[Mark, ...]
    ground: EquipmentGround
    headline: str
    wires: tuple[Wire, ...] = ()

    @property
    def pair(self) -> Pair:
        return self.ladder.chosen


def volts_of(system: System, connection: Connection, path: str) -> float:
    """Nominal volts of a load of that connection. Raises :class:`WrongEntryError` at ``path``."""
    volts = system.volts(connection)
    if volts:
        return volts
    what = {
        "line-neutral": "has no neutral",
        "two-line": "has only one line",
        "three-phase": "is not three-phase",
    }[connection]
    raise WrongEntryError(path, f"The supply, {system.label}, {what}: choose another connection.")


def amperes_of(va: float, volts: float, connection: Connection) -> float:
    """VA ÷ V, or VA ÷ (√3 × V)."""
    return va / (sqrt(3) * volts if connection == "three-phase" else volts)


def divisor(volts: float, connection: Connection) -> str:
    """The divisor as it is written: ``"240"`` or ``"(1.732 × 208)"``."""
    return f"(1.732 × {figure(volts)})" if connection == "three-phase" else figure(volts)


def lines_of(connection: Connection) -> int:
    """Ungrounded conductors of a connection."""
    return {"line-neutral": 1, "two-line": 2, "three-phase": 3}[connection]


def chosen_pair(need: Need, feed: Feed, entries: Any, context: Context) -> Pair:
    """The pair that :func:`size` would choose, for what depends on it before the rest is known.
    Raises like it."""
    counted = counted_conductors(feed.lines, feed.has_neutral, feed.wye_pair, feed.nonlinear)
    installation, pin = entries.installation(counted), entries.pin()
    _check_pin(pin, entries, installation, context)
    wires = Wires(feed.lines + (1 if feed.has_neutral and not feed.neutral_size else 0))
    sized = voltage_drop.with_drop(need, feed, entries, context)
    rest = (installation, context.edition, entries.material, wires, context.shop, pin)
    try:
        return ladder.chosen(sized, *rest)
    except NotCoveredError:
        if sized is need:
            raise
        return ladder.chosen(need, *rest)


def size(need: Need, feed: Feed, entries: Any, context: Context) -> Sized:
    """Sizes device, conductors, neutral, ground, raceway and drop. Raises
    :class:`NotCoveredError` when nothing passes, :class:`WrongEntryError` at an entry."""
    edition = context.edition
    counted = counted_conductors(feed.lines, feed.has_neutral, feed.wye_pair, feed.nonlinear)
    installation = entries.installation(counted)
    pin = entries.pin()
    _check_pin(pin, entries, installation, context)
    wires = Wires(feed.lines + (1 if feed.has_neutral and not feed.neutral_size else 0))
    rest = (installation, edition, entries.material, wires, context.shop, pin)
    plain = found = ladder.build(need, *rest)
    sized = voltage_drop.with_drop(need, feed, entries, context)
    if sized is not need:
        try:
            found = ladder.build(sized, *rest)
        except NotCoveredError:  # no conductor holds it: sized by ampacity, and told
            found = plain
    pair = found.chosen
    # what the ampacity alone would ask for: the equipment ground grows in proportion to it
    by_ampacity = plain.least if plain.chosen.sets == pair.sets else plain.chosen
    least = by_ampacity.option.size if by_ampacity else pair.option.size
    ground = equipment_ground(
        feed.ground_device or pair.device, entries.material, edition, pair.option.size, least
    )
    findings = list(found.findings)
    results: dict[str, Result] = {
        "device": Result(pair.device, "A", say("Device")),
        "conductor": Result(pair.conductor, "", say("Conductors")),
        **conductor_figures("conductor", pair.option.size, pair.sets, pair.option.material,
                            pair.verdict.ampacity),
    }  # fmt: skip
    device_lines = [_device_line(need, pair, context)]
    installed = installation.of_sets(pair.sets)
    conductor_lines = _conductor_lines(need, pair, installed, context)
    conductor_lines += _terminals_change(found, pair, installed, context)
    beside: list[Line] = []
    if feed.has_neutral:
        beside.append(_neutral_line(feed, pair, results))
    beside.append(_ground_line(ground, pair, feed.ground_device or pair.device, results))
    if entries.is_raceway:
        line = _raceway_line(feed, pair, ground, entries, context, results, findings)
        beside += [line] if line else []
    headline = f"{figure(pair.device)} A · {pair.conductor}"
    told: voltage_drop.VoltageDrop | None = None
    if entries.length:
        told = voltage_drop.told(need, feed, entries, context, found, plain, installation, wires)
        beside.append(told.line)
        findings += told.findings
        results["drop_percent"] = Result(told.percent, "%", say("Voltage drop"))
        headline += f" · {figure(told.percent, 1)} %"
    sections = (
        Section("device", say("Device"), tuple(device_lines)),
        Section("conductor", say("Conductors"), tuple(conductor_lines)),
        *((told.section,) if told and told.section else ()),
        Section("beside", say("With them"), tuple(beside)),
    )
    return Sized(
        found, sections, tuple(findings), results, _marks(need, pair), ground, headline,
        _wires(feed, pair, ground, entries, context),
    )  # fmt: skip


def _wires(
    feed: Feed, pair: Pair, ground: EquipmentGround, entries: Any, context: Context
) -> tuple[Wire, ...]:
    point = context.supply
    chosen = getattr(entries, "line", "auto")
    names = point.system.lines if chosen == "auto" else tuple(chosen.split("-"))
    own = lines_of(feed.connection) if chosen == "auto" else len(names)
    text = label(pair.option.size)
    found = [Wire(name, point.color(name), text) for name in names[: max(own, 1)]]
    if feed.has_neutral:
        size_ = feed.neutral_size or pair.option.size
        found.append(Wire("N", point.color("N") or "white", label(size_)))
    found.append(Wire("G", "green", label(ground.size)))
    return tuple(found)


def _check_pin(pin: Pin, entries: Any, installation: Installation, context: Context) -> None:
    most = largest_rating(context.edition)
    if pin.device is not None and pin.device > most:
        raise WrongEntryError("device", f"Give a device up to {figure(most)} A.")
    if pin.size is None:
        return
    found = options(entries.material, installation, context.edition)
    if not any(option.size == pin.size for option in found):
        made = f"{label(found[0].size)} to {label(found[-1].size)}"
        raise WrongEntryError(
            "size",
            f"{label(pin.size)} {entries.material} is not made as "
            f"{METHOD_LABELS[entries.method]} here: choose {made}.",
        )


def _device_line(need: Need, pair: Pair, context: Context) -> Line:
    try:
        rule = next_standard_device(pair.device, context.edition).rule
        standard = any(r == pair.device for r in need.devices) or rule.row != ""
    except NotCoveredError:
        rule, standard = context.edition.rule("standard_devices"), False
    most = max(need.devices, default=pair.device)
    if need.elsewhere:
        shown = f"at most {figure(min(most, need.ceiling))} A"
    else:
        sign = "≤" if fits(need.design, pair.device) else ">"
        shown = f"{figure(need.design)} {sign} {figure(pair.device)} A"
    return Line(
        "device",
        say("Device"),
        pair.device,
        "A",
        shown if standard else "",
        (rule, context.edition.rule(need.device_topic)),
        entries=("device",),
        kind="result",
        flow="device",
    )


def _conductor_lines(
    need: Need, pair: Pair, installation: Installation, context: Context
) -> list[Line]:
    edition, option, sets = context.edition, pair.option, pair.sets
    column = installation.own_column(edition)
    cell = edition.rule("ampacity", option.size, f"{option.material} {column}")
    each = f"{sets} × " if sets > 1 else ""
    lines = [
        Line(
            "ampacity_own",
            say("{conductor}: the {column} °C column of its insulation",
                conductor=pair.conductor, column=column),
            option.base * sets,
            "A",
            f"{each}{figure(option.base)} A" if sets > 1 else "",
            (cell,),
            entries=("material", "insulation", "method"),
            flow="conductor",
        )
    ]  # fmt: skip
    if option.ambient != 1:
        _, rule = ambient_factor(column, installation.ambient_c, edition)
        lines.append(
            Line("ambient", say("At {degrees} °C ambient", degrees=installation.ambient_c),
                 option.base * option.ambient * sets, "A",
                 f"{figure(option.base * sets)} × {figure(option.ambient)}", (rule,),
                 entries=("ambient",), flow="conductor")
        )  # fmt: skip
    if option.adjustment != 1:
        _, rule = adjustment_factor(installation.counted, edition)
        lines.append(
            Line("adjustment", say("{count} current-carrying conductors together",
                                   count=installation.counted),
                 option.corrected * sets, "A",
                 f"{figure(option.base * option.ambient * sets)} × {figure(option.adjustment)}",
                 (rule,), entries=("others",), flow="conductor")
        )  # fmt: skip
    at = pair.verdict.column
    lines.append(
        Line(
            "ampacity_terminals",
            say("At its terminals, {column} °C", column=at),
            option.terminal(at) * sets,
            "A",
            f"{figure(need.conductor)} ≤ {figure(option.terminal(at) * sets)}"
            if need.conductor <= option.terminal(at) * sets * (1 + 1e-9)
            else f"{figure(need.conductor)} > {figure(option.terminal(at) * sets)}",
            (
                edition.rule("terminations"),
                edition.rule("ampacity", option.size, f"{option.material} {min(at, column)}"),
                *_cable_rules(installation, context),
            ),
            entries=("terminals",),
            flow="terminals",
        )
    )  # fmt: skip
    if option.small and not need.elsewhere:
        lines.append(
            Line("small_conductor", say("Most it may be protected at"), option.small, "A", "",
                 (edition.rule("small_conductors", option.size, option.material),),
                 kind="note", flow="small")
        )  # fmt: skip
    lines.append(
        Line(
            "ampacity",
            say("Ampacity"),
            pair.verdict.ampacity,
            "A",
            "",
            (pair.verdict.rule,),
            note=pair.verdict.why,
            entries=("size", "sets"),
            kind="result",
            flow="conductor",
        )
    )
    return lines


def _terminals_change(
    found: Ladder, pair: Pair, installation: Installation, context: Context
) -> list[Line]:
    """Where the terminals change column a larger device may take a smaller wire."""
    if installation.listed_75 or pair.verdict.column != COLUMNS[0]:
        return []
    mils = circular_mils(context.edition)
    own = pair.option.mils * pair.sets
    other = next(
        (r for r in found.rungs
         if r.passes and r.device > pair.device and r.material == pair.option.material
         and mils[r.size] * r.sets < own * (1 - 1e-9)),
        None,
    )  # fmt: skip
    if other is None:
        return []
    return [
        Line("terminals_change", say("{device} A would take {conductor}", device=other.device,
                                     conductor=other.conductor),
             rules=(context.edition.rule("terminations"),),
             note=say("a smaller wire behind a larger device: above {amperes} A the terminals"
                      " are read at {column} °C", column=COLUMNS[1],
                      amperes=context.edition.value("terminations")), kind="note", flow="terminals")
    ]  # fmt: skip


def _cable_rules(installation: Installation, context: Context) -> tuple[Rule, ...]:
    made = cable(installation.method, context.edition)
    if made is None or made.topic == "ampacity":
        return ()
    return (context.edition.rule(made.topic),)


def _neutral_line(feed: Feed, pair: Pair, results: dict[str, Result]) -> Line:
    size_ = feed.neutral_size or pair.option.size
    text = label(size_, pair.option.material, pair.sets)
    results["neutral_conductor"] = Result(text, "", say("Neutral"))
    results |= conductor_figures("neutral_conductor", size_, pair.sets, pair.option.material)
    return Line(
        "neutral_conductor",
        say("Neutral: {size}", size=text),
        rules=feed.neutral_rules,
        note=None if feed.neutral_size else say("same size as the lines"),
        flow="neutral",
    )


def _ground_line(
    ground: EquipmentGround, pair: Pair, device: float, results: dict[str, Result]
) -> Line:
    text = label(ground.size, pair.option.material, pair.sets)
    results["ground_conductor"] = Result(text, "", say("Equipment ground"))
    results |= conductor_figures("ground_conductor", ground.size, pair.sets, pair.option.material)
    note = None
    if ground.grew:
        note = say("{table} by the table, grown with the lines", table=label(ground.table_size))
    elif pair.sets > 1:
        note = say("full size in each raceway")
    return Line(
        "ground_conductor",
        say("Equipment ground: {size}", size=text),
        expression=f"{figure(device)} A → {label(ground.table_size)}",
        rules=ground.rules,
        note=note,
        flow="ground",
    )


def _raceway_line(
    feed: Feed, pair: Pair, ground: EquipmentGround, entries: Any, context: Context,
    results: dict[str, Result], findings: list[Finding],
) -> Line | None:  # fmt: skip
    size_ = pair.option.size
    together = pair.sets if entries.raceways == "one" else 1
    sizes = [(size_, feed.lines * together + entries.others)]
    if feed.has_neutral:
        sizes.append((feed.neutral_size or size_, together))
    sizes.append((ground.size, 1))
    try:
        fill = raceway(sizes, entries.method, entries.insulation, context.edition,
                       entries.compact and entries.material == "aluminum")  # fmt: skip
    except NotCoveredError as error:
        findings.append(
            Finding("fails", "raceway", say("{words}", words=str(error)), "",
                    say("Take sets in parallel or another raceway."), entries=("method",))
        )  # fmt: skip
        return None
    each = None
    if pair.sets > 1:
        each = (
            say("{size} for each set", size=fill.trade_size)
            if together == 1
            else say("for all {sets} sets, with one equipment ground", sets=pair.sets)
        )
    text = f"{fill.trade_size} in {METHOD_LABELS[entries.method]}"
    results["raceway"] = Result(text, "", say("Raceway"))
    return Line(
        "raceway",
        say("Raceway: {text}", text=text),
        fill.percent,
        "%",
        f"{figure(fill.area, 3)} ÷ {figure(fill.inside, 3)} in², at most {figure(fill.allowed)} %",
        fill.rules,
        note=each
        or (say("other conductors taken as of the same size") if entries.others else None),
        entries=("method",),
        flow="raceway",
    )


def _marks(need: Need, pair: Pair) -> tuple[Mark, ...]:
    option, sets = pair.option, pair.sets
    final = pair.verdict.ampacity
    terminal = option.terminal(pair.verdict.column) * sets
    found = [
        Mark("load", say("Load"), need.load, "load"),
        Mark("device", say("Device"), pair.device, "device"),
        Mark("own", say("In its own column"), option.base * sets, "conductor"),
    ]
    asked = need.conductor if need.elsewhere else need.design
    if abs(asked - need.load) > 1e-9 * need.load:
        found.insert(1, Mark("design", say("With 125 %"), asked, "load"))
    if option.ambient != 1:
        found.append(Mark("ambient", say("After ambient"), option.base * option.ambient * sets,
                          "conductor"))  # fmt: skip
    if option.adjustment != 1:
        found.append(Mark("adjusted", say("After adjustment"), option.corrected * sets,
                          "conductor"))  # fmt: skip
    found.append(Mark("terminals", say("At the terminals"), terminal, "conductor",
                      abs(terminal - final) < 1e-9 * final))  # fmt: skip
    if option.small and not need.elsewhere:
        found.append(Mark("small", say("Small-conductor limit"), option.small, "limit",
                          option.small <= final))  # fmt: skip
    if final < terminal:
        found = [
            Mark(m.name, m.label, m.amperes, m.role, m.name in ("adjusted", "ambient")
                 and abs(m.amperes - final) < 1e-9 * final)
            for m in found
        ]  # fmt: skip
    return tuple(found)


def interrupting_finding(fault: float, rating: float | None, context: Context) -> Finding | None:
    """Whether devices of that interrupting rating, A, are up to the fault current (110.9)."""
    if not fault:
        return None
    rules = (context.edition.rule("interrupting"),)
    if rating is None:
        return Finding(
            "look", "interrupting",
            say("{fault} A can flow here at a fault.", fault=figure(fault, 0)), "",
            say("Enter the interrupting rating of its devices."), rules, ("interrupting",),
        )  # fmt: skip
    holds = fits(fault, rating)
    return Finding(
        "holds" if holds else "fails", "interrupting",
        say("{fault} A at a fault, {rating} A can be interrupted.", fault=figure(fault, 0),
            rating=figure(rating, 0)),
        f"{figure(abs(rating - fault), 0)} A",
        None if holds else say("Devices of a higher interrupting rating."), rules,
        ("interrupting",),
    )  # fmt: skip
