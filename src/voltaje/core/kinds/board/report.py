"""A board on the worksheet."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from voltaje.core.codes import Edition, practice
from voltaje.core.electrical.panel_layout import Schedule
from voltaje.core.electrical.systems import Piece, System
from voltaje.core.kinds.board.calculate import BoardOutcome, Shared
from voltaje.core.kinds.board.entries import BoardEntries
from voltaje.core.kinds.board.moves import best_move
from voltaje.core.report import (
    Change,
    Findings,
    Report,
    Result,
    Text,
    Worksheet,
    figure,
    fits,
    say,
    told,
)
from voltaje.core.rules.common.fuses import opening, when
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.overcurrent import rounding_note, whole_amperes
from voltaje.core.rules.north_america.wired import interrupting


@dataclass(frozen=True, slots=True)
class BoardDrawn:
    """What a board's drawing needs: its schedule, and the color of each line."""

    schedule: Schedule
    colors: Mapping[str, str]


def report(outcome: BoardOutcome, entries: BoardEntries, context: Context) -> Report:
    """The board's worksheet: VA and A on each line, its rating, its spaces, shared neutrals."""
    edition, placed = context.edition, outcome.placed
    findings = Findings()
    _rated(entries, whole_amperes(outcome.exact), edition, findings)
    if entries.spaces is not None:
        _spaces(outcome.schedule.poles, outcome.schedule.layout.count, findings)
    _places(outcome.schedule, findings)
    _imbalance(outcome, entries, context.supply.system, findings)
    if entries.main is not None:
        _line_over(outcome, entries.main, findings)
    interrupting(outcome.fault, entries.interrupting, context, findings)
    for shared in outcome.shared:
        _shared(shared, edition, findings)
    _on_high_leg(outcome, context, findings)
    whole = whole_amperes(outcome.exact)
    return Report(
        "board",
        edition.id,
        (
            _lines(outcome, context).section("lines", say("On its lines")),
            _demand(outcome, context).section("load", say("Calculated load")),
        ),
        _results(outcome, context),
        tuple(findings),
        answer=("amperes", "calculated_load", "circuits", "poles"),
        headline=str(_headline(whole, _circuits(placed))),
        drawn=BoardDrawn(
            outcome.schedule,
            {line: context.supply.color(line) for line in context.supply.system.lines},
        ),
    )


def _results(outcome: BoardOutcome, context: Context) -> dict[str, Result]:
    found, placed = outcome.calculated, outcome.placed
    connected = sum(p.connected for p in placed)
    results = {
        "connected_load": Result(connected, "VA", say("Connected load")),
        "calculated_load": Result(found.load if found else 0.0, "VA", say("Calculated load")),
        "amperes": Result(whole_amperes(outcome.exact), "A", say("Amperes")),
        "poles": Result(outcome.schedule.poles, "", say("Poles used")),
        "circuits": Result(_circuits(placed), "", say("Circuits")),
        "neutral_amperes": Result(outcome.neutral, "A", say("Neutral")),
        "imbalance": Result(outcome.percent, "%", say("Imbalance")),
    }
    for name, value in outcome.va.items():
        results[f"va_{name.lower()}"] = Result(value, "VA", say(name))
    for name, value in outcome.on_lines.items():
        results[f"current_{name.lower()}"] = Result(value, "A", say(name))
    for piece in placed:
        if piece.part:
            words, name = say("{name}", name=piece.name), f"line_of_{piece.part}"
            # one load split over its lines stands on all of them
            split = name in results and not piece.multiwire
            results[name] = Result("all" if split else piece.line, "", words)
    for seat in outcome.schedule.seats:
        words = say("{name}", name=seat.device.name)
        results[f"place_of_{seat.device.key}"] = Result(seat.name, "", words)
    if outcome.fault:
        results["fault"] = Result(outcome.fault, "A", say("Available fault current"))
    loop, edition = context.supply.loop_impedance, context.edition
    if loop and edition.has_limit("loop_least"):
        least = edition.value("loop_least") * context.supply.system.to_neutral / loop
        results["loop_impedance"] = Result(loop, "Ω", say("Earth-fault loop here"))
        results["minimum_fault_current"] = Result(
            least, "A", say("Line to earth at a fault, at least")
        )
    return results


def _lines(outcome: BoardOutcome, context: Context) -> Worksheet:
    worksheet, connected = Worksheet(), outcome.va
    for name, value in connected.items():
        shown = f"{figure(outcome.on_lines[name], 1)} A, {told(context.supply.color(name))}"
        words = say("{line}", line=name)
        worksheet.step(f"line_{name.lower()}", words, value, "VA", shown, flow=name)
    total = sum(connected.values())
    shown = " + ".join(figure(v) for v in connected.values())
    worksheet.sum("connected", say("Connected"), total, "VA", shown)
    if len(connected) > 1 and total:
        words = say("Largest deviation from the mean")
        shown = f"{figure(outcome.deviation)} ÷ {figure(total / len(connected))}"
        worksheet.note("imbalance", words, outcome.percent, "%", shown)
    if context.supply.system.has_neutral and outcome.placed:
        words, note = say("Neutral with all of it on"), say("phasors at unity power factor")
        worksheet.note("neutral", words, outcome.neutral, "A", note=note, flow="N")
    return worksheet


def _demand(outcome: BoardOutcome, context: Context) -> Worksheet:
    found, exact, edition = outcome.calculated, outcome.exact, context.edition
    if found is None:
        return Worksheet()
    worksheet = context.code.report_demand(found, outcome.placed, edition)
    words = say("Amperes with 125 % of continuous, balanced")
    shown = f"{figure(found.design)} ÷ {figure(found.design / exact if exact else 0)}"
    if outcome.by_line:
        words = say("Amperes with 125 % of continuous, the heaviest line")
        shown = ", ".join(f"{name} {figure(value, 1)}" for name, value in outcome.by_line.items())
    worksheet.result(
        "amperes",
        words,
        exact,
        "A",
        shown,
        edition.cites("rounding"),
        rounding=rounding_note(exact),
    )
    return worksheet


def _rated(entries: BoardEntries, load: int, edition: Edition, findings: Findings) -> None:
    rating, main = entries.rating, entries.main
    if rating is not None:
        holds = fits(load, rating)
        words = say("{over} A more than the {rating} A bus.", over=load - rating, rating=rating)
        if holds:
            words = say(
                "{spare} A to spare on the {rating} A bus.", spare=rating - load, rating=rating
            )
        findings.judged(
            holds,
            "rating",
            words,
            f"{figure(abs(rating - load))} A",
            mend=say("A larger board, or a second one."),
            rules=edition.cites("board_rating"),
            entries="rating",
        )
        if main is not None and not fits(main, rating):
            findings.fail(
                "main",
                say("The {main} A main is above the {rating} A bus.", main=main, rating=rating),
                f"{figure(main - rating)} A",
                mend=say("A main not above the bus rating."),
                rules=edition.cites("board_device"),
                entries="main",
            )
    if main is not None and not fits(load, main):
        findings.fail(
            "main_load",
            say("{load} A is more than the {main} A main.", load=load, main=main),
            f"{figure(load - main)} A",
            mend=say("A larger main, or less load."),
            rules=edition.cites("feeder_device"),
            entries="main",
        )


def _circuits(placed: Sequence[Piece]) -> int:
    """How many circuits the loads stand on: one load split over its lines is one, each of those
    that share a neutral is one."""
    alone = {piece.part or f"own {n}" for n, piece in enumerate(placed) if not piece.multiwire}
    return len(alone) + sum(1 for piece in placed if piece.multiwire)


def _headline(amperes: int, circuits: int) -> Text:
    if not circuits:
        return say("no circuits")
    if circuits == 1:
        return say("{amperes} A · one circuit", amperes=amperes)
    return say("{amperes} A · {circuits} circuits", amperes=amperes, circuits=circuits)


def _spaces(poles: int, spaces: int, findings: Findings) -> None:
    words = say("{used} of {spaces} pole spaces used.", used=poles, spaces=spaces)
    mend, shown = say("A board with more spaces."), say("{poles} poles", poles=abs(spaces - poles))
    findings.judged(poles <= spaces, "spaces", words, shown, mend=mend, entries="spaces")


def _places(schedule: Schedule, findings: Findings) -> None:
    """Devices that cannot stand where they are put, or find no place."""
    mends = {
        "line": say("Give it a place behind that line, or take its line back."),
        "taken": say("Give one of them another place."),
        "apart": say("Give them neighbouring places."),
        "no_room": say("A board with more places, or another order of them."),
    }
    usual = say("Give it another place.")
    for trouble in schedule.troubles:
        if trouble.code == "no_room" and schedule.poles > schedule.layout.count:
            continue  # more than the board holds: told once for all
        mend = mends.get(trouble.code, usual)
        findings.fail(f"place_{trouble.code}", trouble.words, mend=mend)


def _imbalance(
    outcome: BoardOutcome, entries: BoardEntries, system: System, findings: Findings
) -> None:
    if outcome.percent <= entries.maximum_imbalance or len(outcome.va) < 2:
        return
    shown = figure(outcome.percent, 0)
    move = best_move(outcome, system, entries.maximum_imbalance)
    change = None
    if move is not None:
        words = say(
            "Move {name} from {line} to {to}: {percent} %",
            name=move.name,
            line=move.line,
            to=move.to,
            percent=figure(move.percent, 0),
        )
        change = Change(words, (("line", move.to),), move.part)
    findings.check(
        "imbalance",
        say(
            "The lines differ by {percent} % from their mean; {line} is the heaviest.",
            percent=shown,
            line=max(outcome.va, key=lambda name: outcome.va[name]),
        ),
        f"{shown} %",
        mend=say("Move a circuit to a lighter line."),
        entries="maximum_imbalance",
        offer=change,
    )


def _line_over(outcome: BoardOutcome, main: float, findings: Findings) -> None:
    """A line that carries more than the main with all of it on, though the mean may not: about
    when a fuse opens, and who goes dark."""
    for line, amperes in outcome.on_lines.items():
        if fits(amperes, main):
            continue
        dark = [
            seat.device.name
            for seat in outcome.schedule.seats
            if seat.device.what == "circuit" and line in _behind(seat.line, outcome)
        ]
        findings.check(
            f"line_over_{line.lower()}",
            say(
                "{line} carries {amperes} A on the {main} A main with all of it on: a gG fuse of"
                " that rating {when}. Dark are then {names}.",
                line=line,
                amperes=figure(amperes, 0),
                main=main,
                when=when(opening(main, amperes)),
                names=", ".join(dark),
            ),
            f"{figure(amperes - main, 0)} A",
            mend=say("Move a circuit to a lighter line."),
            rules=practice().limit("fuse_opens").rule,
            entries="main",
        )


def _behind(line: str, outcome: BoardOutcome) -> tuple[str, ...]:
    return tuple(outcome.va) if line == "all" else tuple(line.split("-"))


def _shared(shared: Shared, edition: Edition, findings: Findings) -> None:
    rule = edition.cites("multiwire")
    if len(shared.circuits) < 2:
        words = say(
            "“{name}”: only {circuit} names this shared neutral.",
            name=shared.name,
            circuit=shared.circuits[0] or "one circuit",
        )
        mend = say("Give its partner the same name.")
        findings.check("multiwire_alone", words, mend=mend, rules=rule)
    elif shared.twice:
        amperes = figure(shared.by_line[shared.twice], 1)
        words = say(
            "“{name}”: two circuits that share a neutral stand on {line}: the"
            " neutral carries their sum, {amperes} A, and no device sees it.",
            name=shared.name,
            line=shared.twice,
            amperes=amperes,
        )
        mend = say("Put each on a line of its own.")
        findings.fail("multiwire_line", words, f"{amperes} A", mend=mend, rules=rule)
    else:
        amperes = figure(shared.neutral, 1)
        words = say(
            "“{name}” shares a neutral over {lines}: it carries {amperes} A.",
            name=shared.name,
            lines=", ".join(sorted(shared.lines)),
            amperes=amperes,
        )
        findings.passes("multiwire", words, f"{amperes} A", rules=rule)


def _on_high_leg(outcome: BoardOutcome, context: Context, findings: Findings) -> None:
    high = context.supply.system.high_leg
    for piece in outcome.placed:
        if high and piece.connection == "line-neutral" and piece.line == high:
            findings.fail(
                "high_leg",
                say(
                    "{name} stands on the high leg: about 208 V to neutral.",
                    name=piece.name or "A circuit",
                ),
                mend=say("Put it on L1 or L3."),
                rules=context.edition.cites("high_leg"),
            )
