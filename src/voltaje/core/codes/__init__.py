"""Published tables and rules, by edition.

Each edition is a folder: ``edition.csv`` (title, year, parent), ``rules.csv`` (topic, number,
what the rule says in our own words) and one CSV for each table, named by its topic. An edition
looks up its own, then its parent's, then fails loudly with :class:`NotCoveredError`.
"""

from voltaje.core.codes.edition import (
    Amendment,
    Cell,
    Edition,
    Misreading,
    NotCoveredError,
    RuleText,
    SizeCell,
    amended,
    code_edition,
    edition,
    editions,
    practice,
)
from voltaje.core.codes.table import Table

__all__ = [
    "Amendment",
    "Cell",
    "Edition",
    "Misreading",
    "NotCoveredError",
    "RuleText",
    "SizeCell",
    "Table",
    "amended",
    "code_edition",
    "edition",
    "editions",
    "practice",
]
