"""A board drawn as its columns of places, devices to the scale of their poles, in the colors of
their lines; hands take a device to another place."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from voltaje.core.electrical.panel_layout import PanelLayout, Place, Schedule, Seat
from voltaje.core.report import figure, say
from voltaje.web.drawings.canvas import Canvas, short

ROW, TOP, GAP = 21.0, 34.0, 5.0
DEVICE, NUMBER, BARS = 138.0, 24.0, 64.0
NAME_LENGTH = 16


@dataclass(frozen=True, slots=True)
class Spot:
    """A place where a device can be put: its box, its name, what a reader of the screen hears."""

    x: float
    y: float
    width: float
    height: float
    name: str
    says: str
    column: int
    row: int


@dataclass(frozen=True, slots=True)
class Shape:
    """A device in its places: its box, its key, the place of its first pole, its whole name and
    what of it is written, how it is told, the colors of its poles with the middle of each."""

    x: float
    y: float
    width: float
    height: float
    key: str
    place: str
    whole: str
    name: str
    rating: str
    says: str
    css: str
    marks: tuple[tuple[float, float, str], ...]
    column: int
    pinned: bool
    lines: str

    @property
    def middle(self) -> float:
        return self.y + self.height / 2 + 4

    @property
    def left(self) -> float:
        """Where its name begins."""
        return self.x + 8

    @property
    def right(self) -> float:
        """Where its rating ends."""
        return self.x + self.width - 8


@dataclass(frozen=True, slots=True)
class LineBar:
    """A line's bar: where its name stands. Pressed, its device opens, and what hangs on it is
    dark."""

    x: float
    y: float
    line: str

    @property
    def left(self) -> float:
        """Left edge of what takes presses."""
        return self.x - 10

    @property
    def top(self) -> float:
        """Its upper edge."""
        return self.y - 16


@dataclass
class PlacesCanvas(Canvas):
    """A drawing with places and the devices in them."""

    template: str = "sheets/drawings/places.svg"
    bars: list[LineBar] = field(default_factory=list)
    spots: list[Spot] = field(default_factory=list)
    shapes: list[Shape] = field(default_factory=list)


def draw(schedule: Schedule, colors: Mapping[str, str]) -> PlacesCanvas:
    """The board with its cover off: places by their numbers, the bars between them."""
    layout = schedule.layout
    canvas = PlacesCanvas(say("The places of the board"))
    single = len(layout.columns) < 2
    canvas.width = 388
    _bars(canvas, layout, colors)
    taken = schedule.taken()
    for column in layout.columns:
        for place in column:
            x, y = _at(place, layout)
            canvas.spots.append(
                Spot(
                    x, y, DEVICE, ROW - 3, place.name, _says(place, taken), place.column, place.row
                )
            )
            number = _number(place, single)
            canvas.text(number, y + 13, place.name, "s", "middle")
    for seat in schedule.seats:
        if seat.span:
            canvas.shapes.append(_shape(canvas, seat, layout, colors))
            canvas.row(seat.name, f"{seat.device.name}, {_line(seat)}")
    bottom = TOP + _depth(layout, layout.rows)
    loose = [seat.device.name for seat in schedule.seats if seat.span is None]
    if loose:
        words = say("Without a place: {names}", names=short(", ".join(loose), 52))
        canvas.text(0, bottom + 16, words, "b")
        bottom += 20
    canvas.height = bottom + 6
    return canvas


def _depth(layout: PanelLayout, row: int) -> float:
    """How far down a row stands: ways keep a little apart."""
    between = row // len(layout.lines) if layout.numbering == "ways" else 0
    return ROW * row + GAP * between * (len(layout.lines) > 1)


def _at(place: Place, layout: PanelLayout) -> tuple[float, float]:
    y = TOP + _depth(layout, place.row)
    return (0.0 if place.column == 0 else DEVICE + 2 * NUMBER + BARS), y


def _number(place: Place, single: bool) -> float:
    return DEVICE + NUMBER / 2 if place.column == 0 else DEVICE + NUMBER + BARS + NUMBER / 2


def _bars(canvas: PlacesCanvas, layout: PanelLayout, colors: Mapping[str, str]) -> None:
    """The bars with a tap to either side at each row, behind the devices."""
    foot = TOP + _depth(layout, layout.rows) - 6
    step = BARS / (len(layout.lines) + 1)
    left = DEVICE + NUMBER
    at = {line: left + step * (i + 1) for i, line in enumerate(layout.lines)}
    for line, x in at.items():
        css = canvas.color(colors.get(line, ""))
        canvas.line(f"M{x:.1f} {TOP - 8}V{foot}", "wire edge", line)
        canvas.line(f"M{x:.1f} {TOP - 8}V{foot}", f"wire {css}", line)
        canvas.bars.append(LineBar(round(x, 1), TOP - 14, line))
    for column in layout.columns:
        for place in column:
            _, y = _at(place, layout)
            end = left + 3 if place.column == 0 else left + BARS - 3
            css = canvas.color(colors.get(place.line, ""))
            middle = y + ROW / 2 - 1.5
            canvas.line(f"M{at[place.line]:.1f} {middle}H{end}", "tap edge", place.line)
            canvas.line(f"M{at[place.line]:.1f} {middle}H{end}", f"tap {css}", place.line)


def _says(place: Place, taken: Mapping[str, Seat]) -> str:
    seat = taken.get(place.name)
    named = {"place": place.name, "line": place.line}
    if seat is None:
        return str(say("place {place}, {line}, empty", **named))
    return str(say("place {place}, {line}, {name}", name=seat.device.name, **named))


def _shape(
    canvas: PlacesCanvas, seat: Seat, layout: PanelLayout, colors: Mapping[str, str]
) -> Shape:
    device, span = seat.device, seat.span or ()
    x, y = _at(span[0], layout)
    _, last = _at(span[-1], layout)
    marks = tuple(
        (
            DEVICE - 4 if place.column == 0 else x,
            _at(place, layout)[1],
            canvas.color(colors.get(place.line, "")),
        )
        for place in span
    )
    rating = str(say("{amperes} A", amperes=figure(device.rating, 0))) if device.rating else ""
    css = " ".join(
        (device.what, "given" if seat.given else "proposed", *(["pinned"] if device.pinned else ()))
    )
    return Shape(
        x,
        y,
        DEVICE,
        last - y + ROW - 3,
        device.key,
        span[0].name,
        device.name,
        short(device.name, NAME_LENGTH),
        rating,
        _name_of(seat),
        css,
        marks,
        span[0].column,
        device.pinned,
        " ".join(sorted({place.line for place in span})),
    )


def _line(seat: Seat) -> str:
    """The line behind a device, in words where it is all of them."""
    return str(say("all lines")) if seat.line == "all" else seat.line


def _name_of(seat: Seat) -> str:
    """A device for a reader of the screen."""
    words = say(
        "{name}, in {place} on {line}", name=seat.device.name, place=seat.name, line=_line(seat)
    )
    if not seat.given:
        words = say(
            "{name}, proposed for {place} on {line}",
            name=seat.device.name,
            place=seat.name,
            line=_line(seat),
        )
    return str(words)
