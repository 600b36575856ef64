"""A job's parts as one network with every line and neutral.

The operating case is the calculated one: every load runs at what the demand rules leave of it at
its supply. A circuit's own run is the exception: it carries the circuit's full load, as its own
sheet says, on top of what is lost ahead of it.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from math import sqrt

from voltaje.core.electrical.lines import phasors, place
from voltaje.core.electrical.network import (
    EARTH,
    Coil,
    Conductor,
    Core,
    NetworkLoad,
    transformer,
)
from voltaje.core.electrical.network.contribution import Bank, Boost, NetworkSegment
from voltaje.core.electrical.systems import Demand, Infeed, Piece, SupplyPoint, System
from voltaje.core.kinds import PartInput
from voltaje.core.rules.context import Context

# common practice for dry types of usual size where the nameplate gives no losses
X_TO_R = 2.0


@dataclass
class Building:
    """The network under way: elements, and the node at which each part's wires end.

    Of a part with windings: the ``terminals`` of its output, the pairs of nodes that it is ``fed``
    at, the conductors that go ``straight`` through by the name they have above, and by which coils
    current is ``taken`` from which of the conductors above: coil, conductor, sign."""

    conductors: list[Conductor] = field(default_factory=list)
    loads: list[NetworkLoad] = field(default_factory=list)
    sources: list[NetworkLoad] = field(default_factory=list)
    cores: list[Core] = field(default_factory=list)
    ends: dict[tuple[str, str], str] = field(default_factory=dict)
    terminals: dict[tuple[str, str], str] = field(default_factory=dict)
    fed: dict[str, list[tuple[str, str]]] = field(default_factory=dict)
    straight: dict[str, dict[str, str]] = field(default_factory=dict)
    systems: dict[str, System] = field(default_factory=dict)
    taken: dict[str, list[tuple[str, str, int]]] = field(default_factory=dict)
    pieces: dict[str, list[Piece]] = field(default_factory=dict)
    _placed: dict[str, tuple[Piece, ...]] = field(default_factory=dict)
    lost: bool = False

    def link(self, name: str, start: str, end: str, ohms: complex) -> str:
        """A conductor, or nothing but the node where it has no impedance."""
        if not ohms:
            return start
        self.lost = True
        self.conductors.append(Conductor(name, start, end, ohms))
        return end

    def put_placed(self, holder: str, pieces: tuple[Piece, ...]) -> None:
        """What hangs on a part that has given each load its line already."""
        self._placed[holder] = pieces

    def placed(self, holder: str, demand: Demand) -> tuple[Piece, ...]:
        """What hangs on a part, each load on its line; placed once for each part."""
        if holder not in self._placed:
            found = demand.pieces
            self._placed[holder] = place(found, self.systems[holder]) if found else ()
        return self._placed[holder]

    def wires(self, part: str) -> tuple[str, ...]:
        system = self.systems[part]
        return (*system.lines, *(("N",) if system.has_neutral else ()))


def demand_factors(demand: Demand, context: Context) -> dict[str, float]:
    """What the demand rules leave of each part's load at its supply, as a factor."""
    pieces = demand.pieces
    if not pieces:
        return {}
    shares = context.code.calculated_load(pieces, context.edition).shares
    before: dict[str, float] = {}
    after: dict[str, float] = {}
    for piece, share in zip(pieces, shares, strict=True):
        before[piece.part] = before.get(piece.part, 0.0) + piece.calculated
        after[piece.part] = after.get(piece.part, 0.0) + share
    # dwellings that are counted together may count more than each by its own optional method
    return {part: after[part] / va if va else 1.0 for part, va in before.items()}


def put_run(b: Building, part: PartInput, joints: Sequence[NetworkSegment]) -> list[dict[str, str]]:
    """The part's conductors from its parent's nodes; the nodes at each joint, its end last."""
    parent = part.parent or ""
    here = {wire: b.ends[parent, wire] for wire in b.wires(parent)}
    found = []
    for index, joint in enumerate(joints):
        here = {
            wire: b.link(
                f"{part.id}/{wire}:{index}",
                node,
                f"{part.id}/{wire}.{index}",
                joint.neutral if wire == "N" else joint.line,
            )
            for wire, node in here.items()
        }
        found.append(here)
    return found or [here]


def put_bank(
    b: Building,
    part: PartInput,
    bank: Bank,
    at: Sequence[Mapping[str, str]],
    above: SupplyPoint,
    system: System,
) -> None:
    """The windings of a transformer, its neutral's bond, the conductors behind it."""
    one = at[-1]
    nominal = above.system.line_to_line or above.system.to_neutral
    ahead = above.volts or nominal
    scale = bank.volts / (system.line_to_line or system.to_neutral)
    windings = _windings(bank, above.system, system, ahead)
    closed = system.phases == 3 and (system.high_leg or not system.has_neutral)
    if not bank.percent and closed and bank.connection != "open delta":
        windings = windings[:-1]  # two ideal windings hold a delta; a third would only close it
    # windings with one primary are coils of one core: the halves of a split secondary
    cores: dict[tuple[str, str], list[tuple[tuple[str, str], float, float]]] = {}
    for pair, behind, primary, secondary in windings:
        cores.setdefault(pair, []).append((behind, primary, secondary * scale))
    size = bank.kva * 1000 / len(cores)
    for index, (pair, coils) in enumerate(cores.items()):
        name = f"{part.id}/T{index}"
        b.taken.setdefault(part.id, []).extend(
            ((f"{name}/in", pair[0], 1), (f"{name}/in", pair[1], -1))
        )
        b.fed.setdefault(part.id, []).append((one[pair[0]], one[pair[1]]))
        secondaries = []
        for number, (behind, _, volts) in enumerate(coils):
            ohms = bank.percent / 100 * volts**2 / (size / len(coils))
            z = complex(ohms, ohms * X_TO_R) / sqrt(1 + X_TO_R**2)
            ends = (f"{part.id}/X{behind[0]}", f"{part.id}/X{behind[1]}")
            secondaries.append((f"{name}/{number}", *ends, volts, z))
        at_primary = (one[pair[0]], one[pair[1]])
        b.cores.append(transformer(name, at_primary, *secondaries, turns=coils[0][1]))
    b.systems[part.id] = system
    if system.has_neutral:
        b.conductors.append(Conductor(f"{part.id}/bond", f"{part.id}/XN", EARTH))
    _put_behind(b, part, {wire: f"{part.id}/X{wire}" for wire in b.wires(part.id)}, bank.behind)


def _put_behind(
    b: Building, part: PartInput, terminals: Mapping[str, str], behind: NetworkSegment
) -> None:
    """The conductors from the output's terminals on."""
    for wire, terminal in terminals.items():
        b.terminals[part.id, wire] = terminal
        ohms = behind.neutral if wire == "N" else behind.line
        b.ends[part.id, wire] = b.link(f"{part.id}/s{wire}", terminal, f"{part.id}/{wire}", ohms)


def put_boost(
    b: Building, part: PartInput, boost: Boost, at: Sequence[Mapping[str, str]], system: System
) -> None:
    """The units of a booster: a common winding from each line to the conductor that goes straight
    through, a series winding from there to the output."""
    one = at[-1]
    b.systems[part.id] = system
    below = b.wires(part.id)
    if boost.connection == "1":
        through = boost.lines[1] if len(boost.lines) > 1 else "N"
        units, straight = {below[0]: boost.lines[0]}, {below[1]: through}
    elif boost.connection == "open delta":
        through, units, straight = "L2", {"L1": "L1", "L3": "L3"}, {"L2": "L2"}
    else:
        # without a neutral the star point is the units' own
        through, units, straight = "N", {line: line for line in below}, {}
    star = one.get(through, f"{part.id}/star")
    terminals = {wire: one[name] for wire, name in straight.items()}
    ohms = boost.percent / 100 * boost.series**2 / (boost.kva * 1000)
    z = complex(ohms, ohms * X_TO_R) / sqrt(1 + X_TO_R**2)
    taken: list[tuple[str, str, int]] = []
    for wire, name in units.items():
        core, output = f"{part.id}/T{wire}", f"{part.id}/X{wire}"
        joint, far = (one[name], output) if boost.fed_at_common else (output, one[name])
        series = (far, joint) if boost.aiding else (joint, far)
        coils = (
            Coil(f"{core}/common", joint, star, boost.common),
            Coil(f"{core}/series", *series, boost.series, z),
        )
        b.cores.append(Core(core, coils))
        b.fed.setdefault(part.id, []).append((one[name], star))
        terminals[wire] = output
        for coil in coils:
            for at_line, node in ((name, one[name]), (through, star)):
                if node in (coil.start, coil.end) and at_line in one:
                    taken.append((coil.name, at_line, 1 if node == coil.start else -1))
    b.taken[part.id], b.straight[part.id] = taken, straight
    _put_behind(b, part, {wire: terminals[wire] for wire in below}, boost.behind)


def _windings(
    bank: Bank, above: System, system: System, ahead: float
) -> list[tuple[tuple[str, str], tuple[str, str], float, float]]:
    """Primary pair, secondary pair, primary volts, nominal secondary volts of each winding."""
    to_neutral = ahead * (above.to_neutral / above.line_to_line if above.line_to_line else 1.0)
    wye = bank.connection == "wye-wye" and above.has_neutral
    if system.phases == 1 or above.phases == 1:
        pair = ("L1", "L2") if above.line_to_line else ("L1", "N")
        if len(system.lines) == 1:
            return [(pair, ("L1", "N"), ahead, system.to_neutral)]
        return [
            (pair, ("L1", "N"), ahead, system.to_neutral),
            (pair, ("N", "L2"), ahead, system.to_neutral),
        ]
    loop = (("L1", "L2"), ("L3", "L1"), ("L2", "L3"))
    if system.high_leg:
        half = system.line_to_line / 2
        found = [
            (loop[0], ("L1", "N"), ahead, half),
            (loop[0], ("N", "L3"), ahead, half),
            (loop[1], ("L2", "L1"), ahead, system.line_to_line),
            (loop[2], ("L3", "L2"), ahead, system.line_to_line),
        ]
    elif system.has_neutral:
        ahead_of = to_neutral if wye else ahead
        found = [
            (((line, "N") if wye else pair), (line, "N"), ahead_of, system.to_neutral)
            for line, pair in zip(("L1", "L3", "L2"), loop, strict=True)
        ]
    else:
        found = [(pair, pair, ahead, system.line_to_line) for pair in loop]
    return found[:-1] if bank.connection == "open delta" else found


def line_of(piece: Piece, system: System) -> str:
    if piece.connection == "three-phase" and system.phases == 3:
        return "all"
    wires = piece.line.split("-")
    if all(wire in system.lines for wire in wires):
        return piece.line
    return "L1-L2" if piece.connection != "line-neutral" and system.line_to_line else "L1"


def put_fed(b: Building, name: str, fed: Infeed, at: Mapping[str, str], system: System) -> None:
    """A source as loads that give instead of taking, apart from the loads."""
    piece = Piece(
        name, "other", fed.va, fed.va, 0.0, fed.connection, fed.line, power_factor=fed.power_factor
    )
    loads, b.loads = b.loads, b.sources
    put_load(b, name, piece, -fed.va, at, system)
    b.loads = loads


def put_load(
    b: Building, name: str, piece: Piece, va: float, at: Mapping[str, str], system: System
) -> None:
    """A piece as loads of constant power between its nodes."""
    cos = piece.power_factor
    power = complex(va * cos, va * sqrt(max(0.0, 1 - cos * cos)))
    line = line_of(piece, system)
    pairs: tuple[tuple[str, str], ...]
    if line == "all":
        pairs = (("L1", "L2"), ("L2", "L3"), ("L3", "L1"))
    elif "-" in line:
        one, other = line.split("-")
        pairs = ((one, other),)
    elif system.has_neutral:
        pairs = ((line, "N"),)
    else:
        return
    above = phasors(system)
    for one, other in pairs:
        volts = system.line_to_line if other != "N" else abs(above[one])
        found = f"{name}/{one}{other}"
        b.loads.append(NetworkLoad(found, at[one], at[other], power / len(pairs), volts))


def put_own_loads(
    b: Building,
    part: PartInput,
    placed: Sequence[Piece],
    factor: float,
    places: Sequence[Mapping[str, str]],
) -> None:
    """Loads that were entered on the part itself, at its joints or at its end."""
    end = {wire: b.ends[part.id, wire] for wire in b.wires(part.id)}
    mine = [piece for piece in placed if piece.part == part.id]
    for index, piece in enumerate(mine):
        nodes = places[index] if index < len(places) else end
        put_load(
            b, f"{part.id}/own{index}", piece, piece.calculated * factor, nodes, b.systems[part.id]
        )
