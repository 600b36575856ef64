"""How long circuits take: one in the core, a job of 500 parts, a board of 84 through the view.

Run by ``./voltaje bench``. Nothing is asserted here; the figures are in docs/benchmarks.md.
"""

import random

import pytest
from django.urls import reverse

from voltaje.core.codes import edition
from voltaje.core.job.calculate import Memory, PartInput, calculate_job
from voltaje.core.job.code_comparison import inputs, stand_ins
from voltaje.core.job.voltages import solving
from voltaje.core.kinds import Context, evaluate, kind
from voltaje.core.rules.interface import code_of
from voltaje.core.rules.north_america import alternatives
from voltaje.web.jobs.actions import create_job, plant

CODE = edition("nec-2020")


def circuits(count, chance):
    """Circuits as on a real board: lighting, receptacles, a kiln, a motor, of various loads."""
    for index in range(count):
        length = f"{chance.randint(20, 150)} ft"
        yield (
            index,
            (
                ("circuit", {"use": "lighting", "load": f"{chance.randint(2, 15)}00 W"}),
                ("circuit", {"use": "receptacles", "outlets": str(chance.randint(3, 9))}),
                (
                    "circuit",
                    {
                        "use": "kiln",
                        "load": f"{chance.randint(20, 90) / 10} kW",
                        "connection": "two-line",
                    },
                ),
                (
                    "motor",
                    {"horsepower": chance.choice(["1", "2", "3", "5", "10"]), "nameplate": "9"},
                ),
            )[index % 4],
            length,
        )


def job_of_500():
    chance = random.Random(5)
    parts = [PartInput("s", "supply", None, {"system": "3ph-208Y/120"}, "S")]
    for board in range(12):
        parts.append(PartInput(f"f{board}", "feeder", "s", {"length": "80 ft"}, f"F{board}"))
        parts.append(PartInput(f"b{board}", "board", f"f{board}", {"rating": "400"}, f"B{board}"))
        for index, (of, entries), length in circuits(39 if board else 46, chance):
            key = f"c{board}-{index}"
            parts.append(PartInput(key, of, f"b{board}", {**entries, "length": length}, key))
    return parts


def test_one_circuit(benchmark):
    loads = iter(range(1000, 10_000_000))

    def act():
        evaluate(kind("circuit"), {"load": f"{next(loads) / 100} A", "length": "80 ft"}, Context())

    benchmark(act)


def test_500_parts_from_nothing(benchmark):
    parts = job_of_500()

    def forget():
        alternatives.chosen_pair.cache_clear()
        alternatives.alternatives.cache_clear()
        solving._without_load.cache_clear()

    benchmark.pedantic(calculate_job, (parts, CODE), setup=forget, rounds=7)


def test_500_parts_under_two_codes(benchmark):
    parts, other = job_of_500(), code_of("cec")

    def both():
        found = calculate_job(parts, CODE)
        asked = inputs(parts, code_of("nec"), other)
        calculate_job(asked, edition("cec-2021"), instead=stand_ins(found, other), volts=False)

    benchmark(both)


def test_500_parts_told(benchmark):
    """Every worksheet worded, as a page of the whole job asks for once a revision."""
    parts = job_of_500()

    def report():
        return [found.report for found in calculate_job(parts, CODE).values()]

    benchmark.pedantic(report, rounds=5)


def test_500_parts_with_one_entry_changed(benchmark):
    parts, memory = job_of_500(), Memory()
    calculate_job(parts, CODE, memory=memory)
    loads = iter(range(1000, 10_000_000))

    def act():
        changed = PartInput("c3-0", "circuit", "b3", {"load": f"{next(loads)} W"}, "c3-0")
        calculate_job([changed if p.id == "c3-0" else p for p in parts], CODE, memory=memory)

    benchmark(act)


@pytest.fixture
def board(db, client, django_user_model, settings):
    settings.STORAGES = {
        **settings.STORAGES,
        "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
    }
    user = django_user_model.objects.create_user("bench@trade.example", "a long enough word")
    client.force_login(user)
    job = create_job(user, "Mill", "nec-2020", "us", system="3ph-208Y/120", begins="supply")
    under = [
        (of, f"Circuit {index}", {**entries, "length": length}, [])
        for index, (of, entries), length in circuits(84, random.Random(8))
    ]
    plant(job, user, ("board", "Board", {"rating": "400"}, under), job.parts.get(kind="supply"))
    return job, job.parts.get(kind="board")


def test_a_board_of_84_circuits_saved_through_the_view(benchmark, client, board):
    job, part = board
    key = str(part.children.first().pk)
    url = reverse("jobs:save", args=[job.pk, part.pk])
    loads = iter(range(200, 10_000_000))
    benchmark(lambda: client.post(url, {f"cell:{key}:load": f"{next(loads) / 10} W"}))


def test_the_page_of_a_board_of_84(benchmark, client, board):
    job, part = board
    url = reverse("jobs:part", args=[job.pk, part.pk])
    benchmark(lambda: client.get(url))


def test_the_tree_of_a_job_of_200_parts(benchmark, client, board):
    job, part = board
    under = [
        (of, f"More {index}", entries, [])
        for index, (of, entries), _ in circuits(114, random.Random(9))
    ]
    plant(job, job.owner, ("board", "Second", {}, under), part.parent)
    url = reverse("jobs:job", args=[job.pk])
    benchmark(lambda: client.get(url))


def test_the_riser_of_150_parts(benchmark, client, board):
    job, part = board
    under = [
        (of, f"More {index}", entries, [])
        for index, (of, entries), _ in circuits(63, random.Random(9))
    ]
    plant(job, job.owner, ("board", "Second", {}, under), part.parent)
    url = reverse("jobs:riser", args=[job.pk])
    benchmark(lambda: client.get(url))
