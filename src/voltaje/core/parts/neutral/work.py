"""The worksheet of circuits that share a neutral: junction by junction and loop by loop as by
hand, the circuit solved, and what happens when a conductor opens."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import combinations
from typing import TYPE_CHECKING

from voltaje.core.electrical.systems import Demand, Piece
from voltaje.core.parts.kind import Context, Kind
from voltaje.core.parts.neutral.circuit import (
    Layout,
    Placed,
    lay_out,
    nominal_currents,
    replace_open,
    solve,
)
from voltaje.core.parts.neutral.entries import CIRCUITS, GROUPS, NeutralEntries
from voltaje.core.parts.run.entries import SIZE_NAMES
from voltaje.core.rules.runs import is_metric
from voltaje.core.rules.wiring import COLUMNS, Installation, options
from voltaje.core.worksheet import (
    Finding,
    Line,
    Point,
    Result,
    Section,
    Wire,
    Worked,
    figure,
    fits,
    say,
)

if TYPE_CHECKING:
    from voltaje.core.electrical.network import Solution


# common practice: shares of the rated volts at which equipment suffers, burns, is weak or is dead
HIGH, BURNS, LOW, DEAD = 1.10, 1.25, 0.90, 0.05
RAISED = 0.05  # no code figure: a rise, in percent, that is worth a word


def work(entries: NeutralEntries, context: Context) -> Worked:
    """The worksheet: junction by junction and loop by loop as by hand, then the solved circuit."""
    edition = context.edition
    layout = lay_out(entries, context)
    answer = solve(layout)
    whole = layout if not layout.opened else replace_open(layout)
    hand = nominal_currents(whole)
    findings: list[Finding] = []
    volts = {load.path: answer.volts(f"{load.ends[0]}.{load.joint}", f"{load.ends[1]}.{load.joint}")
             for load in layout.loads}  # fmt: skip
    _same_leg(entries, layout, answer, context, findings)
    if layout.opened:
        _opened(layout, answer, volts, context, findings)
    else:
        _drop_findings(layout, volts, context, findings)
    _carries(entries, layout, answer, context, findings)
    if entries.trip == "separate" and len(layout.legs) > 1:
        findings.append(
            Finding("fails", "disconnect",
                    say("The circuits of one neutral are switched each by itself: someone who opens"
                        " one still finds the neutral live."), "",
                    say("One handle or ties, so that all open together."),
                    (edition.rule("multiwire"),), ("trip",))
        )  # fmt: skip
    first = {wire: answer.amperes(f"{wire}:1") for wire in layout.wires} if len(
        layout.joints) > 1 else {}  # fmt: skip
    percents = [100 * (load.rated - volts[load.path]) / load.rated for load in layout.loads]
    low = min(layout.loads, key=lambda load: volts[load.path] / load.rated)
    high = max(layout.loads, key=lambda load: volts[load.path] / load.rated)
    results = {
        "lowest_volts": Result(volts[low.path], "V", say("Lowest: {name}", name=low.name)),
        "highest_volts": Result(volts[high.path], "V", say("Highest: {name}", name=high.name)),
        "drop_percent": Result(max(percents), "%", say("Largest drop")),
        "neutral_amperes": Result(first.get("N", 0.0), "A", say("Neutral at the board")),
        **{f"amperes_{wire.lower()}": Result(value, "A", say("Circuit {name}", name=wire))
           for wire, value in first.items() if wire != "N"},
        "supply_lines": Result(",".join(context.supply.system.lines), "", say("Legs")),
        "losses": Result(answer.losses, "W", say("Lost in the conductors")),
        "load": Result(sum(abs(load.va) for load in layout.loads), "VA", say("Load")),
        "mismatch": Result(answer.mismatch, "", say("Kirchhoff’s sums, relative")),
    }  # fmt: skip
    sections = [
        Section("junctions", say("Junction by junction, at nominal volts"),
                _junction_lines(whole, hand)),
        *([_series_section(layout)] if layout.opened and len(layout.legs) == 2
          and set(layout.legs.values()) == {"L1", "L2"} else []),
        *([] if layout.opened else [Section("loops", say("Loop by loop"),
                                            _loop_lines(layout, hand, volts))]),
        Section("volts", say("The circuit solved"), _volts_lines(layout, volts, answer)),
    ]  # fmt: skip
    percent = max(percents, key=abs)
    head = f"neutral {figure(first.get('N', 0.0), 1)} A · {figure(percent, 1)} %"
    return Worked(
        "neutral", edition.id, tuple(sections), results, tuple(findings),
        answer=("neutral_amperes", "lowest_volts", "highest_volts", "losses"),
        headline=("opened · " if layout.opened else "") + head,
        points=_points(layout, answer, volts),
        wires=tuple(Wire(wire, context.supply.color(layout.legs.get(wire, "N")),
                         layout.legs.get(wire, "")) for wire in layout.wires),
    )  # fmt: skip


def _junction_lines(layout: Layout, hand: Mapping[tuple[str, int], complex]) -> tuple[Line, ...]:
    lines = []
    for joint in range(len(layout.joints) - 1, 0, -1):
        parts = []
        for wire in layout.legs:
            parts.append(f"{wire}: {figure(abs(hand[wire, joint]))} A")
        neutral = hand["N", joint]
        here = [load.name for load in layout.loads if load.joint == joint]
        lines.append(
            Line("junction", say("Neutral to joint {joint}: {names}", joint=joint,
                                 names=", ".join(here)), abs(neutral), "A",
                 _neutral_sum(layout, hand, joint), note=say("{parts}", parts=", ".join(parts)),
                 entries=tuple(f"{load.path}.nameplate" for load in layout.loads
                               if load.joint == joint), flow=f"N:{joint}")
        )  # fmt: skip
    return tuple(lines)


def _neutral_sum(
    layout: Layout, hand: Mapping[tuple[str, int], complex], joint: int
) -> str:  # fmt: skip
    """The sum as it is written by hand: a difference, a plain sum, or the three-phase root."""
    by_leg: dict[str, float] = {}
    for load in layout.loads:
        if load.joint >= joint and load.ends[1] == "N":
            leg = layout.legs[load.ends[0]]
            by_leg[leg] = by_leg.get(leg, 0.0) + abs(load.va) / load.rated
    plain = all((load.row.power_factor or 1.0) == 1.0 for load in layout.loads)
    values = [figure(value) for value in by_leg.values()]
    if len(values) < 2:
        return " + ".join(figure(abs(load.va) / load.rated) for load in layout.loads
                          if load.joint >= joint and load.ends[1] == "N")  # fmt: skip
    if not plain:
        return "phasor sum of " + ", ".join(values)
    emf = {leg: layout.emf[wire] for wire, leg in layout.legs.items() if leg in by_leg}
    pairs = list(combinations(emf.values(), 2))
    opposite = len(emf) == 2 and abs(sum(emf.values())) < 1e-6
    if not opposite and any(abs(abs(a + b) - abs(a)) > 1e-6 for a, b in pairs):
        return "phasor sum of " + ", ".join(values)  # not a third of a turn apart: a high leg
    if opposite:
        one, other = sorted(by_leg.values(), reverse=True)
        return f"{figure(one)} − {figure(other)}"
    squares = " + ".join(f"{v}²" for v in values)
    products = " − ".join(f"{a} × {b}" for i, a in enumerate(values) for b in values[i + 1 :])
    return f"√({squares} − {products})"


def _loop_lines(
    layout: Layout, hand: Mapping[tuple[str, int], complex], volts: Mapping[str, float]
) -> tuple[Line, ...]:
    """The second step by hand: round each load's loop, adding and subtracting the drops."""
    lines = []
    for load in layout.loads:
        one, other = load.ends
        across = layout.across(load)
        if not abs(across):
            continue
        along = across / abs(across)
        parts, total = [figure(abs(across))], abs(across)
        for wire, way in ((one, 1), (other, -1)):
            lost = sum(((way * layout.ohms(wire, j) * hand[wire, j]) / along).real
                       for j in range(1, load.joint + 1))  # fmt: skip
            parts.append(f"{'−' if lost >= 0 else '+'} {figure(abs(lost))} ({wire})")
            total -= lost
        lines.append(
            Line("loop", say("{name}, {circuit}", name=load.name,
                             circuit=CIRCUITS[load.row.circuit]), total, "V", " ".join(parts),
                 note=say("solved: {volts} V", volts=figure(volts[load.path])),
                 entries=(f"{load.path}.circuit",), flow=load.row.id)
        )  # fmt: skip
    return tuple(lines)


def _series_section(layout: Layout) -> Section:
    """What an open neutral does with two legs, as by hand: two groups in series across 240 V."""
    cut = min((int(name.split(":")[1]) for name in layout.opened if name.startswith("N:")),
              default=0)  # fmt: skip
    lines = []
    side = dict.fromkeys(("L1", "L2"), 0.0)
    for load in layout.loads:
        if cut and load.joint >= cut and load.ends[1] == "N":
            side[layout.legs[load.ends[0]]] += abs(load.va) / load.rated**2
    if cut and all(side.values()):
        total = abs(layout.emf["A"] - layout.emf["B"])
        ohms = {leg: 1 / s for leg, s in side.items()}
        for leg, value in ohms.items():
            share = total * value / sum(ohms.values())
            lines.append(
                Line("series", say("All on {leg} behind the opening: {ohms} Ω", leg=leg,
                                   ohms=figure(value)), share, "V",
                     f"{figure(total)} × {figure(value)} ÷ {figure(sum(ohms.values()))}",
                     flow=f"N:{cut}")
            )  # fmt: skip
        lines.append(Line("series_note", say("In series across both legs; drops left out"),
                          kind="note"))  # fmt: skip
    else:
        lines.append(Line("series_note", say("Behind the opening only what is fed from the board’s"
                                             " side keeps its volts"), kind="note"))  # fmt: skip
    return Section("series", say("With the conductor open"), tuple(lines))


def _volts_lines(layout: Layout, volts: Mapping[str, float], answer: Solution) -> tuple[Line, ...]:
    lines = [
        Line("load_volts", say("{name}", name=load.name), volts[load.path], "V",
             f"{figure(100 * volts[load.path] / load.rated, 1)} % of {figure(load.rated)} V,"
             f" {figure(answer.amperes(load.path), 2)} A",
             entries=(f"{load.path}.nameplate",), flow=load.row.id)
        for load in layout.loads
    ]  # fmt: skip
    for wire in layout.wires:
        if len(layout.joints) > 1:
            lines.append(
                Line("first_amperes", say("Neutral at the board") if wire == "N" else
                     say("Circuit {name} at the board", name=wire), answer.amperes(f"{wire}:1"),
                     "A", kind="sum" if wire == "N" else "step", flow=f"{wire}:1")
            )  # fmt: skip
    lines.append(Line("lost", say("Lost in the conductors"), answer.losses, "W", kind="note"))
    return tuple(lines)


def _same_leg(
    entries: NeutralEntries, layout: Layout, answer: Solution, context: Context,
    findings: list[Finding],
) -> None:  # fmt: skip
    legs = list(layout.legs.values())
    if len(set(legs)) == len(legs) or len(layout.joints) < 2:
        return
    twice = next(leg for leg in legs if legs.count(leg) > 1)
    circuits = [name for name, leg in layout.legs.items() if leg == twice]
    amperes = answer.amperes("N:1")
    findings.append(
        Finding("fails", "same_leg",
                say("Circuits {names} both stand on {leg}: the neutral carries their sum,"
                    " {amperes} A, and no device sees it. Up to {most} A can flow in it before any"
                    " device opens: a fire hazard.", names=" and ".join(circuits), leg=twice,
                    amperes=figure(amperes, 1), most=figure(entries.device * len(circuits))),
                f"{figure(amperes, 1)} A", say("Put each circuit on a leg of its own."),
                (context.edition.rule("multiwire"),), ("b",))
    )  # fmt: skip


def _opened(
    layout: Layout, answer: Solution, volts: Mapping[str, float], context: Context,
    findings: list[Finding],
) -> None:  # fmt: skip
    where = ", ".join(sorted(layout.opened))
    neutral = any(name.startswith("N:") for name in layout.opened)
    findings.append(
        Finding("fails", "opened", say("Open at {where}: {what}", where=where,
                what="the loads behind it stand in series across the lines." if neutral else
                "what hangs behind it is dead or fed backwards through other loads."), "",
                say("De-energize before the joint is touched; close it, then measure again."),
                (context.edition.rule("multiwire"),), ("open",))
    )  # fmt: skip
    for load in layout.loads:
        ratio = volts[load.path] / load.rated
        if ratio > HIGH + 1e-9:
            findings.append(
                Finding("fails", "over", say(
                    "{name} gets {volts} V on its {rated} V: {how}.", name=load.name,
                    volts=figure(volts[load.path], 1), rated=figure(load.rated),
                    how="it burns" if ratio > BURNS else "it can burn"),
                    f"{figure(volts[load.path] - load.rated, 1)} V", None,
                    entries=(f"{load.path}.name",))
            )  # fmt: skip
        elif ratio < LOW:
            findings.append(
                Finding("look", "under", say(
                    "{name} gets {volts} V on its {rated} V: {how}.", name=load.name,
                    volts=figure(volts[load.path], 1), rated=figure(load.rated),
                    how="it is dead" if ratio < DEAD else "weak; a motor may stall and overheat"),
                    f"{figure(load.rated - volts[load.path], 1)} V", None,
                    entries=(f"{load.path}.name",))
            )  # fmt: skip


def _drop_findings(
    layout: Layout, volts: Mapping[str, float], context: Context, findings: list[Finding]
) -> None:
    limit = context.limits.branch(context.edition)
    worst = max(layout.loads, key=lambda load: 1 - volts[load.path] / load.rated)
    percent = 100 * (1 - volts[worst.path] / worst.rated)
    holds = fits(percent, limit.value)
    findings.append(
        Finding("holds" if holds else "look", "drop",
                say("{name} gets {volts} V, {percent} % below its {rated} V.", name=worst.name,
                    volts=figure(volts[worst.path], 1), percent=figure(percent, 1),
                    rated=figure(worst.rated)),
                f"{figure(abs(limit.value - percent), 1)} %",
                None if holds else say("Larger conductors, or the loads spread over both legs."),
                (limit.rule,), ("size",))
    )  # fmt: skip
    top = max(layout.loads, key=lambda load: volts[load.path] / load.rated)
    above = 100 * (volts[top.path] / abs(layout.across(top)) - 1) if abs(layout.across(top)) else 0
    if above > RAISED:
        findings.append(
            Finding("holds", "raised", say("{name} stands {percent} % above the board’s volts: the"
                                           " neutral’s drop lifts the lighter side.", name=top.name,
                                           percent=figure(above, 1)), f"{figure(above, 1)} %")
        )  # fmt: skip


def _carries(
    entries: NeutralEntries, layout: Layout, answer: Solution, context: Context,
    findings: list[Finding],
) -> None:  # fmt: skip
    """Each circuit against its device, and every conductor, the neutral too, against its
    ampacity."""
    if len(layout.joints) < 2:
        return
    nonlinear = any(load.row.third for load in layout.loads)
    count = len(layout.legs) + (1 if nonlinear or len(set(layout.legs.values())) < len(layout.legs)
                                else 0)  # fmt: skip
    lies = Installation(entries.method, entries.insulation, counted=max(count, 2))
    size = "12" if entries.size == "auto" else entries.size
    neutral = size if entries.neutral_size == "auto" else entries.neutral_size
    for wire in layout.wires:
        most = max(answer.amperes(f"{wire}:{j}") for j in range(1, len(layout.joints)))
        own = neutral if wire == "N" else size
        if wire != "N" and not fits(most, entries.device):
            findings.append(
                Finding("fails", "device", say("Circuit {name} draws {amperes} A on its {device} A"
                                               " device.", name=wire, amperes=figure(most, 1),
                                               device=figure(entries.device)),
                        f"{figure(most - entries.device, 1)} A", say("Less load on it, or another"
                                                                     " circuit."),
                        (context.edition.rule("standard_devices"),), ("device",))
            )  # fmt: skip
        if is_metric(own):
            continue
        found = next((o for o in options(entries.material, lies, context.edition)
                      if o.size == own), None)  # fmt: skip
        # lighting and receptacle circuits of this size end in terminals of the lower column
        if found is not None and not fits(most, found.final(COLUMNS[0])):
            findings.append(
                Finding("fails", "ampacity",
                        say("The neutral carries {amperes} A on {size}, good for {carries} A: no"
                            " device sees it." if wire == "N" else
                            "Circuit " + wire + " carries {amperes} A on {size}, good for"
                            " {carries} A.", amperes=figure(most, 1), size=SIZE_NAMES[own],
                            carries=figure(found.final(COLUMNS[0]), 1)),
                        f"{figure(most - found.final(COLUMNS[0]), 1)} A",
                        say("A larger neutral, a neutral for each circuit, or legs of their own.")
                        if wire == "N" else say("Larger conductors."),
                        (context.edition.rule("ampacity"),),
                        ("neutral_size" if wire == "N" else "size",))
            )  # fmt: skip


def _points(layout: Layout, answer: Solution, volts: Mapping[str, float]) -> tuple[Point, ...]:
    found = []
    for joint in range(1, len(layout.joints)):
        for wire in layout.wires:
            name = f"{wire}:{joint}"
            waves = tuple((order, wave.amperes[name]) for order, wave in answer.waves.items())
            found.append(
                Point(name, say("{wire}, piece {joint}",
                                wire="Neutral" if wire == "N" else f"Circuit {wire}", joint=joint),
                      answer.amperes(name), "A", answer.current(name), wire, joint,
                      layout.joints[joint], open=name in layout.opened, waves=waves)
            )  # fmt: skip
    for load in layout.loads:
        one, other = (f"{end}.{load.joint}" for end in load.ends)
        found.append(
            Point(load.row.id, say("{name}", name=load.name), volts[load.path], "V",
                  answer.phasor(one, other), load.row.circuit, load.joint,
                  layout.joints[load.joint], load.rated, "volts")
        )  # fmt: skip
        found.append(
            Point(f"{load.row.id}:A", say("{name}", name=load.name), answer.amperes(load.path), "A",
                  answer.current(load.path), load.row.circuit, load.joint,
                  layout.joints[load.joint], abs(load.va) / load.rated, "load")
        )  # fmt: skip
    return tuple(found)


def hand_up(entries: NeutralEntries, worked: Worked, context: Context) -> Demand:
    """One piece for each circuit and each pair of them, with the leg it stands on."""
    layout = lay_out(entries, context)
    found: dict[tuple[str, str], list[Placed]] = {}
    for load in layout.loads:
        found.setdefault(load.ends, []).append(load)
    pieces = []
    for (one, other), loads in found.items():
        va = sum(abs(load.va) for load in loads)
        nonlinear = any((load.row.third or 0) > 0 for load in loads)
        if other == "N":
            line, volts = layout.legs[one], loads[0].rated
        else:
            line = "-".join(sorted((layout.legs[one], layout.legs[other])))
            volts = loads[0].rated
            if layout.legs[one] == layout.legs[other]:
                continue
        pieces.append(
            Piece(f"circuit {one}" if other == "N" else f"across {one} and {other}", "other", va,
                  va, va / volts, "line-neutral" if other == "N" else "two-line", line,
                  device=entries.device, multiwire="*" if other == "N" else "",
                  nonlinear=nonlinear)
        )  # fmt: skip
    return Demand.of(pieces)


KIND = Kind(
    "neutral",
    "Shared neutral",
    "Volts and amperes of circuits on one neutral",
    NeutralEntries,
    work,
    hand_up,
    lambda entries, above: above,
    GROUPS,
)
