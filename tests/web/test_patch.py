"""Patches and drawings by property; two saves at once."""

import threading

import pytest
from django.db import connection
from django.test import Client
from django.urls import reverse
from hypothesis import given
from hypothesis import strategies as st

from voltaje.core.entries import walk
from voltaje.core.kinds import Context, evaluate, kind
from voltaje.core.kinds.dwelling.nec.entries import DwellingEntries
from voltaje.web.history.patch import BadPathError, Patch, apply, as_text, read_form, read_patch
from voltaje.web.jobs.demo import COTTAGE
from voltaje.web.jobs.models import Job, Part
from voltaje.web.kinds import dwelling

PATHS = ["area", "method", "appliances.a1.name", "appliances.a1.nameplate", "cooking.c1.count",
         "appliances.n9.nameplate"]  # fmt: skip
MADE = {"appliances.n9"}  # a row that the page made
texts = st.dictionaries(st.sampled_from(PATHS), st.sampled_from(["1", "2 kW", "x", ""]), min_size=1)


def flat(document):
    return {path: as_text(value) for path, value in walk(document)}


@given(texts, texts)
def test_two_tabs_lose_nothing_unseen(mine, theirs):
    """Each text of the second tab is either kept, or comes back as a conflict; each text of the
    first stays unless the second tab knew of it."""
    start = flat(COTTAGE)
    first, none = apply(COTTAGE, Patch(theirs, {}, made=MADE), DwellingEntries)
    bases = {path: (start.get(path, "standard" if path == "method" else "1" if "count" in path else ""),)
             for path in mine}  # fmt: skip
    second, conflicts = apply(first, Patch(mine, bases, made=MADE), DwellingEntries)
    asked = {conflict.path: conflict for conflict in conflicts}
    after_first, after_second = flat(first), flat(second)
    assert none == []
    for path, text in mine.items():
        if path in asked:
            assert asked[path].mine == text
            assert after_second.get(path, bases[path][0]) == asked[path].theirs
            assert asked[path].theirs == after_first.get(path, bases[path][0]) != text
        else:
            assert after_second.get(path, bases[path][0]) == text
    for path in theirs.keys() - mine.keys():
        assert after_second.get(path) == after_first.get(path)


@given(texts)
def test_a_patch_leaves_what_it_was_given_alone(mine):
    before = flat(COTTAGE)
    apply(COTTAGE, Patch(mine, {}, {"appliances.a2": "1"}), DwellingEntries)
    assert flat(COTTAGE) == before


def test_a_form_is_read_in_its_order_and_strangers_are_passed_over():
    posted = {"area": "9", "csrfmiddlewaretoken": "t", "seq": "4", "cooking.b.name": "B",
              "cooking.a.name": "A", "cooking.b.count": "2", "cooking.A-.name": "no",
              "cooking.a.colour": "red", "area.x": "1", "appliances": "no"}  # fmt: skip
    assert read_form(posted, DwellingEntries) == {
        "area": "9",
        "cooking": [{"id": "b", "name": "B", "count": "2"}, {"id": "a", "name": "A"}],
    }
    patch = read_patch({"set:area": "1", "base:area": "2", "drop:cooking.a": "1", "seq": "9"},
                       DwellingEntries)  # fmt: skip
    assert (patch.texts, patch.bases, patch.deleted) == (
        {"area": "1"}, {"area": ("2",)}, {"cooking.a": "1"})  # fmt: skip


@pytest.mark.django_db(transaction=True)
def test_two_saves_at_once_take_turns(people, job, cottage):
    """Eight tabs save different entries at the same moment: all are kept, each a revision."""
    url = reverse("jobs:save", args=[job.pk, cottage.pk])
    paths = [f"appliances.t{n}.name" for n in range(8)]
    gate = threading.Barrier(len(paths))
    answers = []

    def tab(path):
        client = Client()
        client.force_login(people[0])
        gate.wait()
        answers.append(
            client.post(url, {f"set:{path}": path, f"made:{path[:-5]}": "1"}).status_code
        )
        connection.close()

    threads = [threading.Thread(target=tab, args=(path,)) for path in paths]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    kept = flat(Part.objects.get(pk=cottage.pk).entries)
    assert answers == [200] * 8 and all(kept[path] == path for path in paths)
    assert Job.objects.get(pk=job.pk).revision == 9
    assert sorted(job.revisions.values_list("number", flat=True)) == list(range(1, 10))


watts = st.integers(0, 30_000)


@given(st.integers(1, 9000), st.lists(watts, max_size=4), st.lists(watts, max_size=3), watts, watts)
def test_bands_are_to_scale_and_do_not_overlap(area, fixed, dryers, heat, cool):
    document = {
        "area": area,
        "appliances": [{"nameplate": w, "motor": True} for w in fixed],
        "dryers": [{"nameplate": w} for w in dryers],
        "climate": [{"nameplate": heat}, {"nameplate": cool, "what": "cooling"}],
    }
    worked = evaluate(kind("dwelling"), document, Context()).report
    drawing = dwelling.draw(worked)
    most = max(drawing.connected, sum(band.flow.calculated for band in drawing.bands))
    for side, load in (("left", "connected"), ("right", "calculated")):
        end = 0.0
        for band in drawing.bands:
            top, height = getattr(band, side)
            assert height == pytest.approx(getattr(band.flow, load) * 420 / most, abs=0.06)
            if height:
                assert top >= end - 0.11
                end = top + height
        assert end < drawing.height
    assert [wire.name for wire in drawing.wires] == ["L1", "N", "L2"]
    assert all(2 <= wire.width <= 11 for wire in drawing.wires)


def test_a_page_of_an_earlier_version_is_kept_all_the_same():
    of = kind("multiwire_circuit")
    posted = {"set:a": "L2", "base:a": "", "set:loads.k1.third": "30", "drop:loads.k2": "x"}
    found = read_patch(posted, of.entries, of.former_entries)
    assert found.texts == {"phase_a": "L2", "loads.k1.third_harmonic": "30"}
    assert found.bases == {"phase_a": ("",)} and found.deleted == {"loads.k2": "x"}
    with pytest.raises(BadPathError):
        read_patch(posted, of.entries)
    # what it recalculates while typing, too
    form = {"a": "L2", "loads.k1.third": "30", "loads.k1.nameplate": "1 kW"}
    row = {"id": "k1", "third_harmonic": "30", "nameplate": "1 kW"}
    expected = {"phase_a": "L2", "loads": [row]}
    assert read_form(form, of.entries, of.former_entries) == expected
