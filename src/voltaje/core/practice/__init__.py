"""Practice: problems of any kind of sheet, marked line by line by the calculation itself.

``problems`` makes one of a seed, ``lines`` what is asked of it, ``arithmetic`` reads what a line of
a worksheet shows, ``slips`` are usual mistakes as changes of entries, cells or a step, ``marking``
says of each figure whether it is right, follows from an earlier slip, or which slip it shows.
"""

from voltaje.core.practice.lines import AskedLine, asked_lines, hints
from voltaje.core.practice.marking import Marked, Marker, points
from voltaje.core.practice.problems import LEVELS, Level, PracticeProblem, problem

__all__ = [
    "LEVELS",
    "AskedLine",
    "Level",
    "Marked",
    "Marker",
    "PracticeProblem",
    "asked_lines",
    "hints",
    "points",
    "problem",
]
