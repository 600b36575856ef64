"""Usual values on the pages: shown as inherited, followed until the item says otherwise."""

import json
import re

import pytest
from django.urls import reverse


@pytest.fixture
def workshop(mill):
    return mill.parts.get(name="Workshop")


@pytest.fixture
def lights(workshop):
    return workshop.children.get(name="Glaze room lights")


def put(owner, mill, part, base=None, **texts):
    posted = {f"set:{name}": text for name, text in texts.items()}
    posted |= {f"base:{name}": base for name in texts if base is not None}
    answer = owner.post(reverse("jobs:save", args=[mill.pk, part.pk]), posted)
    assert answer.status_code == 200, answer.content
    mill.refresh_from_db()
    mill.reload()
    part.refresh_from_db()
    state = re.search(
        r'<script[^>]*type="application/json"[^>]*>(.*?)</script>', answer.content.decode(), re.S
    )
    return json.loads(state.group(1)) if state else {}


def page(owner, mill, part) -> str:
    return owner.get(reverse("jobs:part", args=[mill.pk, part.pk])).content.decode()


def chosen(text: str, name: str) -> str:
    box = re.search(rf'<select id="[^"]*" name="{name}".*?</select>', text, re.S).group(0)
    return re.search(r'<option value="([^"]*)" selected', box).group(1)


def test_a_usual_value_is_shown_as_inherited_and_followed(owner, mill, workshop, lights):
    put(owner, mill, workshop, usual_wiring_method="PVC 40", usual_ambient="40")
    assert workshop.entries["usual_ambient"] == "40 °C"
    text = page(owner, mill, lights)
    assert chosen(text, "wiring_method") == "PVC 40"
    assert text.count("usual below Workshop") == 2
    assert "wiring_method" not in lights.entries


def test_an_item_says_otherwise_and_follows_again(owner, mill, workshop, lights):
    put(owner, mill, workshop, usual_wiring_method="PVC 40")
    put(owner, mill, lights, base="PVC 40", wiring_method="EMT")  # what is usual without any
    assert lights.entries["wiring_method"] == "EMT"
    assert "PVC schedule 40 is usual below Workshop" in page(owner, mill, lights)
    put(owner, mill, lights, base="EMT", wiring_method="PVC 40")
    assert "wiring_method" not in lights.entries
    put(owner, mill, workshop, base="PVC 40", usual_wiring_method="RMC")
    assert chosen(page(owner, mill, lights), "wiring_method") == "RMC"
    owner.post(reverse("jobs:undo", args=[mill.pk]))
    assert chosen(page(owner, mill, lights), "wiring_method") == "PVC 40"


def test_what_another_tab_has_changed_above_is_not_overwritten(owner, mill, workshop, lights):
    put(owner, mill, workshop, usual_wiring_method="PVC 40")
    put(owner, mill, lights, base="EMT", wiring_method="RMC")  # a page from before
    assert "wiring_method" not in lights.entries


def test_many_rows_follow_again_at_once(owner, mill, workshop, lights):
    put(owner, mill, workshop, usual_ambient="40 °C")
    url = reverse("jobs:change_many", args=[mill.pk, workshop.pk])
    for text, kept in (("45", "45 °C"), ("40", None), ("45", "45 °C"), ("", None)):
        owner.post(url, {"row": [str(lights.pk)], "entry": "ambient", "text": text})
        lights.refresh_from_db()
        assert lights.entries.get("ambient") == kept


def test_a_sheet_by_itself_has_none(owner):
    assert "usual_wiring_method" not in owner.get("/feeder/").content.decode()
