"""The riser: a whole job as one one-line drawing, laid out from its tree.

Depth runs to the right, parts run down; each part stands on its own row, so that names and figures
stay legible however many there are.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from django.utils.translation import gettext

from voltaje.core.kinds import Evaluated
from voltaje.core.report import figure, say
from voltaje.web.drawings.canvas import short
from voltaje.web.jobs.worked import Node
from voltaje.web.kinds import presentation
from voltaje.web.kinds.presentation import Presentation

ROW, COLUMN, LEFT, TOP = 46.0, 196.0, 30.0, 46.0
LEAF_ROW = 27.0
NAME_LENGTH = 26
ORDER = ("fail", "incomplete", "check", "pass")  # the worst first


@dataclass(frozen=True, slots=True)
class RiserItem:
    """A part on the riser: where it stands, what it is, what is written beside it."""

    x: float
    y: float
    symbol: str
    name: str
    line: str
    detail: str
    status: str
    url: str
    leaf: bool
    # the item's id where a branch hangs on it, and how many items are folded into it
    branch: str = ""
    folded: int = 0

    @property
    def fold_words(self) -> str:
        """What its fold does."""
        words = (
            gettext("Open the branch of {name}")
            if self.folded
            else gettext("Fold the branch of {name}")
        )
        return words.format(name=self.name)


@dataclass(slots=True)
class Riser:
    """The drawing with its size."""

    marks: list[RiserItem] = field(default_factory=list)
    paths: list[str] = field(default_factory=list)
    width: float = 0.0
    height: float = 0.0


@dataclass(frozen=True, slots=True)
class Shown:
    """What of a job is drawn: without ``circuits`` a board stands for its circuits, the branches of
    the items ``folded`` are counted."""

    job_url: str
    found: Mapping[str, Evaluated]
    circuits: bool
    folded: frozenset[str] = frozenset()


def draw(nodes: list[Node], shown: Shown) -> Riser:
    """Lays out the tree."""
    riser = Riser()
    y = TOP
    for node in nodes:
        y = _place(riser, node, shown, 0, y)
    deepest = max((m.x for m in riser.marks), default=LEFT)
    riser.width = deepest + 370
    riser.height = y + 20
    return riser


def _place(riser: Riser, node: Node, drawn: Shown, depth: int, y: float) -> float:
    """Places a part and all below it from ``y`` down; the next free y."""
    x = LEFT + COLUMN * depth
    shown_as = presentation(node.part.kind)
    leaf = not node.holds_parts
    at, key = y, str(node.part.pk)
    shown = [c for c in node.children if drawn.circuits or c.holds_parts or not shown_as.table]
    below = node.flat()[1:] if shown and key in drawn.folded else []
    riser.marks.append(
        RiserItem(
            x,
            at,
            shown_as.symbol,
            short(node.part.name, NAME_LENGTH),
            node.head or str(say("no result yet")),
            _detail(drawn.found[key], shown_as),
            _worst([node.status, *(one.status for one in below)]),
            f"{drawn.job_url}parts/{key}/",
            leaf,
            key if shown else "",
            len(below),
        )
    )
    y += LEAF_ROW if leaf else ROW
    if not shown or below:
        return y
    # the first one goes on the same row where there is room beside the part's own words
    trunk = x + 12
    ends = []
    for child in shown:
        ends.append(y)
        riser.paths.append(f"M{trunk} {y}H{LEFT + COLUMN * (depth + 1) - 12}")
        y = _place(riser, child, drawn, depth + 1, y)
    riser.paths.append(f"M{trunk} {at + 10}V{ends[-1]}")
    return y


def _worst(statuses: list[str]) -> str:
    return min(statuses, key=ORDER.index)


def _detail(evaluated: Evaluated, shown: Presentation) -> str:
    """Loading, drop, fault current: what is known of it."""
    outcome, volts = evaluated.outcome, evaluated.volts
    if outcome is None or evaluated.missing:
        return ""
    # a board tells its load before what comes to it, what has a run tells it last
    own = [str(text) for text in shown.detail(outcome)]
    found = own if shown.table else []
    if outcome.fault:
        found.append(f"{figure(outcome.fault / 1000, 1)} kA")
    if volts is not None and volts.drop_total is not None:
        found.append(str(say("{percent} % in all", percent=figure(volts.drop_total, 1))))
    return " · ".join(found if shown.table else [*found, *own])
