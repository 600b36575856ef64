"""Shapes on a drawing: boxes, lines and texts with their places, written as SVG by one template."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from voltaje.core.electrical.meter import CLAMP
from voltaje.core.report import InstrumentPoint, PulledConductor, Text

WIDTH = 388
# as the template has it
HIT_WIDTH, HIT_HEIGHT = 28.0, 24.0
# identification colors that have a class of their own; others are drawn in ink
COLORS = (
    "black",
    "red",
    "blue",
    "brown",
    "orange",
    "yellow",
    "white",
    "gray",
    "grey",
    "green",
)


@dataclass(frozen=True, slots=True)
class Box:
    x: float
    y: float
    width: float
    height: float
    css: str
    flow: str = ""


@dataclass(frozen=True, slots=True)
class Stroke:
    d: str
    css: str
    flow: str = ""
    tip: str = ""
    width: float = 0.0


@dataclass(frozen=True, slots=True)
class Clamp:
    """A conductor that a meter can be put on: its path, its address, what it is, what is read."""

    d: str
    name: str
    says: str
    reads: str
    within: str
    narrow: bool = False


@dataclass(frozen=True, slots=True)
class EntryStep:
    """A place on the drawing that sets an entry: ``sets`` is ``entry=value``."""

    x: float
    y: float
    width: float
    height: float
    css: str
    sets: str
    says: str

    @property
    def small(self) -> bool:
        """Smaller than a finger: it takes presses beside itself too."""
        return self.width < HIT_WIDTH or self.height < HIT_HEIGHT

    @property
    def pressed(self) -> str:
        """Of one choice among several whether it is the one that is set, ``true`` or ``false``;
        empty for what acts."""
        names = self.css.split()
        return "" if "choice" not in names else "true" if "on" in names else "false"

    @property
    def hit_width(self) -> float:
        """Width of what takes presses."""
        return max(self.width, HIT_WIDTH)

    @property
    def hit_height(self) -> float:
        """Height of what takes presses."""
        return max(self.height, HIT_HEIGHT)

    @property
    def hit_x(self) -> float:
        """Left edge of what takes presses."""
        return self.x + self.width / 2 - self.hit_width / 2

    @property
    def hit_y(self) -> float:
        """Its upper edge."""
        return self.y + self.height / 2 - self.hit_height / 2


@dataclass(frozen=True, slots=True)
class End:
    """The end of a coil, or a rail, that hands join to another: its place, what it is called in the
    list of joints, what it says, whether it is joined to anything."""

    x: float
    y: float
    name: str
    says: str
    joined: bool
    rail: bool


@dataclass(frozen=True, slots=True)
class Words:
    x: float
    y: float
    text: str
    css: str = ""
    anchor: str = "start"
    url: str = ""


@dataclass
class Canvas:
    """A drawing under way. ``height`` is set once all is drawn; ``rows`` is the table behind it."""

    title: Text
    template: str = "sheets/drawings/canvas.svg"
    width: int = WIDTH
    height: float = 0.0
    boxes: list[Box] = field(default_factory=list)
    strokes: list[Stroke] = field(default_factory=list)
    words: list[Words] = field(default_factory=list)
    steps: list[EntryStep] = field(default_factory=list)
    rows: list[tuple[str, str]] = field(default_factory=list)
    ends: list[End] = field(default_factory=list)
    clamps: list[Clamp] = field(default_factory=list)
    views: list[tuple[str, Text, Canvas]] = field(default_factory=list)

    @property
    def id(self) -> str:
        """A name for its title, one for each view."""
        return "d-" + "".join(c for c in self.title.template.lower() if c.isalpha())

    @property
    def has_ends(self) -> bool:
        """Whether hands join anything on it."""
        return bool(self.ends) or any(view.ends for _, _, view in self.views)

    @property
    def has_clamps(self) -> bool:
        """Whether a meter belongs under it."""
        return bool(self.clamps) or any(view.clamps for _, _, view in self.views)

    def box(
        self,
        x: float,
        y: float,
        width: float,
        height: float,
        css: str = "",
        flow: str = "",
    ) -> None:
        self.boxes.append(
            Box(round(x, 1), round(y, 1), round(width, 1), round(height, 1), css, flow)
        )

    def line(
        self, d: str, css: str = "outline", flow: str = "", tip: Text | str = "", width: float = 0.0
    ) -> None:
        self.strokes.append(Stroke(d, css, flow, str(tip), round(width, 1)))

    def clamp(self, d: str, name: str, says: str, amperes: float, narrow: bool = False) -> None:
        """A conductor under the clamp meter; ``narrow`` where others run close beside it."""
        within = f"± {CLAMP.within(amperes):.1f} A"
        self.clamps.append(Clamp(d, name, says, f"{CLAMP.reads(amperes)} A", within, narrow))

    def color(self, color: str) -> str:
        """The class of an identification color."""
        base = color.lower().removesuffix("-yellow")
        return base if base in COLORS else "ink"

    def step(
        self, x: float, y: float, width: float, height: float, css: str, sets: str, says: Text
    ) -> None:
        at = round(x, 1), round(y, 1), round(width, 1), height
        self.steps.append(EntryStep(*at, css, sets, str(says)))

    def end(
        self, x: float, y: float, name: str, says: Text, joined: bool, rail: bool = False
    ) -> None:
        """An end that can be joined to another by hand."""
        self.ends.append(End(round(x, 1), round(y, 1), name, str(says), joined, rail))

    def text(
        self,
        x: float,
        y: float,
        text: Text | str,
        css: str = "",
        anchor: str = "start",
        url: str = "",
    ) -> None:
        self.words.append(Words(round(x, 1), round(y, 1), str(text), css, anchor, url))

    def row(self, name: Text | str, value: Text | str) -> None:
        """A row of the table behind the drawing."""
        self.rows.append((str(name), str(value)))

    def wires(
        self,
        wires: tuple[PulledConductor, ...],
        x: float,
        top: float,
        bottom: float,
        points: Sequence[InstrumentPoint] = (),
    ) -> float:
        """Conductors side by side from ``top`` to ``bottom``, centred on ``x``; the last x. Those
        whose amperes are among ``points`` can be clamped."""
        carried: dict[str, InstrumentPoint] = {p.name: p for p in points if p.role == "conductor"}
        step = 11.0
        first = x - step * (len(wires) - 1) / 2
        at = first
        for index, wire in enumerate(wires):
            at = first + step * index
            css = self.color(wire.color)
            flow = {"N": "neutral", "G": "ground"}.get(wire.role, "conductor")
            self.line(f"M{at} {top}V{bottom}", "wire edge", flow)
            self.line(f"M{at} {top}V{bottom}", f"wire {css}", flow)
            if wire.color.endswith("-yellow"):
                self.line(f"M{at} {top}V{bottom}", "wire stripes", flow)
            point = carried.get(wire.role)
            if point is not None:
                self.clamp(
                    f"M{at} {top}V{bottom}", point.name, str(point.label), point.value, narrow=True
                )
        return at


def short(text: str, most: int) -> str:
    """``text``, cut where it would run out of its place."""
    return text if len(text) <= most else text[: most - 1] + "…"
