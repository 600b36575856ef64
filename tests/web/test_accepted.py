"""Checks that somebody has accepted, with a reason and a name: as they stand, and no longer."""

import pytest
from django.urls import reverse
from pages import flat

from voltaje.core.kinds import Context, evaluate, kind
from voltaje.web.jobs import actions
from voltaje.web.jobs.worked import digest_of, work_job

WORDS = {"reason": "Lamps of 90 to 130 V", "by": "R. Alder, licence 1234"}


@pytest.fixture
def lights(mill):
    return mill.parts.get(name="Throwing room lights")


@pytest.fixture
def accept(owner, mill, lights):
    def act(finding, **posted):
        url = reverse("jobs:accept", args=[mill.pk, lights.pk])
        answer = owner.post(url, {"finding": finding, **posted}, follow=True)
        mill.refresh_from_db()
        return flat(answer.content.decode())

    return act


def status(mill, part):
    """As its sheet, its brief and the digest tell it, which are one."""
    found = work_job(mill)[str(part.pk)]
    kept = digest_of(mill)["parts"][str(part.pk)][1]
    assert found.brief == found.report.brief and found.report.status == kept
    return found.report.status


def test_a_check_is_accepted_as_it_stands(owner, mill, lights, accept):
    before = mill.revision
    assert status(mill, lights) == "check"
    page = accept("drop", **WORDS)
    assert "Accepted by R. Alder, licence 1234: Lamps of 90 to 130 V" in page
    assert status(mill, lights) == "check"  # the drop from the supply is another one
    accept("drop_total", **WORDS)
    assert status(mill, lights) == "pass" and mill.revision == before + 2
    print_ = owner.get(reverse("jobs:print", args=[mill.pk, lights.pk])).content.decode()
    assert flat(print_).count("Accepted by R. Alder") == 2
    told = owner.get(reverse("jobs:json", args=[mill.pk, lights.pk])).json()
    drop = next(f for f in told["findings"] if f["name"] == "drop")
    assert drop["severity"] == "remark" and drop["accepted"] == WORDS
    # with another figure in it, it is to be looked at anew
    owner.post(reverse("jobs:save", args=[mill.pk, lights.pk]), {"set:length": "120 ft"})
    mill.refresh_from_db()
    assert status(mill, lights) == "check"
    owner.post(reverse("jobs:undo", args=[mill.pk]))
    mill.refresh_from_db()
    assert status(mill, lights) == "pass"
    page = accept("drop", withdraw="yes")
    assert page.count("Accepted by R. Alder") == 1 and status(mill, lights) == "check"


def test_the_page_that_recalculates_says_it_too(owner, mill, lights, accept):
    accept("drop", **WORDS)
    form = {name: text for name, text in lights.entries.items() if isinstance(text, str)}
    answer = owner.post(reverse("jobs:work", args=[mill.pk, lights.pk]), form)
    assert answer.status_code == 200 and "Accepted by R. Alder" in answer.content.decode()
    answer = owner.post(
        reverse("jobs:work", args=[mill.pk, lights.pk]), {**form, "length": "99 ft"}
    )
    assert "Accepted by R. Alder" not in answer.content.decode()


def test_a_copy_is_accepted_by_nobody(owner, mill, lights, accept):
    accept("drop", **WORDS)
    accept("drop_total", **WORDS)
    copy = actions.duplicate_part(mill, mill.owner, str(lights.pk))
    mill.refresh_from_db()
    assert status(mill, lights) == "pass" and status(mill, copy) == "check"


@pytest.mark.parametrize(
    ("finding", "posted", "words"),
    [("drop", {"reason": "", "by": "R. Alder"}, "give both"),
     ("drop", {"reason": "fits", "by": " "}, "give both"),
     ("spare", WORDS, "not found any more"), ("", WORDS, "not found any more")],
)  # fmt: skip
def test_what_is_not_said_whole_is_not_accepted(mill, accept, finding, posted, words):
    before = mill.revision
    assert words in accept(finding, **posted) and mill.revision == before


def test_nothing_that_fails_is_accepted(owner, mill, lights, accept):
    owner.post(reverse("jobs:save", args=[mill.pk, lights.pk]), {"set:device": "10"})
    mill.refresh_from_db()
    assert status(mill, lights) == "fail"
    before = mill.revision
    accept("pin", **WORDS)
    assert mill.revision == before and status(mill, lights) == "fail"
    # nor by a document that says so
    said = next(f for f in work_job(mill)[str(lights.pk)].report.findings if f.name == "pin")
    document = {"use": "lighting", "load": "1.1 kVA", "device": "10", "length": "85 ft", "accepted": [
        {"id": "a", "finding": "pin", "said": said.words.in_english, **WORDS}]}  # fmt: skip
    assert evaluate(kind("circuit"), document, Context()).report.status == "fail"


def test_nobody_accepts_in_another_job(stranger, mill, lights):
    url = reverse("jobs:accept", args=[mill.pk, lights.pk])
    assert stranger.post(url, {"finding": "drop", **WORDS}).status_code == 404
