"""Problems made and marked, in processor time: a problem under 100 ms, a line under 20 ms."""

from __future__ import annotations

import time

import pytest

from voltaje.core.codes import edition
from voltaje.core.kinds import kind
from voltaje.core.practice import Marker, problem
from voltaje.web.practice.bases import bases_of

KINDS = ("circuit", "motor", "transformer", "feeder", "dwelling", "bank", "cable_run")


@pytest.mark.parametrize("name", KINDS)
def test_a_problem_is_made(benchmark, name):
    bases, seeds = bases_of(name, "nec-2020"), iter(range(100_000))
    benchmark(lambda: problem(kind(name), edition("nec-2020"), bases, str(next(seeds))))


@pytest.mark.parametrize("name", KINDS)
def test_wrong_lines_are_marked(name, record_property):
    """Every line wrong, by no slip, so that all slips are tried."""
    found = problem(kind(name), edition("nec-2020"), bases_of(name, "nec-2020"), "1")
    marker = Marker(found)
    given = {one.id: f"{(one.value or 1) * 3.217:.5g}" for one in marker.lines}
    began = time.process_time()
    marker.mark(given)
    each = 1000 * (time.process_time() - began) / len(marker.lines)
    record_property("ms_a_line", round(each, 2))
    print(f"{name}: {each:.1f} ms a line of {len(marker.lines)}")
