"""A backup comes back whole, or is refused in words before anything is written."""

from __future__ import annotations

import copy
import json
from io import BytesIO

import pytest
from django.urls import reverse

from voltaje.web.history import revisions
from voltaje.web.jobs.actions import add_part, create_job
from voltaje.web.jobs.models import Amendment, Job, Reading
from voltaje.web.jobs.worked import work_job


@pytest.fixture
def backup(client, people):
    """An account's own export, with an amendment, readings, undone and redone work."""
    owner = people[0]
    client.force_login(owner)
    job = create_job(owner, "Mill", "nec-2020", "us", system="3ph-208Y/120", begins="board")
    board = next(part for part in job.loaded() if part.kind == "board")
    part = add_part(
        job, owner, "circuit", str(board.pk), "Kiln", {"load": "4 kW", "length": "40 ft"}
    )
    Amendment.objects.create(job=job, topic="limits", row="continuous", column="value", value="150",
                             jurisdiction="Town", reason="habit")  # fmt: skip
    Reading.objects.create(
        job=job, part_id=part.pk, part_name="Kiln", point="load", unit="V", value=117.5, who="me"
    )
    job = Job.objects.get(pk=job.pk)
    revisions.undo(job, owner)
    revisions.redo(Job.objects.get(pk=job.pk), owner)
    answer = client.get(reverse("accounts:export"))
    return json.loads(b"".join(answer.streaming_content))


def take(client, document):
    raw = document if isinstance(document, bytes) else json.dumps(document).encode()
    file = BytesIO(raw)
    file.name = "backup.json"
    return client.post(reverse("accounts:import"), {"file": file})


def test_an_accounts_own_export_always_comes_back(client, people, backup):
    before = Job.objects.of(people[0]).count()
    assert take(client, backup).status_code == 302
    jobs = list(Job.objects.of(people[0]).order_by("created_at"))
    assert len(jobs) == 2 * before
    told = [{part.name: work_job(job)[str(part.pk)].report.headline for part in job.loaded()
             if work_job(job)[str(part.pk)].report} for job in (jobs[0], jobs[-1])]  # fmt: skip
    assert told[0] == told[1]
    assert jobs[-1].readings.count() == 1 and jobs[-1].amendments.count() == 1
    while jobs[-1].undo_stack:  # all of it can be undone
        revisions.undo(jobs[-1], people[0])
        jobs[-1] = Job.objects.get(pk=jobs[-1].pk)


def changed(document, path, value):
    found = copy.deepcopy(document)
    at = found
    for step in path[:-1]:
        at = at[step]
    at[path[-1]] = value
    return found


REVISION = ("jobs", 0, "revisions", -1)
WRONG = [
    (("jobs",), {}), (("jobs",), None), (("jobs", 0), None), (("jobs", 0), "x"), (("format",), "x"), (("version",), 9),
    (("jobs", 0, "name"), ""), (("jobs", 0, "name"), None), (("jobs", 0, "edition"), "cables"),
    (("jobs", 0, "second"), "none"), (("jobs", 0, "units"), "feet"), (("jobs", 0, "drop_branch"), "wide"),
    (("jobs", 0, "drop_total"), 900), (("jobs", 0, "drop_scheme"), "none"), (("jobs", 0, "prices"), [1]),
    (("jobs", 0, "prices"), {"copper 12": "dear"}), (("jobs", 0, "archived"), "later"),
    (("jobs", 0, "revision"), 0), (("jobs", 0, "revision"), -1), (("jobs", 0, "revision"), 2**40),
    (("jobs", 0, "undo"), [99]), (("jobs", 0, "undo"), "1"), (("jobs", 0, "redo"), [None]),
    (("jobs", 0, "parts"), None), (("jobs", 0, "parts", 0, "kind"), "engine"), (("jobs", 0, "parts", 0, "id"), None),
    (("jobs", 0, "parts", 1, "id"), "same"), (("jobs", 0, "parts", 1, "parent"), "nowhere"),
    (("jobs", 0, "parts", 0, "position"), 2**40), (("jobs", 0, "parts", 0, "position"), "first"),
    (("jobs", 0, "parts", 0, "entries"), []), (("jobs", 0, "parts", 0, "entries"), {"x": [[[1]]]}),
    (("jobs", 0, "parts", 0, "entries"), {"x": 1e300}),
    (("jobs", 0, "amendments", 0, "topic"), "x" * 99), (("jobs", 0, "amendments", 0, "reason"), None),
    (("jobs", 0, "readings", 0, "value"), -4), (("jobs", 0, "readings", 0, "value"), "high"),
    (("jobs", 0, "readings", 0, "unit"), "kW"), (("jobs", 0, "readings", 0, "taken_at"), "soon"),
    (("jobs", 0, "readings", 0, "point"), "x" * 99), (("jobs", 0, "readings", 0, "part"), 5),
    (("jobs", 0, "revisions"), {}), ((*REVISION, "number"), 0), ((*REVISION, "number"), 1),
    ((*REVISION, "number"), 2**40), ((*REVISION, "made_at"), None), ((*REVISION, "action"), "x" * 40),
    ((*REVISION, "changes"), None), ((*REVISION, "changes"), [{}]),
    ((*REVISION, "changes"), [{"target": "job", "before": None, "after": None}]),
    ((*REVISION, "changes", 0, "target"), None), ((*REVISION, "changes", 0, "before"), {"kind": 7}),
    ((*REVISION, "changes", 0, "after"), {"name": None, "kind": "circuit"}),
    ((*REVISION, "changes", 0, "entries"), [[[], 1, 2]]), ((*REVISION, "changes", 0, "entries"), [["x"]]),
]  # fmt: skip


@pytest.mark.parametrize(("path", "value"), WRONG, ids=lambda x: str(x)[-40:])
def test_a_malformed_backup_is_refused_in_words_and_writes_nothing(
    client, people, backup, path, value
):
    broken = changed(backup, path, value)
    if path[-1] == "id" and value == "same":
        broken = changed(broken, ("jobs", 0, "parts", 0, "id"), "same")
    before = Job.objects.count()
    answer = take(client, broken)
    assert answer.status_code == 422 and Job.objects.count() == before
    assert "Nothing was taken from it" in answer.content.decode()


@pytest.mark.parametrize(
    "raw", [b"", b"[", b"[1]", b"nul", b"{}", b"\xff\xfe", b'{"format": NaN}', b"[" * 5000]
)
def test_what_is_no_backup_is_told_so(client, people, backup, raw):
    assert take(client, raw).status_code == 422


def test_control_characters_come_in_as_what_can_be_seen(client, people, backup):
    odd = changed(backup, (*REVISION, "summary"), "bell \x07 nul \x00")
    odd = changed(odd, ("jobs", 0, "parts", 0, "entries"), {"note": "nul \x00"})
    assert take(client, odd).status_code in (302, 422)
