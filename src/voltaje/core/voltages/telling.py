"""What the solved job says on its parts: volts, amperes by line, the drop from the supply."""

from __future__ import annotations

from collections.abc import Mapping, MutableMapping, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from voltaje.core.electrical.lines import phasors
from voltaje.core.electrical.network import (
    ElementError,
    NoSolutionError,
)
from voltaje.core.electrical.systems import System
from voltaje.core.parts import Context, Evaluated, PartInput
from voltaje.core.voltages.building import Building, line_of
from voltaje.core.worksheet import (
    Finding,
    Line,
    Point,
    Result,
    Section,
    Worked,
    figure,
    fits,
    say,
)

if TYPE_CHECKING:
    from voltaje.core.electrical.network import Solution


SHOWN_FROM = 1e-6


def put(
    b: Building, parts: Sequence[PartInput], full: Solution, bare: Solution,
    found: MutableMapping[str, Evaluated], base: Context,
) -> None:  # fmt: skip
    """Writes what was found on the parts, those that hold others first."""
    used: dict[str, dict[str, float]] = {}
    inside: dict[str, dict[str, float]] = {}
    carried = _inflows(b, parts, full)
    for part in parts:
        mine = found[part.id]
        if mine.worked is None:
            continue
        if part.id in b.systems:
            used[part.id] = _here(b, part.id, full, bare)
            inside[part.id] = _inside(b, part.id, inside.get(part.parent or "", {}), full, bare)
            worst = max(used[part.id], key=lambda pair: used[part.id][pair])
            points = _points_of(b, part.id, full, bare, carried.get(part.id, {}))
            own = mine.worked
            if own.kind == "run" and part.parent in b.systems:
                own = replace(own, points=_on_site(b, part.parent, own, full))
            told = _with_volts(own, points, used[part.id][worst],
                               inside[part.id].get(worst, 0.0), base, bool(part.parent),
                               b.systems[part.id])  # fmt: skip
            found[part.id] = replace(mine, worked=told)
        elif part.parent in b.systems and part.parent in used:
            found[part.id] = replace(mine, worked=_leaf(
                b, part, mine.worked, full, used[part.parent], inside[part.parent],
                base))  # fmt: skip


def _pairs(system: System) -> list[tuple[str, str]]:
    """Where a voltmeter is put: each line to the neutral, the lines between one another."""
    lines = system.lines
    between = [(a, c) for i, a in enumerate(lines) for c in lines[i + 1 :]]
    return [*([(line, "N") for line in lines] if system.has_neutral else []), *between]


def _here(b: Building, part: str, full: Solution, bare: Solution) -> dict[str, float]:
    """Percent lost from the supply, of the nominal volts, for each pair of conductors."""
    system, used = b.systems[part], {}
    above = phasors(system)
    for one, other in _pairs(system):
        nodes = b.ends[part, one], b.ends[part, other]
        nominal = abs(above[one]) if other == "N" else system.line_to_line
        used[f"{one}-{other}"] = 100 * (bare.volts(*nodes) - full.volts(*nodes)) / nominal
    return used


def _inside(
    b: Building, part: str, above: Mapping[str, float], full: Solution, bare: Solution
) -> dict[str, float]:
    """Percent that transformers lose in themselves on the way, by pair of conductors; the parent's
    where the part is none. A bank's is what is lost up to its secondary's terminals less what the
    conductors ahead of it lose."""
    bank = [t for t in b.transformers if t.name.startswith(f"{part}/T")]
    if not bank:
        return dict(above)
    ahead = max(100 * (1 - full.volts(*t.primary) / bare.volts(*t.primary)) for t in bank)
    ahead -= max(above.values(), default=0.0)
    found = {}
    for one, other in _pairs(b.systems[part]):
        nodes = f"{part}/X{one}", f"{part}/X{other}"
        found[f"{one}-{other}"] = 100 * (1 - full.volts(*nodes) / bare.volts(*nodes)) - ahead
    return found


def _points_of(
    b: Building, part: str, full: Solution, bare: Solution, amperes: Mapping[str, complex]
) -> tuple[Point, ...]:
    system, found = b.systems[part], []
    for one, other in _pairs(system):
        nodes = b.ends[part, one], b.ends[part, other]
        far = "neutral" if other == "N" else other
        words = say("{one} to {other}", one=one, other=far)
        found.append(Point(f"{one}-{other}", words, full.volts(*nodes), "V", full.phasor(*nodes),
                           one, 0, 0.0, bare.volts(*nodes), "volts"))  # fmt: skip
    for wire, current in amperes.items():
        words = say("Neutral") if wire == "N" else say("Line {line}", line=wire)
        found.append(Point(wire, words, abs(current), "A", current, wire))
    return tuple(found)


def _inflows(
    b: Building, parts: Sequence[PartInput], full: Solution
) -> dict[str, dict[str, complex]]:
    """Amperes that flow in each wire into what stands at a part's end: its loads, and what its
    parts below take. A transformer's primary is what its windings draw."""
    into: dict[str, dict[str, complex]] = {
        name: dict.fromkeys(b.wires(name), 0j) for name in b.systems
    }
    owner = {load.name: load.name.split("/")[0] for load in b.loads}
    holder = {part.id: part.id if part.id in b.systems else part.parent for part in parts}
    for load in b.loads:
        at = holder.get(owner[load.name]) or ""
        one, other = load.name.rsplit("/", 1)[1][:2], load.name.rsplit("/", 1)[1][2:]
        into[at][one] += full.current(load.name)
        into[at][other] -= full.current(load.name)
    for part in reversed([p for p in parts if p.id in b.systems and p.parent]):
        parent = into[part.parent or ""]
        bank = [t for t in b.transformers if t.name.startswith(f"{part.id}/T")]
        if not bank:
            for wire, amperes in into[part.id].items():
                parent[wire] += amperes
        for winding in bank:
            taken = full.current(winding.name) / winding.ratio
            for wire, sign in zip(b.primaries[winding.name], (1, -1), strict=True):
                parent[wire] += sign * taken
    return into


def _with_volts(
    worked: Worked, points: Sequence[Point], lost: float, inside: float, base: Context,
    judged: bool, system: System,
) -> Worked:  # fmt: skip
    """A part that holds others, with the volts at its end."""
    lines, results = [], {}
    for point in points:
        name = point.name.lower().replace("-", "_")
        if point.unit == "V":
            results[f"volts_{name}"] = Result(point.value, "V", point.label)
            percent = 100 * (point.nominal - point.value) / point.nominal if point.nominal else 0.0
            lines.append(
                Line(f"volts_{name}", point.label, point.value, "V",
                     f"{figure(percent, 1)} % below {figure(point.nominal, 1)} V without load",
                     flow=point.line)
            )  # fmt: skip
        else:
            results[f"flow_{name}"] = Result(point.value, "A", point.label)
            lines.append(Line(f"flow_{name}", point.label, point.value, "A", kind="note",
                              flow=point.line))  # fmt: skip
    section = Section("solved", say("Volts here, the job solved with its calculated load"),
                      tuple(lines))  # fmt: skip
    worked = replace(
        worked,
        sections=(*worked.sections, section),
        results={**worked.results, **results},
        points=(*worked.points, *points),
    )
    above = phasors(system)
    read = [p for p in points if p.unit == "V" and p.name.endswith("-N") == system.has_neutral]
    lowest = min(read, key=lambda p: p.value / (p.nominal or 1.0))
    nominal = abs(above[lowest.line]) if lowest.name.endswith("-N") else system.line_to_line
    worked = _headed(worked, lowest.value)
    if judged and "drop_percent" in worked.results:
        worked = _within_band(worked, lowest.value, nominal, base)
    if not judged:
        return worked
    return _judged(worked, lost, inside, base, shown="drop_percent" in worked.results)


def _headed(worked: Worked, volts: float) -> Worked:
    return replace(worked, headline=f"{worked.headline} · {figure(volts, 0)} V")


def _leaf(
    b: Building, part: PartInput, worked: Worked, full: Solution, used: Mapping[str, float],
    inside: Mapping[str, float], base: Context,
) -> Worked:  # fmt: skip
    """A circuit: the volts at its supply point less what its own run loses at full load."""
    parent = part.parent or ""
    system = b.systems[parent]
    piece = b.pieces.get(part.id)
    if piece is None:
        return worked
    line = line_of(piece, system)
    pair = "L1-L2" if line == "all" else line if "-" in line else f"{line}-N"
    pair = "L1-L2" if pair == "L1-N" and not system.has_neutral else pair
    if line == "all":
        pair = max((f"{a}-{c}" for a, c in _pairs(system) if c != "N"), key=lambda p: used[p])
    if pair not in used:
        pair = "-".join(sorted(pair.split("-")))
    one, other = pair.split("-")
    nodes = b.ends[parent, one], b.ends[parent, other]
    nominal = abs(phasors(system)[one]) if other == "N" else system.line_to_line
    own = worked.results.get("drop_percent")
    own_percent = 0.0 if own is None or isinstance(own.value, str) else float(own.value)
    volts = full.volts(*nodes) - own_percent / 100 * nominal
    lost = used[pair] + own_percent
    point = Point("load", say("At the load, {pair}", pair=pair.replace("-N", " to neutral")), volts,
                  "V", full.phasor(*nodes), one, 0, 0.0, nominal, "volts")  # fmt: skip
    results = {
        **worked.results,
        "volts_at_load": Result(volts, "V", say("Volts at the load")),
    }
    points = worked.points
    if worked.kind != "neutral":
        amperes = worked.results.get("amperes")
        points = (*points, point)
        if amperes is not None and not isinstance(amperes.value, str):
            each = float(amperes.value)
            roles = [w.role for w in worked.wires if w.role != "G"] or [one]
            points = (*points, *(
                Point(role, say("Neutral") if role == "N" else say("Line {line}", line=role), each,
                      "A", complex(each), role)
                for role in roles
            ))  # fmt: skip
    else:
        results.pop("volts_at_load")
        points = _on_site(b, parent, worked, full)
    worked = replace(worked, results=results, points=points)
    # what is open or burning is a finding of its own
    if any(p.open for p in worked.points):
        return worked
    worked = _within_band(_headed(worked, volts), volts, nominal, base)
    return _judged(worked, lost, inside.get(pair, 0.0), base, shown=own is not None)


def _within_band(worked: Worked, volts: float, nominal: float, base: Context) -> Worked:
    """Where the job goes by the supply's tolerance: the volts themselves against its band."""
    if base.limits.scheme != "tolerance" or not nominal:
        return worked
    high, low = base.limits.rise(), base.limits.total(base.edition)
    percent = 100 * (volts - nominal) / nominal
    holds = fits(percent, high.value) and fits(-percent, low.value)
    words = say("{volts} V here, {percent} % {way} the nominal {nominal} V.",
                volts=figure(volts, 1), percent=figure(abs(percent), 1),
                way="above" if percent > 0 else "below", nominal=figure(nominal))  # fmt: skip
    over = percent - high.value if percent > 0 else -percent - low.value
    finding = Finding("holds" if holds else "fails", "band", words, f"{figure(abs(over), 1)} %",
                      None if holds else say("Equipment is built for +{high} % to −{low} %.",
                                             high=figure(high.value), low=figure(low.value)),
                      (high.rule,))  # fmt: skip
    return replace(worked, findings=(*worked.findings, finding))


def _on_site(b: Building, parent: str, worked: Worked, full: Solution) -> tuple[Point, ...]:
    """The volts of a sheet of its own, which begins with nominal ones, as they are behind what the
    job loses up to it: each in proportion to what its legs have left."""
    system = b.systems[parent]
    above = phasors(system)
    legs = {wire.role: wire.size for wire in worked.wires if wire.size in system.lines}
    found = []
    for point in worked.points:
        if point.unit != "V" or point.role not in ("volts", "joint"):
            found.append(point)
            continue
        ends = [legs.get(c, "") for c in point.line.split("-")] if legs else list(system.lines[:2])
        ends = [end for end in ends if end] or ["L1"]
        one, other = ends[0], ends[1] if len(ends) > 1 else "N"
        if (other == "N" and not system.has_neutral) or one == other:
            found.append(point)
            continue
        nominal = abs(above[one] - (above[other] if other != "N" else 0))
        left = full.volts(b.ends[parent, one], b.ends[parent, other]) / nominal
        found.append(replace(point, on_site=point.value * left))
    return tuple(found)


def _judged(worked: Worked, lost: float, inside: float, base: Context, shown: bool) -> Worked:
    """The drop from the supply beside the run's own, against the job's limit. The code's advice is
    for feeders and branch circuits: what transformers lose in themselves is told apart there."""
    if abs(lost) < SHOWN_FROM:
        return worked
    limit = base.limits.total(base.edition)
    results = dict(worked.results)
    if inside > SHOWN_FROM and base.limits.scheme in ("code", "own"):
        lost = max(0.0, lost - inside)
        results["drop_inside"] = Result(inside, "%", say("Lost in transformers, besides"))
    results["drop_total"] = Result(lost, "%", say("Drop from the supply"))
    findings = worked.findings
    if shown and not fits(lost, limit.value):
        words = say("From the supply on the drop is {percent} %, above the {limit} % that is"
                    " advised.", percent=figure(lost, 1), limit=limit.value)  # fmt: skip
        findings = (
            *findings,
            Finding("look", "drop_total", words, f"{figure(lost - limit.value, 1)} %",
                    say("Enlarge the feeder or the circuit, whichever loses more."),
                    (limit.rule,), ("length",)),
        )  # fmt: skip
    answer = tuple(
        name
        for own in worked.answer
        for name in ((own, "drop_total") if own == "drop_percent" else (own,))
    )
    return replace(worked, results=results, findings=findings, answer=answer)


def say_collapse(root: str, error: NoSolutionError, found: MutableMapping[str, Evaluated]) -> None:
    _on_root(root, found, Finding(
        "fails", "collapse",
        say("The conductors of this job cannot carry its load: the volts collapse. At most"
            " {share} % of it can be carried.", share=figure(100 * error.share, 0)), "",
        say("Look for a run that is far too long or too thin.")))  # fmt: skip


def say_wrong(root: str, error: ElementError, found: MutableMapping[str, Evaluated]) -> None:
    _on_root(root, found, Finding(
        "look", "unsolved", say("The volts of this job could not be solved: {words}.",
                                words=error.words), ""))  # fmt: skip


def _on_root(root: str, found: MutableMapping[str, Evaluated], finding: Finding) -> None:
    worked = found[root].worked
    if worked is not None:
        told = replace(worked, findings=(*worked.findings, finding))
        found[root] = replace(found[root], worked=told)
