"""What a new job may start with: small complete jobs of every family, to be overwritten."""

import pytest
from django.urls import reverse

from voltaje.core.codes import editions
from voltaje.core.job.calculate import calculate_job
from voltaje.core.kinds import PartInput
from voltaje.core.rules.interface import code_of, families
from voltaje.web.jobs.beginnings import BUILDINGS
from voltaje.web.jobs.models import Job

EVERY = [book for code in families() for book in editions(code.family)]


def flat(tree) -> list[PartInput]:
    found: list[PartInput] = []

    def collect(node, above):
        key = f"p{len(found)}"
        found.append(PartInput(key, node[0], above, node[2], node[1]))
        for child in node[3]:
            collect(child, key)

    collect(tree, None)
    return found


@pytest.mark.parametrize("book", EVERY, ids=lambda book: book.id)
@pytest.mark.parametrize("building", BUILDINGS, ids=lambda one: one.id)
def test_an_example_is_complete_and_nothing_of_it_fails(building, book):
    code = code_of(book.family)
    parts = flat(building.plant(code))
    worked = calculate_job(parts, book, code.units)
    for part in parts:
        one = worked[part.id]
        assert one.report is not None, (part.name, [p.words for p in one.problems])
        fails = [str(f.words) for f in one.report.findings if f.severity == "fail"]
        assert one.report.status in ("pass", "check"), (part.name, one.report.status, fails)


@pytest.mark.parametrize("building", BUILDINGS, ids=lambda one: one.id)
@pytest.mark.parametrize("book", ["nec-2023", "bs7671-2018", "cec-2021"])
def test_a_new_job_starts_with_it_and_shows_all_of_it(owner, building, book):
    book = next((one.id for one in EVERY if one.id == book), EVERY[-1].id)
    posted = {"name": "Barnfield", "edition": book, "units": "us", "preference": "smallest",
              "system": "3ph-480Y/277", "begins": building.id}  # fmt: skip
    answer = owner.post(reverse("jobs:create"), posted, follow=True)
    job = Job.objects.get(name="Barnfield")
    names = [part.name for part in flat(building.plant(job.family))]
    assert answer.redirect_chain[-1][0] == reverse("jobs:job", args=[job.pk])
    assert sorted(names) == sorted(part.name for part in job.parts.all())
    assert job.revision == 1


def test_dwellings_of_one_service_draw_what_they_come_to_together():
    """NEC 220.84 and part III go by all dwellings; the amperes are that load's, not the sum of each
    dwelling's own service."""
    building = next(one for one in BUILDINGS if one.id == "flats")
    parts = flat(building.plant(code_of("nec")))
    supply = calculate_job(parts, editions("nec")[-1])["p0"].report
    load = supply.results["calculated_load"].value
    assert supply.results["amperes_exact"].value == pytest.approx(load / 240)
    alone = calculate_job(parts[:2], editions("nec")[-1])["p0"].report
    assert alone.results["amperes_exact"].value == pytest.approx(
        alone.results["calculated_load"].value / 240
    )
