"""A board: its circuits on their lines, its rating, its main."""

from voltaje.core.kinds.board import calculate, report
from voltaje.core.kinds.board.calculate import hand_up
from voltaje.core.kinds.board.entries import BoardEntries
from voltaje.core.kinds.incomplete import Known
from voltaje.core.kinds.interface import Kind, passes_on

KIND = Kind(
    "board",
    "Board",
    "Circuits on their lines",
    BoardEntries,
    calculate.calculate,
    report.report,
    hand_up,
    passes_on,
    {"board": "The board", "places": "Its places"},
    holds_parts=True,
    known=Known(("connected_load", "calculated_load", "amperes", "circuits", "poles"), ("load",)),
    uses_fault=True,
    uses_loop=True,
    equipment=calculate.equipment,
    order=50,
    families=None,
)

__all__ = ["KIND"]
