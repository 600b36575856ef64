"""The bench of joints: every usual group from its list of joints, published and hand-drawn cases,
what is refused and in which words."""

from math import sqrt

import pytest
from core.test_windings import PLAIN

from voltaje.core.codes import edition
from voltaje.core.electrical.windings.groups import USUAL
from voltaje.core.kinds import Context, evaluate, kind
from voltaje.core.kinds.winding_connections.bench import nets, tokens, windings
from voltaje.core.kinds.winding_connections.benches import LIBRARY
from voltaje.core.kinds.winding_connections.entries import WindingConnectionsEntries

CONTEXT = Context(edition("nec-2020"))
UNITS = "xyz"


def document(joints: str, units=None, **entries):
    """A bench of three units x, y, z unless told: (name, what it is, volts …)."""
    units = units or [(unit, "two", "400 V", "231 V") for unit in UNITS]
    rows = [{"id": name, "name": name, "made": made,
             **dict(zip(("first", "second", "third"), volts, strict=False))}
            for name, made, *volts in units]  # fmt: skip
    ends = [{"id": f"j{i}", "ends": one} for i, one in enumerate(joints.split("/"))]
    return {"units": rows, "joints": ends, "supply": "400 V", **entries}


def worked(joints: str, units=None, **entries):
    found = evaluate(kind("winding_connections"), document(joints, units, **entries), CONTEXT)
    assert found.report is not None, found.problems
    return found


def listed(high: str, low: str, shift: int, turned: bool, order: int) -> str:
    """A bank as its list of joints: the same as the coils of ``test_windings.bank``."""
    found = []
    for k, line in enumerate("ABC"):
        other = "N" if high == "Y" else "ABC"[(k + 1) % 3]
        found.append(f"{line} {UNITS[k]}1+; {other} {UNITS[k]}1-")
    first, last = ("-", "+") if turned else ("+", "-")
    names = ["abc"[(k - shift) % 3] for k in range(3)]
    for k, unit in enumerate(UNITS):
        found.append(f"{names[k]} {unit}2{first}")
        if low == "y":
            found.append(f"n {unit}2{last}")
        elif low == "d":
            found.append(f"{names[(k + 1) % 3]} {unit}2{last}")
        else:
            other = UNITS[(k + order) % 3]
            found.append(f"{unit}2{last} {other}3{last}; n {other}3{first}")
    return "; ".join(found)


@pytest.mark.parametrize("letters", PLAIN)
def test_every_usual_group_of_iec_60076_1_from_its_list(letters):
    """Joints typed in one row; groups and hours as phasors drawn by hand give them."""
    seen = set()
    for shift in range(3):
        for turned in (False, True):
            for order in (1, 2) if letters[1] == "z" else (1,):
                fed = "231 V" if letters[0] == "Y" else "400 V"
                made = ("zigzag", fed, "67 V") if letters[1] == "z" else ("two", fed, "115 V")
                units = [(unit, *made) for unit in UNITS]
                found = worked(listed(*letters, shift, turned, order), units)
                hour = (PLAIN[letters] + 4 * shift + 6 * turned + 2 * (order == 2)) % 12
                assert found.outcome.group.hour == hour
                if hour in USUAL[letters]:
                    assert found.report.results["group"].value == f"{letters}{hour}"
                    assert found.report.headline.startswith(f"{letters}{hour} ·")
                    assert found.report.status == "pass"
                    seen.add(hour)
    assert seen == set(USUAL[letters])


# the library, by hand: volts of the lines taken from the ratio of the coils and √3; the old bank as
# its phasors chain: a = −x2 + z3, b = −y2 + x3, c = −z2 − y3 of 67 V each; the midpoint stands 400 V
# from neither line: B–M is half of it, M–A is √3/2 of it
BENCHES = {
    "dy11": ("Dy11", (231 * sqrt(3),) * 3),
    "yd1": ("Yd1", (120.0, 120.0, 120.0)),
    "dz6": ("Dz6", (67 * 3.0,) * 3),
    "open-delta": ("none", (240.0, 240.0, 240.0)),
    "corner": ("none", (240.0, 240.0, 240 * sqrt(3))),
    "old-bank": ("none", (201.0, 67.0, 67 * sqrt(7))),
    "midpoint": ("none", (231 * sqrt(1 + 0.25), 231 * 1.0, 231 * 1.0)),
}


@pytest.mark.parametrize("bench", LIBRARY, ids=lambda bench: bench.name)
def test_the_library_by_hand(bench):
    found = evaluate(kind("winding_connections"), bench.document, CONTEXT)
    assert found.report is not None, found.problems
    results = found.report.results
    if bench.name == "two-phase":  # 115 V and 115 V at right angles
        a, b = (found.outcome.at[line] for line in "ab")
        assert abs(a) == pytest.approx(abs(b), rel=1e-3)
        assert (a / b).real == pytest.approx(0, abs=1e-3)
        return
    group, lines = BENCHES[bench.name]
    assert results["group"].value == group
    if bench.name == "midpoint":
        a, b, c = (found.outcome.at[line] for line in "abc")
        # each star coil stands in the ratio 231 : 400 on 400, 200 and 346.4 V
        assert [abs(p) for p in (a, b, c)] == pytest.approx([231, 115.5, 231 * sqrt(3) / 2])
        return
    assert [results[f"line_{i}"].value for i in (1, 2, 3)] == pytest.approx(list(lines), rel=5e-4)


def test_the_old_bank_says_which_coil_is_wrong():
    bench = next(one for one in LIBRARY if one.name == "old-bank")
    found = evaluate(kind("winding_connections"), bench.document, CONTEXT).report
    (look,) = [one for one in found.findings if one.name == "group"]
    assert str(look.remedy) == "Coil y3 turned round would make it Dz6."


def test_two_lines_changed_over_are_named():
    found = worked("A x1+ z1-/B y1+ x1-/C z1+ y1-/a x2+/c y2+/b z2+/n N x2- y2- z2-")
    (look,) = [one for one in found.report.findings if one.name == "group"]
    assert "follow the other way round" in str(look.words)
    assert str(look.remedy) == "b and c changed over make it Dy11."


def test_the_meter_before_a_corner_and_the_joint_that_may_not_be_closed():
    """480 V coils of 240 V: one turned round, so twice 240 V across the corner; closed, the joint
    is named; with 10 kVA and 4 % what flows around is 480 V over three units' leakage."""
    delta = "A x1+ z1-/B y1+ x1-/C z1+ y1-/a x2+/b x2- y2-/c y2+ z2+"
    units = [(unit, "two", "480 V", "240 V") for unit in UNITS]
    open_ = worked(delta, units, supply="480 V", meter="a z2-")
    assert open_.report.value("reading") == pytest.approx(480)
    closed = worked(delta + "/a z2-", units, supply="480 V")
    (fails,) = [one for one in closed.report.findings if one.name == "short"]
    assert "480 V stand across it" in str(fails.words) and closed.outcome.short.joint == "a–z2-"
    assert str(fails.remedy) == "Coil y2 turned round would make it Dd0."
    flows = worked(delta + "/a z2-", units, supply="480 V", kva="10 kVA", impedance="4")
    # each unit's 4 % of 5.76 Ω, half of it in each winding, seen together from the secondary
    ohms = 3 * 0.04 * 240**2 / 10_000
    amperes = abs(flows.outcome.currents["x2"])
    assert amperes == pytest.approx(480 / ohms, rel=0.02)
    assert "circulating" in {one.name for one in flows.report.findings}


def test_a_coil_above_its_volts_is_said():
    """400 V on coils for 231 V: delta where it should be star."""
    found = worked("A x1+ z1-/B y1+ x1-/C z1+ y1-/a x2+/b y2+/c z2+/n x2- y2- z2-",
                   [(unit, "two", "231 V", "120 V") for unit in UNITS])  # fmt: skip
    words = {one.name: str(one.words) for one in found.report.findings}
    assert "173 % of its 231 V" in words["flux_x1"]


def test_what_floats_and_what_nothing_feeds():
    found = worked("A x1+ z1-/B y1+ x1-/C z1+ y1-/a x2+ z2-/b y2+ x2-/c z2+ y2-",
                   [*[(unit, "two", "400 V", "200 V") for unit in UNITS],
                    ("q", "two", "100 V", "10 V")])  # fmt: skip
    assert {"a", "b", "c"} <= found.outcome.floating and "A" not in found.outcome.floating
    (idle,) = [one for one in found.report.findings if one.name == "idle"]
    assert "No volts stand on q" in str(idle.words)
    assert found.report.results["group"].value == "Dd0"


def test_sources_of_any_phasor():
    """A single unit fed with 100 V at 40° from a point of its own."""
    found = worked("p x1+/E x1-/a x2+", [("x", "two", "100 V", "20 V")], supply="",
                   sources=[{"id": "s", "name": "p", "volts": "100 V", "angle": "40", "other": "E"}])  # fmt: skip
    assert found.report.line("coil_x2").value == pytest.approx(20)
    assert "40°" in found.report.line("coil_x2").expression


def test_a_list_is_read_as_it_is_written():
    entries = WindingConnectionsEntries(
        units=document("")["units"],
        joints=[{"id": "a", "ends": "x2- y2-; x2+, a"}, {"id": "b", "ends": "z2− y2-"}],
    )
    found = nets(entries, windings(entries))
    assert [net.text for net in found] == ["x2- y2- z2-", "a x2+"]
    assert tokens(" ; x1+  ; ") == [["x1+"]]


X = [("x", "two", "400 V", "231 V")]
BAD = [
    (document("x1+ A", []) | {"units": []}, "units", "Needed: a unit"),
    (document("A x1+", [(f"{a}{b}", "two", "9 V", "9 V") for a in "abcdefghij" for b in "abcdefghij"]),
     "units", "100 units: at most 12"),
    (document("A x1+", [("x", "two", "0 V", "231 V")]), "units.x.first", "Out of range"),
    (document("A x1+", [("x", "two", "400 V")]), "units.x.second", "Needed: its rated volts"),
    (document("A x1+", [("x", "three", "400 V", "20 V")]), "units.x.third", "Needed: its rated volts"),
    (document("A x1+", [("", "two", "400 V", "20 V")]), "units.r0.name", "Needed: a name"),
    (document("A x1+", [*X, ("y", "two", "4 V", "2 V")])
     | {"units": [*document("", X)["units"], {"id": "q", "name": "x", "first": "4 V", "second": "2 V"}]},
     "units.q.name", "There is a unit “x” already"),
    (document("A q1+", X), "joints.j0.ends", "There is no “q1+”"),
    (document("A x3+", X), "joints.j0.ends", "There is no “x3+”"),
    (document("A x1+/x2-", X), "joints.j1.ends", "“x2-” is joined to nothing"),
    (document("A x1+ B", X), "joints.j0.ends", "A and B are two lines of the supply"),
    (document("A x1+/x1+ N", X), "joints.j1.ends", "A and N are two lines of the supply"),
    (document("A x1+", X, supply=""), "supply", "Needed: the volts of the supply"),
    (document("A x1+", X, supply="0 V"), "supply", "Out of range"),
    (document("A x1+", X, meter="x1+"), "meter", "Give two ends"),
    (document("A x1+", X, meter="x1+ q"), "meter", "There is no “q”"),
    (document("A x1+", X, load_lines="a a b"), "load_lines", "A point is named twice"),
    (document("A x1+", X, sources=[{"id": "s", "name": "p"}]), "sources.s.volts", "Needed"),
    (document("A x1+", X, sources=[{"id": "s", "name": "A", "volts": "9 V"}]), "sources.s.name",
     "A is a line of the supply already"),
]  # fmt: skip


@pytest.mark.parametrize(("typed", "path", "words"), BAD)
def test_what_is_wrong_is_said_at_its_field(typed, path, words):
    found = evaluate(kind("winding_connections"), typed, CONTEXT)
    assert found.outcome is None
    assert [p.path for p in found.problems] == [path] and found.problems[0].words.startswith(words)


@pytest.mark.parametrize("joints", ["x1+ x1-", "A x1+/N x1-/x2+ x2-", "A x1+/B x1+"])
def test_what_closes_on_volts_is_refused_and_never_raised(joints):
    """A coil shorted on itself, the secondary shorted, two lines on one end."""
    found = evaluate(kind("winding_connections"), document(joints, X), CONTEXT)
    if found.outcome is None:
        assert found.problems[0].words.startswith("A and B are two lines")
    else:
        assert found.report is not None
