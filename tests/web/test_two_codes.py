"""A job's second code: on its sheets, on paper, on the page of all parts, in its history; quick
sheets beside another code; and dwellings of every family through the pages."""

import json
import re

import pytest
from django.core.serializers.json import DjangoJSONEncoder
from django.urls import reverse
from pages import flat

from voltaje.core.codes import editions
from voltaje.web.jobs import archive
from voltaje.web.jobs.actions import add_part, create_job
from voltaje.web.jobs.models import Job

pytestmark = pytest.mark.django_db


@pytest.fixture
def job(client, django_user_model):
    user = django_user_model.objects.create_user("w@example.org", "quite-long-secret")
    client.force_login(user)
    made = create_job(user, "Yard", "nec-2020", "us", system="3ph-208Y/120", begins="board")
    board = next(part for part in made.loaded() if part.kind == "board")
    add_part(made, user, "circuit", str(board.pk), "Saw", {"load": "20 A", "length": "40 ft"})
    return Job.objects.get(pk=made.pk)


def part_of(job, kind):
    return next(part for part in Job.objects.get(pk=job.pk).loaded() if part.kind == kind)


def choose(client, job, second):
    page = {"name": "Yard", "edition": "nec-2020", "second": second, "units": "us",
            "preference": "smallest", "drop_scheme": "code", "drop_branch": "3", "drop_total": "5",
            "drop_sizing": "told"}  # fmt: skip
    return client.post(reverse("jobs:settings", args=[job.pk]), page)


def test_a_second_code_shows_on_the_sheet_and_what_only_it_asks_is_kept(client, job):
    assert choose(client, job, "cec-2021").status_code == 302
    saw = part_of(job, "circuit")
    address = reverse("jobs:part", args=[job.pk, saw.pk])
    page = client.get(address).content.decode()
    assert "Under CEC 2021" in page and "Protective conductor: 12 AWG Cu by NEC 2020" in page
    assert "Asked by CEC 2021 alone" in page and 'name="raceway_or_cable"' in page
    save = reverse("jobs:save", args=[job.pk, saw.pk])
    answer = client.post(
        save,
        {"set:raceway_or_cable": "NMD90", "base:raceway_or_cable": "EMT", "tab": "t", "turn": "1"},
    )
    assert answer.status_code == 200
    kept = part_of(job, "circuit").entries
    assert kept["raceway_or_cable"] == "NMD90" and kept["load"] == "20 A"
    # without the second code the sheet works as before, and knows nothing of that entry
    choose(client, job, "")
    page = client.get(address).content.decode()
    assert "Under CEC 2021" not in page and 'name="raceway_or_cable"' not in page
    assert part_of(job, "circuit").entries["raceway_or_cable"] == "NMD90"


def test_the_second_code_is_a_revision_and_undone(client, job):
    choose(client, job, "nec-2023")
    assert Job.objects.get(pk=job.pk).second == "nec-2023"
    assert "second code" in Job.objects.get(pk=job.pk).revisions.last().summary.lower() or any(
        "second code" in r.summary for r in job.revisions.all()
    )
    client.post(reverse("jobs:undo", args=[job.pk]), {"next": "/"})
    assert Job.objects.get(pk=job.pk).second == ""
    refused = choose(client, job, "nec-2020")
    assert refused.status_code == 422 and "own code" in refused.content.decode()


def test_a_recalculation_brings_both(client, job):
    choose(client, job, "bs7671-2018")
    saw = part_of(job, "circuit")
    work = reverse("jobs:work", args=[job.pk, saw.pk])
    found = client.post(work, {"load": "26 A", "length": "40 ft", "seq": "1"}).content.decode()
    assert "Under BS 7671" in found and "26 A" in found


def test_paper_carries_both_or_one(client, job):
    saw = part_of(job, "circuit")
    address = reverse("jobs:print", args=[job.pk, saw.pk])
    assert "Both codes" not in client.get(address).content.decode()
    choose(client, job, "cec-2021")
    assert "Under CEC 2021" in client.get(address).content.decode()
    assert "Under CEC 2021" not in client.get(f"{address}?both=no").content.decode()


@pytest.mark.parametrize("under", [code.id for code in editions()])
def test_all_parts_under_any_edition(client, job, under):
    address = reverse("jobs:codes", args=[job.pk])
    answer = client.get(address, {"under": under})
    page = answer.content.decode()
    assert answer.status_code == 200 and page.count('scope="row"') == 4
    if under == "bs7671-2018":
        assert "not covered by BS 7671" in page
    if under == "nec-2023":
        assert "All parts come to the same." in page


def test_nonsense_and_strangers_see_nothing(client, job, django_user_model):
    address = reverse("jobs:codes", args=[job.pk])
    assert client.get(address, {"under": "../etc"}).status_code == 200
    client.force_login(django_user_model.objects.create_user("x@example.org", "quite-long-secret"))
    assert client.get(address).status_code == 404


def test_a_backup_brings_the_second_code_along_and_an_unknown_one_is_refused(client, job):
    choose(client, job, "cec-2021")
    backup = json.loads(json.dumps(archive.export(job.owner), cls=DjangoJSONEncoder))
    assert archive.bring(job.owner, backup) == 1
    assert [one.second for one in Job.objects.filter(name="Yard")] == ["cec-2021"] * 2
    backup["jobs"][0]["second"] = "cec-9999"
    with pytest.raises(archive.UnreadableArchiveError, match="second code"):
        archive.bring(job.owner, backup)


@pytest.mark.parametrize("second", ["cec-2021", "bs7671-2018", "nec-2023", "", "nonsense"])
def test_a_quick_sheet_beside_another_code(client, second):
    address = reverse("sheets:quick", args=["circuit"])
    page = client.get(address, {"code": "nec-2020", "second": second}).content.decode()
    assert ('name="raceway_or_cable"' in page) == (second == "cec-2021")
    work = reverse("sheets:quick_work", args=["circuit"])
    given = {"code": "nec-2020", "second": second, "load": "20 A", "system": "1ph-120/240"}
    found = client.post(work, given).content.decode()
    assert ('class="beside"' in found) == (second in ("cec-2021", "bs7671-2018", "nec-2023"))


@pytest.mark.parametrize(
    ("code", "system", "entries", "amperes"),
    [
        ("cec-2021", "1ph-120/240", {"area": "90 m²"}, "100 A"),
        ("asnzs3000-2018", "1ph-230", {"uses.a.use": "sockets", "uses.a.count": "21"}, "15 A"),
        ("bs7671-2018", "1ph-230", {"uses.a.use": "circuits", "uses.a.load": "32 A",
                                    "uses.a.count": "3"}, "57.6 A"),
        ("sans10142-2020", "1ph-230", {"uses.a.use": "cooking", "uses.a.load": "40 A",
                                       "uses.a.share": "50"}, "20 A"),
    ],
)  # fmt: skip
def test_quick_dwellings_of_every_family(client, code, system, entries, amperes):
    page = client.get(reverse("sheets:quick", args=["dwelling"]), {"code": code})
    assert page.status_code == 200 and not re.search(
        r"<legend></legend>", flat(page.content.decode())
    )
    work = reverse("sheets:quick_work", args=["dwelling"])
    given = {"code": code, "system": system, "device_type": "gG", **entries}
    assert amperes in client.post(work, given).content.decode()


@pytest.mark.parametrize(
    ("code", "begins", "system", "kinds"),
    [
        ("bs7671-2018", "board", "3ph-400Y/230", ["supply", "distribution", "board"]),
        ("cec-2021", "board", "3ph-208Y/120", ["supply", "feeder", "board"]),
        ("asnzs3000-2018", "dwelling", "1ph-230", ["supply", "dwelling"]),
        ("cec-2021", "dwelling", "1ph-120/240", ["supply", "dwelling"]),
    ],
)
def test_new_jobs_begin_with_what_their_code_knows(client, job, code, begins, system, kinds):
    given = {"name": "New", "edition": code, "units": "metric", "preference": "smallest",
             "system": system, "begins": begins}  # fmt: skip
    assert client.post(reverse("jobs:create"), given).status_code == 302
    made = Job.objects.get(name="New")
    assert [part.kind for part in made.loaded()] == kinds


def test_a_dwelling_on_a_supply_that_its_code_does_not_know_is_refused(client, job):
    given = {"name": "New", "edition": "bs7671-2018", "units": "metric", "preference": "smallest",
             "system": "1ph-120/240", "begins": "dwelling"}  # fmt: skip
    page = client.post(reverse("jobs:create"), given).content.decode()
    assert "Under this code a dwelling stands on 230 V" in page
