"""Materials of a job on a page and as files: prices imported, sums, what has no price; the
account's list in its backup. Invented prices."""

from __future__ import annotations

import csv
import io
import re
from decimal import Decimal

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from openpyxl import load_workbook

from voltaje.core.materials import take_off
from voltaje.web.history import earlier, revisions
from voltaje.web.http.table_files import write_xlsx
from voltaje.web.jobs import archive
from voltaje.web.jobs.worked import work_job
from voltaje.web.materials import price_list
from voltaje.web.materials.models import PriceList


def page(job):
    return reverse("jobs:materials", args=[job.pk])


def order(job):
    return take_off(work_job(job), job.family.family)


def table(answer):
    return list(csv.DictReader(io.StringIO(answer.content.decode())))


def sent(client, job, text, name="prices.csv"):
    content = text if isinstance(text, bytes) else text.encode()
    return client.post(page(job), {"do": "import", "file": SimpleUploadedFile(name, content)})


@pytest.fixture
def wired(owner, mill):
    """A job that orders something: the demo's mill."""
    return mill


def test_without_prices_everything_is_at_least(owner, wired):
    text = owner.get(page(wired)).content.decode()
    found = order(wired)
    assert found.lines and "at least" in text
    assert f"Lines without a price: {len(found.lines)}" in " ".join(text.split())


def test_the_list_is_taken_filled_in_and_brought_back(owner, wired):
    rows = table(owner.get(reverse("jobs:materials_prices", args=[wired.pk, "csv"])))
    assert [row["key"] for row in rows] == [line.key for line in order(wired).lines]
    assert all(
        row["per"] == ("ft" if line.unit == "m" else "each")
        for row, line in zip(rows, order(wired).lines, strict=True)
    )
    text = "key,price,hours,per,supplier\n" + "".join(
        f'"{row["key"]}",2,0.5,{row["per"]},North\n' for row in rows
    )
    assert sent(owner, wired, text).status_code == 302
    owner.post(page(wired), {"do": "rates", "currency": "£", "rate": "40", "mark_up": "10"})
    shown = owner.get(page(wired)).content.decode()
    assert "Lines without a price" not in shown and "£" in shown
    lines = table(owner.get(reverse("jobs:materials_order", args=[wired.pk, "csv"])))
    amounts = [Decimal(row["Amount, £"]) for row in lines]
    assert all(
        Decimal(row["Quantity"]) * 2 == amount for row, amount in zip(lines, amounts, strict=True)
    )
    assert f"{sum(amounts):,.2f}" in shown and f"{sum(amounts) / 10:,.2f}" in shown
    assert {row["Supplier"] for row in lines} == {"North"} and "Kiln" not in str(lines)
    book = load_workbook(
        io.BytesIO(owner.get(reverse("jobs:materials_order", args=[wired.pk, "xlsx"])).content)
    )
    last = len(lines) + 2  # the total, as a formula
    assert book.active.max_row == last and book.active.cell(last, 1).value == "Total"
    assert book.active.cell(last, 6).value == f"=SUM(F2:F{last - 1})"
    assert book.active.cell(2, 6).number_format == "#,##0.00"
    owner.post(page(wired), {"do": "forget"})
    assert "at least" in owner.get(page(wired)).content.decode()


def test_a_workbook_is_read_like_csv(owner, wired):
    key = order(wired).lines[0].key
    book = write_xlsx(
        [["Key", "Unit price", "Labor", "Unit", "Vendor"], [key, "12.50", "0.1", "100 ft", "East"]],
        "x",
        1,
    )
    assert sent(owner, wired, book, "prices.xlsx").status_code == 302
    assert PriceList.objects.get(owner=wired.owner).rows[key] == ["12.5", "0.1", "100 ft", "East"]


@pytest.mark.parametrize(("text", "words"), [
    ("", "The file is empty"), ("a,b\n1,2\n", "at least key, price"), ("key,price\nk,dear\n", "Row 2: Price: “dear”"),
    ("key,price,per\nk,3,reel\n", "Row 2: Per “reel”"), ("key,price\nk,3\nk,4\n", "Row 3: the key k is there twice"),
    ("key,price\nk,\n", "No row has a price or hours"), ("key,price\n,3\n", "Row 2: No key"),
])  # fmt: skip
def test_a_file_that_cannot_be_read_says_why_and_changes_nothing(owner, wired, text, words):
    sent(owner, wired, "key,price\nkept,3\n")
    answer = sent(owner, wired, text)
    said = " ".join(answer.content.decode().split())
    assert answer.status_code == 422 and words in said, re.findall(r'role="alert">([^<]+)', said)
    assert list(PriceList.objects.get(owner=wired.owner).rows) == ["kept"]


@pytest.mark.parametrize(
    "rates", [{"currency": "12"}, {"rate": "-1"}, {"mark_up": "x"}, {"rate": "1e9"}]
)
def test_rates_are_read_at_their_field(owner, wired, rates):
    answer = owner.post(
        page(wired), {"do": "rates", "currency": "USD", "rate": "1", "mark_up": "1", **rates}
    )
    assert answer.status_code == 422 and b'class="problem"' in answer.content
    assert not PriceList.objects.filter(owner=wired.owner).exists()


def test_no_file_is_asked_for(owner, wired):
    answer = owner.post(page(wired), {"do": "import"})
    assert answer.status_code == 422 and b"Choose a CSV or XLSX file." in answer.content


def test_prices_are_the_account_s_own_and_in_its_backup(owner, stranger, wired):
    sent(owner, wired, "key,price,supplier\nk,3,North\n")
    out = archive.export(wired.owner)
    assert out["price_list"]["rows"] == {"k": ["3", "", "", "North"]}
    other = type(wired.owner).objects.create_user("else@mill.example", None)
    archive.bring(other, {**out, "jobs": []} if out["jobs"] else out)
    assert price_list.list_of(other).rows == out["price_list"]["rows"]
    for bad in (
        {"rows": {"k": "x"}},
        {"currency": "much too long", "rate": "1", "mark_up": "1", "rows": {}},
    ):
        with pytest.raises(archive.UnreadableArchiveError):
            archive.bring(other, {**out, "jobs": [], "price_list": bad})
    assert stranger.get(page(wired)).status_code == 404


def test_an_earlier_revision_stands_beside(owner, wired):
    """A circuit made twice as long: its own materials alone change, and going back changes them
    back."""
    kiln = wired.parts.filter(kind="circuit").exclude(entries__length=None).first()
    first, before = wired.revision, {line.key: line.quantity for line in order(wired).lines}
    with revisions.changing(wired) as held:
        state = revisions.part_state(held.parts.get(pk=kiln.pk))
        longer = {**state["entries"], "length": "400 ft"}
        revisions.write(held, wired.owner, {str(kiln.pk): {**state, "entries": longer}})
    with revisions.changing(
        wired
    ) as held:  # and a setting of the job, which the earlier one has not
        own = revisions.states(held, {revisions.JOB: None})[revisions.JOB]
        revisions.write(held, wired.owner, {revisions.JOB: {**own, "preference": "maximum"}})
    wired = type(wired).objects.get(pk=wired.pk)
    as_was, worked, parts = earlier.worked_at(wired, first)
    names = {str(part.pk): part.name for part in parts}
    assert {line.key: line.quantity for line in take_off(worked, "nec").lines} == before
    assert as_was.preference != "maximum" and names[str(kiln.pk)] == kiln.name
    text = " ".join(owner.get(page(wired), {"with": str(first)}).content.decode().split())
    assert f"revision {first} and this job now" in text and "Difference of the totals" in text
    changed = text.count('<td class="name">')
    assert changed > len(order(wired).lines) - 5
    nothing = owner.get(page(wired), {"with": str(wired.revision - 1)})
    assert nothing.status_code == 200
    for odd in ("999999", "x", "0", "-1", "1" * 40):
        assert (
            "Difference of the totals" not in owner.get(page(wired), {"with": odd}).content.decode()
        )
    with pytest.raises(earlier.NoRevisionError):
        earlier.worked_at(wired, 999)


def test_an_alternative_is_another_job_of_the_account(owner, wired, people, stranger):
    """A copy of the job with one board fed otherwise: its sizes and materials beside the others."""
    owner.post(reverse("jobs:duplicate", args=[wired.pk]))
    other = type(wired).objects.of(people[0]).exclude(pk=wired.pk).get()
    page_of = owner.get(page(wired), {"with": f"job:{other.pk}"}).content.decode()
    assert "The same materials." in page_of and f"{other.name} and this job now" in " ".join(
        page_of.split()
    )
    feeder = next(part for part in other.loaded() if part.name == "Workshop feeder")
    with revisions.changing(other) as held:
        state = revisions.part_state(held.parts.get(pk=feeder.pk))
        longer = {**state["entries"], "size": "4/0"}
        revisions.write(held, people[0], {str(feeder.pk): {**state, "entries": longer}})
    text = " ".join(owner.get(page(wired), {"with": f"job:{other.pk}"}).content.decode().split())
    assert re.search(
        r"Workshop feeder</td> <td>125 A, 4/0 AWG Cu</td> <td>125 A, 1 AWG Cu</td>", text
    )
    # a job of somebody else, and one in other units, is none
    assert (
        "Compare with" not in text
        or str(other.pk) not in stranger.get(page(wired)).content.decode()
    )
    other.units = "metric"
    other.save()
    assert f"job:{other.pk}" not in owner.get(page(wired)).content.decode()


def test_an_earlier_revision_has_its_amendments_and_what_was_deleted(owner, wired):
    first = wired.revision
    board = wired.parts.filter(kind="board").first()
    before = sorted(names_of(wired))
    with revisions.changing(wired) as held:
        gone = {str(part.pk): None for part in under(held, board)}
        revisions.write(held, wired.owner, gone)
    wired = type(wired).objects.get(pk=wired.pk)
    assert len(names_of(wired)) < len(before)
    assert sorted(part.name for part in earlier.worked_at(wired, first)[2]) == before


def names_of(job):
    return [part.name for part in job.parts.all()]


def under(job, part):
    """A part and all that stands under it."""
    return [part, *(one for child in job.parts.filter(parent=part) for one in under(job, child))]


def test_what_one_revision_alone_leaves_out_is_no_saving(owner, wired):
    """A circuit whose load cannot be read any more is not ordered: the page says so beside the
    difference."""
    kiln = next(part for part in wired.parts.filter(kind="circuit") if part.entries.get("length"))
    first = wired.revision
    with revisions.changing(wired) as held:
        state = revisions.part_state(held.parts.get(pk=kiln.pk))
        revisions.write(
            held,
            wired.owner,
            {str(kiln.pk): {**state, "entries": {**state["entries"], "load": "much"}}},
        )
    text = " ".join(owner.get(page(wired), {"with": str(first)}).content.decode().split())
    assert "Different items are counted" in text and re.search(
        rf"{re.escape(kiln.name)} \(now\): no result", text
    )
