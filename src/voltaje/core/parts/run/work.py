"""The run's worksheet: volts along it, table and impedance method side by side, and what mends a
drop that is too large."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from voltaje.core.codes import practice
from voltaje.core.electrical.systems import Demand, Piece
from voltaje.core.entries import (
    WrongEntryError,
)
from voltaje.core.parts.kind import Brings, Context, Kind, Piecewise
from voltaje.core.parts.run.along import Along, Joint, across, joints_of
from voltaje.core.parts.run.entries import GROUPS, SIZE_NAMES, RunEntries
from voltaje.core.parts.wired import amperes_of, volts_of
from voltaje.core.rules.runs import Lost, Segment, is_metric
from voltaje.core.units import LENGTH, UnitSystem, show
from voltaje.core.units import METRES_PER_FOOT as METRES
from voltaje.core.worksheet import (
    Alternative,
    Finding,
    Line,
    Point,
    Result,
    Rule,
    Section,
    Worked,
    figure,
    fits,
    say,
)

if TYPE_CHECKING:
    from voltaje.core.electrical.network import Solution

RISE = 0.005  # no code figure: a rise, in percent, that is worth a word


def work(entries: RunEntries, context: Context) -> Worked:
    """The run's worksheet: amperes and volts of each segment three ways, the solved volts at each
    joint, and what would mend a drop beyond the limit."""
    system, edition = context.supply.system, context.edition
    volts = volts_of(system, entries.connection, "connection")
    joints = joints_of(entries, context, volts)
    advised = context.limits.branch(edition)
    limit = advised.value if entries.limit is None else entries.limit
    rules = (advised.rule,) if entries.limit is None else ()
    if limit <= 0:
        raise WrongEntryError("limit", "Give the drop allowed in percent, like 3.")
    three = entries.connection == "three-phase"
    run = Along(entries, context, volts, three, joints)
    size, why_size = run.choose(limit)
    run.check_sizes(size)
    segments = run.segments(size)
    found = run.lost(segments)
    total = sum(one.by_impedance for one in found)
    by_table = sum(one.by_table for one in found)
    percent, percent_table = 100 * total / volts, 100 * by_table / volts
    answer = run.solve(segments)
    ends = [across(answer, index, three) for index in range(len(joints) + 1)]
    amount = run.amounts(segments, found)
    sections = [
        Section("load", say("Amperes of each segment"), amount),
        Section("drop", say("Volts lost, by impedance"), _drop_lines(run, segments, found, volts,
                                                                     total, rules)),
        Section("table", say("By the cable’s table, mV for each A and m"),
                _table_lines(segments, found, volts, by_table, percent)),
        *_k_section(segments, found, volts),
        Section("volts", say("Volts at each joint, solved"), _volts_lines(joints, ends, volts)),
        Section("mend", say("To keep within {limit} %", limit=figure(limit)),
                run.mend_lines(size, percent, limit)),
    ]  # fmt: skip
    lowest, highest = min(ends[1:]), max(ends[1:])
    solved_percent = 100 * (ends[0] - lowest) / volts
    rise = 100 * (highest - ends[0]) / volts
    findings = _findings(entries, context, solved_percent, rise, limit, rules, joints, ends)
    findings += run.ampacity_findings(segments, why_size)
    findings += _wires(entries, context)
    amperes = max((abs(s.amperes) for s in segments), default=0.0)
    va = sum(j.va for j in joints if j.va > 0)
    results = {
        "drop_percent": Result(solved_percent, "%", say("Voltage drop")),
        "drop_volts": Result(ends[0] - lowest, "V", say("Volts lost")),
        "end_volts": Result(ends[-1], "V", say("Volts at the end")),
        "conductor": Result(_sizes(segments) + (f" × {run.sets} sets" if run.sets > 1 else ""), "",
                            say("Conductor")),
        "drop_by_table": Result(percent_table, "%", say("By the table")),
        "drop_by_impedance": Result(percent, "%", say("By impedance")),
        "amperes": Result(amperes, "A", say("Amperes of the first segment")),
        "load": Result(va, "VA", say("Load")),
        "length": Result(sum(j.metres for j in joints), "m", say("Length")),
        "supply_volts": Result(ends[0], "V", say("Volts at its beginning")),
        "limit": Result(limit, "%", say("Drop allowed")),
        **({"rise": Result(rise, "%", say("Voltage rise"))} if rise > RISE else {}),
    }  # fmt: skip
    return Worked(
        "run", edition.id, tuple(sections), results, tuple(findings),
        answer=("end_volts", "drop_percent", "conductor", "drop_by_table"),
        headline=f"{_sizes(segments)} · {figure(solved_percent, 1)} %",
        alternatives=_methods(found, volts),
        points=_points(joints, segments, ends, answer, volts, three, context.units),
    )  # fmt: skip


def _sizes(segments: Sequence[Segment]) -> str:
    """The sizes that the segments have, in their order; never one that none of them has."""
    return ", ".join(SIZE_NAMES[size] for size in dict.fromkeys(s.size for s in segments))


def _wires(entries: RunEntries, context: Context) -> list[Finding]:
    """Whether what hangs on the run finds its lines and its neutral in it."""
    fits_on = {"line-neutral": {"line-neutral"}, "two-line": {"two-line"}}.get(entries.connection)
    if fits_on is None:
        return []
    two = entries.connection == "two-line"
    wrong = [p for p in context.below.pieces if p.connection not in fits_on or (p.neutral and two)]
    if not wrong:
        return []
    return [
        Finding("fails", "wires", say("{name} needs wires that this run does not have.",
                                      name=wrong[0].name or "What hangs on it"), "",
                say("Choose a connection with its lines and neutral, like three-phase."),
                entries=("connection",))
    ]  # fmt: skip


def _drop_lines(
    run: Along, segments: Sequence[Segment], found: Sequence[Lost], volts: float, total: float,
    rules: tuple[Rule, ...],
) -> tuple[Line, ...]:  # fmt: skip
    factor = "1.732" if run.three else "2"
    lines = []
    for index, (segment, one) in enumerate(zip(segments, found, strict=True)):
        size = abs(segment.amperes)
        cos = segment.amperes.real / size if size else 1.0
        sin = -segment.amperes.imag / size if size else 0.0
        each = f" ÷ {segment.sets}" if segment.sets > 1 else ""
        per, unit, length = (
            (METRES, "Ω/1,000 ft", f"{figure(segment.metres / METRES, 1)} ft")
            if run.context.units == "us"
            else (1.0, "Ω/km", f"{figure(segment.metres, 1)} m")
        )
        r, x = figure(one.ohms.r * per, 3), figure(one.ohms.x * per, 3)
        ohms = r if abs(sin) < 1e-9 else f"({r} × {figure(abs(cos), 3)} + {x} × {figure(sin, 3)})"
        share = 100 * one.by_impedance / total if total else 0.0
        lines.append(
            Line("segment_drop", say("To {name}, {size}", name=segment.name,
                                     size=SIZE_NAMES[segment.size]), one.by_impedance, "V",
                 f"{factor} × {figure(size, 1)} A{each} × {ohms} {unit} × {length}",
                 (one.ohms.rule,),
                 note=say("{share} % of the whole", share=figure(share, 0)),
                 entries=(f"{run.joints[index].path}.length",), flow=f"s{index}")
        )  # fmt: skip
    shown = " + ".join(figure(one.by_impedance) for one in found)
    lines.append(Line("drop_sum", say("In all"), total, "V", shown, kind="sum"))
    lines.append(
        Line("drop_percent", say("Of {volts} V", volts=figure(volts)), 100 * total / volts, "%",
             f"{figure(total)} ÷ {figure(volts)}", rules, kind="result")
    )  # fmt: skip
    return tuple(lines)


def _table_lines(
    segments: Sequence[Segment], found: Sequence[Lost], volts: float, total: float, percent: float
) -> tuple[Line, ...]:
    lines = [
        Line("segment_table", say("To {name}", name=segment.name), one.by_table, "V",
             f"{figure(one.mv, 3)} × {figure(abs(segment.amperes), 1)} A × "
             f"{figure(segment.metres, 1)} m ÷ 1,000",
             (one.table_rule,) if one.table_rule else (),
             note=None if one.table_rule else say("its own figure"), flow=f"s{index}")
        for index, (segment, one) in enumerate(zip(segments, found, strict=True))
    ]  # fmt: skip
    by_table = 100 * total / volts
    lines.append(Line("table_percent", say("Of {volts} V", volts=figure(volts)), by_table, "%",
                      kind="sum"))  # fmt: skip
    lines.append(
        Line("table_differs", say("More than by impedance" if by_table >= percent
                                  else "Less than by impedance"), abs(by_table - percent), "%",
             note=say("the table adds amperes whatever their power factor, leaves reactance out and"
                      " has its own temperature and rounding"), kind="note")
    )  # fmt: skip
    return tuple(lines)


def _methods(found: Sequence[Lost], volts: float) -> tuple[Alternative, ...]:
    """The ways side by side, each with its volts."""
    ways = [("impedance", say("By impedance"), sum(one.by_impedance for one in found)),
            ("table", say("By the cable’s table"), sum(one.by_table for one in found))]  # fmt: skip
    if all(one.by_k for one in found):
        ways.append(("k", say("By the K factor"), sum(one.by_k for one in found)))
    return tuple(
        Alternative(f"method_{name}", label, 100 * lost / volts, "%", name == "impedance", True,
                    say("{lost} V", lost=figure(lost)))
        for name, label, lost in ways
    )  # fmt: skip


def _k_section(
    segments: Sequence[Segment], found: Sequence[Lost], volts: float
) -> tuple[Section, ...]:
    if any(is_metric(segment.size) for segment in segments):
        return ()
    total = sum(one.by_k for one in found)
    lines = (
        Line("k_volts", say("2 K I L ÷ circular mils, √3 for three-phase"), total, "V",
             " + ".join(figure(one.by_k) for one in found),
             (practice().rule("k_factor"),)),
        Line("k_percent", say("Of {volts} V", volts=figure(volts)), 100 * total / volts, "%",
             kind="sum"),
    )  # fmt: skip
    return (Section("k", say("Quick check with the K factor"), lines),)


def _volts_lines(joints: Sequence[Joint], ends: Sequence[float], volts: float) -> tuple[Line, ...]:
    lines = [Line("joint_volts", say("At the beginning"), ends[0], "V", flow="start")]
    for index, joint in enumerate(joints, 1):
        lines.append(
            Line("joint_volts", say("{name}", name=joint.name), ends[index], "V",
                 f"{figure(100 * (ends[0] - ends[index]) / volts, 2)} % below the beginning",
                 entries=(f"{joint.path}.name",), flow=f"s{index - 1}")
        )  # fmt: skip
    return tuple(lines)


def _findings(
    entries: RunEntries, context: Context, percent: float, rise: float, limit: float,
    rules: tuple[Rule, ...], joints: Sequence[Joint], ends: Sequence[float],
) -> list[Finding]:  # fmt: skip
    worst = joints[min(range(len(joints)), key=lambda i: ends[i + 1])]
    found = []
    if fits(percent, limit):
        found.append(
            Finding("holds", "drop", say("{percent} % at {name}, within {limit} %.",
                                         percent=figure(percent, 1), name=worst.name,
                                         limit=figure(limit)),
                    f"{figure(limit - percent, 1)} %", None, rules)
        )  # fmt: skip
    else:
        found.append(
            Finding("look", "drop", say("{percent} % at {name}, above the {limit} % that is"
                                        " advised.", percent=figure(percent, 1), name=worst.name,
                                        limit=figure(limit)),
                    f"{figure(percent - limit, 1)} %",
                    say("See “To keep within {limit} %”: larger, shorter or higher volts.",
                        limit=figure(limit)), rules, ("size",))
        )  # fmt: skip
    total = context.limits.total(context.edition)
    if entries.ahead and not fits(percent + entries.ahead, total.value):
        found.append(
            Finding("look", "drop_ahead", say("With the {ahead} % ahead of it: {sum} %, above"
                                              " {limit} % in all.", ahead=figure(entries.ahead),
                                              sum=figure(percent + entries.ahead, 1),
                                              limit=figure(total.value)),
                    f"{figure(percent + entries.ahead - total.value, 1)} %", None, (total.rule,),
                    ("ahead",))
        )  # fmt: skip
    most = context.limits.rise()
    if rise > RISE:
        fails = not fits(rise, most.value)
        found.append(
            Finding("look" if fails or rise > limit else "holds", "rise",
                    say("What feeds in raises the volts by {rise} %.", rise=figure(rise, 1)),
                    f"{figure(rise, 1)} %",
                    say("A larger conductor: an inverter switches off on high volts.")
                    if fails or rise > limit else None, (most.rule,))
        )  # fmt: skip
    return found


def _points(
    joints: Sequence[Joint], segments: Sequence[Segment], ends: Sequence[float], answer: Solution,
    volts: float, three: bool, unit: UnitSystem,
) -> tuple[Point, ...]:  # fmt: skip
    other = "1" if three else "r"
    found = [Point("start", say("At the beginning"), ends[0], "V",
                   answer.phasor("0.0", f"{other}.0"), nominal=volts, role="joint")]  # fmt: skip
    at = 0.0
    for index, (joint, segment) in enumerate(zip(joints, segments, strict=True), 1):
        at += segment.metres
        current = answer.current(f"0:{index}")
        length = show(round(segment.metres / METRES, 1), LENGTH, unit)
        words = say("To {name}, {length}", name=joint.name, length=length)
        found.append(Point(f"line:{index}", words, abs(current), "A", current,
                           SIZE_NAMES[segment.size], index, at))  # fmt: skip
        found.append(Point(f"joint:{index}", say("{name}", name=joint.name), ends[index], "V",
                           answer.phasor(f"0.{index}", f"{other}.{index}"), "", index, at, volts,
                           "joint"))  # fmt: skip
    return tuple(found)


def hand_up(entries: RunEntries, worked: Worked, context: Context) -> Demand:
    """What hangs on the run: its own loads and the parts at its end."""
    volts = context.supply.system.volts(entries.connection)
    pieces = [
        Piece(joint.name, "other", joint.own, joint.own,
              amperes_of(joint.own, volts, entries.connection), entries.connection)
        for joint in joints_of(entries, context, volts) if joint.own > 0
    ]  # fmt: skip
    return Demand.of([*pieces, *context.below.pieces])


def _brings(entries: RunEntries, worked: Worked, context: Context) -> Brings:
    """Segment by segment, with the loads where they stand."""
    volts = volts_of(context.supply.system, entries.connection, "connection")
    joints = joints_of(entries, context, volts)
    along = Along(entries, context, volts, entries.connection == "three-phase", joints)
    size, _ = along.choose(worked.value("limit"))
    return Brings(
        tuple(
            Piecewise(z, z, int(joint.own > 0))
            for z, joint in zip(along.ohms(along.segments(size)), joints, strict=True)
        )
    )


KIND = Kind(
    "run",
    "Run",
    "Volts along several segments",
    RunEntries,
    work,
    hand_up,
    lambda entries, above: above,
    GROUPS,
    holds_parts=True,
    brings=_brings,
)
