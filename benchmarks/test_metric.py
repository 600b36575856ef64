"""A metric job of 500 parts, as the same of the first family (``test_circuits``): boards on
distribution circuits, final circuits and motors of every use, loops and drops followed down."""

from __future__ import annotations

import random

from voltaje.core.codes import edition
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.job.calculate import Memory, calculate_job
from voltaje.core.kinds import Context, PartInput, evaluate, kind
from voltaje.core.rules.context import supplied

CODE = edition("bs7671-2018")
USES = (
    ("lighting", "0.8 kW"),
    ("sockets", "18 A"),
    ("cooker", "7.2 kW"),
    ("shower", "8.5 kW"),
    ("water heater", "3 kW"),
    ("space heating", "2 kW"),
    ("vehicle charging", "7.2 kW"),
)


def job_of_500() -> list[PartInput]:
    """One supply, 12 distribution circuits with a board each, 475 circuits and motors."""
    chance = random.Random(7)
    supply = {
        "system": "3ph-400Y/230",
        "fault": "12 kA",
        "earthing": "TN-S",
        "external_loop": "0.1",
    }
    parts = [PartInput("s", "supply", None, supply, "Supply")]
    for n in range(12):
        main = {"length": f"{20 + 3 * n} m", "cable": "armoured 90", "reference_method": "C",
                "device_type": "MCCB", "diversity": "40", "maximum_drop": "1.5"}  # fmt: skip
        plate = {"interrupting": "25 kA"}
        parts.append(PartInput(f"d{n}", "distribution", "s", main, f"Main {n}"))
        parts.append(PartInput(f"b{n}", "board", f"d{n}", plate, f"Board {n}"))
    for n in range(475):
        run = {"length": f"{chance.randint(5, 40)} m", "cable": "multi", "reference_method": "C",
               "grouped_circuits": str(chance.randint(0, 3))}  # fmt: skip
        board, name = f"b{n % 12}", f"Circuit {n}"
        if n % 12 == 5:
            motor = {"power": f"{chance.choice((2.2, 4, 7.5))} kW", "device_type": "D", **run}
            parts.append(PartInput(f"c{n}", "machine", board, motor, name))
            continue
        use, load = chance.choice(USES)
        parts.append(PartInput(f"c{n}", "circuit", board, {"use": use, "load": load, **run}, name))
    return parts


def test_one_metric_circuit(benchmark):
    context = Context(CODE, "metric", supplied(SYSTEMS["1ph-230"], CODE))
    document = {"load": "7 kW", "length": "25 m", "external_loop": "0.3", "grouped_circuits": "2"}
    benchmark(lambda: evaluate(kind("circuit"), document, context))


def test_500_metric_parts_from_nothing(benchmark):
    parts = job_of_500()
    benchmark.pedantic(lambda: calculate_job(parts, CODE, "metric", memory=Memory()), rounds=8)


def test_500_metric_parts_with_one_entry_changed(benchmark):
    parts, memory, loads = job_of_500(), Memory(), iter(range(100, 4000))
    calculate_job(parts, CODE, "metric", memory=memory)
    last = parts[-1]

    def act():
        document = {**last.document, "load": f"{next(loads)} W"}
        changed = [*parts[:-1], PartInput(last.id, last.kind, last.parent, document, last.name)]
        calculate_job(changed, CODE, "metric", memory=memory)

    benchmark.pedantic(act, rounds=12)


def test_500_metric_parts_told(benchmark):
    found = calculate_job(job_of_500(), CODE, "metric")
    benchmark.pedantic(lambda: [e.of.report(e.outcome, e.entries, e.context) for e in found.values()
                                if e.outcome is not None], rounds=3)  # fmt: skip
