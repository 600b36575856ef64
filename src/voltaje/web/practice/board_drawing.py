"""Where the parts of a small board stand on its drawing: bars across the top, a column for each
circuit, a place for an instrument wherever one can be put."""

from __future__ import annotations

from itertools import pairwise

from voltaje.core.practice.board_fault import BoardCircuit, FaultyBoard
from voltaje.core.practice.faulty import MAIN_SWITCH, SERVICE
from voltaje.web.practice.network_drawing import NetworkDrawing, Pen

# the drawing's measures, in its own units
LEFT, COLUMN, APART, FIRST = 62.0, 118.0, 26.0, 150.0
SERVICE_AT, CLAMP_AT, AHEAD_AT, MAIN_AT, BARS = 40.0, 78.0, 112.0, 150.0, 196.0
DEVICE, CLAMPS, LOAD, TALL, WIDE = 330.0, 372.0, 414.0, 84.0, 98.0


def drawn(board: FaultyBoard, opened: frozenset[str], measured: frozenset[str]) -> NetworkDrawing:
    """The board with its devices as they stand; ``measured`` are the places that were read so."""
    return _Drawing(board, opened, measured).drawn()


class _Drawing(Pen):
    """The drawing under way."""

    def __init__(
        self, board: FaultyBoard, opened: frozenset[str], measured: frozenset[str]
    ) -> None:
        super().__init__(board, opened, measured)
        self.board = board
        lines = board.system.lines
        self.bars = {name: BARS + APART * n for n, name in enumerate((*lines, "N", "PE"))}
        self.risers = {name: LEFT + 44 * n for n, name in enumerate((*lines, "N", "PE"))}
        start = max(self.risers.values()) + 70
        self.columns = {one.number: start + COLUMN * n for n, one in enumerate(board.circuits)}

    def drawn(self) -> NetworkDrawing:
        """The whole of it."""
        right = max(self.columns.values()) + WIDE + 8
        self._supply(right)
        for one in self.board.circuits:
            self._circuit(one)
        return self.made(right + 8, LOAD + TALL + 62, (WIDE, TALL))

    def _supply(self, right: float) -> None:
        lines = self.board.system.lines
        between = list(pairwise(lines))
        if len(lines) > 2:  # the third pair
            between.append((lines[0], lines[-1]))
        for name, x in self.risers.items():
            shown = self.board.earth if name == "PE" else name
            self.label(x, 14, shown, "middle")
            css = "earth" if name == "PE" else "neutral" if name == "N" else "line"
            self.paths.append((css, f"M{x} 20V{self.bars[name]}H{right}"))
            self.label(right, self.bars[name] - 5, shown, "end")
            self.spot(f"a-{name}", x, CLAMP_AT)
            if name in lines:
                self.spot(f"v-{name}-F", x, AHEAD_AT)
        middle = (self.risers[lines[0]] + self.risers[lines[-1]]) / 2
        self.switch(SERVICE, middle, SERVICE_AT)
        self.switch(MAIN_SWITCH, middle, MAIN_AT)
        # voltages at the bars, under them
        y = max(self.bars.values()) + 30
        spots = [f"v-{line}-N" for line in lines] + [f"v-{a}-{b}" for a, b in between]
        for n, id in enumerate(spots):
            x = LEFT - 46 + 92 * (n % 2)
            self.spot(id, x + 62, y + 38 * (n // 2))
            name = id.removeprefix("v-").replace("-", "–")
            self.label(x + 40, y + 38 * (n // 2) + 5, name, "end")

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
        self.label(x + WIDE / 2, LOAD + 18, one.name, "middle")
        self.label(x + WIDE / 2, LOAD + 34, f"{one.watts:g} W", "middle")
        middle = (down + back) / 2 if len(one.lines) > 1 else down
        if len(one.lines) > 1:  # one handle for both poles
            self.paths.append(("handle", f"M{down} {DEVICE}H{back}"))
        self.switch(f"c{one.number}", middle, DEVICE)
        self.spot(f"a-{one.number}", down, CLAMPS)
        if f"a-{one.number}-N" in self.words:
            self.spot(f"a-{one.number}-N", back, CLAMPS)
        self.spot(f"v-{one.number}", x + WIDE / 2, LOAD + 62)
        if len(one.lines) == 1:
            for id, at, name in (("E", down, "L"), ("NE", back, "N")):
                self.spot(f"v-{one.number}-{id}", at, LOAD + TALL + 34)
                self.label(at, LOAD + TALL + 16, f"{name}–{self.board.earth}", "middle")
