"""A whole line read into entries: by its words, its figures, and the supply that it stands on."""

import pytest
from django.urls import reverse

from voltaje.core.codes import edition
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.kinds import Context
from voltaje.core.rules.interface import code_of
from voltaje.web.jobs import actions
from voltaje.web.kinds import kinds_as_uses, plain_kind
from voltaje.web.parts.line import read_line

HOUSE, SHOP, MILL_480 = "1ph-120/240", "3ph-208Y/120", "3ph-480Y/277"
UK, UK3 = "1ph-230", "3ph-400Y/230"
LINES = [
    ("12 kW range 240 V 45 ft", HOUSE, "cooking", {"nameplate": "12 kW", "length": "45 ft"}, ()),
    ("7-1/2 hp 3ph 208 V 120 ft", SHOP, "motor",
     {"horsepower": "7-1/2 hp", "connection": "three-phase", "length": "120 ft"}, ()),
    ("1/2 hp pump single-phase 120 V", HOUSE, "motor", {"horsepower": "1/2 hp"}, ()),
    ("Kitchen lights 1200 VA 60 ft", SHOP, "circuit",
     {"use": "lighting", "load": "1200 VA", "length": "60 ft"}, ()),
    # its own volts, where the supply has others
    ("kiln 11.5 kW 240 V 44 ft", SHOP, "circuit",
     {"use": "kiln", "load": "11.5 kW", "connection": "two-line", "rated_volts": "240 V"}, ()),
    ("water heater 4.5 kW 240 V", HOUSE, "circuit",
     {"use": "water heater", "load": "4.5 kW", "connection": "two-line"}, ()),
    ("Sign over the door 600 VA", SHOP, "circuit", {"use": "sign", "load": "600 VA"}, ()),
    ("24 A 30 ft 10 AWG aluminum", HOUSE, "circuit",
     {"load": "24 A", "length": "30 ft", "size": "10", "material": "aluminum"}, ()),
    ("dust extraction 5 hp 460 V", MILL_480, "motor",
     {"horsepower": "5 hp", "connection": "three-phase"}, ()),
    ("EV charger 40 A 240 V 80 ft", HOUSE, "circuit",
     {"use": "vehicle charging", "load": "40 A", "connection": "two-line"}, ()),
    # a figure that stands in no entry is told
    ("North wall receptacles 8 70 ft", SHOP, "circuit", {"use": "receptacles", "length": "70 ft"}, ("8",)),
    ("fan 2 kW 600 V 30 ft", SHOP, "circuit", {"load": "2 kW", "rated_volts": "600 V"}, ()),
    # three lines that are said stay so where the supply has none: the sheet refuses them in words
    ("9 kW heater 3ph 20 ft", HOUSE, "circuit", {"load": "9 kW", "connection": "three-phase"}, ()),
    ("9.5 kW shower 14 m", UK, "circuit", {"use": "shower", "load": "9.5 kW", "length": "14 m"}, ()),
    ("7.5 kW motor 35 m", UK3, "machine", {"power": "7.5 kW", "length": "35 m"}, ()),
]  # fmt: skip


@pytest.mark.parametrize(("text", "system", "of", "entries", "unread"), LINES)
def test_a_line_is_read_where_it_stands(text, system, of, entries, unread):
    book = edition("bs7671-2018" if SYSTEMS[system].metric else "nec-2020")
    among = (plain_kind(), *kinds_as_uses(code_of(book.family)).values())
    units = "metric" if SYSTEMS[system].metric else "us"
    found = read_line(text, among, Context(book, units), SYSTEMS[system])
    assert found.kind == of and found.unread == unread
    assert entries.items() <= found.entries.items()


@pytest.mark.parametrize("text", ["", "blah", "🔥", "'; drop", "\x00", "0" * 300, "½", "kW kW"])
def test_what_says_nothing_known_is_no_entry(text):
    found = read_line(text, ("circuit",), Context(), SYSTEMS[HOUSE])
    assert found is None or "load" not in found.entries


def test_the_page_of_an_empty_item_asks_for_it(owner, mill, people):
    board = mill.parts.get(name="Kiln room")
    empty = actions.add_part(mill, people[0], "circuit", str(board.pk))
    page = owner.get(reverse("jobs:part", args=[mill.pk, empty.pk])).content.decode()
    assert 'id="one-line"' in page and "Begin with “Load”" in page
    url = reverse("jobs:line", args=[mill.pk, empty.pk])
    asked = owner.post(url, {"q": "kiln 9.6 kW 208 V 40 ft 77 x"}).json()
    assert asked["entries"]["connection"] == "two-line" and asked["unread"] == ["77"]
    house = actions.add_part(mill, people[0], "dwelling", str(board.parent_id))
    assert 'id="one-line"' not in owner.get(
        reverse("jobs:part", args=[mill.pk, house.pk])).content.decode()  # fmt: skip
    full = mill.parts.get(name="Kiln 3, test kiln")
    assert 'id="one-line"' not in owner.get(
        reverse("jobs:part", args=[mill.pk, full.pk])).content.decode()  # fmt: skip


def test_lines_become_rows_of_a_board_and_none_is_lost(owner, mill):
    board = mill.parts.get(name="Workshop")
    url = reverse("jobs:line", args=[mill.pk, board.pk])
    lines = "Lathe 3 hp 25 ft\nBench lights 800 VA\n\nSomething else"
    rows = owner.post(url, {"q": lines}).json()["rows"]
    assert [row["name"] for row in rows] == ["Lathe", "Bench lights", "Something else"]
    assert rows[0]["use"] == "motor" and rows[0]["load"] == "3 hp" and rows[1]["use"] == "lighting"
    assert owner.post(url, {"q": "a 1 kW\n" * 300}).status_code == 422


def test_nobody_reads_into_another_job(stranger, mill):
    board = mill.parts.get(name="Workshop")
    url = reverse("jobs:line", args=[mill.pk, board.pk])
    assert stranger.post(url, {"q": "1 kW"}).status_code == 404
