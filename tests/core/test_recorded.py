"""Recordings: demand by hand and against brute force, times as loggers write them, what still fits by NEC
220.87 (125 % of the largest 15-minute mean; from memory), moves that even the lines."""

from __future__ import annotations

from datetime import datetime
from random import Random

import pytest

from voltaje.core.codes import edition
from voltaje.core.electrical.recorded import UnreadableRecordingError, read_recording
from voltaje.core.electrical.systems import SYSTEMS, Piece
from voltaje.core.job.recorded import review

NEC, BS = edition("nec-2020"), edition("bs7671-2018")
WYE, SPLIT = SYSTEMS["3ph-208Y/120"], SYSTEMS["1ph-120/240"]


def table(titles, *columns, step=1, day=2):
    """Rows by the minute from midnight of a day."""
    rows = [titles]
    for index, values in enumerate(zip(*columns, strict=True)):
        minute = index * step
        clock = f"2026-11-{day + minute // 1440:02d} {minute // 60 % 24:02d}:{minute % 60:02d}"
        rows.append([clock, *(f"{v:g}" for v in values)])
    return rows


def test_demand_by_hand():
    """20 A for ten minutes in an hour of 5 A: over 15 minutes (10 × 20 + 5 × 5) ÷ 15 = 15 A, over 30
    minutes 10 A; the mean 450 ÷ 60."""
    values = [5] * 20 + [20] * 10 + [5] * 30
    found = read_recording(table(["Time", "L1 (A)"], values))
    only = found.values[0]
    assert found.unit == "A" and found.names == ("L1",) and found.step == 60
    assert found.peak(only).value == 20 and found.peak(only).at == 20 * 60
    assert found.demand(only, 15).value == pytest.approx(15)
    assert found.demand(only, 30).value == pytest.approx(10)
    assert found.mean(only) == pytest.approx(450 / 60 + 0, rel=1e-9)
    assert found.demand(only, 61) is None


def test_demand_against_brute_force():
    """Every window of whole minutes, summed; and irregular samples against a fine grid."""
    random = Random(3)
    for _ in range(20):
        values = [random.uniform(0, 90) for _ in range(random.randint(40, 200))]
        found = read_recording(table(["Time", "Amps"], values))
        for minutes in (15, 30):
            best = max(
                sum(values[i : i + minutes]) / minutes for i in range(len(values) - minutes + 1)
            )
            assert found.demand(found.values[0], minutes).value == pytest.approx(best, rel=1e-6)
    at, rows = 0, [["Time", "A1"]]
    second_by_second = []
    while at < 7200:
        value, holds = random.uniform(0, 50), random.randint(20, 70)
        rows.append(
            [datetime(2026, 11, 2, at // 3600, at // 60 % 60, at % 60).isoformat(), str(value)]
        )
        second_by_second += [value] * holds
        at += holds
    found = read_recording(rows)
    second_by_second = second_by_second[: int(found.duration)]
    sums = [0.0]
    for value in second_by_second:
        sums.append(sums[-1] + value)
    best = max((b - a) / 900 for a, b in zip(sums, sums[900:], strict=False))
    assert found.demand(found.values[0], 15).value == pytest.approx(best, rel=2e-3)


def test_nothing_is_known_in_a_gap():
    """Twelve minutes of 40 A, an hour of nothing, twelve of 40 A: no window of 15 minutes."""
    rows = [["Time", "L1"]]
    for minute in (*range(12), *range(72, 84)):
        rows.append([f"2026-11-02 {minute // 60:02d}:{minute % 60:02d}", "40"])
    found = read_recording(rows)
    assert len(found.stretches) == 2 and found.covered == 24 * 60
    assert found.demand(found.values[0], 15) is None
    assert found.demand(found.values[0], 10).value == pytest.approx(40)
    assert found.mean(found.values[0]) == pytest.approx(40)


TIMES = [
    (["2026-11-02 14:31", "2026-11-02 14:32", "2026-11-02 14:33"], False, datetime(2026, 11, 2, 14, 31)),
    (["2026-11-02T14:31:00", "2026-11-02T14:31:30", "2026-11-02T14:32:00"], False, datetime(2026, 11, 2, 14, 31)),
    (["11/02/2026 2:31 PM", "11/02/2026 2:32 PM", "11/02/2026 2:33 PM"], False, datetime(2026, 11, 2, 14, 31)),
    (["02/11/2026 14:31", "02/11/2026 14:32", "02/11/2026 14:33"], True, datetime(2026, 11, 2, 14, 31)),
    (["02.11.2026 14:31", "02.11.2026 14:32", "02.11.2026 14:33"], False, datetime(2026, 11, 2, 14, 31)),
    (["23:58", "23:59", "00:00"], False, datetime(2000, 1, 1, 23, 58)),
]  # fmt: skip


@pytest.mark.parametrize(("times", "day_first", "began"), TIMES)
def test_times_as_loggers_write_them(times, day_first, began):
    found = read_recording([["Timestamp", "kW"], *([t, "4,5"] for t in times)], day_first)
    assert found.began == began and found.values == ((4.5, 4.5, 4.5),)
    assert found.seconds[1] in (30, 60) and found.unit == "kW" and not found.left_out


def test_titles_units_and_what_is_left_out():
    rows = table(["Date time", "Phase A (W)", "Phase B (W)", "Phase C (W)", "V L1", "PF"],
                 [1000] * 5, [2000] * 5, [3000] * 5, [230] * 5, [1] * 5)  # fmt: skip
    rows[2][1] = "---"
    rows.append(rows[1])
    found = read_recording(rows)
    assert found.names == ("Phase A", "Phase B", "Phase C") and found.lines == ("L1", "L2", "L3")
    assert found.unit == "kW" and found.values[2] == (3.0,) * 4
    assert found.ignored == ("V L1", "PF") and found.left_out == 2
    split = [["Date", "Time", "L1", "L2"]]
    split += [["2026-11-02", f"10:{m:02d}", "3", "4"] for m in range(5)]
    assert read_recording(split).lines == ("L1", "L2")


@pytest.mark.parametrize(
    "rows",
    [
        [["Time", "L1"]],
        [["Time", "V"], *[["2026-11-02 10:00", "3"]] * 4],
        [["Time", "L1 (A)", "L2 (kW)"], *[["2026-11-02 10:00", "3", "4"]] * 4],
        [["Time", "L1"], *[["soon", "3"]] * 4],
    ],
)
def test_what_is_no_recording_is_said(rows):
    with pytest.raises(UnreadableRecordingError):
        read_recording(rows)


def test_what_still_fits_by_220_87():
    """Lines of 40, 60 and 50 A for an hour behind 100 A: 1.25 × 60 = 75 A, 25 A are left; a code without the
    rule counts what was measured."""
    rows = table(["Time", "L1", "L2", "L3"], [40] * 60, [60] * 60, [50] * 60)
    found = review(read_recording(rows), WYE, 100, NEC)
    assert found.heaviest[0] == "L2" and found.counted == pytest.approx(75)
    assert found.left == pytest.approx(25) and found.holds and found.diversity is None
    assert found.columns[1].share == pytest.approx(60 / 150)
    assert review(read_recording(rows), WYE, 70, NEC).holds is False
    assert review(read_recording(rows), WYE, 70, BS).left == pytest.approx(10)
    assert review(read_recording(rows), WYE, 0, NEC).left is None


def test_kilowatts_become_amperes():
    """12 kW of one column on 208 V three-phase: 33.3 A in each line; 4.8 kW at 240 V 20 A."""
    rows = table(["Time", "Total kW"], [12] * 60)
    assert review(read_recording(rows), WYE, 0, NEC).heaviest[1].value == pytest.approx(
        33.31, rel=1e-3
    )
    rows = table(["Time", "kW"], [4.8] * 60)
    assert review(read_recording(rows), SPLIT, 0, NEC).heaviest[1].value == pytest.approx(20)


def circuit(name, line, connection="line-neutral"):
    return Piece(name, "other", 1200, 1200, 10, connection, line, part=f"id-{name}")


def test_circuits_that_peak_apart_and_moves_that_help():
    """Two kilns of 30 A in turns on L1, a heater of 20 A on L2: the sum of the demands is 80, together 50; one
    kiln moved to L3 does not help, for they never run together; the heater stays."""
    first = [30] * 60 + [0] * 60
    second = [0] * 60 + [30] * 60
    steady = [20] * 120
    rows = table(["Time", "Kiln 1", "kiln 2", "Heater"], first, second, steady)
    known = [circuit("Kiln 1", "L1"), circuit("Kiln 2", "L1"), circuit("Heater", "L2")]
    found = review(read_recording(rows), WYE, 60, NEC, known)
    assert found.diversity == pytest.approx(80 / 50) and found.moves == ()
    assert found.heaviest == ("L1", found.by_line["L1"]) and found.by_line["L1"].value == 30
    rows = table(["Time", "Kiln 1", "Kiln 2", "Heater"], first, first, steady)
    found = review(read_recording(rows), WYE, 60, NEC, known)
    assert [(m.before, m.after) for m in found.moves] == [("L1", "L3")]
    assert found.moves[0].demand == pytest.approx(30)
    # a column that is no circuit here leaves the lines unknown: never a sum that is too small
    rows = table(["Time", "Kiln 1", "Shed"], first, steady[:120])
    unknown = review(read_recording(rows), WYE, 60, NEC, known)
    assert unknown.by_line == {} and unknown.left is None and unknown.moves == ()
