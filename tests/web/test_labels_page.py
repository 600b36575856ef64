"""Labels of a job as sheets of PDF: how many sheets, where the first one stands, a code to scan; bad input."""

from __future__ import annotations

import re

import pytest
from django.urls import reverse

from voltaje.core.job.labels import ItemLabel
from voltaje.core.report import say
from voltaje.web.documents.labels import SHEETS, _fitted, to_pdf
from voltaje.web.documents.typesetting import pages_of
from voltaje.web.drawings.paper import PLAIN, fonts


def some(count, title="Panel"):
    return [
        ItemLabel(f"i{n}", "board", f"{title} {n}", (say("Fed from T1"), say("208 V")))
        for n in range(count)
    ]


@pytest.mark.parametrize(("sheet", "count", "start", "pages"), [
    ("letter-30", 30, 1, 1), ("letter-30", 30, 2, 2), ("letter-30", 1, 30, 1), ("letter-10", 11, 1, 2),
    ("a4-24", 24, 24, 2), ("a4-24", 49, 1, 3), ("a4-8", 8, 1, 1),
])  # fmt: skip
def test_labels_fill_their_sheets(sheet, count, start, pages):
    made = to_pdf(
        some(count), SHEETS[sheet], start, {"i0": "https://volts.example/jobs/x/"}, "labels"
    )
    assert made[:5] == b"%PDF-" and pages_of(made) == pages


@pytest.mark.parametrize("name", list(SHEETS))
def test_a_sheet_fits_its_paper(name):
    sheet = SHEETS[name]
    mm = 72 / 25.4
    assert (
        sheet.left + sheet.across * sheet.width + (sheet.across - 1) * sheet.gap
        <= sheet.paper[0] / mm + 0.5
    )
    assert sheet.top + sheet.down * sheet.height <= sheet.paper[1] / mm + 0.5


def test_long_names_shrink_and_are_cut_at_the_end():
    fonts()
    short, long = (
        _fitted("Panel A", PLAIN, 9, 200),
        _fitted("A panel with a name as long as a name may be, all 80", PLAIN, 9, 90),
    )
    assert short == ("Panel A", 9) and long[0].endswith("…") and long[1] < 9
    assert _fitted("Panel Aa Bb", PLAIN, 9, 45)[0] == "Panel Aa Bb"


def test_labels_of_the_mill(owner, mill):
    url = reverse("jobs:labels", args=[mill.pk])
    page = owner.get(url).content.decode()
    assert "letter, 30 labels" in page and re.search(r'value="board"[^>]*checked', page)
    answer = owner.get(
        url,
        {
            "of": ["board", "transformer", "circuit"],
            "sheet": "letter-30",
            "start": 5,
            "code": "on",
            "make": "pdf",
        },
    )
    assert answer["Content-Type"] == "application/pdf" and pages_of(answer.content) >= 2
    assert "mill-labels-r" in answer["Content-Disposition"].lower()
    fewer = owner.get(url, {"of": ["transformer"], "sheet": "a4-8", "start": 1, "make": "pdf"})
    assert pages_of(fewer.content) == 1 and len(fewer.content) < len(answer.content)


@pytest.mark.parametrize(("asked", "words"), [
    ({"sheet": "a4-8", "start": 1}, "Choose at least one."), ({"of": "board", "sheet": "a4-8", "start": 9}, "This sheet has 8 labels."),
    ({"of": "board", "sheet": "nothing", "start": 1}, "Select a valid choice"), ({"of": "board", "sheet": "a4-8", "start": "x"}, "whole number"),
    ({"of": "transformer", "sheet": "a4-8", "start": 1}, "Nothing of this job has such a label"),
])  # fmt: skip
def test_bad_input_is_told_at_its_field(owner, job, asked, words):
    answer = owner.get(reverse("jobs:labels", args=[job.pk]), {**asked, "make": "pdf"})
    assert answer.status_code == 422 and words in " ".join(answer.content.decode().split())


def test_nobody_else_prints_them(stranger, mill):
    assert stranger.get(reverse("jobs:labels", args=[mill.pk])).status_code == 404
