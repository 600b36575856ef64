"""A board: its circuits on their lines, its rating, its main."""

from voltaje.core.parts.board.entries import BoardEntries
from voltaje.core.parts.board.tell import tell
from voltaje.core.parts.board.work import hand_up, work
from voltaje.core.parts.incomplete import Known
from voltaje.core.parts.kind import Kind, passes_on

KIND = Kind(
    "board",
    "Board",
    "Circuits on their lines",
    BoardEntries,
    work,
    tell,
    hand_up,
    passes_on,
    {"board": "The board", "places": "Its places"},
    holds_parts=True,
    known=Known(("connected_load", "calculated_load", "amperes", "circuits", "poles"), ("load",)),
    uses_fault=True,
    uses_loop=True,
    order=50,
    families=None,
)

__all__ = ["KIND"]
