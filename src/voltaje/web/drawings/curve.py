"""The drawing of a recording: amperes by time, a curve for each line, the rating, the window of the
largest demand."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from datetime import timedelta

from voltaje.core.electrical.recorded import Recording
from voltaje.core.electrical.systems import System
from voltaje.core.job.recorded import WINDOWS, Review
from voltaje.core.report import figure, say
from voltaje.web.drawings.canvas import Canvas, short
from voltaje.web.drawings.scale import step_of

WIDE, LEFT, RIGHT = 760, 40.0, 738.0
TOP, BOTTOM = 26.0, 236.0
BUCKETS = 350  # no code figure: pairs of least and most that are drawn
KEYS = 5  # no code figure
TICKS = 8  # no code figure
HOURS = (1 / 12, 0.25, 0.5, 1, 2, 3, 6, 12, 24, 48, 96, 168, 336)


def draw(
    recording: Recording,
    found: Review,
    curves: Mapping[str, Sequence[float]],
    system: System,
    unit: str,
) -> Canvas:
    """The ``curves`` by name, in ``unit``; lines in the colors of the system."""
    canvas = Canvas(say("What was recorded, by time"), width=WIDE)
    rating = found.rating if unit == "A" else 0.0
    most = max([rating, *(max(values) for values in curves.values())]) or 1.0
    step = step_of(most)
    top = step * -(-most // step)
    high, wide = BOTTOM - TOP, RIGHT - LEFT

    def y_of(value: float) -> float:
        return BOTTOM - high * value / top

    def x_of(seconds: float) -> float:
        return LEFT + wide * seconds / recording.duration

    tick = 0.0
    while tick <= top * (1 + 1e-9):
        canvas.line(f"M{LEFT} {y_of(tick):.1f}H{RIGHT}", "gridline")
        canvas.text(LEFT - 6, y_of(tick) + 4, figure(tick, 1), "s", anchor="end")
        tick += step
    canvas.text(LEFT - 6, TOP - 12, unit, "s", anchor="end")
    _hours(canvas, recording, x_of)
    heaviest = found.heaviest
    if heaviest is not None and unit == "A":
        at, till = x_of(heaviest[1].at), x_of(heaviest[1].at + 60 * WINDOWS[0])
        canvas.box(at, TOP, max(2.0, till - at), high, "window")
    key = LEFT
    for name, values in curves.items():
        if len(curves) <= KEYS:
            canvas.line(
                f"M{key} {TOP - 16}h18", f"curve thick {canvas.color(system.colors.get(name, ''))}"
            )
            canvas.text(key + 23, TOP - 12, short(name, 12), "s")
            key += 36 + 7.5 * len(short(name, 12))
        color = canvas.color(system.colors.get(name, ""))
        for d in _paths(recording, values, x_of, y_of):
            canvas.line(d, f"curve {color}", tip=name)
    if rating:
        y = y_of(rating)
        canvas.line(f"M{LEFT} {y:.1f}H{RIGHT}", "limitline")
        words = say("{amperes} A ahead", amperes=figure(rating))
        canvas.text(RIGHT, y - 5, words, "s", anchor="end")
    canvas.height = BOTTOM + 30
    return canvas


def _hours(canvas: Canvas, recording: Recording, x_of: Callable[[float], float]) -> None:
    """Round hours under the axis, the day where it begins."""
    hours = next((h for h in HOURS if recording.duration / 3600 / h <= TICKS), HOURS[-1])
    every = timedelta(hours=hours)
    day = recording.began.replace(hour=0, minute=0, second=0, microsecond=0)
    at = day + every * -(-(recording.began - day) // every)
    known = recording.began.year > NO_DAY
    while (seconds := (at - recording.began).total_seconds()) <= recording.duration:
        x = x_of(seconds)
        canvas.line(f"M{x:.1f} {BOTTOM}v5", "gridline")
        midnight = at.hour == 0 and at.minute == 0
        words = f"{at:%b %d}" if known and (midnight or hours >= 24) else f"{at:%H:%M}"
        canvas.text(x, BOTTOM + 20, words, "s", anchor="middle")
        at += every


NO_DAY = 2000  # no code figure: the year of times of day alone


def _paths(
    recording: Recording,
    values: Sequence[float],
    x_of: Callable[[float], float],
    y_of: Callable[[float], float],
) -> Iterator[str]:
    """A curve for each stretch; of many samples the least and the most of each bucket, so that no
    peak is lost."""
    for one in recording.stretches:
        seconds, here = recording.seconds[one], values[one]
        size = max(1, len(here) // BUCKETS)
        points = []
        for at in range(0, len(here), size):
            bucket = range(at, min(at + size, len(here)))
            low, high = min(bucket, key=here.__getitem__), max(bucket, key=here.__getitem__)
            points += sorted({low, high})
        d = " ".join(f"{x_of(seconds[i]):.1f} {y_of(here[i]):.1f}" for i in points)
        yield f"M{d}"
