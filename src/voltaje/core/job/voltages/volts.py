"""What the solved job says at its parts, in numbers: volts, amperes by line, percent lost."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from voltaje.core.electrical.lines import phasors
from voltaje.core.electrical.network import NetworkLoad
from voltaje.core.electrical.systems import Piece, System
from voltaje.core.job.voltages.building import Building, line_of
from voltaje.core.job.voltages.report import (
    Across,
    Exported,
    FedVolts,
    HolderVolts,
    LeafVolts,
    told_apart,
)
from voltaje.core.kinds import Context, Evaluated, PartInput, kind
from voltaje.core.kinds.interface import Outcome, Volts
from voltaje.core.rules.settings import Limits

if TYPE_CHECKING:
    from voltaje.core.electrical.network import Solution


@dataclass(frozen=True, slots=True)
class Ahead:
    """Percent lost from the supply to a part's end, and ``inside`` transformers, by pair of
    conductors."""

    used: Mapping[str, float]
    inside: Mapping[str, float]


def volts_of(
    b: Building,
    parts: Sequence[PartInput],
    full: Solution,
    bare: Solution,
    found: Mapping[str, Evaluated],
    base: Context,
    export: Solution | None = None,
) -> dict[str, Volts]:
    """What was found, by part; those that hold others come first. ``export`` is the network with
    all that feeds in and no load."""
    ahead: dict[str, Ahead] = {}
    told: dict[str, Volts] = {}
    carried = _inflows(b, parts, full, b.loads)
    back = _inflows(b, parts, export, b.sources) if export is not None else {}
    fed = {load.name.split("/")[0] for load in b.sources}
    for part in parts:
        outcome: Outcome | None = found[part.id].outcome
        if outcome is None:
            continue
        if part.id in b.systems:
            above = ahead[part.parent].inside if part.parent in ahead else {}
            mine = Ahead(_here(b, part.id, full, bare), _inside(b, part.id, above, full, bare))
            ahead[part.id] = mine
            # two lines may lose alike, and one of them less of it inside a transformer
            judged = {pair: _judged(mine, pair, base.limits) for pair in mine.used}
            worst = max(judged, key=lambda pair: judged[pair])
            own_network = kind(part.kind).own_network and part.parent in b.systems
            told[part.id] = HolderVolts(
                base.limits,
                base.edition,
                mine.used[worst],
                mine.inside.get(worst, 0.0),
                _left(b, part.parent or "", outcome, full) if own_network else None,
                b.systems[part.id],
                _across(b, part.id, full, bare),
                tuple(carried.get(part.id, {}).items()),
                bool(part.parent),
                _exported(b, part.id, export, bare, back),
                None if part.parent else full,
                judged,
            )
        elif part.id in fed and export is not None and part.parent in b.systems:
            told[part.id] = _fed(b, part, outcome, full, bare, export, base)
        elif part.parent in b.systems and part.parent in ahead:
            leaf = _leaf(b, part, outcome, full, ahead[part.parent], base)
            if leaf is not None:
                told[part.id] = leaf
    return told


def _judged(ahead: Ahead, pair: str, limits: Limits) -> float:
    """Percent lost between a pair of conductors that is judged."""
    return ahead.used[pair] - told_apart(ahead.inside.get(pair, 0.0), limits)


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
    if part not in b.fed:
        return dict(above)
    ahead = max(100 * (1 - full.volts(*pair) / bare.volts(*pair)) for pair in b.fed[part])
    ahead -= max(above.values(), default=0.0)
    found = {}
    for one, other in _pairs(b.systems[part]):
        nodes = b.terminals[part, one], b.terminals[part, other]
        found[f"{one}-{other}"] = 100 * (1 - full.volts(*nodes) / bare.volts(*nodes)) - ahead
    return found


def _across(b: Building, part: str, full: Solution, bare: Solution) -> tuple[Across, ...]:
    """Volts between each pair of conductors at a part's end."""
    found = []
    for one, other in _pairs(b.systems[part]):
        nodes = b.ends[part, one], b.ends[part, other]
        found.append(
            Across(one, other, full.volts(*nodes), full.phasor(*nodes), bare.volts(*nodes))
        )
    return tuple(found)


def _exported(
    b: Building,
    part: str,
    export: Solution | None,
    bare: Solution,
    back: Mapping[str, Mapping[str, complex]],
) -> Exported | None:
    """How far the volts rise at a part's end, percent, and A that flow back through it."""
    amperes = max((abs(a) for a in back.get(part, {}).values()), default=0.0)
    if export is None or not amperes:
        return None
    risen = _here(b, part, export, bare)
    return Exported(-min(risen.values()), amperes)


def _fed(
    b: Building,
    part: PartInput,
    outcome: Outcome,
    full: Solution,
    bare: Solution,
    export: Solution,
    base: Context,
) -> FedVolts:
    """A source: the volts at its terminals without its own output and all load on, and with all
    that feeds in and no load."""
    parent = part.parent or ""
    system = b.systems[parent]
    rises = _here(b, parent, export, bare)
    pair = min(rises, key=lambda name: rises[name])
    one, other = pair.split("-")
    nominal = abs(phasors(system)[one]) if other == "N" else system.line_to_line
    nodes = b.ends[parent, one], b.ends[parent, other]
    own = outcome.drop or 0.0
    return FedVolts(
        base.edition,
        own,
        -rises[pair],
        full.volts(*nodes),
        export.volts(*nodes) + own / 100 * nominal,
        one,
        other,
    )


def _inflows(
    b: Building, parts: Sequence[PartInput], full: Solution, loads: Sequence[NetworkLoad]
) -> dict[str, dict[str, complex]]:
    """Amperes that flow in each wire into what stands at a part's end: its loads, and what its
    parts below take. A transformer's primary is what its windings draw."""
    into: dict[str, dict[str, complex]] = {
        name: dict.fromkeys(b.wires(name), 0j) for name in b.systems
    }
    holder = {part.id: part.id if part.id in b.systems else part.parent for part in parts}
    for load in loads:
        at = holder.get(load.name.split("/")[0]) or ""
        one, other = load.name.rsplit("/", 1)[1][:2], load.name.rsplit("/", 1)[1][2:]
        into[at][one] += full.current(load.name)
        into[at][other] -= full.current(load.name)
    for part in reversed([p for p in parts if p.id in b.systems and p.parent]):
        parent = into[part.parent or ""]
        if part.id not in b.fed:
            for wire, amperes in into[part.id].items():
                parent[wire] += amperes
        for wire, above in b.straight.get(part.id, {}).items():
            parent[above] += into[part.id][wire]
        for coil, wire, sign in b.taken.get(part.id, ()):
            parent[wire] += sign * full.current(coil)
    return into


def _leaf(
    b: Building, part: PartInput, outcome: Outcome, full: Solution, ahead: Ahead, base: Context
) -> LeafVolts | None:
    """A circuit: the volts at its supply point less what its own run loses at full load."""
    parent, used = part.parent or "", ahead.used
    system = b.systems[parent]
    pieces = b.pieces.get(part.id)
    if not pieces:
        return None
    own = outcome.drop or 0.0
    # of a load split over its lines the one that stands lowest; its own drop is the heaviest's
    most = max(piece.calculated for piece in pieces)
    if len(pieces) == 1 or not most or pieces[0].multiwire:
        pair = _pair_of(pieces[0], system, used)
    else:
        at = {_pair_of(piece, system, used): own * piece.calculated / most for piece in pieces}
        pair = max(at, key=lambda found: used[found] + at[found])
        own = at[pair]
    one, other = pair.split("-")
    nodes = b.ends[parent, one], b.ends[parent, other]
    nominal = abs(phasors(system)[one]) if other == "N" else system.line_to_line
    own_network = kind(part.kind).own_network
    return LeafVolts(
        base.limits,
        base.edition,
        used[pair] + own,
        ahead.inside.get(pair, 0.0),
        _left(b, parent, outcome, full) if own_network else None,
        one,
        other,
        full.volts(*nodes) - own / 100 * nominal,
        full.phasor(*nodes),
        nominal,
    )


def _pair_of(piece: Piece, system: System, used: Mapping[str, float]) -> str:
    """The pair of wires, of those that ``used`` knows, between which a load stands."""
    line = line_of(piece, system)
    pair = "L1-L2" if line == "all" else line if "-" in line else f"{line}-N"
    pair = "L1-L2" if pair == "L1-N" and not system.has_neutral else pair
    if line == "all":
        pair = max((f"{a}-{c}" for a, c in _pairs(system) if c != "N"), key=lambda p: used[p])
    return pair if pair in used else "-".join(sorted(pair.split("-")))


def _left(b: Building, parent: str, outcome: Outcome, full: Solution) -> dict[str, float]:
    """What is left of the nominal volts where a sheet's own network begins, as a share, by the
    pair of circuits that its points name: ``"A-B"``, ``"A"`` to neutral; ``""`` for a sheet whose
    points all stand on the same lines."""
    system, legs = b.systems[parent], dict(outcome.legs)
    above, found = phasors(system), {}

    def share(one: str, other: str) -> float | None:
        if (other == "N" and not system.has_neutral) or one == other:
            return None
        nominal = abs(above[one] - (above[other] if other != "N" else 0))
        return full.volts(b.ends[parent, one], b.ends[parent, other]) / nominal

    names = [*legs, *(f"{a}-{c}" for a in legs for c in legs if a < c)]
    for name in names or [""]:
        ends = [legs[c] for c in name.split("-")] if legs else list(system.lines[:2])
        left = share(ends[0], ends[1] if len(ends) > 1 else "N")
        if left is not None:
            found[name] = left
    return found
