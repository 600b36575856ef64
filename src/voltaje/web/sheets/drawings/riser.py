"""The riser: a whole job as one one-line drawing, laid out from its tree.

Depth runs to the right, parts run down; each part stands on its own row, so that names and figures
stay legible however many there are.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from voltaje.core.parts import Evaluated
from voltaje.core.worksheet import Worked, figure
from voltaje.web.jobs.worked import Node
from voltaje.web.sheets.drawings.canvas import short

ROW, COLUMN, LEFT, TOP = 46.0, 196.0, 30.0, 46.0
LEAF_ROW = 27.0
NAME_LENGTH = 26
# holds a symbol of its own; every other part is drawn as a load
SYMBOLS = {
    "supply": "source", "service": "service", "transformer": "transformer", "feeder": "feeder",
    "board": "board", "dwelling": "dwelling", "motor": "motor",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Mark:
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


@dataclass(slots=True)
class Riser:
    """The drawing with its size."""

    marks: list[Mark] = field(default_factory=list)
    paths: list[str] = field(default_factory=list)
    width: float = 0.0
    height: float = 0.0


def draw(job_url: str, nodes: list[Node], found: Mapping[str, Evaluated], circuits: bool) -> Riser:
    """Lays out the tree. Without ``circuits`` a board stands for its circuits."""
    riser = Riser()
    y = TOP
    for node in nodes:
        y = _place(riser, job_url, node, found, circuits, 0, y)
    deepest = max((m.x for m in riser.marks), default=LEFT)
    riser.width = deepest + 370
    riser.height = y + 20
    return riser


def _place(
    riser: Riser, job_url: str, node: Node, found: Mapping[str, Evaluated], circuits: bool,
    depth: int, y: float,
) -> float:  # fmt: skip
    """Places a part and all below it from ``y`` down; the next free y."""
    x = LEFT + COLUMN * depth
    worked = found[str(node.part.pk)].worked
    leaf = not node.holds_parts
    at = y
    riser.marks.append(
        Mark(x, at, SYMBOLS.get(node.part.kind, "load"), short(node.part.name, NAME_LENGTH),
             node.head or "no result yet", _detail(worked), node.status,
             f"{job_url}parts/{node.part.pk}/", leaf)
    )  # fmt: skip
    y += LEAF_ROW if leaf else ROW
    shown = [c for c in node.children if circuits or c.holds_parts or node.part.kind != "board"]
    if not shown:
        return y
    # the first one goes on the same row where there is room beside the part's own words
    trunk = x + 12
    ends = []
    for child in shown:
        ends.append(y)
        riser.paths.append(f"M{trunk} {y}H{LEFT + COLUMN * (depth + 1) - 12}")
        y = _place(riser, job_url, child, found, circuits, depth + 1, y)
    riser.paths.append(f"M{trunk} {at + 10}V{ends[-1]}")
    return y


def _detail(worked: Worked | None) -> str:
    """Loading, drop, fault current: what is known of it."""
    if worked is None:
        return ""
    found = []
    if worked.kind == "board":
        found.append(f"{figure(worked.value('calculated_load') / 1000, 1)} kVA")
    if "fault" in worked.results:
        found.append(f"{figure(worked.value('fault') / 1000, 1)} kA")
    if "drop_total" in worked.results:
        found.append(f"{figure(worked.value('drop_total'), 1)} % in all")
    if worked.kind in ("feeder", "service"):
        found.append(f"{figure(worked.value('amperes'), 0)} A of load")
    return " · ".join(found)
