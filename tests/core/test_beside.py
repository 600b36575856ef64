"""A part beside itself under another code: every kind there and back, what differs and why."""

from itertools import permutations

import pytest
from core.test_every_kind import CANADA, GOOD
from core.test_every_kind import METRIC as GOOD_METRIC

from voltaje.core.codes import Amendment, edition, editions
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.job.calculate import calculate_job
from voltaje.core.job.code_comparison import compare, counterpart, inputs, stand_ins
from voltaje.core.kinds import Context, PartInput, evaluate, kind, kinds
from voltaje.core.rules.context import supplied
from voltaje.core.rules.iec60364 import METRIC
from voltaje.core.rules.interface import code_of, families

NEC, CEC, BS, AS = map(edition, ("nec-2020", "cec-2021", "bs7671-2018", "asnzs3000-2018"))


def beside(mine, other, document, name="circuit", system="3ph-208Y/120"):
    of = kind(name)
    asked, _ = counterpart(of, document, code_of(mine.family), code_of(other.family))
    point = supplied(SYSTEMS[system], mine)
    one = evaluate(of, document, Context(mine, "us", point))
    two = evaluate(of, asked, Context(other, "us", point))
    return compare(of, document, one, two, (mine, other))


def rows(found):
    return {row.name: row for row in found.rows}


def good(name, book):
    if book.family in METRIC:
        return GOOD_METRIC.get(name, GOOD[name])
    return CANADA.get(name, GOOD[name]) if book.family == "cec" else GOOD[name]


BOOKS = [editions(code.family)[-1] for code in families()]


@pytest.mark.parametrize("name", [of.name for of in kinds()])
@pytest.mark.parametrize(("mine", "other"), list(permutations(BOOKS, 2)), ids=lambda book: book.id)
def test_every_kind_stands_beside_itself(mine, other, name):
    """It has an answer, or words for why it has none; what it was told is not lost on the way."""
    of, document = kind(name), good(name, mine)
    if not of.covers(code_of(mine.family)):
        return
    system = "3ph-400Y/230" if name != "dwelling" else "1ph-120/240"
    before = repr(document)
    found = beside(mine, other, document, name, system)
    assert repr(document) == before
    covered = of.covers(code_of(other.family))
    if not covered:
        assert f"not covered by {other.title}" in found.problems[0]
    assert found.problems or found.rows or not found.headline
    assert str(found.why)
    for row in found.rows:
        assert row.mine is not None or row.other is not None
        for side in (row.mine, row.other):
            assert side is None or side.text


@pytest.mark.parametrize("name", [of.name for of in kinds() if of.covers(code_of("nec"))])
def test_an_edition_beside_itself_is_the_same(name):
    system = "1ph-120/240" if name == "dwelling" else "3ph-208Y/120"
    found = beside(NEC, NEC, GOOD[name], name, system)
    assert not found.differs or found.problems
    assert str(found.why) == "Both come to the same." or found.problems


@pytest.mark.parametrize(
    ("mine", "other", "document", "why", "differing"),
    [
        (NEC, BS, {"load": "9.6 kW", "use": "kiln", "connection": "three-phase"},
         "NEC 2020 asks for", {"design", "device"}),
        (NEC, CEC, {"load": "20 A"}, "Protective conductor: 12 AWG Cu by NEC 2020 (250.122)",
         {"ground"}),
        (NEC, CEC, {"use": "receptacles", "outlets": "8"}, "They add the load up by other rules",
         {"load", "amperes"}),
        (BS, AS, {"load": "9.6 kW", "reference_method": "C"}, "Behind the same device",
         {"ampacity", "ground"}),
    ],
)  # fmt: skip
def test_why_they_differ_is_the_first_that_does(mine, other, document, why, differing):
    system = "3ph-400Y/230" if mine.family != "nec" or other.family != "cec" else "3ph-208Y/120"
    found = beside(mine, other, document, system=system)
    assert str(found.why).startswith(why), str(found.why)
    assert differing <= {name for name, row in rows(found).items() if row.differs}


def test_what_one_edition_changes_is_told():
    house = {"area": "2400 ft²", "appliances": [
        {"id": "a", "name": "Charger", "nameplate": "5 kW", "connection": "240",
         "place": "charger"}]}  # fmt: skip
    found = beside(NEC, edition("nec-2023"), house, "dwelling", "1ph-120/240")
    assert found.differs and rows(found)["load"].differs


@pytest.mark.parametrize(
    ("mine", "other", "document", "expected"),
    [
        (NEC, CEC, {"wiring_method": "NM-B"}, {"raceway_or_cable": "NMD90"}),
        (NEC, CEC, {"insulation": "TW"}, {"raceway_or_cable": "EMT", "conductor_type": "TW"}),
        (NEC, CEC, {"wiring_method": "UF-B", "raceway_or_cable": "AC90"}, {"raceway_or_cable": "AC90"}),
        (NEC, BS, {"wiring_method": "NM-B"}, {"reference_method": "C", "cable": "multi 90"}),
        (NEC, BS, {"wiring_method": "MC"}, {"cable": "armoured 90"}),
        (BS, NEC, {"reference_method": "D", "cable": "armoured"}, {"wiring_method": "UF-B"}),
        (BS, NEC, {"reference_method": "B"}, {"wiring_method": "EMT", "insulation": "THHN"}),
        (BS, AS, {"reference_method": "C", "cable": "multi"}, {"installed": "touching"}),
    ],
)  # fmt: skip
def test_how_it_lies_is_told_in_the_others_words(mine, other, document, expected):
    asked, _ = counterpart(kind("circuit"), document, code_of(mine.family), code_of(other.family))
    assert {name: asked.get(name) for name in expected} == expected


def test_what_is_fixed_by_hand_is_left_out_in_another_family_and_kept_in_its_own():
    document = {"load": "20 A", "size": "8", "device": "25 A", "use": "sign"}
    asked, left = counterpart(kind("circuit"), document, code_of("nec"), code_of("bs7671"))
    assert "device" not in asked and asked["use"] == "sign"
    assert set(left) == {"Device"}  # its conductor has no entry of that name there
    asked, left = counterpart(kind("circuit"), document, code_of("nec"), code_of("cec"))
    assert asked["use"] == "lighting" and set(left) == {"Device", "Conductor"}
    asked, left = counterpart(kind("circuit"), document, code_of("nec"), code_of("nec"))
    assert asked == document and not left


def test_a_charger_is_never_lost_among_other_loads():
    row = {"id": "a", "name": "Car", "nameplate": "7.2 kW", "connection": "240", "place": "charger"}
    asked, _ = counterpart(kind("dwelling"), {"appliances": [row]}, code_of("nec"), code_of("cec"))
    assert asked["appliances"][0]["counts_as"] == "vehicle"
    back = {"id": "a", "nameplate": "7.2 kW", "counts_as": "managed"}
    asked, _ = counterpart(kind("dwelling"), {"appliances": [back]}, code_of("cec"), code_of("nec"))
    assert asked["appliances"][0]["place"] == "charger"


def test_what_is_not_covered_stands_in_as_the_first_has_it():
    parts = [
        PartInput("s", "supply", None, {"system": "3ph-480Y/277"}),
        PartInput("t", "transformer", "s", {"kva": "45 kVA", "connection": "delta-wye",
                                            "secondary": "3ph-208Y/120", "impedance": "4"}),
        PartInput("b", "board", "t", {"rating": "200 A"}),
        PartInput("c", "circuit", "b", {"load": "2 kW", "length": "20 ft"}),
    ]  # fmt: skip
    mine = calculate_job(parts, NEC)
    other = code_of("bs7671")
    found = calculate_job(inputs(parts, code_of("nec"), other), BS, instead=stand_ins(mine, other),
                  volts=False)  # fmt: skip
    assert "not covered" in found["t"].problems[0].words
    # 2 kW at 120 V behind the transformer, not at 277 V
    assert found["c"].report.value("amperes") == pytest.approx(2000 / 120)
    assert found["s"].report.value("calculated_load") > 0


def test_a_stand_in_goes_by_its_own_name():
    parts = [
        PartInput("s", "supply", None, {"system": "3ph-480Y/277"}, name="Supply"),
        PartInput("b", "board", "s", {"rating": "200 A"}, name="Board"),
        PartInput("m", "motor", "b", GOOD["motor"], name="Hoist"),
    ]
    found = calculate_job(inputs(parts, code_of("nec"), code_of("bs7671")), BS,
                  instead=stand_ins(calculate_job(parts, NEC), code_of("bs7671")), volts=False)  # fmt: skip
    pieces = found["b"].context.below.pieces
    assert [(piece.part, piece.name) for piece in pieces] == [("m", "Hoist")]


def test_amendments_of_one_family_do_not_reach_another():
    more = Amendment("limits", "continuous", "value", "150", "Town", "")
    amended = NEC.with_amendments([more])
    found = beside(amended, CEC, {"load": "20 A", "continuous": "yes"})
    assert rows(found)["design"].mine.value == pytest.approx(30)
    assert rows(found)["design"].other.value == pytest.approx(25)
