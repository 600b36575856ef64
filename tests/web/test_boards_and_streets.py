"""Places asked for by the page, operating cases, door schedule, order of work, a longer look, streets
in balance, a job of a load list: each with what is wrong, and nobody else's."""

import io
import re
import uuid

import pytest
from django.urls import reverse
from openpyxl import Workbook
from pages import flat

from voltaje.web.background.models import BackgroundTask
from voltaje.web.jobs.actions import add_part, create_job
from voltaje.web.jobs.models import Job
from voltaje.web.jobs.worked import work_job

pytestmark = pytest.mark.django_db
WATTS = {"Kiln": "4 kW", "Lights": "1.5 kW", "Bench": "2 kW", "Saw": "1 kW", "Heater": "3 kW"}


@pytest.fixture
def owner(client, django_user_model):
    user = django_user_model.objects.create_user("b@example.org", "quite-long-secret")
    client.force_login(user)
    return user


@pytest.fixture
def job(owner):
    made = create_job(owner, "Yard", "nec-2020", "us", system="3ph-208Y/120", begins="board")
    board = next(part for part in made.loaded() if part.kind == "board")
    for place, (name, load) in enumerate(WATTS.items()):
        entries = {"load": load, "position": str(1 + 6 * place)}  # all behind L1
        add_part(made, owner, "circuit", str(board.pk), name, entries)
    add_part(made, owner, "motor", str(board.pk), "Hoist", {"horsepower": "3 hp", "position": "2"})
    return Job.objects.get(pk=made.pk)


def parts(job):
    return {part.name: part for part in Job.objects.get(pk=job.pk).loaded()}


def at(job, page, *more, part="Board 1"):
    return reverse(f"jobs:{page}", args=[job.pk, parts(job)[part].pk, *more])


def asked(client, job, name, to):
    key = str(parts(job)[name].pk) if name else ""
    return client.post(at(job, "place"), {"device": key, "to": to}).json()


@pytest.mark.parametrize(
    ("name", "to", "says"),
    [
        ("Kiln", "2", "Hoist stands there"),
        ("Hoist", "11", "Bench stands there and does not fit"),
        ("Kiln", "400", "there is no place 400"),
        ("Kiln", "door", "there is no place door"),
    ],
)
def test_a_place_is_refused_with_the_reason(client, job, name, to, says):
    assert says in asked(client, job, name, to).get("refused", "")


def test_a_place_comes_back_as_the_entries_that_say_so(client, job):
    found = asked(client, job, "Kiln", "3")["entries"]
    mine = {str(part.pk): name for name, part in parts(job).items()}
    told = {mine[key.partition(":")[0]]: text for key, text in found.items()}
    assert told == {
        "Kiln": "3",
        "Lights": "7",
        "Bench": "13",
        "Saw": "19",
        "Heater": "25",
        "Hoist": "2",
    }
    anew = client.post(at(job, "place"), {"anew": "1"}).json()["entries"]
    assert set(anew.values()) == {""}
    # nothing of it is kept by asking
    assert parts(job)["Kiln"].entries["position"] == "1"
    gone = client.post(at(job, "place"), {"device": "nobody", "to": "3"}).json()
    assert "not on the board" in gone["refused"]


def test_a_spare_and_the_main_come_back_as_the_boards_own_entries(client, owner, job):
    board = parts(job)["Board 1"]
    data = {"set:main_position": "26", "base:main_position": "", "tab": "t", "turn": "1"}
    data |= {
        "made:reserved_positions.k1": "1",
        "set:reserved_positions.k1.what": "spare",
        "set:reserved_positions.k1.position": "4",
    }
    answer = client.post(reverse("jobs:save", args=[job.pk, board.pk]), data)
    assert answer.status_code == 200
    told = client.post(at(job, "place"), {"device": "main", "to": "8"}).json()
    assert told.get("entries", told)["main_position"] == "8", told


def hidden(page, name):
    return re.findall(rf'name="{name}"\s+value="([^"]+)"', page)


def test_the_balance_moves_places_and_undo_brings_them_back(client, job):
    asks = {"objective": "heaviest"}
    assert "once a length is known" in client.get(at(job, "balance"), asks).content.decode()
    client.post(
        at(job, "save", part="Feeder 1"),
        {"set:length": "90 ft", "base:length": "", "tab": "t", "turn": "1"},
    )
    page = client.get(at(job, "balance"), asks).content.decode()
    assert "from 1 (L1)" in page and "Effect on the voltages" in page
    # every circuit has its volts now, after the moves, and by the hand rule
    assert len(re.findall(r"[\d.]+ V, [\d.]+ %</td>", flat(page))) == 3 * (len(WATTS) + 1)
    client.post(
        at(job, "balance"), {name: hidden(page, name) for name in ("to", "was", "revision")}
    )
    now = {name: part.entries.get("position") for name, part in parts(job).items()}
    lines = {name: (int(now[name]) - 1) // 2 % 3 for name in WATTS}
    on = [sum(float(WATTS[n].split()[0]) for n in WATTS if lines[n] == line) for line in range(3)]
    assert max(on) == 4 and now["Hoist"] == "2"
    assert len({now[name] for name in WATTS}) == len(WATTS)
    client.post(reverse("jobs:undo", args=[job.pk]), {"next": "/"})
    assert {n: p.entries["position"] for n, p in parts(job).items() if n in WATTS} == {
        name: str(1 + 6 * i) for i, name in enumerate(WATTS)
    }


def test_the_order_of_work_and_the_door_are_printed(client, job):
    page = client.get(at(job, "work_order"), {"objective": "heaviest", "paper": "a4"})
    text = page.content.decode()
    assert "Move <b>" in text and "lock out" in text and 'class="a4 work-page"' in text
    door = client.get(at(job, "door"), {"paper": "letter", "lies": "across"}).content.decode()
    assert 'class="letter across door"' in door
    door = flat(door)
    for words in ("Kiln", "Hoist", "Calculated load", "14 AWG", "Revision", "<b>Heater</b>"):
        assert words in door
    assert "proposed and not yet kept" not in door
    client.post(
        at(job, "save", part="Saw"),
        {"set:position": "", "base:position": "19", "tab": "t", "turn": "1"},
    )
    assert "proposed and not yet kept" in client.get(at(job, "door")).content.decode()


# operating cases -------------------------------------------------------------------------------------


def typed(job, names, shares, was=None):
    data = {f"case-{i}": name for i, name in enumerate(names)}
    data |= {
        f"named-{i}": (was or [])[i] if was and i < len(was) else "" for i in range(len(names))
    }
    for circuit, texts in shares.items():
        key = parts(job)[circuit].pk
        for i, text in enumerate(texts):
            data |= {f"share-{key}-{i}": text, f"was-{key}-{i}": ""}
    return data


def test_cases_are_typed_kept_and_counted(client, job):
    data = typed(job, ["Night", ""], {"Kiln": ["25", ""], "Lights": ["0 %", ""]})
    assert client.post(at(job, "cases"), data).status_code == 302
    kept = {name: part.entries.get("cases") for name, part in parts(job).items()}
    assert [(r["name"], r["share"]) for r in kept["Kiln"]] == [("Night", "25")]
    assert [(r["name"], r["share"]) for r in kept["Lights"]] == [("Night", "0")]
    assert not kept["Saw"]
    page = client.get(at(job, "balance"), {"by": "sum", "weight-Night": "3"}).content.decode()
    assert "In “Night”" in page and "their weighted sum" in page
    again = client.get(at(job, "cases")).content.decode()
    assert 'value="Night"' in again and 'value="25"' in again


@pytest.mark.parametrize(
    ("names", "share", "says"),
    [
        (["Night"], "120", "Give 0 to 100"),
        (["Night"], "half", "Give 0 to 100"),
        ([""], "50", "Give the case a name first"),
        (["Night", "Night"], "50", "The same name stands before"),
    ],
)
def test_what_is_wrong_with_a_case_is_told_and_nothing_is_lost(client, job, names, share, says):
    answer = client.post(at(job, "cases"), typed(job, names, {"Kiln": [share]}))
    page = answer.content.decode()
    assert answer.status_code == 422 and says in page and f'value="{share}"' in page
    assert "cases" not in parts(job)["Kiln"].entries


def test_cases_go_out_and_come_in_as_files(client, job):
    client.post(at(job, "cases"), typed(job, ["Night"], {"Kiln": ["25"]}))
    text = client.get(at(job, "cases_file", "csv")).content.decode()
    assert text.splitlines()[0] == "Circuit,Board,Night" and "Kiln,Board 1,25" in text
    book = Workbook()
    for row in (
        ("Circuit", "Board", "Night", "Feast"),
        ("Kiln", "Board 1", 40, 100),
        ("Saw", "", "", 0),
    ):
        book.active.append(row)
    file = io.BytesIO()
    book.save(file)
    file.seek(0)
    file.name = "cases.xlsx"
    page = client.post(at(job, "cases"), {"file": file}).content.decode()
    assert 'value="Feast"' in page and 'value="40"' in page
    # looked at, not kept
    assert parts(job)["Kiln"].entries["cases"][0]["share"] == "25"
    file = io.BytesIO(b"a,b\n1,2\n")
    file.name = "x.csv"
    assert "must name the columns" in client.post(at(job, "cases"), {"file": file}).content.decode()
    assert client.get(at(job, "cases_file", "csv").replace("csv", "pdf")).status_code == 404


# streets ---------------------------------------------------------------------------------------------


def test_a_street_is_spread_by_its_lowest_volts(client, owner):
    rows = [
        {"id": f"c{i}", "name": f"No. {i}", "length": "40 m", "nameplate": load, "line": "L1"}
        for i, load in enumerate(("4 kW", "6 kW", "5 kW", "7 kW"), 1)
    ]
    made = create_job(
        owner,
        "Lane",
        "bs7671-2018",
        "metric",
        {"consumers": rows, "size": "35 mm²"},
        system="3ph-400Y/230",
        begins="street",
        part="Lane",
    )
    job = Job.objects.get(pk=made.pk)
    page = client.get(at(job, "balance", part="Lane"), {"objective": "lost"}).content.decode()
    assert "Voltage drop at the lowest consumer" in page and "Apply to the street" in page
    data = {name: hidden(page, name) for name in ("to", "was", "revision")}
    client.post(at(job, "balance", part="Lane"), data)
    kept = parts(job)["Lane"].entries["consumers"]
    assert {row["line"] for row in kept} == {"L1", "L2", "L3"}
    assert [row["nameplate"] for row in kept] == ["4 kW", "6 kW", "5 kW", "7 kW"]
    client.post(reverse("jobs:undo", args=[job.pk]), {"next": "/"})
    assert {row["line"] for row in parts(job)["Lane"].entries["consumers"]} == {"L1"}


def test_consumers_go_out_and_come_in_as_files(client, owner):
    rows = [{"id": "a", "name": "No. 1", "length": "40 m", "nameplate": "4 kW", "line": "L1"}]
    made = create_job(
        owner,
        "Lane",
        "bs7671-2018",
        "metric",
        {"consumers": rows},
        system="3ph-400Y/230",
        begins="street",
        part="Lane",
    )
    job = Job.objects.get(pk=made.pk)
    text = client.get(at(job, "rows_file", "consumers", "csv", part="Lane")).content.decode()
    head, first = text.splitlines()
    assert head.split(",")[:3] == ["Name", "From the one before", "Load"]
    assert first.startswith("No. 1,40 m,4 kW,") and "one line" in first
    address = at(job, "rows_in", "consumers", part="Lane")
    file = io.BytesIO(
        b"Name;Load;From the one before;Takes;Stays on its line\n"
        b"Mill;9 kW;25 m;three lines;yes\nBarn;much;30 m;one line;\n"
    )
    file.name = "lane.csv"
    page = client.post(address, {"file": file}).content.decode()
    assert "in place of the one row" in page and "does not read" in page
    assert len(parts(job)["Lane"].entries["consumers"]) == 1  # looked at, not kept
    carried = re.search(r'name="rows"\s+value="([^"]+)"', page)[1].replace("&quot;", '"')
    agreed = {"rows": carried, "agreed": "1", "how": "after", "revision": hidden(page, "revision")}
    assert client.post(address, agreed).status_code == 302
    kept = parts(job)["Lane"].entries["consumers"]
    assert [row["name"] for row in kept] == ["No. 1", "Mill", "Barn"]
    assert kept[1]["connection"] == "three-phase" and kept[1]["pinned"] == "yes"
    assert kept[2]["nameplate"] == "much" and len({row["id"] for row in kept}) == 3
    # pressed twice, or another tab in between: not taken again, what was changed is told
    again = client.post(address, agreed)
    assert again.status_code == 422 and "Changed since" in again.content.decode()
    assert len(parts(job)["Lane"].entries["consumers"]) == 3
    client.post(reverse("jobs:undo", args=[job.pk]), {"next": "/"})
    assert len(parts(job)["Lane"].entries["consumers"]) == 1
    for content, says in ((b"x,y\n1,2\n", "must name the columns"), (b"", "is empty")):
        file = io.BytesIO(content)
        file.name = "x.csv"
        assert says in client.post(address, {"file": file}).content.decode()
    gone = at(job, "rows_in", "nothing", part="Lane")
    assert client.get(gone).status_code == 404


# the least metal ---------------------------------------------------------------------------------------


def test_conductors_are_chosen_together_fixed_and_undone(client, owner):
    made = create_job(owner, "Yard", "nec-2020", "us", system="3ph-208Y/120", begins="board")
    job, found = Job.objects.get(pk=made.pk), parts(made)
    page = client.get(at(job, "metal", part="Feeder 1")).content.decode()
    assert "Incomplete without Feeder 1" in page
    client.post(
        at(job, "save", part="Feeder 1"),
        {"set:length": "240 ft", "base:length": "", "tab": "t", "turn": "1"},
    )
    for name, far in (("Near", "40 ft"), ("Far", "160 ft")):
        entries = {"load": "1.5 kW", "length": far}
        add_part(job, owner, "circuit", str(found["Board 1"].pk), name, entries)
    page = client.get(at(job, "metal", part="Feeder 1")).content.decode()
    assert "Chosen together" in page and "Largest voltage drop to a load" in page
    # another tab lengthens the run meanwhile: the plan is not for that one
    seen = {"task": hidden(page, "task")}
    longer = {"set:length": "300 ft", "base:length": "240 ft", "tab": "t", "turn": "2"}
    client.post(at(job, "save", part="Feeder 1"), longer)
    late = client.post(at(job, "metal", part="Feeder 1"), seen, follow=True).content.decode()
    assert "Changed since" in late and "300 ft" in late
    assert "size" not in parts(job)["Far"].entries
    page = client.get(at(job, "metal", part="Feeder 1")).content.decode()
    seen = {"task": hidden(page, "task")}
    (task,) = BackgroundTask.objects.filter(pk__in=seen["task"])
    wanted = {m["key"]: m["value"] for m in task.result["members"] if m["changes"]}
    assert wanted
    client.post(at(job, "metal", part="Feeder 1"), seen)
    keys = {str(part.pk): part for part in parts(job).values()}
    for key, value in wanted.items():
        assert keys[key].entries["size"] == value
    assert "nothing to change" in client.get(at(job, "metal", part="Feeder 1")).content.decode()
    client.post(reverse("jobs:undo", args=[job.pk]), {"next": "/"})
    assert all("size" not in part.entries for part in parts(job).values())
    for sent in ({"task": "x"}, {}, seen):
        broken = client.post(at(job, "metal", part="Feeder 1"), sent, follow=True)
        assert "hanged since" in broken.content.decode()
    assert all("size" not in part.entries for part in parts(job).values())


# a list of loads -------------------------------------------------------------------------------------

LIST = "Sockets, 3.2 kW, one line\nSaw\t4 kW\tthree lines\nHeater; 4.5 kW; two lines\nLights, 900 W"


def test_a_list_says_what_it_needs_and_becomes_a_job(client, owner):
    address = reverse("jobs:adviser_list")
    page = client.post(address, {"loads": LIST, "edition": "nec-2020"}).content.decode()
    assert "208Y/120 V" in page and "Saw: runs on three lines alone" in page
    made = re.search(r'name="made"\s+value="([^"]+)"', page)[1]
    data = {"loads": LIST, "edition": "nec-2020", "make": "1", "made": made}
    assert client.post(address, data).status_code == 302
    assert client.post(address, data).status_code == 302  # twice makes one
    job = Job.objects.get(name="From a load list")
    found = {part.name: part.entries for part in job.loaded() if part.kind == "circuit"}
    assert {name: e["load"] for name, e in found.items()} == {
        "Sockets": "3.2 kW",
        "Saw": "4 kW",
        "Heater": "4.5 kW",
        "Lights": "900 W",
    }
    assert "line" not in found["Saw"] and "-" in found["Heater"]["line"]
    few = client.post(address, {"loads": "Lights, 2 kW", "edition": "bs7671-2018"})
    assert "230 V, single-phase" in few.content.decode()


def test_a_list_takes_motors_by_their_horsepower(client, owner):
    """Tables 430.248 and 430.250: 5 hp at 208 V three-phase 16.7 A, 1/2 hp at 115 V 9.8 A."""
    address, text = reverse("jobs:adviser_list"), "Saw, 5 hp, three lines\nFan, 1/2 hp, one line"
    page = client.post(address, {"loads": text, "edition": "nec-2020"}).content.decode()
    assert "Saw: runs on three lines alone" in page and "5 hp" in page
    data = {"loads": text, "edition": "nec-2020", "make": "1", "made": str(uuid.uuid4())}
    client.post(address, data)
    job = Job.objects.get(name="From a load list")
    found = {part.name: part for part in job.loaded() if part.kind == "motor"}
    worked = work_job(job)
    amperes = {
        name: worked[str(part.pk)].report.value("full_load_current") for name, part in found.items()
    }
    assert amperes == {"Saw": 16.7, "Fan": 9.8}
    for loads, edition, says in (
        ("Saw, 900 hp, three lines", "nec-2020", "is not covered"),
        ("Saw, 5 hp, three lines", "bs7671-2018", "by its kW or A"),
    ):
        answer = client.post(address, {"loads": loads, "edition": edition})
        assert answer.status_code == 422 and says in answer.content.decode()


@pytest.mark.parametrize(
    ("data", "says"),
    [
        ({"loads": ""}, "Give at least one load"),
        ({"loads": "Lights"}, "Line 1"),
        ({"loads": "Lights, bright"}, "is no load"),
        ({"loads": "Lights, 2 kW, sideways"}, "write one line, two lines or three lines"),
        ({"loads": "Lights, 2 kW", "limit": "lots"}, "does not read"),
        ({"loads": "Lights, 2 kW", "limit": "5 A"}, "Out of range"),
        ({"loads": "\n".join(["Lights, 2 kW"] * 130)}, "At most 120"),
    ],
)
def test_a_list_that_does_not_read_is_told_and_kept(client, owner, data, says):
    answer = client.post(reverse("jobs:adviser_list"), data)
    page = answer.content.decode()
    assert answer.status_code == 422 and says in page
    assert data["loads"].split("\n")[0] in page


def test_nobody_sees_anothers_board(client, job, django_user_model):
    client.force_login(django_user_model.objects.create_user("c@example.org", "quite-long-secret"))
    for page, more in (
        ("balance", ()),
        ("cases", ()),
        ("door", ()),
        ("work_order", ()),
        ("cases_file", ("csv",)),
        ("metal", ()),
    ):
        assert client.get(at(job, page, *more)).status_code == 404, page
    assert client.post(at(job, "place"), {"device": "x", "to": "1"}).status_code == 404
