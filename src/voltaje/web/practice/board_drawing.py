"""Where the parts of a small board stand on its drawing: bars across the top, a column for each
circuit, a place for an instrument wherever one can be put."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise

from voltaje.core.practice.board_fault import MAIN_SWITCH, SERVICE, BoardCircuit, FaultyBoard
from voltaje.core.report import Text, say

# the drawing's measures, in its own units
LEFT, COLUMN, APART, FIRST = 62.0, 118.0, 26.0, 150.0
SERVICE_AT, CLAMP_AT, AHEAD_AT, MAIN_AT, BARS = 40.0, 78.0, 112.0, 150.0, 196.0
DEVICE, CLAMPS, LOAD, TALL, WIDE = 330.0, 372.0, 414.0, 84.0, 98.0
BUTTON = (34.0, 26.0)


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
class BoardDrawing:
    """Lines as paths with their class, boxes of loads, texts, buttons; ``width`` and ``height``."""

    width: float
    height: float
    paths: tuple[tuple[str, str], ...]
    boxes: tuple[tuple[float, float], ...]
    labels: tuple[Label, ...]
    buttons: tuple[PlacedButton, ...]
    size: tuple[float, float] = BUTTON
    box: tuple[float, float] = (WIDE, TALL)


def drawn(board: FaultyBoard, opened: frozenset[str], measured: frozenset[str]) -> BoardDrawing:
    """The board with its devices as they stand; ``measured`` are the places that were read so."""
    return _Drawing(board, opened, measured).made()


class _Drawing:
    """The drawing under way."""

    def __init__(
        self, board: FaultyBoard, opened: frozenset[str], measured: frozenset[str]
    ) -> None:
        self.board, self.opened, self.measured = board, opened, measured
        self.words: Mapping[str, Text] = {spot.id: spot.words for spot in board.spots}
        lines = board.system.lines
        self.bars = {name: BARS + APART * n for n, name in enumerate((*lines, "N", "PE"))}
        self.risers = {name: LEFT + 44 * n for n, name in enumerate((*lines, "N", "PE"))}
        start = max(self.risers.values()) + 70
        self.columns = {one.number: start + COLUMN * n for n, one in enumerate(board.circuits)}
        self.paths: list[tuple[str, str]] = []
        self.boxes: list[tuple[float, float]] = []
        self.labels: list[Label] = []
        self.buttons: list[PlacedButton] = []

    def made(self) -> BoardDrawing:
        right = max(self.columns.values()) + WIDE + 8
        self._supply(right)
        for one in self.board.circuits:
            self._circuit(one)
        return BoardDrawing(
            right + 8,
            LOAD + TALL + 62,
            tuple(self.paths),
            tuple(self.boxes),
            tuple(self.labels),
            tuple(self.buttons),
        )

    def _supply(self, right: float) -> None:
        lines = self.board.system.lines
        between = list(pairwise(lines))
        if len(lines) > 2:  # the third pair
            between.append((lines[0], lines[-1]))
        for name, x in self.risers.items():
            shown = self.board.earth if name == "PE" else name
            self.labels.append(Label(x, 14, shown, "middle"))
            css = "earth" if name == "PE" else "neutral" if name == "N" else "line"
            self.paths.append((css, f"M{x} 20V{self.bars[name]}H{right}"))
            self.labels.append(Label(right, self.bars[name] - 5, shown, "end"))
            self._spot(f"a-{name}", x, CLAMP_AT)
            if name in lines:
                self._spot(f"v-{name}-F", x, AHEAD_AT)
        middle = (self.risers[lines[0]] + self.risers[lines[-1]]) / 2
        service = say("Disconnect ahead of the board")
        self._device(SERVICE, service, middle, SERVICE_AT)
        self._device(MAIN_SWITCH, say("Main switch"), middle, MAIN_AT)
        # voltages at the bars, under them
        y = max(self.bars.values()) + 30
        spots = [f"v-{line}-N" for line in lines] + [f"v-{a}-{b}" for a, b in between]
        for n, id in enumerate(spots):
            x = LEFT - 46 + 92 * (n % 2)
            self._spot(id, x + 62, y + 38 * (n // 2))
            name = id.removeprefix("v-").replace("-", "–")
            self.labels.append(Label(x + 40, y + 38 * (n // 2) + 5, name, "end"))

    def _circuit(self, one: BoardCircuit) -> None:
        x = self.columns[one.number]
        down, back = x + 22, x + 70
        for n, line in enumerate(one.lines):
            at = down if n == 0 else back
            self.paths.append(("line", f"M{at} {self.bars[line]}V{LOAD}"))
            self.paths.append(("dot", f"M{at - 3} {self.bars[line]}h6"))
        if len(one.lines) == 1 and not one.shares:
            self.paths.append(("neutral", f"M{back} {LOAD}V{self.bars['N']}"))
            self.paths.append(("dot", f"M{back - 3} {self.bars['N']}h6"))
        elif one.shares:
            other = self.columns[one.shares] + 70
            low = LOAD - 12
            self.paths.append(("neutral", f"M{back} {LOAD}V{low}H{other}"))
            self.paths.append(("dot", f"M{other - 3} {low}h6"))
        if len(one.lines) == 1:
            self.paths.append(("earth", f"M{x + WIDE - 6} {LOAD}V{self.bars['PE']}"))
        self.boxes.append((x, LOAD))
        self.labels.append(Label(x + WIDE / 2, LOAD + 18, one.name, "middle"))
        self.labels.append(Label(x + WIDE / 2, LOAD + 34, f"{one.watts:g} W", "middle"))
        middle = (down + back) / 2 if len(one.lines) > 1 else down
        if len(one.lines) > 1:  # one handle for both poles
            self.paths.append(("handle", f"M{down} {DEVICE}H{back}"))
        self._device(f"c{one.number}", say("Device of {circuit}", circuit=one.name), middle, DEVICE)
        self._spot(f"a-{one.number}", down, CLAMPS)
        if f"a-{one.number}-N" in self.words:
            self._spot(f"a-{one.number}-N", back, CLAMPS)
        self._spot(f"v-{one.number}", x + WIDE / 2, LOAD + 62)
        if len(one.lines) == 1:
            for id, at, name in (("E", down, "L"), ("NE", back, "N")):
                self._spot(f"v-{one.number}-{id}", at, LOAD + TALL + 34)
                self.labels.append(
                    Label(at, LOAD + TALL + 16, f"{name}–{self.board.earth}", "middle")
                )

    def _spot(self, id: str, x: float, y: float) -> None:
        letter = "A" if id.startswith("a-") else "V"
        self._button(f"measure:{id}", self.words[id], letter, x, y, id in self.measured)

    def _device(self, id: str, words: Text, x: float, y: float) -> None:
        stands = id in self.opened
        do = say("Close: {device}", device=words) if stands else say("Open: {device}", device=words)
        letter = "○" if stands else "●"
        width, height = BUTTON
        corner = (round(x - width / 2, 1), round(y - height / 2, 1))
        self.buttons.append(PlacedButton(f"switch:{id}", do, letter, *corner, open=stands))

    def _button(self, do: str, words: Text, letter: str, x: float, y: float, read: bool) -> None:
        width, height = BUTTON
        corner = (round(x - width / 2, 1), round(y - height / 2, 1))
        self.buttons.append(PlacedButton(do, words, letter, *corner, measured=read))
