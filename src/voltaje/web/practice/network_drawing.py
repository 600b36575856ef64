"""What a drawing of a network with instruments consists of, and how it is put together."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from voltaje.core.practice.faulty import FaultyNetwork
from voltaje.core.report import InstrumentPoint, Text, say
from voltaje.web.drawings.canvas import short

BUTTON = (34.0, 26.0)  # the drawing's own measure


@dataclass(frozen=True, slots=True)
class PlacedButton:
    """A button on the drawing: what it does, in words, the letter that it shows, its corner."""

    do: str
    words: Text
    letter: str
    x: float
    y: float
    open: bool = False
    measured: bool = False


@dataclass(frozen=True, slots=True)
class Label:
    """A text on the drawing."""

    x: float
    y: float
    text: Text | str
    anchor: str = "start"


@dataclass(frozen=True, slots=True)
class NetworkDrawing:
    """Lines as paths with their class, boxes of loads, texts, buttons; ``width`` and ``height``."""

    width: float
    height: float
    paths: tuple[tuple[str, str], ...]
    boxes: tuple[tuple[float, float], ...]
    labels: tuple[Label, ...]
    buttons: tuple[PlacedButton, ...]
    size: tuple[float, float] = BUTTON
    box: tuple[float, float] = (0.0, 0.0)


# of a sheet's conductors one behind the other
START, STEP, RAIL, TOP, COLUMN_TEXT = 96.0, 170.0, 46.0, 34.0, 22


def points_drawn(points: Sequence[InstrumentPoint], measured: frozenset[str]) -> NetworkDrawing:
    """The places of a sheet: its conductors from the supply on, a rail each, and below each joint
    what hangs there; ``measured`` are the names of those that were read."""
    runs = [one for one in points if one.role == "conductor"]
    # conductors of one line after the other have their size in its place
    single = len({one.step for one in runs}) == len(runs)
    rails = {"": TOP} if single else {}
    for one in () if single else runs:
        rails.setdefault(one.line, TOP + RAIL * len(rails))
    last = max((one.step for one in points), default=0)
    paths, labels, buttons = [], [], []
    right, foot = START + STEP * max(1, last), max(rails.values(), default=TOP)
    for name, y in rails.items():
        paths.append(("neutral" if name == "N" else "line", f"M{START} {y}H{right}"))
        labels.append(Label(START - 12, y + 4, name, "end"))
    for one in runs:
        y = rails["" if single else one.line]
        buttons.append(_point(one, START + STEP * (one.step - 0.5), y, measured))
    below: dict[int, int] = {}
    for one in points:
        if one.role == "conductor":
            continue
        x, row = START + STEP * one.step, below.get(one.step, 0)
        below[one.step] = row + 1
        y = foot + 44 + 58 * row
        if not row:
            paths.append(("earth", f"M{x} {foot}V{y - 13}"))
        labels.append(Label(x, y + 28, short(str(one.label), COLUMN_TEXT), "middle"))
        buttons.append(_point(one, x, y, measured))
    height = foot + 44 + 58 * max(below.values(), default=0) + 8
    parts = (tuple(paths), (), tuple(labels), tuple(buttons))
    return NetworkDrawing(right + 90, height, *parts)


def _point(one: InstrumentPoint, x: float, y: float, measured: frozenset[str]) -> PlacedButton:
    width, height = BUTTON
    corner = (round(x - width / 2, 1), round(y - height / 2, 1))
    name = str(one.name)
    return PlacedButton(f"measure:{name}", one.label, one.unit, *corner, measured=name in measured)


class Pen:
    """A drawing under way: paths, boxes, texts, and a button wherever something can be done."""

    def __init__(
        self, network: FaultyNetwork, opened: frozenset[str], measured: frozenset[str]
    ) -> None:
        self.network, self.opened, self.measured = network, opened, measured
        self.words: Mapping[str, Text] = {spot.id: spot.words for spot in network.spots}
        self.paths: list[tuple[str, str]] = []
        self.boxes: list[tuple[float, float]] = []
        self.labels: list[Label] = []
        self.buttons: list[PlacedButton] = []

    def made(self, width: float, height: float, box: tuple[float, float]) -> NetworkDrawing:
        """The drawing as it stands."""
        parts = (tuple(self.paths), tuple(self.boxes), tuple(self.labels), tuple(self.buttons))
        return NetworkDrawing(width, height, *parts, box=box)

    def label(self, x: float, y: float, text: Text | str, anchor: str = "start") -> None:
        """A text."""
        self.labels.append(Label(x, y, text, anchor))

    def spot(self, id: str, x: float, y: float) -> None:
        """A place for an instrument, its middle."""
        letter = "A" if id.startswith("a-") else "V"
        self._button(f"measure:{id}", self.words[id], letter, x, y, measured=id in self.measured)

    def switch(self, id: str, x: float, y: float) -> None:
        """A device that opens and closes, its middle."""
        stands, words = id in self.opened, self.network.switch_words(id)
        do = say("Close: {device}", device=words) if stands else say("Open: {device}", device=words)
        self._button(f"switch:{id}", do, "○" if stands else "●", x, y, stands)

    def _button(
        self,
        do: str,
        words: Text,
        letter: str,
        x: float,
        y: float,
        open: bool = False,
        measured: bool = False,
    ) -> None:
        width, height = BUTTON
        corner = (round(x - width / 2, 1), round(y - height / 2, 1))
        self.buttons.append(PlacedButton(do, words, letter, *corner, open, measured))
