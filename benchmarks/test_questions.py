"""What an answer under the question field costs, once the tables are read. The goal is 50 ms of
processor time; the figures are in docs/benchmarks.md."""

from __future__ import annotations

import pytest

from voltaje.web.parts.answers import ask

QUESTIONS = [
    "20 hp 460 V three-phase", "75 kVA to amps 480 V three phase", "12 kW range 240 V",
    "10 A 120 V 150 ft 12 AWG", "transformer fuses 75 kVA 480 208", "208 to 230, 12 A",
    "ampacity of 4/0 aluminum", "310.16 2 AWG 75", "4D5 6 mm²", "ground wire for 100 amp breaker",
    "grounding electrode conductor for 3/0 copper", "50 hp to kW", "how many 12 awg in 3/4 emt",
    "house 2000 sq ft range 12 kW dryer 5 kW", "9.5 kW shower 14 m", "asdf qwerty",
    "50, 40 and 30 hp 480 V", "how far 20 A 240 V 10 AWG",
]  # fmt: skip


@pytest.mark.parametrize("question", QUESTIONS)
def test_a_question(benchmark, question):
    ask(question)
    benchmark(ask, question)
