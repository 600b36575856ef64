"""What a logger recorded: amperes or kilowatts by time, in columns of lines or of circuits; the
peaks, the demand over some minutes, and how much of the columns' peaks fall together.

A sample holds until the next one, the last of a stretch as long as samples usually do. Where the
times leave a gap of more than :data:`GAP` usual steps, nothing is known in between: no window of a
demand spans it.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property
from statistics import median
from typing import Any, Literal

from voltaje.core.quantities.reading import read_number
from voltaje.core.report import Text, say

Unit = Literal["A", "kW", "kVA"]
GAP = 3.5  # no code figure: steps of time without a sample that are a gap
MOST_SAMPLES = 60_000  # no code figure: six weeks by the minute
MOST_COLUMNS = 24  # no code figure
LONGEST_HEAD = 40  # no code figure
LEAST_SAMPLES = 3  # no code figure: fewer are no curve
LINE = re.compile(r"(?:line|phase|leg|[il]+)?[\s_-]*([123]|[abc])", re.IGNORECASE)
UNITS = {
    "a": "A", "amp": "A", "amps": "A", "amperes": "A", "kw": "kW", "w": "W", "kva": "kVA",
    "va": "VA",
}  # fmt: skip
THOUSAND = {"W": "kW", "VA": "kVA"}
OTHERS = ("v", "volt", "volts", "voltage", "hz", "pf", "%", "kvar", "kwh", "thd", "°c")
TIMES = ("time", "timestamp", "date", "datetime", "date time", "date/time", "clock", "when")
FORMATS = ("%m/%d/%Y", "%d/%m/%Y", "%d.%m.%Y", "%Y/%m/%d", "%m/%d/%y", "%d/%m/%y")
CLOCKS = ("%H:%M:%S", "%H:%M", "%I:%M:%S %p", "%I:%M %p")


class UnreadableRecordingError(ValueError):
    """A table that is no recording. ``str()`` says what is wanted."""


@dataclass(frozen=True, slots=True)
class Average:
    """The most that a column is over a window: its mean there and when the window begins, s after
    the first sample."""

    value: float
    at: float


@dataclass(frozen=True)
class Recording:
    """Samples of all columns at the same times: ``seconds`` after ``began``, rising; ``values`` by
    column. ``left_out`` counts rows that could not be read, ``ignored`` names columns of other
    quantities."""

    names: tuple[str, ...]
    unit: Unit
    began: datetime
    seconds: tuple[float, ...]
    values: tuple[tuple[float, ...], ...]
    left_out: int = 0
    ignored: tuple[str, ...] = ()

    @cached_property
    def step(self) -> float:
        """The usual time between two samples, s."""
        return float(median(b - a for a, b in zip(self.seconds, self.seconds[1:], strict=False)))

    @cached_property
    def stretches(self) -> tuple[slice, ...]:
        """The samples between gaps."""
        cuts = [
            index + 1
            for index, (a, b) in enumerate(zip(self.seconds, self.seconds[1:], strict=False))
            if b - a > GAP * self.step
        ]
        return tuple(
            slice(a, b) for a, b in zip([0, *cuts], [*cuts, len(self.seconds)], strict=True)
        )

    @property
    def duration(self) -> float:
        """From the first sample to the end of the last, s, gaps included."""
        return self.seconds[-1] + self.step

    @property
    def covered(self) -> float:
        """Of that what is not a gap, s."""
        ends = (self.seconds[one.stop - 1] - self.seconds[one.start] for one in self.stretches)
        return float(sum(ends)) + self.step * len(self.stretches)

    def when(self, seconds: float) -> datetime:
        """The time of day of an instant."""
        return self.began + timedelta(seconds=seconds)

    @property
    def lines(self) -> tuple[str, ...] | None:
        """The columns as lines L1, L2, L3, where all of them are named so, each once."""
        found = [LINE.fullmatch(name.strip()) for name in self.names]
        if len(found) not in (2, 3) or not all(found):
            return None
        names = tuple(f"L{'123abc'.index(one[1].lower()) % 3 + 1}" for one in found if one)
        return names if len(set(names)) == len(names) else None

    def summed(self, columns: Sequence[int]) -> tuple[float, ...]:
        """Some columns added at each instant."""
        return tuple(map(sum, zip(*(self.values[column] for column in columns), strict=True)))

    def peak(self, values: Sequence[float]) -> Average:
        """The largest sample and when."""
        at = max(range(len(values)), key=values.__getitem__)
        return Average(values[at], self.seconds[at])

    def mean(self, values: Sequence[float]) -> float:
        """The mean over all that is covered."""
        whole = sum(float(integral[-1]) for _, integral in self._integrals(values))
        return float(whole / self.covered)

    def demand(self, values: Sequence[float], minutes: float) -> Average | None:
        """The largest mean over any window of so many minutes; ``None`` where no stretch is as
        long. Between samples the mean over a sliding window is a straight line of the window's
        place, so the largest has one of its ends at a sample."""
        import numpy as np

        window, best = 60 * minutes, None
        for times, integral in self._integrals(values):
            if times[-1] - times[0] < window * (1 - 1e-9):
                continue
            starts = np.concatenate([times, times - window])
            starts = starts[(starts >= times[0] - 1e-9) & (starts + window <= times[-1] + 1e-9)]
            ends = np.interp(starts + window, times, integral)
            means = (ends - np.interp(starts, times, integral)) / window
            at = int(means.argmax())
            if best is None or means[at] > best.value:
                best = Average(float(means[at]), float(starts[at]))
        return best

    def _integrals(self, values: Sequence[float]) -> Iterator[tuple[Any, Any]]:
        """Of each stretch the times at which its samples begin, and the end of the last, with the
        integral up to each."""
        import numpy as np

        seconds, every = np.asarray(self.seconds), np.asarray(values, dtype=float)
        for one in self.stretches:
            times = np.append(seconds[one], seconds[one.stop - 1] + self.step)
            integral = np.concatenate([[0.0], np.cumsum(every[one] * np.diff(times))])
            yield times, integral


def read_recording(rows: Sequence[Sequence[str]], day_first: bool = False) -> Recording:
    """A table whose first row names its columns: a time (or a date and a time of day) and one to
    :data:`MOST_COLUMNS` of amperes, kW or kVA. ``day_first``: 02/11 is the second of November.

    Raises :class:`UnreadableRecordingError`.
    """
    # loggers put lines of their own before the titles
    heads = (i for i, row in enumerate(rows[:LONGEST_HEAD]) if _named_times(row))
    rows = rows[next(heads, 0) :]
    if len(rows) - 1 < LEAST_SAMPLES:
        raise _unreadable(say("At least three rows below the titles are wanted."))
    if len(rows) - 1 > MOST_SAMPLES:
        raise _unreadable(say("At most {most} rows are taken.", most=MOST_SAMPLES))
    titles = [" ".join(text.split()) for text in rows[0]]
    clocks = _time_columns(titles)
    columns, ignored = _value_columns(titles, clocks)
    if not columns:
        words = say("No column of amperes, kW or kVA is named: like Time, L1 (A), L2 (A), L3 (A).")
        raise _unreadable(words)
    units = {unit for _, _, unit in columns if unit}
    if len({THOUSAND.get(unit, unit) for unit in units}) > 1:
        raise _unreadable(say("The columns are in different units: give one, like A or kW."))
    unit = units.pop() if units else "A"
    scale = 0.001 if unit in THOUSAND else 1.0
    times, samples, left_out = _samples(rows[1:], clocks, [c for c, _, _ in columns], day_first)
    if len(times) < LEAST_SAMPLES:
        words = say("No times were read: give them like 2026-11-02 14:35.")
        raise _unreadable(words)
    return Recording(
        names=tuple(name for _, name, _ in columns),
        unit=THOUSAND.get(unit, unit),  # type: ignore[arg-type]
        began=times[0],
        seconds=tuple((one - times[0]).total_seconds() for one in times),
        values=tuple(tuple(v * scale for v in one) for one in zip(*samples, strict=True)),
        left_out=left_out,
        ignored=ignored,
    )


def _unreadable(words: Text) -> UnreadableRecordingError:
    return UnreadableRecordingError(str(words))


def _named_times(titles: Sequence[str]) -> list[int]:
    return [i for i, title in enumerate(titles) if title.lower().strip(" .") in TIMES]


def _time_columns(titles: Sequence[str]) -> list[int]:
    """The column of the time, or of the date and that of the time of day."""
    return _named_times(titles)[:2] or [0]


def _value_columns(
    titles: Sequence[str], clocks: Sequence[int]
) -> tuple[list[tuple[int, str, str]], tuple[str, ...]]:
    """Index, name and unit (``""``: not told) of each column that is taken; the names of those of
    another quantity."""
    found, ignored = [], []
    for index, title in enumerate(titles):
        if index in clocks or not title:
            continue
        words = re.split(r"[\s,()\[\]/]+", title.strip(" ()[]"))
        last = words[-1].lower()
        if last in OTHERS or words[0].lower() in OTHERS:
            ignored.append(title)
            continue
        unit = UNITS.get(last, "") if len(words) > 1 or len(title) > 1 else ""
        name = (
            re.sub(r"[\s,(\[/]*" + re.escape(words[-1]) + r"[)\]]*$", "", title) if unit else title
        )
        found.append((index, name or title, unit))
    if len(found) > MOST_COLUMNS:
        raise _unreadable(say("At most {most} columns are taken.", most=MOST_COLUMNS))
    return found, tuple(ignored)


def _samples(
    rows: Sequence[Sequence[str]],
    clocks: Sequence[int],
    columns: Sequence[int],
    day_first: bool,
) -> tuple[list[datetime], list[list[float]], int]:
    """Times that go on, with a figure in every column; how many rows were not so."""
    times: list[datetime] = []
    samples: list[list[float]] = []
    left_out, clock = 0, _Clock(day_first)
    for row in rows:
        try:
            time = clock.read(" ".join(row[i].strip() for i in clocks))
            sample = [_figure(row[i]) for i in columns]
        except (ValueError, IndexError):
            left_out += 1
            continue
        bad = any(not 0 <= one < 1e6 for one in sample)
        if bad or (times and time <= times[-1]):
            left_out += 1
            continue
        times.append(time)
        samples.append(sample)
    return times, samples, left_out


def _figure(text: str) -> float:
    """A logger groups no thousands: its one comma is a decimal comma."""
    try:
        return float(text)
    except ValueError:
        plain = text.strip()
        return float(plain.replace(",", ".")) if plain.count(",") == 1 else read_number(plain)


class _Clock:
    """Times as loggers write them: all rows of a file in one form."""

    def __init__(self, day_first: bool) -> None:
        self._forms = [
            f"{d}{gap}{c}" for d in self._dates(day_first) for gap in (" ", "T") for c in CLOCKS
        ]
        self._forms += [*CLOCKS, *self._dates(day_first)]
        self._form = ""
        self._day = datetime(2000, 1, 1)  # no code figure: a day that is not told
        self._last: datetime | None = None

    @staticmethod
    def _dates(day_first: bool) -> list[str]:
        return sorted(FORMATS, key=lambda form: form.startswith("%d/") != day_first)

    def read(self, text: str) -> datetime:
        """Raises ``ValueError``."""
        if not self._form:
            try:
                return datetime.fromisoformat(text).replace(tzinfo=None)
            except ValueError:
                self._form = next((form for form in self._forms if _fits(text, form)), "")
                if not self._form:
                    raise
        found = datetime.strptime(text, self._form)
        if self._form in CLOCKS:  # a time of day alone: past midnight it is the next day
            found = self._day.replace(hour=found.hour, minute=found.minute, second=found.second)
            if self._last is not None and found < self._last:
                self._day += timedelta(days=1)
                found += timedelta(days=1)
            self._last = found
        return found


def _fits(text: str, form: str) -> bool:
    try:
        datetime.strptime(text, form)
    except ValueError:
        return False
    return True
