"""A board: its circuits on their lines, its rating, its main."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Literal

from voltaje.core import units
from voltaje.core.codes import Edition
from voltaje.core.electrical.lines import currents, place
from voltaje.core.electrical.systems import Demand, Piece, System
from voltaje.core.entries import Current, Entries, Reads, entry
from voltaje.core.parts.kind import Context, Kind
from voltaje.core.parts.wired import Interrupting, interrupting_finding
from voltaje.core.rules.feeder_demand import calculate
from voltaje.core.rules.overcurrent import rounding_note, whole_amperes
from voltaje.core.worksheet import Finding, Line, Result, Section, Worked, figure, fits, say

Poles = Annotated[int, Reads(units.COUNT, 1, 84, whole=True)]
ImbalancePercent = Annotated[float, Reads(units.COUNT, 1.0, 100.0)]
POLES = {"line-neutral": 1, "two-line": 2, "three-phase": 3}
# Common practice: worth a look beyond this deviation from the mean.
IMBALANCE = 20.0


class BoardEntries(Entries):
    """What is read off the board's own nameplate."""

    rating: Current | None = entry(
        None, "Bus rating", group="board", help="nameplate", example="225 A"
    )
    main: Current | None = entry(
        None, "Main device", group="board", help="empty: main lugs only", example="200 A"
    )
    spaces: Poles | None = entry(None, "Pole spaces", group="board", example="42")
    mounting: Literal["surface", "flush", "free-standing"] = entry(
        "surface", "Mounting", group="board",
        choices={"surface": "surface", "flush": "flush", "free-standing": "free-standing"},
    )  # fmt: skip
    interrupting: Interrupting | None = entry(
        None, "Interrupting rating", group="board", help="of its devices", example="10 kA"
    )
    imbalance: ImbalancePercent = entry(
        IMBALANCE, "Lines may differ by, %", group="board", help="from their mean"
    )


def work(entries: BoardEntries, context: Context) -> Worked:
    """The board's worksheet: VA and A on each line, its rating, its spaces, shared neutrals."""
    system, edition = context.supply.system, context.edition
    placed = place(context.below.pieces, system)
    found = calculate(placed, edition) if placed else None
    connected = dict.fromkeys(system.lines, 0.0)
    for piece in placed:
        for name in _lines_of(piece, system):
            connected[name] += piece.calculated / len(_lines_of(piece, system))
    shares = list(zip(placed, [p.calculated for p in placed], strict=True))
    amperes, neutral = currents(shares, system)
    lines = [
        Line(f"line_{name.lower()}", say("{line}", line=name), connected[name], "VA",
             f"{figure(amperes[name], 1)} A, {context.supply.color(name)}", flow=name)
        for name in system.lines
    ]  # fmt: skip
    total = sum(connected.values())
    mean = total / len(connected)
    deviation = max((abs(v - mean) for v in connected.values()), default=0.0)
    percent = 100 * deviation / mean if mean else 0.0
    lines.append(Line("connected", say("Connected"), total, "VA",
                      " + ".join(figure(v) for v in connected.values()), kind="sum"))  # fmt: skip
    if len(connected) > 1 and total:
        lines.append(Line("imbalance", say("Largest deviation from the mean"), percent, "%",
                          f"{figure(deviation)} ÷ {figure(mean)}", kind="note"))  # fmt: skip
    if system.has_neutral and placed:
        lines.append(
            Line(
                "neutral",
                say("Neutral with all of it on"),
                neutral,
                "A",
                note=say("phasors at unity power factor"),
                kind="note",
                flow="N",
            )
        )
    findings: list[Finding] = []
    load = found.load if found else 0.0
    design = found.design if found else 0.0
    demand_lines = list(found.lines) if found else []
    exact = system.line_current(design)
    if found:
        demand_lines.append(
            Line("amperes", say("Amperes with 125 % of continuous, balanced"), exact, "A",
                 f"{figure(design)} ÷ {figure(design / exact if exact else 0)}",
                 (edition.rule("rounding"),), rounding_note(exact), kind="result")
        )  # fmt: skip
    _rated(entries, exact, edition, findings)
    poles = sum(POLES[p.connection] for p in placed)
    _spaces(entries, poles, findings)
    if percent > entries.imbalance and len(connected) > 1:
        heavy = max(connected, key=lambda name: connected[name])
        findings.append(
            Finding("look", "imbalance",
                    say("The lines differ by {percent} % from their mean; {line} is the heaviest.",
                        percent=figure(percent, 0), line=heavy),
                    f"{figure(percent, 0)} %", say("Move a circuit to a lighter line."),
                    entries=("imbalance",))
        )  # fmt: skip
    short = interrupting_finding(context.supply.fault, entries.interrupting, context)
    findings += [short] if short else []
    findings += shared_neutrals(placed, system, edition)
    findings += _on_high_leg(placed, system, edition)
    results = {
        "connected_load": Result(sum(p.connected for p in placed), "VA", say("Connected load")),
        "calculated_load": Result(load, "VA", say("Calculated load")),
        "amperes": Result(whole_amperes(exact), "A", say("Amperes")),
        "poles": Result(poles, "", say("Poles used")),
        "circuits": Result(len(placed), "", say("Circuits")),
        "neutral_amperes": Result(neutral, "A", say("Neutral")),
        "imbalance": Result(percent, "%", say("Imbalance")),
        **{f"va_{n.lower()}": Result(v, "VA", say(n)) for n, v in connected.items()},
        **{f"a_{n.lower()}": Result(v, "A", say(n)) for n, v in amperes.items()},
        **{f"line_of_{p.part}": Result(p.line, "", say("{name}", name=p.name))
           for p in placed if p.part},
    }  # fmt: skip
    if context.supply.fault:
        results["fault"] = Result(context.supply.fault, "A", say("Available fault current"))
    return Worked(
        "board", edition.id,
        (
            Section("lines", say("On its lines"), tuple(lines)),
            Section("load", say("Calculated load"), tuple(demand_lines)),
        ),
        results, tuple(findings), answer=("amperes", "calculated_load", "circuits", "poles"),
        headline=f"{whole_amperes(exact)} A · {len(placed)} circuits" if placed else "no circuits",
    )  # fmt: skip


def _lines_of(piece: Piece, system: System) -> tuple[str, ...]:
    if piece.line == "all" or piece.connection == "three-phase":
        return system.lines
    found = tuple(name for name in piece.line.split("-") if name in system.lines)
    return found or system.lines


def _rated(
    entries: BoardEntries, amperes: float, edition: Edition, findings: list[Finding]
) -> None:
    load = whole_amperes(amperes)
    if entries.rating is not None:
        holds = fits(load, entries.rating)
        findings.append(
            Finding(
                "holds" if holds else "fails", "rating",
                say("{spare} A to spare on the {rating} A bus.", spare=entries.rating - load,
                    rating=entries.rating) if holds
                else say("{over} A more than the {rating} A bus.", over=load - entries.rating,
                         rating=entries.rating),
                f"{figure(abs(entries.rating - load))} A",
                None if holds else say("A larger board, or a second one."),
                (edition.rule("board_rating"),), ("rating",),
            )
        )  # fmt: skip
        if entries.main is not None and not fits(entries.main, entries.rating):
            findings.append(
                Finding("fails", "main", say("The {main} A main is above the {rating} A bus.",
                                             main=entries.main, rating=entries.rating),
                        f"{figure(entries.main - entries.rating)} A",
                        say("A main not above the bus rating."), (edition.rule("board_device"),),
                        ("main",))
            )  # fmt: skip
    if entries.main is not None and not fits(load, entries.main):
        findings.append(
            Finding("fails", "main_load", say("{load} A is more than the {main} A main.",
                                              load=load, main=entries.main),
                    f"{figure(load - entries.main)} A", say("A larger main, or less load."),
                    (edition.rule("feeder_device"),), ("main",))
        )  # fmt: skip


def _spaces(entries: BoardEntries, poles: int, findings: list[Finding]) -> None:
    if entries.spaces is None:
        return
    holds = poles <= entries.spaces
    findings.append(
        Finding("holds" if holds else "fails", "spaces",
                say("{used} of {spaces} pole spaces used.", used=poles, spaces=entries.spaces),
                f"{abs(entries.spaces - poles)} poles",
                None if holds else say("A board with more spaces."), entries=("spaces",))
    )  # fmt: skip


def shared_neutrals(placed: Sequence[Piece], system: System, edition: Edition) -> list[Finding]:
    """Circuits that share a neutral: what it carries, and whether their lines differ."""
    found: list[Finding] = []
    rule = (edition.rule("multiwire"),)
    for name in dict.fromkeys(p.multiwire for p in placed if p.multiwire):
        members = [p for p in placed if p.multiwire == name]
        lines = [p.line for p in members]
        by_line = dict.fromkeys(system.lines, 0.0)
        for piece in members:
            by_line[piece.line] = by_line.get(piece.line, 0.0) + piece.amperes
        neutral = system.neutral_current(tuple(by_line.values()))
        if len(members) < 2:
            found.append(
                Finding("look", "multiwire_alone",
                        say("“{name}”: only {circuit} names this shared neutral.", name=name,
                            circuit=members[0].name or "one circuit"), "",
                        say("Give its partner the same name."), rule)
            )  # fmt: skip
        elif len(set(lines)) < len(lines):
            twice = max(by_line, key=lambda line: by_line[line])
            found.append(
                Finding("fails", "multiwire_line",
                        say("“{name}”: two circuits that share a neutral stand on {line}: the"
                            " neutral carries their sum, {amperes} A, and no device sees it.",
                            name=name, line=twice, amperes=figure(by_line[twice], 1)),
                        f"{figure(by_line[twice], 1)} A",
                        say("Put each on a line of its own."), rule)
            )  # fmt: skip
        else:
            found.append(
                Finding("holds", "multiwire",
                        say("“{name}” shares a neutral over {lines}: it carries {amperes} A.",
                            name=name, lines=", ".join(sorted(lines)),
                            amperes=figure(neutral, 1)),
                        f"{figure(neutral, 1)} A", None, rule)
            )  # fmt: skip
    return found


def _on_high_leg(placed: Sequence[Piece], system: System, edition: Edition) -> list[Finding]:
    if not system.high_leg:
        return []
    return [
        Finding("fails", "high_leg", say("{name} stands on the high leg: about 208 V to neutral.",
                                         name=piece.name or "A circuit"), "",
                say("Put it on L1 or L3."), (edition.rule("high_leg"),))
        for piece in placed
        if piece.connection == "line-neutral" and piece.line == system.high_leg
    ]  # fmt: skip


def hand_up(entries: BoardEntries, worked: Worked, context: Context) -> Demand:
    """Its circuits, each with the line it stands on."""
    return Demand.of(place(context.below.pieces, context.supply.system))


KIND = Kind(
    "board",
    "Board",
    "Circuits on their lines",
    BoardEntries,
    work,
    hand_up,
    lambda entries, above: above,
    {"board": "The board"},
    holds_parts=True,
    uses_fault=True,
)
