"""A job of 500 parts under two codes: what the second one adds, worked from nothing."""

from __future__ import annotations

from voltaje.core.beside import inputs, stand_ins
from voltaje.core.codes import edition
from voltaje.core.rules.code import code_of
from voltaje.core.study import study

from .test_circuits import job_of_500

MINE, OTHER = edition("nec-2020"), edition("cec-2021")


def test_500_parts_under_one_code(benchmark):
    parts = job_of_500()
    benchmark(lambda: study(parts, MINE))


def test_500_parts_under_two_codes(benchmark):
    parts = job_of_500()
    mine, other = code_of(MINE.family), code_of(OTHER.family)

    def both() -> None:
        found = study(parts, MINE)
        asked = inputs(parts, mine, other)
        study(asked, OTHER, instead=stand_ins(found, other), volts=False)

    benchmark(both)
