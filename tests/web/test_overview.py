"""The job's page at a glance: its state, what several items say alike in one card, mending many."""

import re

import pytest
from django.urls import reverse

from voltaje.web.jobs import actions
from voltaje.web.jobs.overview import read
from voltaje.web.jobs.worked import digest_of, findings, work_job
from voltaje.web.parts.part_views import stages


def test_the_state_is_that_of_the_sheets(mill):
    found = work_job(mill)
    state = read(digest_of(mill)["overview"], mill.loaded())
    supply = next(one for one in state.supplies if one.part.name == "Mill, 480Y/277 V")
    below = [part for part in mill.loaded() if "ottage" not in part.name]
    sheets = {part: found[str(part.pk)].report for part in below}
    assert supply.load == sheets[supply.part].value("calculated_load")
    assert supply.amperes == sheets[supply.part].value("amperes")
    drops = {part: one.results["drop_total"].value for part, one in sheets.items()
             if "drop_total" in one.results}  # fmt: skip
    assert supply.drop.part == max(drops, key=drops.get)
    assert supply.drop.value == pytest.approx(max(drops.values()), abs=0.01)
    service = found[str(supply.margin.part.pk)]
    assert supply.margin.value == service.entries.interrupting - service.outcome.fault > 0
    assert supply.highest.value >= supply.lowest.value > 0
    assert sum(many for _, many in state.counts) == len(mill.loaded())
    assert dict(state.counts)["check"] == sum(
        found[str(part.pk)].report.status == "check" for part in mill.loaded()
    )


def test_a_figure_that_is_not_known_is_never_nought(owner, mill):
    light = mill.parts.get(name="Gallery track 1")
    owner.post(reverse("jobs:save", args=[mill.pk, light.pk]), {"set:load": ""})
    mill.refresh_from_db()
    state = read(digest_of(mill)["overview"], mill.loaded())
    supply = next(one for one in state.supplies if one.part.name == "Mill, 480Y/277 V")
    assert supply.load is None and supply.amperes is None and supply.drop is None
    assert dict(state.counts)["incomplete"] >= 1
    page = owner.get(reverse("jobs:job", args=[mill.pk])).content.decode()
    assert "No result" in page


def test_a_fault_current_that_is_but_a_bound_is_not_the_lowest(owner, mill):
    feeder = mill.parts.get(name="Workshop feeder")
    owner.post(reverse("jobs:save", args=[mill.pk, feeder.pk]), {"set:length": "many"})
    mill.refresh_from_db()
    state = read(digest_of(mill)["overview"], mill.loaded())
    supply = next(one for one in state.supplies if one.part.name == "Mill, 480Y/277 V")
    assert supply.lowest is None and supply.highest.value > 0


def test_what_several_items_say_is_one_card(mill):
    cards = findings(mill, digest_of(mill))
    shared = [card for card in cards if card.shared]
    drop = next(card for card in shared if "from the supply" in str(card.shared).lower())
    assert "…" in str(drop.shared) and "5 %" in str(drop.shared)
    found = work_job(mill)
    for part, figures in drop.items:
        mine = next(f for f in found[str(part.pk)].report.findings if f.name == "drop_total")
        assert figures == mine.words.params["percent"]
    said = [
        name
        for card in cards
        for name in ([card.part] if card.part else [p for p, _ in card.items])
    ]
    looked = {part for part in mill.loaded() if found[str(part.pk)].report.status != "pass"}
    assert set(said) == looked  # nothing is left out


def test_many_items_are_mended_as_one_revision(owner, mill):
    page = owner.get(reverse("jobs:job", args=[mill.pk])).content.decode()
    form = next(f for f in re.findall(r'<form class="mend-all".*?</form>', page, re.S))
    parts = re.findall(r'name="part" value="([^"]+)"', form)
    name = re.search(r'name="finding" value="([^"]+)"', form).group(1)
    assert name == "drop" and len(parts) >= 3
    before, url = mill.revision, reverse("jobs:mend", args=[mill.pk])
    answer = owner.post(url, {"finding": name, "part": parts})
    mill.refresh_from_db()
    assert answer.status_code == 302 and mill.revision == before + 1
    found = work_job(mill)
    assert all("drop" not in {f.name for f in found[key].report.findings} for key in parts)
    owner.post(url, {"finding": name, "part": parts})  # nothing is found any more
    mill.refresh_from_db()
    assert mill.revision == before + 1
    owner.post(reverse("jobs:undo", args=[mill.pk]))
    mill.refresh_from_db()
    assert "drop" in {f.name for f in work_job(mill)[parts[0]].report.findings}


def test_nobody_mends_another_job(stranger, mill):
    light = mill.parts.get(name="Throwing room lights")
    url = reverse("jobs:mend", args=[mill.pk])
    assert stranger.post(url, {"finding": "drop", "part": [str(light.pk)]}).status_code == 404


def test_the_tree_beside_a_sheet_shows_where_one_is(owner, mill):
    light = mill.parts.get(name="Throwing room lights")
    page = owner.get(reverse("jobs:part", args=[mill.pk, light.pk])).content.decode()
    branches = re.findall(
        r'data-branch="([^"]+)"( open)?><summary[^>]*>(.*?)</summary>', page, re.S
    )
    opened = {mill.parts.get(pk=key).name for key, is_open, _ in branches if is_open}
    above, at = set(), light.parent
    while at is not None:
        above.add(at.name)
        at = at.parent
    assert opened == above
    for key, _, words in branches:
        board = mill.parts.get(pk=key)
        below = actions.subtree(mill, board)[1:]
        assert f"{len(below)} items below" in words
        worst = [s for s in ("fail", "incomplete", "check", "pass") if f'shape {s}"' in words]
        statuses = {digest_of(mill)["parts"][str(part.pk)][1] for part in below}
        assert worst == [next(s for s in ("fail", "incomplete", "check", "pass") if s in statuses)]
    assert page.count('class="part-link') == mill.parts.count()


def test_the_drop_stands_stage_by_stage_and_adds_up(owner, mill):
    found = work_job(mill)
    light = mill.parts.get(name="Throwing room lights")
    stages_of = stages(mill, light, found)
    report = found[str(light.pk)].report
    assert stages_of[-1].part == light
    assert stages_of[-1].own == pytest.approx(report.value("drop_percent"), abs=0.01)
    assert stages_of[-1].total == pytest.approx(report.value("drop_total"), abs=1e-9)
    assert sum(one.own for one in stages_of) == pytest.approx(stages_of[-1].total, abs=0.15)
    names = [one.part.name for one in stages_of]
    assert names == ["Mill service", "Mill transformer", "Workshop feeder", "Throwing room lights"]
    page = owner.get(reverse("jobs:part", args=[mill.pk, light.pk])).content.decode()
    assert 'class="stages"' in page
    cottage = mill.parts.get(kind="dwelling")  # nothing is known of its way
    assert stages(mill, cottage, found) == []
