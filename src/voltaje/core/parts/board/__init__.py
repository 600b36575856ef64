"""A board: its circuits on their lines, its rating, its main."""

from voltaje.core.parts.board.entries import BoardEntries
from voltaje.core.parts.board.tell import tell
from voltaje.core.parts.board.work import hand_up, work
from voltaje.core.parts.kind import Kind

KIND = Kind(
    "board",
    "Board",
    "Circuits on their lines",
    BoardEntries,
    work,
    tell,
    hand_up,
    lambda entries, above: above,
    {"board": "The board", "places": "Its places"},
    holds_parts=True,
    uses_fault=True,
    uses_loop=True,
    order=50,
    families=None,
)

__all__ = ["KIND"]
