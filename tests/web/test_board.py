"""The board's table: saving cells, new rows, conflicts, CSV and XLSX out and in."""

import csv
import io
import json
import re
import uuid

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from openpyxl import load_workbook

from voltaje.core.rules.interface import code_of
from voltaje.web.board import files as board_files
from voltaje.web.board import table as board_table
from voltaje.web.jobs import actions
from voltaje.web.jobs.demo import MILL
from voltaje.web.jobs.models import Job

NEC = code_of("nec")


@pytest.fixture
def board(job, people):
    actions.plant(job, people[0], MILL)
    job.refresh_from_db()
    return job.parts.get(name="Workshop")


@pytest.fixture
def table(owner, job, board):
    """``table(**cells)``: saves cells and gives the state that the page gets."""

    def save(posted):
        answer = owner.post(reverse("jobs:save", args=[job.pk, board.pk]), posted)
        if answer.status_code != 200:
            return answer
        text = answer.content.decode()
        import html

        start = text.index('data-state="') + len('data-state="')
        return json.loads(html.unescape(text[start : text.index('"', start)]))

    return save


def circuit(board, name):
    return board.children.get(name=name)


def test_the_page_has_a_row_for_each_circuit(owner, job, board):
    page = owner.get(reverse("jobs:part", args=[job.pk, board.pk])).content.decode()
    assert page.count("<tr data-part=") == board.children.count() + 1
    assert "Workshop feeder" in page and "7-1/2 hp" in page


def test_cells_are_kept_as_one_revision_and_every_row_answers(job, board, table):
    lights, mill = circuit(board, "Glaze room lights"), circuit(board, "Pug mill")
    before = job.revision
    state = table({
        f"cell:{lights.pk}:load": "1.5 kW", f"was:{lights.pk}:load": "860 VA",
        f"cell:{mill.pk}:load": "10 hp", f"was:{mill.pk}:load": "5 hp",
        f"cell:{mill.pk}:name": "Big pug mill", f"was:{mill.pk}:name": "Pug mill",
    })  # fmt: skip
    job.refresh_from_db()
    assert job.revision == before + 1 and job.revisions.first().summary.startswith("Glaze")
    assert state["table"]["answers"][str(mill.pk)]["device"] == "80"
    assert state["table"]["cells"][str(mill.pk)]["name"]["text"] == "Big pug mill"
    assert len(state["table"]["answers"]) == board.children.count()


@pytest.mark.parametrize(
    ("use", "load", "kind", "answer"),
    [
        ("lighting", "1.2 kW", "circuit", "14 AWG Cu"), ("receptacles", "8", "circuit", "14 AWG Cu"),
        ("motor", "5 hp", "motor", "10 AWG Cu"), ("cooking", "11.4 kW", "cooking", "8 AWG Cu"),
        ("", "2 kW", "circuit", "12 AWG Cu"),
    ],
)  # fmt: skip
def test_a_new_row_becomes_a_circuit(board, table, use, load, kind, answer):
    key = str(uuid.uuid4())
    row = {"row-made": key, f"cell:{key}:name": "New one", f"cell:{key}:use": use,
           f"cell:{key}:load": load, f"cell:{key}:length": "50"}  # fmt: skip
    state = table(row)
    made = board.children.get(name="New one")
    assert str(made.pk) == key and made.kind == kind and state["table"]["order"][-1] == key
    assert state["table"]["answers"][str(made.pk)]["conductor"] == answer
    assert made.entries["length"] == "50 ft"
    again = table(row)  # its answer was lost and it comes once more
    assert again["revision"] == state["revision"] and not again["conflicts"]
    assert board.children.filter(name="New one").count() == 1


def test_empty_new_rows_are_passed_over_and_unnamed_ones_get_a_name(board, table):
    before = board.children.count()
    key = str(uuid.uuid4())
    made = {"row-made": key, f"cell:{key}:name": ""}
    table({**made, f"cell:{key}:use": "lighting", f"cell:{key}:load": " "})
    assert board.children.count() == before
    table({**made, f"cell:{key}:load": "600 W"})
    assert board.children.filter(name__startswith="Circuit ").count() == 1


def test_wrong_cells_are_kept_and_named(board, table):
    part = circuit(board, "Glaze room lights")
    state = table({f"cell:{part.pk}:load": "many", f"was:{part.pk}:load": "860 VA"})
    assert "does not read" in state["table"]["cells"][str(part.pk)]["load"]["problem"]
    assert circuit(board, "Glaze room lights").entries["load"] == "many"
    assert state["table"]["answers"][str(part.pk)]["status"] == "incomplete"


def test_a_cell_that_another_tab_changed_is_a_conflict(board, table):
    part = circuit(board, "Glaze room lights")
    state = table({f"cell:{part.pk}:load": "2 kW", f"was:{part.pk}:load": "500 W"})
    assert state["conflicts"] == [
        {"path": f"{part.pk}:load", "mine": "2 kW", "theirs": "860 VA", "gone": False}
    ]
    assert circuit(board, "Glaze room lights").entries["load"] == "860 VA"


def test_a_changed_use_decides_what_the_load_is(board, table):
    part = circuit(board, "Glaze room lights")
    table({f"cell:{part.pk}:use": "receptacles", f"was:{part.pk}:use": "lighting",
           f"cell:{part.pk}:load": "6", f"was:{part.pk}:load": "860 VA"})  # fmt: skip
    assert circuit(board, "Glaze room lights").entries["outlets"] == "6"


def test_rows_are_deleted_and_undone(owner, job, board, table):
    part = circuit(board, "Slab roller")
    table({"row-out": str(part.pk)})
    assert not board.children.filter(pk=part.pk).exists()
    owner.post(reverse("jobs:undo", args=[job.pk]))
    assert circuit(board, "Slab roller")


def test_unknown_cells_are_refused_and_foreign_parts_untouched(job, board, table):
    assert table({f"cell:{board.pk}:colour": "red"}).status_code == 400
    cottage = job.parts.get(kind="dwelling")
    before = cottage.entries
    table({f"cell:{cottage.pk}:name": "Taken", f"cell:{cottage.pk}:length": "5"})
    cottage.refresh_from_db()
    assert (cottage.name, cottage.entries) == ("Cottage", before)


# files --------------------------------------------------------------------------------------


def take(owner, job, board, content, name="circuits.csv", **more):
    content = content if isinstance(content, bytes) else content.encode()
    url = reverse("jobs:import", args=[job.pk, board.pk])
    return owner.post(url, {"file": SimpleUploadedFile(name, content), **more})


@pytest.mark.parametrize("ending", ["csv", "xlsx"])
def test_what_goes_out_comes_in_unchanged(owner, job, board, ending):
    content = owner.get(reverse(f"jobs:{ending}", args=[job.pk, board.pk])).content
    answer = take(owner, job, board, content, f"board.{ending}")
    whats = {c.name: (c.what, c.words) for c in answer.context["changes"]}
    assert {what for what, _ in whats.values()} == {"same"}, whats
    assert len(whats) == board.children.count()


def test_the_csv_has_plain_columns(owner, job, board):
    content = owner.get(reverse("jobs:csv", args=[job.pk, board.pk])).content.decode()
    rows = list(csv.DictReader(io.StringIO(content)))
    assert rows[0]["Name"] == "Pug mill" and rows[0]["Device A"] == "45"
    assert rows[0]["Conductors"] == "12 AWG Cu" and rows[4]["Use"] == "lighting"


def test_a_name_is_never_a_formula(owner, job, board):
    actions.add_part(job, job.owner, "circuit", str(board.pk), "=2+5", {"load": "1 kW"})
    text = owner.get(reverse("jobs:csv", args=[job.pk, board.pk])).content.decode()
    assert "'=2+5" in text
    book = load_workbook(io.BytesIO(
        owner.get(reverse("jobs:xlsx", args=[job.pk, board.pk])).content))  # fmt: skip
    cell = next(row[0] for row in book.worksheets[0].iter_rows() if row[0].value == "=2+5")
    assert cell.data_type == "s"


FILE = """Name;Use;Load;Connection;Line;Length
Pug mill;motor;7-1/2 hp;;;
New hoist;motor;2 hp;three-phase;;40 ft
Spot lights;lighting;900 W;line and neutral;L1;55 ft
Bad one;kiln;abc;two lines;;
;lighting;1 kW;;;
Spot lights;lighting;1 kW;;;
"""


def test_a_file_is_shown_first_and_taken_once_agreed(owner, job, board):
    before = job.parts.count()
    shown = take(owner, job, board, FILE)
    assert [c.what for c in shown.context["changes"]] == [
        "changed", "new", "new", "wrong", "wrong", "wrong"]  # fmt: skip
    page = shown.content.decode()
    assert "5 hp → 7-1/2 hp" in page and "does not read" in page and "stands in a row above" in page
    assert job.parts.count() == before
    url = reverse("jobs:import", args=[job.pk, board.pk])
    agreed = {"rows": shown.context["rows"], "agreed": "yes",
              "take": [c.key for c in shown.context["changes"] if c.takes]}  # fmt: skip
    for _ in range(2):  # agreed to twice it is taken once
        answer = owner.post(url, agreed)
        assert answer.status_code == 302 and job.parts.count() == before + 2
    assert circuit(board, "Pug mill").entries["horsepower"] == "7-1/2 hp"
    assert circuit(board, "Pug mill").entries["nameplate"] == "15.8 A"
    assert circuit(board, "Spot lights").entries["line"] == "L1"
    owner.post(reverse("jobs:undo", args=[job.pk]))
    assert job.parts.count() == before


@pytest.mark.parametrize(
    ("content", "name", "words"),
    [
        (b"", "a.csv", "is empty"), (b"\n\n", "a.csv", "is empty"),
        (b"Load,Use\n1,2\n", "a.csv", "must name the columns"),
        (b"\x00\x01\x02", "a.csv", "not text"), (b"not a workbook", "a.xlsx", "cannot be read"),
        (b"Name\n" + b"x\n" * 600, "a.csv", "at most 300"),
        (b"x" * 600_000, "a.csv", "larger than 500 kB"),
    ],
)  # fmt: skip
def test_files_that_are_no_tables(owner, job, board, content, name, words):
    answer = take(owner, job, board, content, name)
    assert answer.status_code == 422 and words in answer.content.decode()


@pytest.mark.parametrize("rows", ["nonsense", "{}", "[" * 5000, '[["a"]]'])
def test_a_forged_preview_is_read_warily(owner, job, board, rows):
    before = job.parts.count()
    url = reverse("jobs:import", args=[job.pk, board.pk])
    assert owner.post(url, {"rows": rows, "agreed": "yes"}).status_code in (302, 422)
    assert job.parts.count() == before


def test_excel_and_european_files_read_alike():
    plain = board_files.read(
        SimpleUploadedFile("a.csv", "Name,Load\nA,1 kW\n".encode("utf-8-sig")), NEC
    )
    tabs = board_files.read(SimpleUploadedFile("a.csv", b"name\tload\nA\t1 kW\n"), NEC)
    western = board_files.read(
        SimpleUploadedFile("a.csv", "Name;Load\nCafé;1 kW\n".encode("cp1252")), NEC
    )
    assert plain == tabs == [{"name": "A", "load": "1 kW"}] and western[0]["name"] == "Café"


NAMES = ["007", "1e5", "1.10", "nan", "inf", "'tis", "''", "'=2", "-5", "+1", "@home", "=2+5", "TRUE",
         "3/4", "2026-01-02", "½ hp", "a,b;c", 'say "so"', "\u00e9t\u00e9", "#N/A", "0x1F"]  # fmt: skip


@pytest.mark.parametrize("ending", ["csv", "xlsx"])
def test_every_name_survives_a_spreadsheet(owner, job, board, ending):
    for name in NAMES:
        actions.add_part(Job.objects.get(pk=job.pk), job.owner, "circuit", str(board.pk), name,
                         {"load": "1 kW"})  # fmt: skip
    content = owner.get(reverse(f"jobs:{ending}", args=[job.pk, board.pk])).content
    read = board_files.read(SimpleUploadedFile(f"a.{ending}", content), NEC)
    assert [row["name"] for row in read if row["name"] in NAMES] == NAMES
    answer = take(owner, job, board, content, f"a.{ending}")
    assert {c.what for c in answer.context["changes"]} == {"same"}


def test_what_another_tab_kept_since_a_preview_is_asked_not_overwritten(owner, job, board):
    shown = take(
        owner, job, board, "Name,Load,Length\nPug mill,7-1/2 hp,\nSlab roller,1 hp,50 ft\n"
    )
    mill, roller = circuit(board, "Pug mill"), circuit(board, "Slab roller")
    save = reverse("jobs:save", args=[job.pk, mill.pk])
    owner.post(save, {"set:horsepower": "10 hp", "set:nameplate": "28 A"})
    url = reverse("jobs:import", args=[job.pk, board.pk])
    agreed = {"rows": shown.context["rows"], "agreed": "yes",
              "take": [c.key for c in shown.context["changes"] if c.takes]}  # fmt: skip
    again = owner.post(url, agreed)
    page = again.content.decode()
    assert again.status_code == 200 and "Load is “10 hp” now" in page
    assert len(re.findall(r'name="take"[^>]* checked', page)) == 1  # what clashes is not ticked
    assert circuit(board, "Slab roller").entries["horsepower"] == "3/4 hp"
    owner.post(url, {**agreed, "rows": again.context["rows"], "take": [str(roller.pk)]})
    assert circuit(board, "Slab roller").entries["horsepower"] == "1 hp"
    kept = circuit(board, "Pug mill").entries
    assert (kept["horsepower"], kept["nameplate"]) == ("10 hp", "28 A")
    owner.post(url, {**agreed, "rows": again.context["rows"]})
    kept = circuit(board, "Pug mill").entries
    # the file names the load alone: the other tab's nameplate stays
    assert (kept["horsepower"], kept["nameplate"]) == ("7-1/2 hp", "28 A")


@pytest.mark.parametrize(
    ("use", "load", "kind", "entry"),
    [("motor", "5 hp", "motor", "horsepower"), ("cooking", "11 kW", "cooking", "nameplate"),
     ("air conditioning", "23 A", "circuit", "minimum_ampacity"), ("receptacles", "6", "circuit", "outlets")],
)  # fmt: skip
def test_a_row_becomes_another_kind_by_its_use_and_back(
    owner, job, board, table, use, load, kind, entry
):
    part = circuit(board, "Glaze room lights")
    key = str(part.pk)
    table({f"cell:{key}:use": use, f"was:{key}:use": "lighting"})
    state = table({f"cell:{key}:load": load, f"was:{key}:load": "860 VA"})
    made = circuit(board, "Glaze room lights")
    assert made.kind == kind and made.entries[entry] == load and made.entries["length"] == "66 ft"
    assert not state["conflicts"]
    for _ in range(2):
        owner.post(reverse("jobs:undo", args=[job.pk]))
    back = circuit(board, "Glaze room lights")
    assert (back.kind, back.entries) == (part.kind, part.entries)


def test_a_name_with_quotes_stays_a_name_in_every_cell():
    inside = board_table.control("k", board_table.TableCell("use", "motor", None), '"><img src=x>')
    assert "<img" not in inside and "&gt;&lt;img" in inside


@pytest.mark.parametrize(
    ("titles", "row", "cells", "left"),
    [
        (("Circuit", "Load (kVA)", "Length, ft", "Breaker"), ("Ovens", "9.6", "45", "50"),
         {"name": "Ovens", "load": "9.6 kVA", "length": "45 ft"}, ["Breaker"]),
        (("Load served", "VA", "Run (m)"), ("Lamps", "1,200", "12.5"),
         {"name": "Lamps", "load": "1,200 VA", "length": "12.5 m"}, []),
        (("Description", "kW", "Phase", "Remarks"), ("Fan", "2 hp", "L2", "roof"),
         {"name": "Fan", "load": "2 hp", "line": "L2"}, ["Remarks"]),  # a unit of its own stays
        (("Description", "Phase A", "Phase B"), ("Fan", "600", "400"),
         {"name": "Fan"}, ["Phase A", "Phase B"]),  # loads by line, no line
        (("Name", "Load", "Amperes", "Conductors"), ("Pump", "1.5 kW", "12", "12 AWG"),
         {"name": "Pump", "load": "1.5 kW"}, []),  # what the program itself writes besides
    ],
)  # fmt: skip
def test_titles_are_understood_as_people_write_them(titles, row, cells, left):
    content = "\n".join("\t".join(line) for line in (titles, row)).encode()
    found, passed = board_files.read_and_passed(SimpleUploadedFile("a.csv", content), NEC)
    assert found == [cells] and passed == left
