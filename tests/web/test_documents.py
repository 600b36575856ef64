"""Sets of documents: what stands on them is what the sheets say; nothing is left out; nobody else
gets one."""

from __future__ import annotations

import io
import re
from html import unescape

import pytest
from django.core.management import call_command
from django.urls import reverse
from pypdf import PdfReader

from voltaje.core.effort import StoppedError
from voltaje.core.report import figure
from voltaje.web.documents import sections, sheets, typesetting
from voltaje.web.documents.blocks import Facts, Grid, Heading, Picture, Words
from voltaje.web.documents.long_work import KEPT, blocks_of
from voltaje.web.documents.models import DocumentPreset, DocumentSet
from voltaje.web.documents.presets import SECTIONS, USUAL, known
from voltaje.web.jobs.actions import add_part
from voltaje.web.jobs.models import Amendment, Reading
from voltaje.web.jobs.worked import work_job

WORDS = typesetting.SetWords("Set", "who@trade.example", "foot", "page {n} of {all}",
                             "tile {tile} of {rows} × {columns}", "en")  # fmt: skip


@pytest.fixture
def mill(job, cottage, people):
    """The cottage; beside it a board with a circuit, and one with a circuit that is open."""
    supply = str(cottage.parent_id)
    for name, entries in (("Lamps", {"load": "900 W", "length": "60 ft"}), ("Unknown", {})):
        board = add_part(job, people[0], "board", supply)
        part = add_part(job, people[0], "circuit", str(board.pk))
        part.name, part.entries = name, entries
        part.save()
    Amendment.objects.create(
        job=job, topic="ampacity", row="12", column="copper 60", value="18",
        jurisdiction="County", reason="Ordinance 7",
    )  # fmt: skip
    Reading.objects.create(
        job=job, part=cottage, part_name="x", point="L1", unit="A", value=3.25, who="R. Alder"
    )
    job.refresh_from_db()
    job.revision += 1
    job.save()
    return type(job).objects.get(pk=job.pk)


def work(job):
    return sections.Worked(job, work_job(job), job.owner.email)


def texts(blocks):
    """Every text of blocks, a string."""
    found = []
    for one in blocks:
        if isinstance(one, Heading | Words):
            found.append(one.text)
        elif isinstance(one, Facts):
            found += [text for pair in one.pairs for text in pair]
        elif isinstance(one, Grid):
            found += [*one.head, *(text for row in one.rows for text in row)]
    return "\n".join(found)


def test_no_migration_is_missing(db):
    call_command("makemigrations", check=True, dry_run=True, verbosity=0)


def test_all_sections_of_all_presets_are_known():
    assert list(sections.MADE) == list(SECTIONS)
    for names in USUAL.values():
        assert known(names) == [one for one in SECTIONS if one in names]
    assert known(["sheets", "main_sheets", "nothing", "cover"]) == ["cover", "sheets"]


def test_every_item_its_answer_and_its_lines_stand_on_the_set(mill):
    found = work(mill)
    said = texts(blocks_of(found, known(SECTIONS)))
    for part in mill.loaded():
        assert part.name in said
        worked = found.of(part).report
        if worked is None:
            assert found.of(part).problems
            continue
        for name in worked.answer:
            if name in worked.results:
                assert sheets.result(worked.results[name]) in said
        for section in worked.sections:
            assert str(section.title) in said
            for line in section.lines:
                assert str(line.label) in said
    # open first, with its reason; nothing is zero that is not known
    opened = texts(sections.still_open(found))
    assert "Unknown" in opened and "incomplete" in opened
    assert "Ordinance 7" in said and mill.name in said and "R. Alder" in said
    levels = next(b for b in sections.levels(found) if isinstance(b, Grid))
    row = next(row for row in levels.rows if row[0] == "Unknown")
    assert set(row[2:]) == {""}


def test_the_panel_has_each_line_and_each_circuit(mill):
    found = work(mill)
    board = next(part for part in mill.loaded() if part.kind == "board")
    grids = [b for b in sections.panels(found) if isinstance(b, Grid)]
    results = found.of(board).report.results
    lines = {row[0]: row[2] for row in grids[0].rows}
    for line in ("l1", "l2"):
        assert lines[line.upper()] == sheets.result(results[f"current_{line}"])
    rows = {row[1]: row for grid in grids for row in grid.rows if len(row) > 3}
    assert rows["Lamps"][5] == figure(7.5, 1)  # 900 W ÷ 120 V
    assert rows["Unknown"][5] == "incomplete"


def test_a_mark_changes_with_what_the_set_rests_on(mill):
    before = sections.mark_of(mill)
    assert sections.mark_of(type(mill).objects.get(pk=mill.pk)) == before
    part = next(p for p in mill.loaded() if p.name == "Lamps")
    part.entries = {**part.entries, "load": "901 W"}
    after = sections.mark_of(mill)
    mill.amendments.update(value="17")
    assert len({before, after, sections.mark_of(mill)}) == 3


@pytest.mark.parametrize("paper", ["letter", "a4"])
def test_the_file_has_text_pages_bookmarks_fonts_and_tags(mill, paper):
    blocks = blocks_of(work(mill), known(SECTIONS))
    content, pages = typesetting.to_pdf(blocks, paper, WORDS)
    reader = PdfReader(io.BytesIO(content))
    assert len(reader.pages) == pages > 4
    size = reader.pages[0].mediabox
    wanted = (612, 792) if paper == "letter" else (595.3, 841.9)
    assert (float(size.width), float(size.height)) == pytest.approx(wanted, abs=0.5)
    assert reader.trailer["/Root"]["/MarkInfo"]["/Marked"]
    whole = "".join(page.extract_text() for page in reader.pages)
    for number in range(1, pages + 1):
        assert f"page {number} of {pages}" in reader.pages[number - 1].extract_text()
    plain = re.sub(r"[\s-]", "", whole)
    for one in blocks:
        if isinstance(one, Heading):
            assert re.sub(r"[\s-]", "", one.text) in plain
        elif isinstance(one, Grid):
            for row in one.rows:
                lost = [cell for cell in row if re.sub(r"[\s-]", "", cell) not in plain]
                assert lost == []
    titles = [one.title for one in flat(reader.outline)]
    assert [
        b.text for b in blocks if isinstance(b, Heading) and b.level == 1 and b.text not in titles
    ] == []
    fonts = {
        font.get_object()["/BaseFont"]
        for page in reader.pages
        for font in page["/Resources"].get("/Font", {}).values()
    }
    assert any("B612" in name for name in fonts) and all("+" in name for name in fonts)


def flat(outline):
    """The bookmarks of all levels."""
    for one in outline:
        if isinstance(one, list):
            yield from flat(one)
        else:
            yield one


@pytest.mark.parametrize(("width", "height", "tiles"), [(500, 600, 0), (1500, 900, 2), (1500, 2600, 6)])  # fmt: skip
def test_a_large_drawing_is_laid_out_in_tiles(width, height, tiles):
    """Every corner of the drawing stands on some tile."""
    marks = "".join(
        f'<text x="{x}" y="{y}">m{n}</text>'
        for n, (x, y) in enumerate([(5, 20), (width - 30, 20), (5, height - 5), (width - 30, height - 5)])
    )  # fmt: skip
    svg = (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}" width="{width}"'
        f' height="{height}"><title>t</title>{marks}</svg>'
    )
    picture = Picture(svg, width, height, "a drawing", "text{font:12px B612}")
    content, pages = typesetting.to_pdf([Heading(1, "Drawing"), picture], "letter", WORDS)
    text = [page.extract_text() for page in PdfReader(io.BytesIO(content)).pages]
    assert sum(one.count("tile ") for one in text) == tiles
    assert pages == max(1, tiles)
    assert all(f"m{n}" in "".join(text) for n in range(4))


def test_what_is_typed_is_never_markup(mill):
    odd = '*b* _i_ $x$ #panic("no") [a] <b> \\ `c` @x {y} "q" = h'
    part = next(p for p in mill.loaded() if p.name == "Lamps")
    part.name = odd
    content, _ = typesetting.to_pdf(sheets.item(mill, part, work(mill).of(part)), "a4", WORDS)
    text = PdfReader(io.BytesIO(content)).pages[0].extract_text()
    assert re.sub(r"\s", "", odd) in re.sub(r"\s", "", text)


def test_setting_the_pages_can_be_stopped(mill):
    def stop():
        raise StoppedError

    blocks = blocks_of(work(mill), known(SECTIONS)) * 40
    with pytest.raises(StoppedError):
        typesetting.to_pdf(blocks, "a4", WORDS, stop)


def make(client, job, *names, **more):
    return client.get(
        reverse("jobs:documents", args=[job.pk]), {"make": "pdf", "section": names, **more}
    )


def test_a_set_is_made_kept_and_given_to_its_owner_alone(mill, owner, stranger):
    page = make(owner, mill, "cover", "open").content.decode()
    kept = DocumentSet.objects.get()
    address = reverse("jobs:document_set", args=[mill.pk, kept.pk])
    assert address in page
    answer = owner.get(address)
    assert answer["Content-Type"] == "application/pdf" and answer.content[:5] == b"%PDF-"
    assert stranger.get(address).status_code == 404
    assert make(owner, mill, "cover", "open").status_code == 200
    assert DocumentSet.objects.count() == 1  # the same question is answered by the same file
    for number in range(KEPT + 2):
        make(owner, mill, *list(SECTIONS)[: number + 3 if number < 6 else 2], paper="a4")
    assert DocumentSet.objects.count() <= KEPT
    # one that was thrown away is made again
    DocumentSet.objects.all().delete()
    make(owner, mill, "cover", "open")
    assert DocumentSet.objects.count() == 1


def test_the_page_has_what_the_file_has(mill, owner):
    answer = owner.get(reverse("jobs:documents_print", args=[mill.pk]), {"section": list(SECTIONS)})
    page = unescape(re.sub(r"<[^>]+>", " ", answer.content.decode()))
    plain = re.sub(r"\s+", "", page)
    for line in texts(blocks_of(work(mill), known(SECTIONS))).splitlines():
        assert re.sub(r"\s+", "", line) in plain, line
    assert "<style" not in answer.content.decode()


@pytest.mark.parametrize(("posted", "words"), [
    ({"name": "", "section": ["cover"]}, "Give the preset a name"),
    ({"name": "mine", "section": []}, "Choose at least one section"),
    ({"name": "mine", "section": ["nothing"]}, "Choose at least one section"),
])  # fmt: skip
def test_a_choice_that_cannot_be_kept_is_told(mill, owner, posted, words):
    url = reverse("jobs:document_presets", args=[mill.pk])
    answer = owner.post(url, {"do": "keep", **posted})
    assert answer.status_code == 422 and words in answer.content.decode()
    assert not DocumentPreset.objects.exists()


def test_choices_are_kept_with_the_job_and_forgotten(mill, owner):
    url = reverse("jobs:document_presets", args=[mill.pk])
    owner.post(url, {"do": "keep", "name": "inspection", "section": ["levels", "cover"]})
    page = owner.get(reverse("jobs:documents", args=[mill.pk])).content.decode()
    assert "?section=cover&amp;section=levels" in page and "inspection" in page
    assert "as built" in page and "permit" in page
    owner.post(url, {"do": "forget:inspection"})
    assert not DocumentPreset.objects.exists()


def test_nothing_chosen_is_told(mill, owner):
    answer = make(owner, mill)
    assert answer.status_code == 422
    assert "Choose at least one section" in answer.content.decode()
    assert not DocumentSet.objects.exists()
