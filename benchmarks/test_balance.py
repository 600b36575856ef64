"""Boards balanced: the exact spread and the curve of moves, of 42, 84 and 200 circuits, in their
places. Nothing is asserted; the figures stand in docs/benchmarks.md."""

import random

import pytest

from voltaje.core.effort import Effort
from voltaje.core.electrical.balance import curve, solve, task_of
from voltaje.core.electrical.panel_layout import Device, Schedule, Seat, fill, lay_out, stand
from voltaje.core.electrical.systems import SYSTEMS, Piece

WYE = SYSTEMS["3ph-208Y/120"]


FORMS = ("odd-even", "ways")
LARGE = (1440, 1920, 2400, 3600, 4500, 7200, 9600)


def task(circuits, boards, places, seed=1, form="odd-even", large=False):
    """Odd loads, a fifth of them on two lines (with ``large`` a third, and half of all among a few
    large ones), all in positions that were given."""
    rng, loads, schedules = random.Random(seed), [], {}
    share = 0.35 if large else 0.2
    for board in range(boards):
        devices = []
        for number in range(circuits // boards):
            two, key = rng.random() < share, f"{board}.{number}"
            va = rng.choice((180 * rng.randint(1, 9), rng.randint(200, 2400))) * (1 + two)
            if large:
                va = rng.choice(LARGE) if rng.random() < 0.5 else rng.randint(800, 6000)
            loads.append((key, va, two))
            devices.append(Device(key, key, 1 + two, to_neutral=not two, pieces=1))
        found = fill(stand(lay_out(form, WYE.lines, places), devices), {}, frozenset())
        seats = tuple(Seat(seat.device, seat.span, True) for seat in found.seats)
        schedules[str(board)] = Schedule(found.layout, seats)
    at = {seat.device.key: seat.line for one in schedules.values() for seat in one.seats}
    pieces = [
        Piece(key, "other", va, va, 0.0, "two-line" if two else "line-neutral", at[key], part=key)
        for key, va, two in loads
    ]
    return task_of(pieces, WYE, boards=schedules)


@pytest.mark.parametrize("objective", ["deviation", "neutral", "heaviest"])
@pytest.mark.parametrize(
    ("circuits", "boards", "places"), [(42, 1, 60), (84, 1, 108), (200, 4, 84)]
)
def test_the_best_spread(benchmark, circuits, boards, places, objective):
    one = task(circuits, boards, places)
    found = benchmark.pedantic(lambda: solve(one, objective), rounds=3)
    print(f"{objective}: {found.value:.3f}, bound {found.bound:.3f}, proven {found.proven}")


@pytest.mark.parametrize("objective", ["deviation", "neutral", "heaviest"])
@pytest.mark.parametrize("form", FORMS)
@pytest.mark.parametrize(
    ("circuits", "boards", "places"), [(24, 1, 48), (200, 4, 84), (2000, 40, 84)]
)
def test_large_odd_loads(benchmark, circuits, boards, places, form, objective):
    one, effort = task(circuits, boards, places, form=form, large=True), Effort(20.0)
    found = benchmark.pedantic(lambda: solve(one, objective, effort), rounds=1)
    gap = 100 * found.gap / max(found.value, 1e-9)
    print(
        f"{circuits} {form} {objective}: {found.value:.3f}, bound {found.bound:.3f},"
        f" {gap:.2f} %, proven {found.proven}, {effort.used:.2f} s of effort"
    )


@pytest.mark.parametrize(("circuits", "boards", "places"), [(42, 1, 60), (200, 4, 84)])
def test_the_curve_of_moves(benchmark, circuits, boards, places):
    one = task(circuits, boards, places)
    points = benchmark.pedantic(lambda: list(curve(one, "deviation", Effort(10))), rounds=2)
    print(f"{len(points)} points to {points[-1].moves} moves")
