"""Recordings of loggers: a file in, looked at, kept, used; out in a backup and with a copy."""

from __future__ import annotations

import json
from io import BytesIO

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from voltaje.web.jobs import actions
from voltaje.web.jobs.models import Job, Recording
from voltaje.web.jobs.worked import work_job


def log(*columns, titles=("L1 (A)", "L2 (A)", "L3 (A)"), minutes=120):
    rows = [",".join(("Time", *titles))]
    for minute in range(minutes):
        rows.append(
            f"2026-11-02 {minute // 60:02d}:{minute % 60:02d}," + ",".join(f"{c}" for c in columns)
        )
    return "\n".join(rows).encode()


def send(client, job, part, content, file_name="week.csv", **more):
    file = SimpleUploadedFile(file_name, content)
    url = reverse("jobs:recordings", args=[job.pk])
    return client.post(url, {"part": str(part.pk), "file": file, **more})


def change(client, row, do):
    return client.post(reverse("jobs:change_recording", args=[row.job_id, row.pk]), {"do": do})


@pytest.fixture
def board(mill):
    return mill.parts.get(name="Workshop")


@pytest.fixture
def row(owner, mill, board):
    assert send(owner, mill, board, log(40, 60, 50), "A week.csv").status_code == 302
    return mill.recordings.get()


def test_a_file_is_looked_at_before_it_is_kept(owner, mill, board, row):
    assert (row.name, row.part_name, row.kept) == ("A week", "Workshop", False)
    page = owner.get(reverse("jobs:recording", args=[mill.pk, row.pk])).content.decode()
    # 125 % of 60 A by 220.87, behind the board's device of 150 A
    for words in ("60 A", "220.87", "75 A", "150 A", "Not saved yet", "L2", 'class="curve'):
        assert words in page, words
    listed = reverse("jobs:recordings", args=[mill.pk])
    assert "A week" not in owner.get(listed).content.decode()
    change(owner, row, "keep")
    assert "A week" in owner.get(listed).content.decode()
    change(owner, row, "delete")
    assert not mill.recordings.exists()


def test_only_the_owner_sees_it(stranger, mill, row):
    for name in ("recording", "recording_csv"):
        assert stranger.get(reverse(f"jobs:{name}", args=[mill.pk, row.pk])).status_code == 404
    assert stranger.get(reverse("jobs:recordings", args=[mill.pk])).status_code == 404
    assert change(stranger, row, "delete").status_code == 404 and mill.recordings.exists()


@pytest.mark.parametrize(
    ("content", "name", "words"),
    [
        (b"", "a.csv", "The file is empty"),
        (b"\x00\x01", "a.csv", "not text"),
        (b"Time,V\n1,2\n2,3\n3,4\n4,5", "a.csv", "No column of amperes"),
        (b"Time,A\nsoon,2\nlater,3\nnow,4\nthen,5", "a.csv", "No times were read"),
        (b"Time,L1\n2026-11-02 10:00,4", "a.csv", "At least three rows"),
        (b"x" * 1_950_000, "a.csv", "larger than 1.9 MB"),
        (b"no book", "a.xlsx", "cannot be read"),
    ],
)
def test_what_is_no_recording_is_told_at_the_file(owner, mill, board, content, name, words):
    answer = send(owner, mill, board, content, name, **{"name": "Typed before"})
    page = answer.content.decode()
    assert answer.status_code == 422 and words in page, page[-3000:]
    assert "Typed before" in page and f'value="{board.pk}" selected' in page
    assert not Recording.objects.exists()


def test_circuits_are_known_by_name_and_moved(owner, mill, board):
    """All on L1, as they are asked for by hand: the largest goes to another line, undone as one."""
    names = ["Throwing room lights", "Glaze room lights", "Glaze room receptacles"]
    held = [mill.parts.get(name=name) for name in names]
    actions.change_entries(
        mill, mill.owner, {str(p.pk): {"line": "L1", "position": ""} for p in held}
    )
    mill.refresh_from_db()
    send(owner, mill, board, log(8, 9, 12, titles=[f"{n.upper()} (A)" for n in names]))
    found = mill.recordings.get()
    page = owner.get(reverse("jobs:recording", args=[mill.pk, found.pk])).content.decode()
    assert "Moves that even the lines" in page and "Diversity" in page
    change(owner, found, "move")
    job = Job.objects.get(pk=mill.pk)
    lines = {job.parts.get(pk=p.pk).entries["line"] for p in held}
    assert lines == {"L1", "L2", "L3"}
    assert all(work_job(job)[str(p.pk)].report for p in held)


def test_the_measured_demand_of_a_dwelling_is_calculated_with(owner, job, cottage):
    send(owner, job, cottage, log(61, 47, titles=("L1", "L2")))
    row = job.recordings.get()
    page = owner.get(reverse("jobs:recording", args=[job.pk, row.pk])).content.decode()
    assert "Calculate with this demand" in page
    change(owner, row, "measured")
    entries = Job.objects.get(pk=job.pk).parts.get(pk=cottage.pk).entries
    assert entries["calculation"] == "measured" and entries["measured_demand"] == "61.0 A"
    assert entries["measured_over"] == "days30"


def test_lines_that_are_not_there_are_told(owner, job, cottage):
    send(owner, job, cottage, log(61, 47, 30))
    page = owner.get(
        reverse("jobs:recording", args=[job.pk, job.recordings.get().pk])
    ).content.decode()
    assert "there is no such line here" in page


def test_it_outlives_its_item(owner, mill, board, row):
    actions.delete_part(mill, mill.owner, str(board.pk))
    page = owner.get(reverse("jobs:recording", args=[mill.pk, row.pk]))
    assert page.status_code == 200 and "is not in the job any more" in page.content.decode()


def test_it_comes_back_of_its_csv_a_backup_and_a_copy(owner, people, mill, board, row):
    text = owner.get(reverse("jobs:recording_csv", args=[mill.pk, row.pk])).content
    change(owner, row, "keep")
    send(owner, mill, board, text, "again.csv")
    both = list(Recording.objects.filter(job=mill).order_by("entered_at"))
    assert both[0].samples == both[1].samples
    copy = actions.copy_job(mill, people[0], "Copy")
    assert [r.name for r in copy.recordings.all()] == ["A week"]
    assert copy.recordings.get().part.job_id == copy.pk
    answer = owner.get(reverse("accounts:export"))
    backup = json.loads(b"".join(answer.streaming_content))
    file = BytesIO(json.dumps(backup).encode())
    file.name = "backup.json"
    many = Job.objects.of(people[0]).count()
    assert owner.post(reverse("accounts:import"), {"file": file}).status_code == 302
    jobs = list(Job.objects.of(people[0]).order_by("created_at"))
    assert len(jobs) == 2 * many
    brought = [r for j in jobs[many:] for r in j.recordings.all()]
    assert brought and all(r.samples == row.samples and r.kept for r in brought)
    backup["jobs"][0]["recordings"] = [
        {"part": None, "part_name": "x", "name": "y", "samples": "Time\n1"}
    ]
    file = BytesIO(json.dumps(backup).encode())
    file.name = "backup.json"
    owner.post(reverse("accounts:import"), {"file": file})
    assert Job.objects.of(people[0]).count() == 2 * many


def test_a_load_that_is_really_many_is_split_as_its_lines_were_measured(owner, mill, board):
    entries = {"load": "12 kW", "connection": "three-phase"}
    house = actions.add_part(mill, mill.owner, "circuit", str(board.pk), "House behind", entries)
    plain = actions.add_part(
        mill, mill.owner, "circuit", str(board.pk), "Lamp behind", {"load": "1 kW"}
    )
    for part, offered in ((house, True), (plain, False)):
        send(owner, mill, part, log(40, 22, 18), f"{part.name}.csv")
        row = mill.recordings.get(part=part)
        page = owner.get(reverse("jobs:recording", args=[mill.pk, row.pk])).content.decode()
        assert ("Split the load as measured: 40.0, 22.0, 18.0 A" in page) == offered
        change(owner, row, "split")
    job = Job.objects.get(pk=mill.pk)
    assert job.parts.get(pk=house.pk).entries["line_shares"] == "40.0, 22.0, 18.0 A"
    assert "line_shares" not in job.parts.get(pk=plain.pk).entries
    assert work_job(job)[str(house.pk)].report.value("amperes") == pytest.approx(
        12_000 * 0.5 / 120, rel=1e-3
    )
