"""Several rows of a board at once: an entry on all that have it, all onto another board, one undo."""

import json
import re

import pytest
from django.urls import reverse


@pytest.fixture
def board(mill):
    return mill.parts.get(name="Workshop")


@pytest.fixture
def change(owner, mill, board):
    """``change(names, …)``: what is done to the rows of these names; gives the page's answer."""

    def act(names, **posted):
        rows = [str(board.children.get(name=name).pk) for name in names]
        url = reverse("jobs:change_many", args=[mill.pk, board.pk])
        answer = owner.post(url, {"row": rows, **posted})
        mill.refresh_from_db()
        return answer

    return act


LIGHTS = ("Throwing room lights", "Glaze room lights")


def entry(board, name, of):
    return board.children.get(name=name).entries.get(of)


def test_an_entry_is_set_on_all_that_have_it_and_undone_as_one(owner, mill, board, change):
    names, before = (*LIGHTS, "Pug mill"), mill.revision
    answer = change(names, entry="continuous", text="no")
    assert answer.status_code == 200 and mill.revision == before + 1
    assert [entry(board, name, "continuous") for name in names] == ["no", "no", None]
    words = answer.content.decode()
    assert "Changed on 2 of 3." in words and "Left as they are: Pug mill." in words
    change(names, entry="ambient", text="40")
    assert entry(board, "Pug mill", "ambient") == "40 °C"  # a bare figure gets its unit
    owner.post(reverse("jobs:undo", args=[mill.pk]))
    assert [entry(board, name, "ambient") for name in names] == [None, None, None]


@pytest.mark.parametrize(
    ("of", "text", "words"),
    [("ambient", "abc", "abc"), ("ambient", "900", "Out of range"), ("wiring_method", "XYZ", "None of the"),
     ("no_such", "1", "None of the"), ("cases", "1", "None of the"), ("length", "x" * 400, "too long")],
)  # fmt: skip
def test_what_a_row_does_not_take_is_refused_in_words_and_nothing_is_changed(
    mill, board, change, of, text, words
):
    before = mill.revision
    answer = change(LIGHTS, entry=of, text=text)
    assert answer.status_code == 422 and mill.revision == before
    assert words in json.loads(answer.content)["words"]
    assert entry(board, LIGHTS[0], "ambient") is None


def test_rows_go_to_another_board_and_leave_their_places(owner, mill, board, change):
    goal = mill.parts.get(name="Kiln room")
    there = goal.children.count()
    first = board.children.get(name=LIGHTS[0])
    change([LIGHTS[0]], entry="length", text="40 ft")
    owner.post(reverse("jobs:save", args=[mill.pk, first.pk]), {"set:position": "7"})
    answer = change(LIGHTS, to=str(goal.pk))
    assert answer.status_code == 200 and goal.children.count() == there + 2
    names = [part.name for part in goal.children.order_by("position")]
    assert names[-2:] == list(LIGHTS)
    moved = goal.children.get(name=LIGHTS[0])
    assert "position" not in moved.entries and moved.entries["length"] == "40 ft"
    owner.post(reverse("jobs:undo", args=[mill.pk]))
    assert board.children.get(name=LIGHTS[0]).entries["position"] == "7"


@pytest.mark.parametrize("to", ["Pug mill", "Mill, 480Y/277 V"])
def test_rows_go_only_where_they_may_stand(mill, board, change, to):
    """Under a supply a circuit may stand; under a motor nothing does."""
    answer = change(LIGHTS, to=str(mill.parts.get(name=to).pk))
    assert answer.status_code == (422 if to == "Pug mill" else 200)


def test_what_is_gone_is_passed_over_and_said(owner, mill, board, change):
    board.children.get(name=LIGHTS[1])
    rows = [str(part.pk) for part in board.children.all()[:2]] + ["not an id"]
    owner.post(reverse("jobs:tree", args=[mill.pk]), {"act": "delete", "part": rows[0]})
    url = reverse("jobs:change_many", args=[mill.pk, board.pk])
    answer = owner.post(url, {"row": rows, "entry": "ambient", "text": "35"})
    assert "Changed on 1 of 1." in answer.content.decode()
    assert owner.post(url, {"row": rows[:1], "entry": "ambient", "text": "35"}).status_code == 422


def test_a_request_that_comes_twice_is_done_once(mill, board, change):
    asked = {"entry": "ambient", "text": "41 °C", "tab": "a" * 12, "turn": "5"}
    change(LIGHTS, **asked)
    before = mill.revision
    change(LIGHTS, **asked)
    assert mill.revision == before


def test_the_bar_offers_what_the_rows_have(owner, mill, board):
    rows = [str(board.children.get(name=name).pk) for name in (*LIGHTS, "Pug mill")]
    url = reverse("jobs:many", args=[mill.pk, board.pk])
    page = owner.get(url, {"row": rows}).content.decode()
    assert "3 circuits selected" in page and "now EMT on 3" in " ".join(page.split())
    offered = re.findall(r'<option value="(\w+)"', page)
    assert {"wiring_method", "insulation", "length", "use", "horsepower"} <= set(offered)
    assert "position" not in offered  # each has a place of its own
    page = owner.get(url, {"row": rows, "entry": "ambient"}).content.decode()
    assert 'value="30 °C"' in page
    assert owner.get(url, {"row": ["nonsense"]}).status_code == 200


def test_nobody_changes_rows_of_another_job(stranger, mill, board):
    rows = [str(board.children.first().pk)]
    for name, ask in (("many", stranger.get), ("change_many", stranger.post)):
        answer = ask(reverse(f"jobs:{name}", args=[mill.pk, board.pk]), {"row": rows, "entry": "ambient"})  # fmt: skip
        assert answer.status_code == 404
