"""The one sizing engine: the smallest device and conductor that pass every check of their code.

A family of codes brings its ``Candidates`` (the devices and conductors that are made) and its list
of checks, one rule a function. ``decide`` asks the checks of one pair in their order; ``search``
finds the smallest conductor that passes behind a device, what is taken of all that pass, and what
one would try next and may not. What a sheet checks is thereby a bound of its search.
"""

from voltaje.core.sizing.search import (
    Candidates,
    Pair,
    Preference,
    by_habit,
    choose,
    first_passing,
    passing,
    rejected,
    smallest,
)
from voltaje.core.sizing.verdict import Verdict, decide

__all__ = [
    "Candidates",
    "Pair",
    "Preference",
    "Verdict",
    "by_habit",
    "choose",
    "decide",
    "first_passing",
    "passing",
    "rejected",
    "smallest",
]
