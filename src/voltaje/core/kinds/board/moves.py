"""One circuit put onto a lighter line, where that alone makes a board even."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.core.electrical.lines import pairs
from voltaje.core.electrical.systems import Piece, System
from voltaje.core.kinds.board.calculate import BoardOutcome, deviation, loaded_seats


@dataclass(frozen=True, slots=True)
class Move:
    """A circuit's item, its name, the line that it stands on and the one that it is to stand on,
    and by how much the lines differ then, percent."""

    part: str
    name: str
    line: str
    to: str
    percent: float


def best_move(outcome: BoardOutcome, system: System, most: float) -> Move | None:
    """The move of one circuit, whose line was asked for by its own entry, after which the lines
    differ by no more than ``most`` percent: of several the one that makes them most even. ``None``
    where no single move does."""
    found: list[Move] = []
    for seat, at in loaded_seats(outcome.standing):
        device, piece = seat.device, outcome.placed[at]
        asked = device.line not in ("", "auto") and not (seat.given or device.pinned or device.tied)
        if not asked or not device.alone or piece.multiwire:
            continue
        for line in _others(piece, system):
            moved = [*outcome.placed[:at], piece.on(line), *outcome.placed[at + 1 :]]
            percent = deviation(moved, system)[1]
            if percent <= most:
                found.append(Move(device.key, device.name, piece.line, line, percent))
    return min(found, key=lambda move: move.percent, default=None)


def _others(piece: Piece, system: System) -> tuple[str, ...]:
    """The other lines that a load can stand on."""
    if piece.connection == "line-neutral" and not system.high_leg:
        return tuple(line for line in system.lines if line != piece.line)
    if piece.connection == "two-line" and system.phases == 3:
        return tuple(pair for pair in pairs(system) if pair != piece.line)
    return ()
