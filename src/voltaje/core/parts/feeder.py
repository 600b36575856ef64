"""A feeder: the calculated load of what hangs on it and what is entered, sized like a circuit."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Any, Literal

from voltaje.core import units
from voltaje.core.codes import Edition, editions
from voltaje.core.electrical.lines import currents, place, plain
from voltaje.core.electrical.systems import Connection, Demand, Piece, System
from voltaje.core.entries import (
    BigNameplate,
    Few,
    Length,
    Name,
    Reads,
    Row,
    Units,
    Usual,
    WrongEntryError,
    entry,
)
from voltaje.core.parts.far_end import brings, fault_at_far_end, lost_at_far_end
from voltaje.core.parts.kind import Context, Kind
from voltaje.core.parts.wired import (
    WIRING_GROUPS,
    Feed,
    Sized,
    WiringEntries,
    amperes_of,
    chosen_pair,
    divisor,
    size,
)
from voltaje.core.rules.choose import Need
from voltaje.core.rules.feeder_demand import Calculated, calculate
from voltaje.core.rules.grounding import equipment_ground
from voltaje.core.rules.neutral import reduced
from voltaje.core.rules.overcurrent import (
    devices_between,
    largest_rating,
    next_standard_device,
    standard_ratings,
)
from voltaje.core.rules.wiring import options, terminal_column
from voltaje.core.units import AREA
from voltaje.core.units import show as show_unit
from voltaje.core.worksheet import Finding, Line, Result, Section, Worked, figure, fits, say

# no code figure: a heavier line is named from here on; below it the figures print alike
HEAVIER = 1.001
TERMS = 8  # no code figure: how many terms a line holds
FloorArea = Annotated[float, Reads(units.AREA, 1.0, 2_000_000.0)]
Outlets = Annotated[int, Reads(units.COUNT, 0, 10_000, whole=True)]
CATEGORIES = {
    "other": "other load", "lighting": "lighting", "receptacles": "receptacles",
    "kitchen": "kitchen equipment", "heating": "space heating", "cooling": "air conditioning",
}  # fmt: skip
CONNECTIONS = {
    "auto": "all lines", "line-neutral": "line and neutral", "two-line": "two lines",
    "three-phase": "three-phase",
}  # fmt: skip


def _occupancies() -> list[dict[str, str]]:
    names: dict[str, None] = {}
    for code in editions():
        names.update(dict.fromkeys(code.table("occupancy_load").rows))
        names.update(dict.fromkeys(code.table("occupancy_names").rows))
    return [{"name": name} for name in sorted(names)]


class Floor(Row):
    """A floor area with its occupancy."""

    name: Annotated[str, Name] = entry("", "Occupancy", suggestions=_occupancies(), example="Store")
    area: FloorArea | None = entry(
        None, "Area", example="3000 sq ft", usual=Usual(50.0, 500_000.0, "an occupancy’s floor")
    )


class FeederLoad(Row):
    """A load by its nameplate."""

    name: Annotated[str, Name] = entry("", "Load", example="Exhaust fans")
    count: Units = entry(1, "How many")
    nameplate: BigNameplate | None = entry(
        None, "Nameplate", usual=Usual(20.0, 2_000_000.0, "a load of a feeder")
    )
    category: Literal["other", "lighting", "receptacles", "kitchen", "heating", "cooling"] = entry(
        "other", "What it is", choices=CATEGORIES
    )
    connection: Literal["auto", "line-neutral", "two-line", "three-phase"] = entry(
        "auto", "Connection", choices=CONNECTIONS
    )
    continuous: bool = entry(False, "Continuous")
    together: Name = entry("", "Never runs with", example="Season")


class FeederEntries(WiringEntries):
    """What hangs on the feeder apart from the parts below it, and how it is run."""

    floors: tuple[Floor, ...] = entry((), "Floor areas", group="loads", add="Add a floor area")
    receptacles: Outlets = entry(0, "Receptacles", help="180 VA each", group="loads")
    show_window: Length | None = entry(
        None, "Show window", help="200 VA a foot", group="loads", example="30 ft"
    )
    signs: Few = entry(0, "Sign circuits", help="1,200 VA each", group="loads")
    loads: tuple[FeederLoad, ...] = entry((), "Loads", group="loads", add="Add a load")
    demand: Literal["calculated", "whole"] = entry(
        "calculated", "Demand factors", group="loads",
        choices={"calculated": "as the code allows", "whole": "none: all load whole"},
    )  # fmt: skip
    nonlinear: bool = entry(False, "Mostly nonlinear load", group="run")


GROUPS = {"loads": "Load entered here", **WIRING_GROUPS}


def connection_of(system: System) -> Connection:
    """How a load that takes all lines of a system is connected."""
    if system.phases == 3:
        return "three-phase"
    return "two-line" if system.line_to_line else "line-neutral"


def occupancy(name: str, edition: Edition) -> str | None:
    """The row of the occupancy table that a name stands for, by itself or as the table's notes
    take it; ``None`` where neither knows it."""
    wanted = " ".join(name.lower().split())
    rows = edition.table("occupancy_load").rows
    found = next((r for r in rows if r.lower() == wanted), None)
    others = edition.table("occupancy_names").rows
    known = next((cells["row"] for r, cells in others.items() if r.lower() == wanted), None)
    return found or known


def own_pieces(
    entries: FeederEntries, system: System, edition: Edition, unit_system: Any
) -> tuple[list[Piece], list[str], list[Line]]:
    """The entered loads as pieces, the occupancy of each, and the lines that show them."""
    lit = connection_of(system)
    pieces: list[Piece] = []
    kinds: list[str] = []
    lines: list[Line] = []
    included = edition.says("unit_loads_continuous")  # the continuous quarter is in them then

    def add(name: str, category: Any, va: float, continuous: float, kind: str = "",
            connection: Connection = lit, by_area: bool = False, group: str = "",
            choice: str = "") -> None:  # fmt: skip
        amperes = amperes_of(va, system.volts(connection) or 1.0, connection)
        # the compressor is a motor: where only the nameplate's amperes are given it takes part in
        # the quarter of the largest
        motor = amperes if category == "cooling" else 0.0
        pieces.append(
            Piece(name, category, va, va, amperes, connection, continuous=continuous,
                  by_area=by_area, motor=motor, group=group, choice=choice)
        )  # fmt: skip
        kinds.append(kind)

    table = edition.table("occupancy_load")
    for floor in entries.floors:
        path = f"floors.{floor.id}"
        row = occupancy(floor.name, edition)
        if row is None:
            near = ", ".join(sorted(table.rows)[:6])
            raise WrongEntryError(f"{path}.name", f"{edition.title} has no such occupancy: choose"
                                  f" one from the list, like {near}.")  # fmt: skip
        if floor.area is None:
            raise WrongEntryError(f"{path}.area", "Needed: the floor area, like 3000 sq ft.")
        each = edition.cell("occupancy_load", row, "VA/ft²")
        va = floor.area * each.value
        note = say("the continuous quarter is in it") if included else None
        if row.lower() != floor.name.strip().lower():
            note = say("“{name}” is taken as this", name=floor.name.strip())
        lines.append(
            Line("floor", say("{name}, {area}", name=row,
                              area=show_unit(floor.area, AREA, unit_system)), va, "VA",
                 f"{figure(floor.area)} ft² × {figure(each.value)}", (each.rule,), note=note,
                 entries=(f"{path}.name", f"{path}.area"), flow="lighting")
        )  # fmt: skip
        add(row, "lighting", va, 0.0 if included else 1.0, row, by_area=True)
    for value, topic, label, category, continuous in (
        (entries.receptacles, "receptacle_load", "Receptacles", "receptacles", 0.0),
        (entries.show_window or 0.0, "show_window", "Show window", "lighting", 1.0),
        (entries.signs, "sign_circuit", "Sign circuits", "lighting", 1.0),
    ):
        if value:
            each = edition.limit(topic)
            lines.append(
                Line(topic, say(label), value * each.value, "VA",
                     f"{figure(value)} × {figure(each.value)}", (each.rule,), flow=category)
            )  # fmt: skip
            add(label, category, value * each.value, continuous)
    for load in entries.loads:
        path = f"loads.{load.id}"
        connection: Connection = lit if load.connection == "auto" else load.connection
        volts = system.volts(connection)
        if not volts:
            raise WrongEntryError(f"{path}.connection", f"The supply, {system.label}, has no such"
                                  " connection: choose another.")  # fmt: skip
        plate = load.nameplate
        if plate is None:
            raise WrongEntryError(f"{path}.nameplate", "Needed: the load, like 4.5 kW or 24 A.")
        if plate.horsepower is not None:
            raise WrongEntryError(
                f"{path}.nameplate",
                "Motors are added below the feeder as motor"
                " circuits: their current is read from the code’s tables.",
            )
        one = plate.watts if plate.watts is not None else (plate.amperes or 0.0) / amperes_of(
            1.0, plate.volts or volts, connection)  # fmt: skip
        va = one * load.count
        # of kitchen equipment and air conditioning the single ones matter
        alone = load.category in ("kitchen", "cooling")
        for _ in range(load.count if alone else 1):
            add(load.name or "Load", load.category, one if alone else va,
                1.0 if load.continuous else 0.0, connection=connection, group=load.together,
                choice=load.id)  # fmt: skip
        lines.append(
            Line("load", say("{name}", name=load.name or "Load"), va, "VA",
                 f"{load.count} × {figure(one)}" if load.count > 1 else "",
                 entries=(f"{path}.nameplate",), flow=load.category)
        )  # fmt: skip
    return pieces, kinds, lines


def office_receptacles(
    entries: FeederEntries, pieces: Sequence[Piece], system: System, edition: Edition
) -> tuple[list[Piece], list[Line]]:
    """What receptacles of banks and offices count more by floor area than by their number after
    the demand factor (220.14(K)), as a piece of its own, and the line that says so."""
    table = edition.table("occupancy_load")
    least, terms = 0.0, []
    for floor in entries.floors:
        row = occupancy(floor.name, edition)
        each = table.rows[row]["receptacles VA/ft²"] if row else ""
        if each and floor.area:
            least += floor.area * float(each)
            cell = edition.cell("occupancy_load", row or "", "receptacles VA/ft²")
            terms.append(f"{figure(floor.area)} ft² × {figure(cell.value)}")
    if not least:
        return [], []
    counted_ = [p for p in pieces if p.category == "receptacles"]
    by_number = calculate(counted_, edition).load if counted_ else 0.0
    more = least - by_number
    line = Line(
        "office_receptacles", say("Office receptacles by floor area"), least, "VA",
        " + ".join(terms), (edition.rule("office_receptacles"), cell.rule),
        note=say("by their number {number} VA after demand: the larger counts", number=by_number),
        kind="note", flow="receptacles",
    )  # fmt: skip
    if more <= 0:
        return [], [line]
    connection = connection_of(system)
    amperes = amperes_of(more, system.volts(connection) or 1.0, connection)
    piece = Piece(
        "Receptacles by area", "other", more, more, amperes, connection,
        neutral=amperes if system.has_neutral else 0.0,
    )  # fmt: skip
    return [piece], [line]


def work(entries: FeederEntries, context: Context) -> Worked:
    """The feeder's worksheet: demand, amperes by line, device, conductors, neutral."""
    system, edition = context.supply.system, context.edition
    own, kinds, own_lines = own_pieces(entries, system, edition, context.units)
    pieces, once = counted(own, context.below.pieces)
    if once is not None:
        own_lines.append(once)
    extra, by_area = office_receptacles(entries, pieces, system, edition)
    pieces = (*pieces, *extra)
    own_lines += by_area
    if not pieces:
        raise WrongEntryError("", "Nothing hangs on this feeder yet: add loads here, or boards"
                              " and circuits below it.")  # fmt: skip
    found = calculate(pieces, edition, kinds) if entries.demand == "calculated" else _whole(
        pieces, edition)  # fmt: skip
    placed = place(pieces, system)
    carried = amperes_on_lines(placed, found, system)
    lines, unbalanced, nonlinear = carried.lines, carried.unbalanced, carried.nonlinear
    nonlinear = unbalanced if entries.nonlinear else nonlinear
    neutral = reduced(unbalanced, nonlinear, system, edition)
    connection = connection_of(system)
    volts = system.line_to_line or system.to_neutral
    balanced = system.line_current(found.load)
    load = max([balanced, *lines.values()])
    design = load * found.design / found.load if found.load else load
    tape = [*found.lines, *amperes_lines(found, placed, carried, load, system, edition)]
    if design > load:
        tape.append(
            Line("design_amperes", say("With 125 % of what is continuous"), design, "A",
                 f"{figure(load)} × {figure(found.design)} ÷ {figure(found.load)}",
                 (edition.rule("feeder_device"),), kind="sum", flow="load")
        )  # fmt: skip
    findings: list[Finding] = list(found.findings)
    motor_lines, ceiling = _motor_ceiling(placed, found, system, edition)
    need = Need(
        load, design, design, devices_between(design, largest_rating(edition), edition, 3),
        device_topic="feeder_device", conductor_topic="feeder_conductor",
    )  # fmt: skip
    sized = _sized(need, entries, context, system, connection, volts, neutral)
    findings += sized.findings
    largest = max((p.device for p in placed if p.category == "motor"), default=0.0)
    if largest > sized.pair.device:
        findings.append(
            Finding("remark", "largest_branch",
                    say("The largest motor’s own device, {branch} A, stands above the feeder’s"
                        " {device} A.", branch=largest, device=sized.pair.device), "",
                    say("Up to {most} A is allowed here.", most=ceiling),
                    (edition.rule("motor_feeder_device"),), ("device",))
        )  # fmt: skip
    if not any(f.severity == "fails" for f in findings):
        spare = sized.pair.device - design
        findings.append(
            Finding("holds", "device", say("{spare} A to spare on the device.",
                                           spare=figure(spare, 1)), f"{figure(spare, 1)} A")
        )  # fmt: skip
    sections = [
        *([Section("entered", say("Entered here"), tuple(own_lines))] if own_lines else []),
        Section("load", say("Calculated load"), tuple(tape)),
        *([Section("motors", say("Device of a feeder with motors"), motor_lines)]
          if motor_lines else []),
        *sized.sections,
    ]  # fmt: skip
    results = {
        "connected_load": Result(found.connected, "VA", say("Connected load")),
        "calculated_load": Result(found.load, "VA", say("Calculated load")),
        "amperes": Result(load, "A", say("Amperes")),
        "design_amperes": Result(design, "A", say("With 125 % of continuous")),
        "neutral_amperes": Result(neutral, "A", say("Neutral")),
        **{f"line_{name.lower()}": Result(value, "A", say(name)) for name, value in lines.items()},
        **({"motor_device_most": Result(ceiling, "A", say("Device, at most"))}
           if motor_lines else {}),
        **sized.results,
    }  # fmt: skip
    answer = [
        n
        for n in (
            "device",
            "conductor",
            "neutral_conductor",
            "ground_conductor",
            "calculated_load",
            "raceway",
            "drop_percent",
        )
        if n in results
    ]
    return Worked(
        "feeder", edition.id, tuple(sections), results, tuple(findings), answer=tuple(answer),
        headline=sized.headline, ladder=sized.ladder.rungs, marks=sized.marks, wires=sized.wires,
    )  # fmt: skip


def _whole(pieces: tuple[Piece, ...], edition: Edition) -> Calculated:
    load = sum(p.calculated for p in pieces)
    continuous = sum(p.calculated * p.continuous for p in pieces)
    share = (edition.limit("continuous").value - 100) / 100
    line = Line("calculated_load", say("All load whole"), load, "VA", kind="sum")
    return Calculated(sum(p.connected for p in pieces), load, load + continuous * share,
                      continuous, (line,), (), tuple(p.calculated for p in pieces))  # fmt: skip


@dataclass(frozen=True, slots=True)
class Carried:
    """Amperes of a feeder: ``lines`` with motors added as figures, ``phasors`` with all of it added
    as phasors; the largest ``unbalanced`` load to neutral and what of it is ``nonlinear``."""

    lines: dict[str, float]
    phasors: dict[str, float]
    unbalanced: float = 0.0
    nonlinear: float = 0.0


def amperes_lines(
    found: Calculated, placed: tuple[Piece, ...], carried: Carried, load: float, system: System,
    edition: Edition,
) -> list[Line]:  # fmt: skip
    """From VA to amperes: of motors as 430.24 adds them, of all else by the volts."""
    connection = connection_of(system)
    across = divisor(system.line_to_line or system.to_neutral, connection)
    balanced = system.line_current(found.load)
    motors = [
        (p, system.line_current(va), i == found.largest_index)
        for i, (p, va) in enumerate(zip(placed, found.shares, strict=True))
        if va and (p.category == "motor" or i == found.largest_index)
    ]
    turning = [(amperes, first) for _, amperes, first in motors]
    # a motor on fewer lines has its amperes on those alone: the heaviest line shows them
    if turning and all(p.connection == connection for p, _, _ in motors):
        quarter = edition.limit("largest_motor")
        factor = figure(1 + quarter.value / 100)
        terms = [f"{factor} × {figure(a)}" if first else figure(a) for a, first in turning]
        rest = balanced - system.line_current(found.largest_motor) - sum(a for a, _ in turning)
        terms += [f"{figure(rest)} of other load"] if rest > 1e-6 * balanced else []
        lines = [
            Line("amperes", say("Amperes: the largest motor, the others, other load"), balanced,
                 "A", " + ".join(terms) if len(terms) <= TERMS else
                 f"{figure(found.load)} ÷ {across}",
                 (edition.rule("motor_several"),), kind="sum", flow="load")
        ]  # fmt: skip
    else:
        lines = [
            Line("amperes", say("Amperes, balanced"), balanced, "A",
                 f"{figure(found.load)} ÷ {across}", kind="sum", flow="load")
        ]  # fmt: skip
    if not fits(load, balanced * HEAVIER):
        lines.append(
            Line("heaviest_line", say("The heaviest line governs"), load, "A",
                 ", ".join(f"{n} {figure(value, 1)}" for n, value in carried.lines.items()),
                 kind="sum", flow="load")
        )  # fmt: skip
    less = max(carried.phasors.values(), default=0.0)
    if not fits(max(carried.lines.values(), default=0.0), less * HEAVIER):
        lines.append(
            Line("phasor_sum", say("Added as phasors it would be"), less, "A",
                 ", ".join(f"{n} {figure(value, 1)}" for n, value in carried.phasors.items()),
                 note=say("the code adds the motors as figures"), kind="note", flow="load")
        )  # fmt: skip
    return lines


def amperes_on_lines(placed: tuple[Piece, ...], found: Calculated, system: System) -> Carried:
    """Amperes on each line and on the neutral; a dwelling brings its own neutral along."""
    shares = list(zip(placed, found.shares, strict=True))
    if found.largest_index >= 0:
        index = found.largest_index
        shares[index] = (placed[index], shares[index][1] + found.largest_motor)
    turning = [(piece, va) for piece, va in shares if piece.motor]
    still = [(piece, va) for piece, va in shares if not piece.motor]
    lines, motors = currents(still, system)[0], plain(turning, system)
    lines = {name: amperes + motors[name] for name, amperes in lines.items()}
    together, _ = currents(shares, system)
    # every subset may run: the neutral is sized for the heaviest line's load to neutral
    by_line = dict.fromkeys(system.lines, 0.0)
    distorted = dict.fromkeys(system.lines, 0.0)
    for piece, va in shares:
        for name, amperes in _on_neutral(piece, va, system).items():
            by_line[name] += amperes
            distorted[name] += amperes if piece.nonlinear else 0.0
    if not system.has_neutral:
        return Carried(lines, together)
    return Carried(lines, together, max(by_line.values()), max(distorted.values()))


def _on_neutral(piece: Piece, va: float, system: System) -> dict[str, float]:
    """Amperes that a load may put between each line and the neutral."""
    if piece.isolated:
        return {}
    if piece.connection == "line-neutral" and piece.line in system.lines:
        return {piece.line: va / (system.to_neutral or 1.0)}
    to_neutral = piece.category in ("lighting", "receptacles")
    if piece.connection == "three-phase" and to_neutral and system.has_neutral:
        return dict.fromkeys(system.lines, system.line_current(va))
    found = 0.0
    if piece.neutral and piece.calculated:
        found = piece.neutral * va / piece.calculated
    if system.phases == 1 and piece.connection == "two-line" and to_neutral:
        found += va / (system.line_to_line or 1.0)
    return dict.fromkeys(system.lines, found) if found else {}


def _sized(
    need: Need, entries: FeederEntries, context: Context, system: System, connection: Connection,
    volts: float, neutral: float,
) -> Sized:  # fmt: skip
    count = len(system.lines)
    two_of_wye = system.is_wye and count == 2
    feed = Feed(connection, volts, count, system.has_neutral, nonlinear=entries.nonlinear,
                wye_pair=two_of_wye, drop_topic="drop_branch", passes_on=True)  # fmt: skip
    if not system.has_neutral:
        return size(need, feed, entries, context)
    # the neutral carries its own load, and is never below the equipment ground (215.2(A)(2))
    pair, edition = chosen_pair(need, feed, entries, context), context.edition
    order = list(edition.table("ampacity").rows)
    least = equipment_ground(pair.device, entries.material, edition).size
    least = min(least, pair.option.size, key=order.index)
    if pair.sets > 1 and order.index(least) < order.index(edition.limit_size("parallel")):
        least = edition.limit_size("parallel")
    column = terminal_column(pair.device, entries.terminals == "75", edition)
    installation = entries.installation(count).of_sets(pair.sets)
    size_ = next(
        (o.size for o in options(entries.material, installation, edition)
         if order.index(o.size) >= order.index(least)
         and fits(neutral / pair.sets, o.final(column))),
        pair.option.size,
    )  # fmt: skip
    feed = Feed(
        connection,
        volts,
        count,
        True,
        nonlinear=entries.nonlinear,
        wye_pair=two_of_wye,
        passes_on=True,
        neutral_size=min(size_, pair.option.size, key=order.index),
        neutral_rules=(edition.rule("neutral"), edition.rule("equipment_grounding")),
    )
    return size(need, feed, entries, context)


def _motor_ceiling(
    placed: tuple[Piece, ...], found: Calculated, system: System, edition: Edition
) -> tuple[tuple[Line, ...], float]:
    """The most that 430.62 and 430.63 let the feeder's device be."""
    motors = [(p, va) for p, va in zip(placed, found.shares, strict=True)
              if p.category == "motor" and va]  # fmt: skip
    if not motors:
        return (), 0.0
    first, _ = max(motors, key=lambda m: m[0].device)
    others = [p for p, _ in motors if p is not first]
    rest = found.load - found.largest_motor - sum(va for _, va in motors)
    rest_amperes = system.line_current(rest) if rest > 0 else 0.0
    exact = first.device + sum(p.motor for p in others) + rest_amperes
    most = max((r for r in standard_ratings(edition) if fits(r, exact)),
               default=next_standard_device(exact, edition).value)  # fmt: skip
    terms = [figure(first.device), *(figure(p.motor) for p in others)]
    if rest_amperes:
        terms.append(figure(rest_amperes))
    line = Line(
        "motor_device_most", say("Largest motor’s device and the rest, at most"), most, "A",
        f"{' + '.join(terms)} = {figure(exact)} → {figure(most)} A",
        (edition.rule("motor_feeder_device"),
         *((edition.rule("motor_feeder_mixed"),) if rest_amperes else ()),
         *((edition.rule("motor_feeder_instantaneous"),) if first.instantaneous else ())),
        note=say("the next size down: no next size up here"), kind="note", flow="device",
    )  # fmt: skip
    return (line,), most


def hand_up(entries: FeederEntries, worked: Worked, context: Context) -> Demand:
    """What is entered here and what hangs below, piece by piece: the demand rules apply once,
    where the load is calculated."""
    own, _, _ = own_pieces(entries, context.supply.system, context.edition, context.units)
    system, edition = context.supply.system, context.edition
    pieces, _ = counted(own, context.below.pieces)
    pieces = (*pieces, *office_receptacles(entries, pieces, system, edition)[0])
    return Demand.of(place(pieces, context.supply.system))


def counted(own: Sequence[Piece], below: Sequence[Piece]) -> tuple[tuple[Piece, ...], Line | None]:
    """All pieces, the lighting counted once: by floor area or by its circuits, the larger."""
    by_area = [p for p in own if p.by_area]
    by_circuit = [p for p in below if p.category == "lighting" and not p.by_area]
    area, circuits = (sum(p.calculated for p in group) for group in (by_area, by_circuit))
    if not by_area or not by_circuit:
        return (*own, *below), None
    less = by_area if area < circuits else by_circuit
    pieces = tuple(
        replace(p, connected=0.0, calculated=0.0, amperes=0.0) if any(p is q for q in less) else p
        for p in (*own, *below)
    )
    line = Line(
        "lighting_once", say("Lighting counts once: by its circuits")
        if area < circuits else say("Lighting counts once: by floor area"),
        max(area, circuits), "VA", f"{figure(area)} by area, {figure(circuits)} by circuits",
        kind="note", flow="lighting",
    )  # fmt: skip
    return pieces, line


KIND = Kind(
    "feeder",
    "Feeder",
    "Calculated load, device, conductors",
    FeederEntries,
    work,
    hand_up,
    lambda entries, above: above,
    GROUPS,
    holds_parts=True,
    fault_out=fault_at_far_end,
    lost_out=lost_at_far_end,
    brings=brings,
)
