"""How long a dwelling takes: in the core, as a job's tree, through the view, by the command.

Run by ``./voltaje bench``. Nothing is asserted here; the figures are in docs/benchmarks.md.
"""

import os
import subprocess
import sys

import pytest
from django.urls import reverse

from voltaje.core.codes import edition
from voltaje.core.job.calculate import PartInput, calculate_job
from voltaje.core.kinds import Context, evaluate, kind
from voltaje.web.jobs.actions import create_job
from voltaje.web.jobs.demo import COTTAGE

FULL = {
    **COTTAGE,
    "appliances": [{"name": f"A{i}", "nameplate": f"{500 + i} W"} for i in range(200)],
}


@pytest.mark.parametrize(("name", "document"), [("cottage", COTTAGE), ("200 appliances", FULL)])
def test_one_dwelling_in_the_core(benchmark, name, document):
    benchmark(evaluate, kind("dwelling"), document, Context())


def test_a_tree_of_500_parts(benchmark):
    parts = [PartInput("s", "supply", None, {})]
    parts += [PartInput(f"d{i}", "dwelling", "s", COTTAGE) for i in range(499)]
    benchmark.pedantic(calculate_job, (parts, edition("nec-2020")), rounds=3)


@pytest.fixture
def address(db, client, django_user_model, settings):
    settings.STORAGES = {
        **settings.STORAGES,
        "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
    }
    user = django_user_model.objects.create_user("bench@trade.example", "a long enough word")
    client.force_login(user)
    job = create_job(user, "Mill", "nec-2020", "us", COTTAGE)
    part = job.parts.get(kind="dwelling")
    return lambda name: reverse(f"jobs:{name}", args=[job.pk, part.pk])


def form():
    data = {}
    for name, value in COTTAGE.items():
        if isinstance(value, list):
            for row in value:
                data |= {f"{name}.{row['id']}.{k}": v for k, v in row.items() if k != "id"}
        else:
            data[name] = value
    return data


def test_one_recalculation_through_the_view(benchmark, client, address):
    data, url = form(), address("work")
    benchmark(lambda: client.post(url, data))


def test_one_save_through_the_view(benchmark, client, address):
    areas, url = iter(range(1000, 100_000)), address("save")
    benchmark(lambda: client.post(url, {"set:area": str(next(areas))}))


def test_the_page(benchmark, client, address):
    url = address("part")
    benchmark(lambda: client.get(url))


def test_the_headless_command(benchmark, tmp_path):
    file = tmp_path / "entries.json"
    file.write_text('{"area": 1500}')
    call = [sys.executable, "-m", "voltaje.core.cli.sheet", "dwelling", str(file)]
    benchmark.pedantic(
        subprocess.run, (call,), {"env": os.environ, "stdout": subprocess.DEVNULL}, rounds=5
    )
