"""Loads on the lines of a system: where each one stands, and what each line carries.

Currents are added as phasors at unity power factor, nominal volts.
"""

from __future__ import annotations

import cmath
from collections.abc import Collection, Mapping, Sequence
from math import pi, sqrt

from voltaje.core.electrical.systems import Connection, Piece, System
from voltaje.core.report import Text, say


def phasors(system: System) -> dict[str, complex]:
    """Volts of each line above neutral (above the middle of a delta without one)."""
    if system.phases == 3:
        if system.high_leg:
            half = system.line_to_line / 2
            return {
                "L1": complex(half),
                "L2": 1j * system.line_to_line * sqrt(3) / 2,
                "L3": complex(-half),
            }
        volts = system.to_neutral or system.line_to_line / sqrt(3)
        return {
            name: cmath.rect(volts, -2 * pi * index / 3) for index, name in enumerate(system.lines)
        }
    if system.is_wye:
        volts = system.to_neutral
        return {"L1": complex(volts), "L2": cmath.rect(volts, -2 * pi / 3)}
    # two lines without a neutral stand half of their volts to either side of the middle
    half = system.to_neutral or system.line_to_line / 2
    found = {"L1": complex(half), "L2": complex(-half)}
    return {name: found[name] for name in system.lines}


def pairs(system: System) -> list[str]:
    """The pairs of lines: ``["L1-L2", "L2-L3", "L1-L3"]``."""
    if system.phases == 3:
        return ["L1-L2", "L2-L3", "L1-L3"]
    return ["L1-L2"] if system.line_to_line else []


def choices(piece: Piece, system: System) -> list[str]:
    """Where a load may stand, the high leg left out for loads to neutral."""
    if piece.connection == "three-phase":
        return ["all"]
    if piece.connection == "two-line":
        return pairs(system)
    return list(to_neutral(system))


def to_neutral(system: System) -> tuple[str, ...]:
    """The lines on which a load of line and neutral may stand: not the high leg."""
    return tuple(line for line in system.lines if line != system.high_leg)


def contradiction(line: str, connection: Connection, system: System) -> Text | None:
    """Why a load of that connection cannot stand on the line that was asked for; ``None`` where it
    can, or no line was asked for."""
    if line == "auto":
        return None
    if connection == "three-phase":
        return say("A three-phase load is on all lines: choose “automatically”.")
    if connection == "two-line":
        if line in pairs(system):
            return None
        known = ", ".join(pairs(system)) or "–"
        return say(
            "A load between two lines stands on a pair of lines, not on {line}: choose one of"
            " {known}.",
            line=line,
            known=known,
        )
    if line not in system.lines:
        known = ", ".join(to_neutral(system))
        return say(
            "A load of line and neutral stands on one line, not on {line}: choose one of {known}.",
            line=line,
            known=known,
        )
    if line == system.high_leg:
        return say(
            "{line} is the high leg, about 208 V to neutral: a load of line and neutral stands on"
            " L1 or L3.",
            line=line,
        )
    return None


def place(
    pieces: Sequence[Piece], system: System, held: Mapping[int, Collection[str]] | None = None
) -> tuple[Piece, ...]:
    """Gives every load a line: those with one of their own first, then the largest first onto
    the lightest. Circuits that share a neutral go on different lines as long as there are any.
    ``held`` names the lines that positions for the device of a load exist behind, by its index."""
    load = dict.fromkeys(system.lines, 0.0)
    used: dict[str, set[str]] = {}
    placed: dict[int, Piece] = {}

    def put(index: int, piece: Piece, line: str) -> None:
        lines = system.lines if line == "all" else tuple(line.split("-"))
        for name in lines:
            load[name] = load.get(name, 0.0) + piece.calculated / len(lines)
        if piece.multiwire:
            used.setdefault(piece.multiwire, set()).add(line)
        placed[index] = piece.on(line)

    free = []
    for index, piece in enumerate(pieces):
        if piece.connection == "three-phase":
            put(index, piece, "all")
        elif piece.line != "auto" and all(p in system.lines for p in piece.line.split("-")):
            put(index, piece, piece.line)
        else:
            free.append(index)
    for index in sorted(free, key=lambda i: (-pieces[i].calculated, i)):
        piece = pieces[index]
        taken = used.get(piece.multiwire, set()) if piece.multiwire else set()
        options = choices(piece, system)
        if held and index in held:
            options = [line for line in options if line in held[index]] or options
        open_ = [line for line in options if line not in taken] or options
        if not open_:
            placed[index] = piece
            continue
        best = min(open_, key=lambda line: (sum(load[p] for p in line.split("-")), line))
        put(index, piece, best)
    return tuple(placed[index] for index in range(len(pieces)))


def plain(pieces: Sequence[tuple[Piece, float]], system: System) -> dict[str, float]:
    """Amperes in each line for (placed load, VA) added as figures, whatever their phase: as 430.24
    adds motors. Never less than :func:`currents`."""
    volts = phasors(system)
    total = dict.fromkeys(system.lines, 0.0)
    for piece, va in pieces:
        if piece.line == "all" or piece.connection == "three-phase":
            names, amperes = tuple(system.lines), system.line_current(va)
        elif "-" in piece.line:
            names, amperes = tuple(piece.line.split("-")), va / system.line_to_line
        elif piece.line in volts:
            names, amperes = (piece.line,), va / abs(volts[piece.line])
        else:
            continue
        for name in names:
            total[name] += amperes
    return total


def heaviest_va(pieces: Sequence[tuple[Piece, float]], system: System) -> float:
    """VA that a transformer must be rated for, its heaviest winding taken for all: (placed load,
    VA) as phasors at unity power factor. A wye's winding carries its line's current; in a closed
    delta one load between two lines flows through all three windings, two thirds of it through its
    own. More than the sum where the lines are not alike."""
    amperes, _ = currents(pieces, system)
    across = system.line_to_line or system.to_neutral
    if system.phases != 3:
        return across * max(amperes.values(), default=0.0)
    heaviest = max(amperes.values(), default=0.0)
    if system.has_neutral and not system.high_leg:
        return 3 * system.to_neutral * heaviest
    by_lines = sqrt(3) * across * heaviest
    volts, own = phasors(system), dict.fromkeys(pairs(system), 0j)
    for piece, va in pieces:
        if piece.line in own:
            one, other = piece.line.split("-")
            unit = (volts[one] - volts[other]) / abs(volts[one] - volts[other])
            # the other two windings carry a third of it, against the way round
            signs = {"L1-L2": 1, "L2-L3": 1, "L1-L3": -1}
            for pair in own:
                share = 2 / 3 if pair == piece.line else -signs[pair] * signs[piece.line] / 3
                own[pair] += share * va / across * unit
        elif piece.connection == "three-phase":
            for pair in own:
                one, other = pair.split("-")
                unit = (volts[one] - volts[other]) / abs(volts[one] - volts[other])
                own[pair] += va / 3 / across * unit
    return max(by_lines, 3 * across * max(abs(each) for each in own.values()))


def currents(
    pieces: Sequence[tuple[Piece, float]], system: System
) -> tuple[dict[str, float], float]:
    """Amperes in each line and in the neutral for (placed load, VA)."""
    volts = phasors(system)
    total = dict.fromkeys(system.lines, 0j)
    neutral = 0j
    for piece, va in pieces:
        if piece.line == "all" or piece.connection == "three-phase":
            each = system.line_current(va)
            for name in system.lines:
                total[name] += each * volts[name] / abs(volts[name])
        elif "-" in piece.line:
            one, other = piece.line.split("-")
            across = volts[one] - volts[other]
            # nominal volts, as for every other load: 208, not 1.732 × 120
            current = va / system.line_to_line * across / abs(across)
            total[one] += current
            total[other] -= current
        elif piece.line in volts:
            current = va / abs(volts[piece.line]) * volts[piece.line] / abs(volts[piece.line])
            total[piece.line] += current
            neutral += current
    return {name: abs(value) for name, value in total.items()}, abs(neutral)
