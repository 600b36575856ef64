"""The job's tree: adding, moving, duplicating, deleting, each undone; the page of 200 parts."""

import io

import ezdxf
import pytest
from django.urls import reverse

from voltaje.web.drawings.canvas import short
from voltaje.web.drawings.riser import NAME_LENGTH
from voltaje.web.history import revisions
from voltaje.web.jobs import actions
from voltaje.web.jobs.demo import MILL


@pytest.fixture
def mill(job, people):
    """The job with the demo's mill planted beside the cottage's supply."""
    actions.plant(job, people[0], MILL)
    job.refresh_from_db()
    return job


@pytest.fixture
def tree(owner, mill):
    def act(**posted):
        return owner.post(reverse("jobs:tree", args=[mill.pk]), posted, HTTP_HX_REQUEST="true")

    return act


def names(job, parent=None):
    found = job.parts.filter(parent=parent).order_by("position")
    return [p.name for p in found]


def test_the_page_shows_each_part_with_its_answer_and_the_findings(owner, mill):
    page = owner.get(reverse("jobs:job", args=[mill.pk])).content.decode()
    assert "Kiln 2, top loading" in page and "10 AWG Cu" in page
    assert (
        "heater gives 75 %" in page and page.count('type="radio" name="part"') == mill.parts.count()
    )


@pytest.mark.parametrize("kind", ["feeder", "board", "circuit", "cooking", "motor", "dwelling"])
def test_every_kind_is_added_and_undone(owner, mill, tree, kind):
    top = mill.parts.get(name="Mill, 480Y/277 V")
    before = mill.parts.count()
    assert tree(act="add", kind=kind, part=str(top.pk)).status_code == 200
    assert mill.parts.count() == before + 1 and mill.parts.filter(kind=kind, parent=top).exists()
    owner.post(reverse("jobs:undo", args=[mill.pk]))
    assert mill.parts.count() == before


def test_moving_by_steps_and_by_dragging(mill, tree):
    room = mill.parts.get(name="Kiln room")
    first, second = (str(p.pk) for p in mill.parts.filter(parent=room).order_by("position")[:2])
    order = names(mill, room)
    tree(act="down", part=first)
    assert names(mill, room)[:2] == [order[1], order[0]]
    tree(act="up", part=first)
    assert names(mill, room) == order
    shop = mill.parts.get(name="Shop and gallery")
    tree(act="drop", part=second, parent=str(shop.pk), before=str(mill.parts.filter(parent=shop)
                                                                  .order_by("position")[0].pk))  # fmt: skip
    assert names(mill, shop)[0] == order[1] and order[1] not in names(mill, room)
    tree(act="out", part=second)
    beside = names(mill, mill.parts.get(name="House feeder"))
    assert beside[beside.index("Shop and gallery") + 1] == order[1]
    tree(act="in", part=second)
    assert names(mill, shop)[-1] == order[1]


@pytest.mark.parametrize(
    ("part", "posted", "words"),
    [
        ("Kiln room", {"act": "drop", "parent": "Kiln room"}, "cannot stand under itself"),
        ("Kiln room feeder", {"act": "drop", "parent": "Kiln room"}, "cannot stand under itself"),
        (
            "Kiln room",
            {"act": "drop", "parent": "Kiln room lights"},
            "Nothing stands under this: Circuit",
        ),
        ("Kiln room", {"act": "drop", "parent": ""}, "Only a supply stands by itself"),
        ("Mill, 480Y/277 V", {"act": "drop", "parent": "Kiln room"}, "A supply stands by itself"),
        ("Mill, 480Y/277 V", {"act": "out"}, "nowhere to go"),
        (
            "Kiln room lights",
            {"act": "add", "kind": "circuit"},
            "Nothing stands under this: Circuit",
        ),
    ],
)
def test_what_may_not_stand_there_is_said_and_not_done(mill, tree, part, posted, words):
    before = mill.revision
    if posted.get("parent"):
        posted = {**posted, "parent": str(mill.parts.get(name=posted["parent"]).pk)}
    answer = tree(part=str(mill.parts.get(name=part).pk), **posted)
    mill.refresh_from_db()
    assert words in answer.content.decode() and mill.revision == before


def test_a_duplicate_brings_all_below_along_and_delete_is_undone(owner, mill, tree):
    feeder = mill.parts.get(name="Kiln room feeder")
    under = len(actions.subtree(mill, feeder))
    before = mill.parts.count()
    tree(act="duplicate", part=str(feeder.pk))
    copy = mill.parts.get(name="Kiln room feeder (copy)")
    mill.refresh_from_db()
    assert len(actions.subtree(mill, copy)) == under and names(mill, feeder.parent)[1] == copy.name
    tree(act="delete", part=str(feeder.pk))
    assert mill.parts.count() == before
    owner.post(reverse("jobs:undo", args=[mill.pk]))
    owner.post(reverse("jobs:undo", args=[mill.pk]))
    assert mill.parts.count() == before and mill.parts.filter(pk=feeder.pk).exists()
    assert names(mill, mill.parts.get(name="Kiln room"))[0] == "Booster of kiln 1"


@pytest.mark.parametrize(
    ("posted", "status"),
    [({"act": "fly"}, 400), ({"act": "add", "kind": "ship"}, 200), ({"act": "up"}, 400),
     ({"act": "up", "part": "no id"}, 400),
     ({"act": "up", "part": "00000000-0000-0000-0000-000000000000"}, 200)],
)  # fmt: skip
def test_bad_calls(mill, tree, posted, status):
    if "part" not in posted and posted["act"] != "up":
        posted = {**posted, "part": str(mill.parts.first().pk)}
    assert tree(**posted).status_code == status


def test_a_supply_may_be_added_to_an_empty_job(owner, mill, tree):
    for top in mill.parts.filter(parent=None):
        tree(act="delete", part=str(top.pk))
    assert mill.parts.count() == 0
    page = owner.get(reverse("jobs:job", args=[mill.pk])).content.decode()
    assert "Nothing here yet" in page
    tree(act="add", kind="supply", part="")
    assert mill.parts.get().kind == "supply"


@pytest.mark.parametrize("begins", ["dwelling", "board", "supply"])
def test_a_new_job_begins_as_chosen(owner, begins):
    posted = {"name": "New", "edition": "nec-2023", "units": "us", "preference": "maximum",
              "system": "3ph-208Y/120" if begins == "board" else "1ph-120/240", "begins": begins}  # fmt: skip
    page = owner.post(reverse("jobs:create"), posted, follow=True).content.decode()
    assert "New" in page and {"dwelling": "Dwelling", "board": "Board 1", "supply": "Utility service"}[
        begins] in page  # fmt: skip
    refused = owner.post(reverse("jobs:create"), {**posted, "begins": "dwelling",
                                                  "system": "3ph-480Y/277"})  # fmt: skip
    assert "choose such a supply" in refused.content.decode()


def test_a_job_of_another_units_keeps_its_prices(mill):
    mill.prices = {"copper 12": 0.5}
    assert mill.shop().price("copper", "12") == pytest.approx(0.5 / 0.3048)
    mill.units = "metric"
    assert mill.shop().price("copper", "12") == 0.5


def test_amendments_hold_for_the_job_and_are_undone(owner, mill):
    url = reverse("jobs:amendments", args=[mill.pk])
    posted = {"topic": "ampacity", "row": "14", "column": "copper 60", "value": "12",
              "jurisdiction": "Mill County", "reason": "Ordinance 7"}  # fmt: skip
    assert owner.post(url, posted).status_code == 302
    part = mill.parts.get(name="Kiln room lights")
    sheet = reverse("jobs:part", args=[mill.pk, part.pk])
    page = owner.get(sheet).content.decode()
    assert "12 instead of 15" in page and "Mill County" in page
    paper = owner.get(reverse("jobs:print", args=[mill.pk, part.pk])).content.decode()
    assert "Local amendments of this job" in paper and "Ordinance 7" in paper
    assert b"Mill County" in owner.get(url).content
    # twice, or what is not there, or not of its kind
    for change, words in (({}, "amended already"), ({"row": "13"}, "No such row"),
                          ({"column": "tin"}, "No such column"), ({"reason": ""}, "Say why"),
                          ({"row": "12", "value": "lots"}, "from 2 to 200, like 20"), ({"row": "12", "value": "-1"}, "from 2 to 200"),
                          ({"row": "12", "value": "inf"}, "from 2 to 200"), ({"row": "12", "value": "1e9"}, "from 2")):  # fmt: skip
        answer = owner.post(url, {**posted, **change})
        assert answer.status_code == 422 and words in answer.content.decode()
    owner.post(reverse("jobs:undo", args=[mill.pk]))
    assert "Mill County" not in owner.get(sheet).content.decode()
    revisions.redo(mill, mill.owner)
    drop = reverse("jobs:drop_amendment", args=[mill.pk, mill.amendments.get().pk])
    assert owner.post(drop).status_code == 302 and not mill.amendments.exists()


def test_prices_are_kept_and_wrong_ones_named(owner, mill):
    url = reverse("jobs:prices", args=[mill.pk])
    answer = owner.post(url, {"copper 12": "0.48", "copper 10": "cheap"})
    assert answer.status_code == 422 and "like 0.48" in answer.content.decode()
    assert owner.post(url, {"copper 12": "0,48", "copper 14": "0.3"}).status_code == 302
    mill.refresh_from_db()
    assert mill.prices == {"copper 12": 0.48, "copper 14": 0.3}
    part = mill.parts.get(name="Kiln room lights")
    page = owner.get(reverse("jobs:part", args=[mill.pk, part.pk])).content.decode()
    assert "Price</th>" in page


def test_the_riser_draws_every_part_and_comes_as_svg(owner, mill):
    page = owner.get(reverse("jobs:riser", args=[mill.pk])).content.decode()
    assert page.count("<g transform") == mill.parts.count()
    assert "Mill transformer" in page and "kA" in page and "112.5 kVA" in page
    fewer = owner.get(reverse("jobs:riser", args=[mill.pk]), {"circuits": "no"}).content.decode()
    assert "Kiln 2" not in fewer and "Kiln room" in fewer
    answer = owner.get(reverse("jobs:riser_svg", args=[mill.pk]))
    text = answer.content.decode()
    assert (
        answer["Content-Type"] == "image/svg+xml" and "attachment" in answer["Content-Disposition"]
    )
    from xml.etree import ElementTree

    assert ElementTree.fromstring(text).tag.endswith("svg")


def test_the_hook_up_list_is_ticked_off_and_printed(owner, mill):
    part = mill.parts.get(kind="transformer")
    owner.post(reverse("jobs:save", args=[mill.pk, part.pk]), {"set:done_place": "yes"})
    paper = owner.get(reverse("jobs:print", args=[mill.pk, part.pk])).content.decode()
    assert paper.count("☑") == 3 and paper.count("☐") == 7
    assert paper.index("Locked out") < paper.index("Primary lines on H1")
    assert "designer’s approval" in paper


@pytest.mark.parametrize(
    ("asked", "words"),
    [
        ({"three_phase": "no", "load": "30 kVA", "limit": "400 A"}, "120/240 V, single-phase"),
        ({"three_phase": "yes", "load": "30", "limit": "400"}, "208Y/120 V"),
        ({"three_phase": "no", "load": "much", "limit": "400"}, "does not read"),
        ({"three_phase": "no", "load": "30", "limit": "9000 A"}, "Out of range"),
    ],
)
def test_the_supply_adviser(owner, asked, words):
    page = owner.get(reverse("jobs:adviser"), asked).content.decode()
    assert words in page
    assert owner.get(reverse("jobs:create"), {"system": "3ph-208Y/120"}).status_code == 200


def test_a_finding_offers_a_booster_and_puts_it_in(owner, mill):
    """One revision: the booster takes the kiln's place, the kiln stands under it; what is asked
    twice is done once; undo takes it out."""
    kiln = mill.parts.get(name="Kiln 2, top loading")
    room = kiln.parent
    order = names(mill, room)
    url = reverse("jobs:offer", args=[mill.pk, kiln.pk])
    page = owner.get(reverse("jobs:part", args=[mill.pk, kiln.pk])).content.decode()
    assert url in page and "Put a buck-boost transformer ahead of it" in page
    posted = {"finding": "rated_volts", "made": "7e1f0d9c-3c9b-4a55-9d0e-1b2f3a4c5d6e"}
    before = revisions_of(mill)
    for _ in range(2):
        answer = owner.post(url, posted)
        assert answer.status_code == 302
    mill.refresh_from_db()
    booster = mill.parts.get(
        kind="buck_boost", name="Buck-boost transformer for Kiln 2, top loading"
    )
    kiln.refresh_from_db()
    assert kiln.parent == booster and booster.parent == room
    assert booster.entries["required_voltage"] == "240 V" and revisions_of(mill) == before + 1
    assert names(mill, room) == [booster.name if n == kiln.name else n for n in order]
    found = owner.get(reverse("jobs:part", args=[mill.pk, kiln.pk])).content.decode()
    assert "Put a buck-boost transformer ahead of it" not in found
    # nothing of that name is found any more: nothing is done
    assert owner.post(url, {"finding": "rated_volts"}).status_code == 302
    assert mill.parts.filter(kind="buck_boost").count() == 2
    owner.post(reverse("jobs:undo", args=[mill.pk]))
    kiln.refresh_from_db()
    assert kiln.parent == room and names(mill, room) == order


def revisions_of(job):
    return job.revisions.count()


def test_nobody_takes_up_an_offer_in_another_job(client, mill, people):
    kiln = mill.parts.get(name="Kiln 2, top loading")
    client.force_login(people[1])
    url = reverse("jobs:offer", args=[mill.pk, kiln.pk])
    assert client.post(url, {"finding": "rated_volts"}).status_code == 404
    assert (
        not mill.parts.filter(parent=kiln.parent, kind="buck_boost")
        .exclude(name="Booster of kiln 1")
        .exists()
    )


def test_the_one_line_diagram_is_read_by_drawing_programs(owner, mill):
    """As DXF: read back and found sound by a library for it, every item by its name and its figures, the
    conductors as straight lines where the SVG has them."""
    answer = owner.get(reverse("jobs:riser_dxf", args=[mill.pk]))
    assert answer["Content-Type"] == "image/vnd.dxf" and answer["Content-Disposition"].endswith(
        '.dxf"'
    )
    drawing = ezdxf.read(io.StringIO(answer.content.decode()))
    assert not drawing.audit().errors
    space = drawing.modelspace()
    texts = {text.dxf.text for text in space.query("TEXT[layer=='NAMES']")}
    assert texts == {short(part.name, NAME_LENGTH) for part in mill.parts.all()}
    assert len(space.query("TEXT[layer=='FIGURES']")) >= mill.parts.count()
    runs = space.query("LWPOLYLINE[layer=='CONDUCTORS']")
    svg = owner.get(reverse("jobs:riser_svg", args=[mill.pk])).content.decode()
    assert len(runs) == svg.count('class="run"')
    found = owner.get(reverse("jobs:riser_dxf", args=[mill.pk]), {"circuits": "no"})
    assert len(found.content) < len(answer.content)


def test_nobody_draws_another_job(stranger, mill):
    assert stranger.get(reverse("jobs:riser_dxf", args=[mill.pk])).status_code == 404


def _pdf_pages(answer) -> list[str]:
    """The text of each page, as a reader of PDF finds it."""
    from pypdf import PdfReader

    return [page.extract_text() for page in PdfReader(io.BytesIO(answer.content)).pages]


@pytest.mark.parametrize("paper", ["letter", "a4"])
def test_the_one_line_diagram_is_printed_on_one_sheet_or_in_tiles(owner, mill, paper):
    url = reverse("jobs:riser_pdf", args=[mill.pk])
    one = owner.get(url, {"paper": paper})
    assert one["Content-Type"] == "application/pdf" and b"FontFile2" in one.content
    sheet = _pdf_pages(one)
    names = [part.name for part in mill.parts.all() if len(part.name) < 26]
    assert len(sheet) == 1 and all(name in sheet[0] for name in names)
    assert "A calculation aid." in sheet[0] and "sheet 1 of 1" in sheet[0]
    tiles = _pdf_pages(owner.get(url, {"paper": paper, "tiles": "yes"}))
    assert len(tiles) > 2
    assert all(any(name in text for text in tiles) for name in names)
    assert "tile A1" in tiles[0] and "to the right: A2" in tiles[0]
    fewer = _pdf_pages(owner.get(url, {"tiles": "yes", "circuits": "no"}))
    assert len(fewer) < len(tiles)


def test_the_diagram_on_paper_is_nobody_elses(stranger, mill):
    assert stranger.get(reverse("jobs:riser_pdf", args=[mill.pk])).status_code == 404


def test_a_branch_of_the_diagram_folds_and_says_what_is_in_it(owner, mill):
    url = reverse("jobs:riser", args=[mill.pk])
    workshop = mill.parts.get(name="Workshop feeder")
    plain = owner.get(url).content.decode()
    assert f"?fold={workshop.pk}" in plain and "Pug mill" in plain
    folded = owner.get(url, {"fold": [str(workshop.pk)]}).content.decode()
    assert "Pug mill" not in folded and "Kiln 2, top loading" in folded
    below = [part for part in mill.loaded() if _hangs_on(part, workshop, mill)]
    assert f"{len(below)} items folded" in folded
    assert "Open the branch of Workshop feeder" in folded
    both = owner.get(url, {"fold": [str(workshop.pk), "no-such-item"], "circuits": "no"})
    assert both.status_code == 200


def _hangs_on(part, other, job) -> bool:
    by_id = {one.pk: one for one in job.loaded()}
    while part.parent_id:
        part = by_id[part.parent_id]
        if part.pk == other.pk:
            return True
    return False


def test_what_is_incomplete_is_marked_on_the_diagram(owner, mill):
    part = mill.parts.get(name="Pug mill")
    part.entries = {**part.entries, "horsepower": "many"}
    part.save()
    mill.revision += 1
    mill.save()
    text = owner.get(reverse("jobs:riser", args=[mill.pk])).content.decode()
    assert 'class="incomplete"' in text
