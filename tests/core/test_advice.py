"""Single-phase or three-phase: the two questions. Common practice, no source."""

import pytest

from voltaje.core.electrical.advice import Wanted, advise, advise_list
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.quantities import read_nameplate
from voltaje.core.rules.interface import families, usual_supplies


@pytest.mark.parametrize(
    ("only", "kva", "limit", "system", "words"),
    [
        (False, 30, 400, "1ph-120/240", "125 A at 240 V is within"),
        (False, 96, 400, "1ph-120/240", "400 A at 240 V is within"),
        (False, 96.5, 400, "3ph-208Y/120", "more than the 400 A"),
        (False, 60, 200, "3ph-208Y/120", "more than the 200 A"),
        (True, 5, 400, "3ph-208Y/120", "however small"),
        (True, 500, 400, "3ph-480Y/277", "heavy at 208 V"),
    ],
)
def test_two_questions_decide(only, kva, limit, system, words):
    found = advise(only, kva, limit)
    assert found.system.id == system and words in " ".join(str(text) for text in found.why)


SPLIT, WYE = SYSTEMS["1ph-120/240"], SYSTEMS["3ph-208Y/120"]
SINGLE, METRIC = SYSTEMS["1ph-230"], SYSTEMS["3ph-400Y/230"]


@pytest.mark.parametrize(
    ("text", "connection", "systems", "va"),
    [
        ("4.5 kW", "two-line", (SPLIT, WYE), 4500),
        ("10 A", "line-neutral", (SPLIT, WYE), 1200),
        ("10 A", "two-line", (SPLIT, WYE), 2080),
        ("10 A 240 V", "two-line", (SPLIT, WYE), 2400),
        ("10 A", "three-phase", (SPLIT, WYE), 3602.66),
        ("16 A", "line-neutral", (SINGLE, METRIC), 3680),
        ("16 A", "three-phase", (SINGLE, METRIC), 11085.1),
        ("5 hp", "three-phase", (SPLIT, WYE), None),
    ],
)
def test_what_a_listed_load_comes_to(text, connection, systems, va):
    """VA by hand: V × A, √3 V × A of three lines."""
    found = Wanted.of("x", read_nameplate(text), connection, *systems)
    assert found is None if va is None else found.va == pytest.approx(va, rel=1e-5)


@pytest.mark.parametrize(
    ("loads", "limit", "systems", "system", "needing", "amperes"),
    [
        # within the limit, nothing needs three lines; a load to neutral stands on one line whole
        ([("a", 9_600, "line-neutral")], 100, (SPLIT, WYE), "1ph-120/240", (), 80),
        # one hoist is enough, however small
        (
            [("a", 2_400, "line-neutral"), ("hoist", 400, "three-phase")],
            400,
            (SPLIT, WYE),
            "3ph-208Y/120",
            ("hoist",),
            2_400 / 120 + 400 / 240,
        ),
        # too much for one line: 26 kW of 230 V
        (
            [(f"h{i}", 2_000, "line-neutral") for i in range(13)],
            100,
            (SINGLE, METRIC),
            "3ph-400Y/230",
            (),
            26_000 / 230,
        ),
    ],
)
def test_a_list_decides_and_is_spread(loads, limit, systems, system, needing, amperes):
    found = advise_list([Wanted(*load) for load in loads], limit, *systems)
    assert found.system.id == system and found.need_three == needing
    assert found.single_amperes == pytest.approx(amperes)
    if found.system.phases == 3:
        assert found.proven and set(found.lines) == set(range(len(loads)))
        on = dict.fromkeys(found.system.lines, 0.0)
        for index, (_, va, connection) in enumerate(loads):
            if connection == "line-neutral":
                on[found.lines[index]] += va
            else:
                assert found.lines[index] == "all"
        singles = [va for _, va, connection in loads if connection == "line-neutral"]
        assert sum(on.values()) == sum(singles)
        assert max(on.values()) - min(on.values()) <= max(singles)


def test_every_family_has_its_usual_supplies():
    for code in families():
        single, three = usual_supplies(code)
        assert single.phases == 1 and single.has_neutral and not single.is_wye
        assert three.phases == 3 and three.has_neutral and not three.high_leg
        assert single.metric == three.metric
