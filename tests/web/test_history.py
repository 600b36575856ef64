"""Any history of acts of all kinds, undone, redone, restored, comes to the states it had."""

import random
import uuid

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from voltaje.core.codes import edition
from voltaje.web.board import cells as board_patch
from voltaje.web.history import delta, revisions
from voltaje.web.history.patch import Patch, apply
from voltaje.web.jobs import actions
from voltaje.web.jobs.demo import MILL
from voltaje.web.jobs.models import Job, Part

CODE = edition("nec-2020")
CELLS = [
    ("ampacity", row, column)
    for row in ("14", "12", "4/0")
    for column in ("copper 60", "copper 75")
]


def whole(job):
    """Everything of a job that a revision may touch."""
    job = Job.objects.get(pk=job.pk)
    return {
        "job": {name: getattr(job, name) for name in revisions.JOB_FIELDS},
        "parts": {str(p.pk): revisions.part_state(p) for p in job.parts.all()},
        "amendments": {
            str(a.pk): tuple(getattr(a, n) for n in revisions.AMENDMENT_FIELDS)
            for a in job.amendments.all()
        },
    }  # fmt: skip


class Acts:
    """Random acts on a job, each as a page would do it."""

    def __init__(self, job, user, chance):
        self.job, self.user, self.chance = job, user, chance

    def any(self):
        """One of them; one that is refused changes nothing."""
        name = self.chance.choice([n for n in dir(self) if n.startswith("do_")])
        try:
            with revisions.changing(self.job) as held:
                getattr(self, name)(held)
        except revisions.RefusedError:
            pass

    def part(self, job, *kinds):
        found = [p for p in job.loaded() if not kinds or p.kind in kinds]
        return self.chance.choice(found) if found else None

    def do_add(self, job):
        of = self.chance.choice(["supply", "feeder", "board", "circuit", "dwelling", "cable_run"])
        above = self.part(job, "supply", "feeder", "board", "transformer")
        parent = None if of == "supply" or above is None else str(above.pk)
        actions.add_held(job, self.user, of, parent, part_id=str(uuid.uuid4()))

    def do_delete(self, job):
        if part := self.part(job):
            actions.delete_held(job, self.user, str(part.pk))

    def do_duplicate(self, job):
        if part := self.part(job, "circuit", "board", "feeder"):
            actions.duplicate_held(job, self.user, str(part.pk), str(uuid.uuid4()))

    def do_step(self, job):
        if part := self.part(job):
            step = self.chance.choice(["up", "down", "in", "out"])
            actions.step_held(job, self.user, str(part.pk), step)

    def do_move(self, job):
        part, above = self.part(job), self.part(job)
        if part is not None:
            actions.move_held(job, self.user, str(part.pk), str(above.pk), str(part.pk))

    def do_entries(self, job):
        part = self.part(job, "dwelling", "circuit")
        if part is None:
            return
        row = f"appliances.n{self.chance.randint(1, 3)}"
        wanted = (
            Patch({"area": str(self.chance.randint(500, 3000)), f"{row}.name": "Oven",
                   f"{row}.nameplate": "2 kW"}, made={row})
            if part.kind == "dwelling"
            else Patch({"load": f"{self.chance.randint(1, 9)} kW", "length": "40 ft"})
        )  # fmt: skip
        if part.kind == "dwelling" and self.chance.random() < 0.4:
            wanted = Patch(deleted={row: "1"})
        from voltaje.core.kinds import kind

        document, _ = apply(part.entries, wanted, kind(part.kind).entries)
        state = {**revisions.part_state(part), "entries": document}
        revisions.write(job, self.user, {str(part.pk): state})

    def do_table(self, job):
        board = self.part(job, "board")
        if board is None:
            return
        rows = job.under(board)
        cells = board_patch.Cells()
        for _ in range(self.chance.randint(1, 3)):
            key = str(uuid.uuid4())
            cells.made.append(key)
            cells.texts[key] = {"name": f"New {key[:4]}", "load": "700 W", "length": "30"}
        for row in self.chance.sample(rows, min(len(rows), 2)):
            cells.texts[str(row.pk)] = {
                "name": f"Other {self.chance.randint(1, 99)}",
                "use": self.chance.choice(["lighting", "motor", "cooking", "receptacles"]),
                "load": self.chance.choice(["3", "2 kW", "5 hp"]),
            }
        if rows and self.chance.random() < 0.5:
            cells.dropped.append(str(self.chance.choice(rows).pk))
        revisions.write(job, self.user, board_patch.wanted(job, board, cells, []))

    def do_amendment(self, job):
        there = list(job.amendments.all())
        topic, row, column = self.chance.choice(CELLS)
        taken = next((a for a in there if (a.row, a.column) == (row, column)), None)
        wanted = {}
        if taken is not None and self.chance.random() < 0.7:
            wanted[revisions.AMENDMENT + str(taken.pk)] = None
            taken = None
        if taken is None:
            wanted[revisions.AMENDMENT + str(uuid.uuid4())] = {
                "topic": topic, "row": row, "column": column,
                "value": str(self.chance.randint(12, 40)), "jurisdiction": "County", "reason": "7",
            }  # fmt: skip
        revisions.write(job, self.user, wanted)

    def do_settings(self, job):
        own = revisions.states(job, {"job": None})["job"]
        change = self.chance.choice(
            [{"name": f"Mill {self.chance.randint(1, 9)}"}, {"units": "metric"}, {"units": "us"},
             {"prices": {"copper 12": self.chance.randint(1, 9) / 10}}, {"edition": "nec-2023"}]
        )  # fmt: skip
        revisions.write(job, self.user, {"job": {**own, **change}})


@pytest.mark.parametrize("seed", range(6))
def test_any_history_goes_back_and_forth(people, job, seed):
    chance = random.Random(seed)
    actions.plant(job, people[0], MILL)
    acts = Acts(job, people[0], chance)
    states = {Job.objects.get(pk=job.pk).revision: whole(job)}
    for _ in range(25):
        acts.any()
        states[Job.objects.get(pk=job.pk).revision] = whole(job)
        if chance.random() < 0.25:  # a step back and forth on the way
            now = whole(job)
            revisions.undo(job, people[0])
            revisions.redo(job, people[0])
            assert whole(job) == now
            states[Job.objects.get(pk=job.pk).revision] = now
    made = Job.objects.get(pk=job.pk)
    line = list(made.undo_stack)
    # down the whole line of edits, each undo at the state before its revision
    for _ in line:
        revisions.undo(job, people[0])
    after = whole(job)
    assert not Job.objects.get(pk=job.pk).undo_stack
    for _ in line:
        revisions.redo(job, people[0])
    assert whole(job) == states[max(states)]
    # and to any revision there was, and back by one undo
    for number in chance.sample(sorted(states), min(6, len(states))):
        before = whole(job)
        try:
            revisions.restore(job, people[0], number)
        except revisions.NothingToDoError:
            assert before == states[number]
            continue
        assert whole(job) == states[number]
        revisions.undo(job, people[0])
        assert whole(job) == before
    assert after is not None


texts = st.sampled_from(["1", "2 kW", "x"])
rows = st.lists(
    st.fixed_dictionaries({"id": st.sampled_from("abcdef"), "name": texts}, optional={"nameplate": texts}),
    unique_by=lambda row: row["id"], max_size=5,
)  # fmt: skip
documents = st.fixed_dictionaries({}, optional={"area": texts, "method": texts, "appliances": rows})


@given(documents, documents)
def test_steps_lead_from_any_document_to_any_other_and_back(one, other):
    steps = delta.diff(one, other)
    assert delta.apply(one, steps, "after") == other
    assert delta.apply(other, steps, "before") == one
    assert (steps == []) == (one == other)


def test_deleting_a_row_that_holds_others_takes_them_along_and_brings_them_back(owner, job, people):
    actions.plant(job, people[0], MILL)
    house = job.parts.get(name="House feeder")
    board = Part.objects.create(job=job, parent=house, kind="board", name="Hall", position=9999)
    before = whole(job)
    inner = actions.add_part(
        Job.objects.get(pk=job.pk), people[0], "feeder", str(board.pk), "Inner"
    )
    under = actions.add_part(
        Job.objects.get(pk=job.pk), people[0], "board", str(inner.pk), "Far", {"rating": "60 A"}
    )
    held = whole(job)
    url = reverse("jobs:save", args=[job.pk, board.pk])
    assert owner.post(url, {"row-out": str(inner.pk)}).status_code == 200
    assert not job.parts.filter(pk__in=[inner.pk, under.pk]).exists()
    revisions.undo(job, people[0])
    assert whole(job) == held
    owner.post(reverse("jobs:save", args=[job.pk, under.pk]), {"set:rating": "100 A"})
    for _ in range(3):
        revisions.undo(job, people[0])
    assert whole(job) == before


def test_what_is_large_is_written_in_few_queries(owner, job, people):
    """84 circuits: one moved, all deleted, that undone."""
    top = job.parts.get(kind="supply")
    tree = ("feeder", "F", {}, [("board", "Big", {}, [
        ("circuit", f"C {n}", {"load": "500 W"}, []) for n in range(84)])])  # fmt: skip
    actions.plant(job, people[0], tree, top)
    board = job.parts.get(name="Big")
    last = board.children.order_by("-position").first()
    for act, most in (
        (lambda: actions.move_part(job, people[0], str(last.pk), str(board.pk), str(board.children.first().pk)), 14),
        (lambda: actions.delete_part(job, people[0], str(board.pk)), 14),
        (lambda: revisions.undo(job, people[0]), 14),
    ):  # fmt: skip
        with CaptureQueriesContext(
            connection,
        ) as queries:
            act()
        assert len(queries) <= most, [q["sql"][:90] for q in queries]
    moved = job.revisions.get(number=3)
    assert len(moved.changes) == 1 and "entries" not in str(moved.changes[0]["after"])


def test_more_rows_than_a_list_takes_are_refused_whole(owner, job, cottage):
    url = reverse("jobs:save", args=[job.pk, cottage.pk])
    posted = {}
    for n in range(300):
        posted |= {f"set:appliances.n{n}.name": "Lamp", f"made:appliances.n{n}": "1"}
    before = whole(job)
    answer = owner.post(url, posted)
    assert answer.status_code == 422 and "at most 200 rows" in answer.json()["words"]
    assert whole(job) == before


def test_what_comes_late_or_twice_is_done_once(owner, job, cottage):
    url = reverse("jobs:save", args=[job.pk, cottage.pk])
    tab = {"tab": "abcdefgh12345678"}
    owner.post(url, {**tab, "turn": "10", "set:area": "1600", "base:area": "1480 sq ft"})
    late = owner.post(url, {**tab, "turn": "9", "set:area": "999", "base:area": "1480 sq ft"})
    assert late.status_code == 200 and Part.objects.get(pk=cottage.pk).entries["area"] == "1600 ft²"
    # its own text that got no answer is a text it may start from
    owner.post(url, {**tab, "turn": "11", "set:area": "1700", "base:area": ["1480 sq ft", "1600"]})
    assert Part.objects.get(pk=cottage.pk).entries["area"] == "1700 ft²"
    undo = reverse("jobs:undo_here", args=[job.pk, cottage.pk])
    for _ in range(2):
        owner.post(undo, {**tab, "turn": "12"})
    assert Part.objects.get(pk=cottage.pk).entries["area"] == "1600 ft²"
    done = owner.get(reverse("jobs:done", args=[job.pk]), tab).json()
    assert done == {"done": 12}


def test_depth_is_limited_with_a_sentence(owner, job, people):
    at = str(job.parts.get(kind="supply").pk)
    with pytest.raises(revisions.RefusedError, match="deep"):
        for _ in range(40):
            at = str(actions.add_part(Job.objects.get(pk=job.pk), people[0], "feeder", at).pk)
    assert owner.get(reverse("jobs:job", args=[job.pk])).status_code == 200


@settings(suppress_health_check=[HealthCheck.function_scoped_fixture], max_examples=5)
@given(st.integers(0, 3))
def test_undo_of_amendments_amended_dropped_and_amended_again(people, job, times):
    acts = Acts(job, people[0], random.Random(times))
    start = Job.objects.get(pk=job.pk).revision
    with revisions.changing(job) as held:
        before = whole(held)
    for _ in range(4 + times):
        with revisions.changing(job) as held:
            acts.do_amendment(held)
    if Job.objects.get(pk=job.pk).revision > start:
        revisions.restore(job, people[0], start)
        assert whole(job)["amendments"] == before["amendments"]
        revisions.undo(job, people[0])
        revisions.undo(job, people[0])
