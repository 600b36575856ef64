"""The logbook: entering, judging, files in and out; the job's own limits for volts."""

import csv
import io
import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from django.utils import timezone

from voltaje.web.http.table_files import write_xlsx
from voltaje.web.jobs import actions
from voltaje.web.jobs.demo import MILL, READINGS
from voltaje.web.jobs.models import Job, Reading
from voltaje.web.jobs.worked import work_job

HEAD = "part,point,value,unit,date,place,who,note\n"


@pytest.fixture
def mill(job, people):
    actions.plant(job, people[0], MILL)
    job.refresh_from_db()
    return job


@pytest.fixture
def shop(mill):
    return mill.parts.get(name="Shop and gallery")


@pytest.fixture
def url(mill):
    return reverse("jobs:readings", args=[mill.pk])


def entry(shop, **more):
    return {"part": str(shop.pk), "point": "V|L1-N", "value": "117.4 V", "taken_at": "2026-10-09 16:15",
            "place": "at the board", "who": "R. Alder", "note": "", **more}  # fmt: skip


def test_a_reading_is_entered_and_stands_beside_its_calculated_value(owner, mill, shop, url):
    answer = owner.post(url, entry(shop))
    assert answer.status_code == 302 and "who=R.+Alder" in answer.url
    kept = mill.readings.get()
    assert (kept.value, kept.unit, kept.point, kept.part) == (117.4, "V", "L1-N", shop)
    assert timezone.localtime(kept.taken_at).hour == 16
    page = owner.get(answer.url).content.decode()
    expected = work_job(mill)[str(shop.pk)].report.value("volts_l1_n")
    assert "117.4 V" in page and f"{expected:.1f} V" in page and "agrees" in page
    assert 'value="R. Alder"' in page and 'value="at the board"' in page


@pytest.mark.parametrize(("field", "typed", "words"), [
    ("value", "", "what the instrument showed"), ("value", "soup", "does not read"),
    ("value", "99 kV", "Out of range"), ("value", "12 A", "A"), ("who", "", "who measured"),
    ("taken_at", "yesterday", "like 2026-11-20"), ("taken_at", "2090-01-01", "in the future"),
    ("taken_at", "2026-02-31", "like 2026-11-20"), ("point", "V|nowhere", "no such point"),
])  # fmt: skip
def test_wrong_readings_are_told_at_the_field_and_nothing_typed_is_lost(
    owner, mill, shop, url, field, typed, words
):  # fmt: skip
    answer = owner.post(url, entry(shop, **{field: typed}))
    page = answer.content.decode()
    assert answer.status_code == 422 and words in page and not mill.readings.exists()
    if field != "place":
        assert "at the board" in page


def test_choosing_another_part_brings_its_points(owner, mill, url):
    counter = mill.parts.get(kind="multiwire_circuit")
    answer = owner.get(url, {"part": str(counter.pk), "value": "8.4"}, HTTP_HX_REQUEST="true")
    text = answer.content.decode()
    assert "Neutral, piece 1, A" in text and "Kettle, V" in text
    assert 'value="8.4"' in text and "<html" not in text


def test_the_demos_loose_neutral_is_found(owner, mill, url):
    from voltaje.web.jobs.management.commands.load_demo import _log

    _log(mill, READINGS)
    assert mill.readings.count() == len(READINGS)
    page = owner.get(url).content.decode()
    newest, first, second = page.split('<article class="visit">')[1:]
    assert "its fuse blew twice" in newest and "Loose or open neutral" not in newest
    assert "Loose or open neutral: L1 to neutral" in first and 'class="first"' in first
    assert "read-differs" not in second and "read-check" not in second


def upload(owner, mill, text, name="readings.csv"):
    file = SimpleUploadedFile(name, text.encode() if isinstance(text, str) else text)
    return owner.post(reverse("jobs:readings_import", args=[mill.pk]), {"file": file})


def test_a_file_is_looked_at_first_and_then_taken(owner, mill):
    answer = upload(owner, mill, HEAD + (
        "Shop and gallery,L1 to neutral,124.7,V,2026-10-09 16:15,board,R. Alder,\n"
        "Nowhere,L1-N,1,V,,,,\nShop and gallery,X9,1,V,,,,\nShop and gallery,L1,12 hp,A,,,,\n"
        "Shop and gallery,L1,44.9,,2026-10-09,board,,\nShop and gallery,L1,44.9 A,,last week,,,\n"))  # fmt: skip
    page = answer.content.decode()
    assert "One reading." in page and "5 wrong" in page and not mill.readings.exists()
    for words in (
        "no part “Nowhere”",
        "no point “X9”",
        "does not read",
        "Give the unit",
        "Give the date",
    ):
        assert words in page
    rows = answer.context["rows"]
    again = owner.post(
        reverse("jobs:readings_import", args=[mill.pk]), {"rows": rows, "agreed": "yes"}
    )
    assert again.status_code == 302
    kept = mill.readings.get()
    assert (kept.point, kept.value) == ("L1-N", 124.7)


def test_csv_goes_out_and_comes_back_the_same(owner, mill, shop):
    for point, unit, value, note in (("L1-N", "V", 117.25, "=cmd()"), ("N", "A", 18.0, "Ω, ½")):
        Reading.objects.create(job=mill, part=shop, part_name=shop.name, point=point, unit=unit,
                               value=value, who="R. Alder", place="board", note=note,
                               taken_at=timezone.now().replace(second=0, microsecond=0))  # fmt: skip
    out = owner.get(reverse("jobs:readings_csv", args=[mill.pk])).content.decode()
    assert "'=cmd()" in out, "a spreadsheet must not take a note for a formula"
    before = sorted(mill.readings.values_list("point", "value", "unit", "who", "note", "taken_at"))
    mill.readings.all().delete()
    answer = upload(owner, mill, out)
    owner.post(reverse("jobs:readings_import", args=[mill.pk]),
               {"rows": answer.context["rows"], "agreed": "yes"})  # fmt: skip
    assert (
        sorted(mill.readings.values_list("point", "value", "unit", "who", "note", "taken_at"))
        == before
    )
    assert len(list(csv.reader(io.StringIO(out)))) == 3


@pytest.mark.parametrize(("text", "words"), [
    ("", "empty"), ("a,b\n1,2\n", "must name the columns"), (b"\xff\xfe\x00part", "The file is not text"),
    (HEAD + "x,L1,1,V,,,,\n" * 1001, "at most 1,000"), ("x" * 500_001, "larger than 500 kB"),
])  # fmt: skip
def test_unreadable_files_say_what_is_wanted(owner, mill, text, words):
    answer = upload(owner, mill, text)
    assert answer.status_code == 422 and words in answer.content.decode()


def test_what_a_database_cannot_hold_is_seen(owner, mill):
    rows = json.dumps([{"part": "Shop and gallery", "point": "L1-N", "value": "117", "unit": "V",
                        "place": "by the\0 door", "note": "\0"}])  # fmt: skip
    url = reverse("jobs:readings_import", args=[mill.pk])
    assert owner.post(url, {"rows": rows, "agreed": "yes"}).status_code == 302
    assert mill.readings.get().place == "by the␀ door"


def test_semicolons_and_a_byte_order_mark_are_read(owner, mill):
    text = "\ufeff" + "part;point;value;unit\nShop and gallery;L1-N;117,4;V\n"
    answer = upload(owner, mill, text)
    assert "One reading." in answer.content.decode()


def test_a_workbook_is_read_as_a_csv_file_is(owner, mill):
    book = write_xlsx(
        [["part", "point", "value", "unit", "date"],
         ["Shop and gallery", "L1-N", "117.4", "V", "2026-11-20 14:30"],
         ["Shop and gallery", "L1-N", "soup", "V", ""]],
        "Readings", 3,
    )  # fmt: skip
    url = reverse("jobs:readings_import", args=[mill.pk])
    answer = owner.post(url, {"file": SimpleUploadedFile("visit.xlsx", book)})
    taken = answer.context["taken"]
    assert [bool(one.reading) for one in taken] == [True, False]
    assert taken[0].reading.value == 117.4


def test_a_tampered_preview_is_refused(owner, mill):
    for rows in ("soup", "{}", json.dumps([{}] * 1001)):
        answer = owner.post(reverse("jobs:readings_import", args=[mill.pk]), {"rows": rows})
        assert answer.status_code == 422


def test_readings_outlive_their_part_and_can_be_taken_out(owner, mill, shop, url):
    owner.post(url, entry(shop))
    kept = mill.readings.get()
    actions.delete_part(mill, mill.owner, str(shop.pk))
    page = owner.get(url).content.decode()
    assert "no longer in the job" in page and "nothing calculated here" in page
    assert b"Shop and gallery" in owner.get(reverse("jobs:readings_csv", args=[mill.pk])).content
    # undo brings the part back, and the reading finds it again
    owner.post(reverse("jobs:undo", args=[mill.pk]))
    page = owner.get(url).content.decode()
    assert "no longer in the job" not in page and "agrees" in page
    owner.post(reverse("jobs:drop_reading", args=[mill.pk, kept.pk]))
    assert not mill.readings.exists()


def test_another_jobs_reading_is_not_reached(stranger, owner, people, mill, shop, url):
    owner.post(url, entry(shop))
    other = actions.create_job(people[1], "Other", "nec-2020", "us", {})
    kept = mill.readings.get()
    assert stranger.post(reverse("jobs:drop_reading", args=[other.pk, kept.pk])).status_code == 404
    assert mill.readings.count() == 1


def test_the_database_refuses_what_may_not_be(mill, shop):
    from django.db import IntegrityError, transaction

    good = {
        "job": mill,
        "part": shop,
        "part_name": "x",
        "point": "L1",
        "unit": "A",
        "value": 1.0,
        "who": "x",
    }
    for wrong in ({"unit": "W"}, {"value": -1}, {"value": 1e6}, {"who": ""}, {"point": ""}):
        with pytest.raises(IntegrityError), transaction.atomic():
            Reading.objects.create(**{**good, **wrong})


def test_a_jobs_limits_are_set_judged_and_undone(owner, mill):
    settings_url = reverse("jobs:settings", args=[mill.pk])
    kept = {
        "name": mill.name,
        "edition": mill.edition,
        "units": mill.units,
        "preference": mill.preference,
    }
    wrong = owner.post(
        settings_url, {**kept, "drop_scheme": "own", "drop_branch": "90", "drop_total": ""}
    )
    assert wrong.status_code == 422 and wrong.content.decode().count("from 0.5 to 20") == 2

    def looks():
        found = work_job(Job.objects.get(pk=mill.pk))
        return sum(f.name in ("drop", "drop_total") and f.severity == "check"
                   for e in found.values() if e.report for f in e.report.findings)  # fmt: skip

    before = looks()
    owner.post(
        settings_url, {**kept, "drop_scheme": "own", "drop_branch": "15", "drop_total": "20"}
    )
    assert looks() == 0 < before
    owner.post(reverse("jobs:undo", args=[mill.pk]))
    assert looks() == before
    copy = actions.duplicate_job(Job.objects.get(pk=mill.pk), mill.owner)
    assert copy.drop_scheme == "code"
