"""Local amendments: a figure overridden, visibly, and nothing else."""

import pytest

from voltaje.core.codes import Amendment, NotCoveredError, amended, edition
from voltaje.core.kinds import Context, evaluate, kind
from voltaje.core.rules.north_america.alternatives import alternatives
from voltaje.core.rules.north_america.checks import SizingRequest
from voltaje.core.rules.north_america.wiring import Installation

WHO = ("Mill County", "Ordinance 7")


def code(*changes):
    return amended("nec-2020", tuple(Amendment(*change, *WHO) for change in changes))


def test_a_cell_is_overridden_and_its_rule_says_so():
    found = code(("ampacity", "10", "copper 60", "25"))
    cell = found.cell("ampacity", "10", "copper 60")
    assert cell.value == 25 and "Mill County" in cell.rule.amended
    assert "25 instead of 30" in cell.rule.amended and "Ordinance 7" in cell.rule.amended
    assert not found.cell("ampacity", "10", "copper 75").rule.amended
    assert edition("nec-2020").cell("ampacity", "10", "copper 60").value == 30


def test_it_turns_the_choice_and_shows_on_the_line():
    need = SizingRequest(24, 24, 24, (25.0, 30.0))
    where = Installation(counted=2)
    assert alternatives(need, where, edition("nec-2020")).chosen.option.size == "10"
    found = code(("ampacity", "10", "copper 60", "20"))
    assert alternatives(need, where, found).chosen.option.size == "8"
    worked = evaluate(kind("circuit"), {"load": "2.9 kW"}, Context(found)).report
    shown = code(("ampacity", worked.alternatives[0].size, "copper 60", "44"))
    again = evaluate(kind("circuit"), {"load": "2.9 kW"}, Context(shown)).report
    marked = [
        r.amended for s in again.sections for line in s.lines for r in line.rules if r.amended
    ]
    assert marked or again.alternatives[0].size != worked.alternatives[0].size


def test_a_limit_is_overridden_under_its_own_rule():
    found = code(("limits", "next_size_up", "value", "400"))
    limit = found.limit("next_size_up")
    assert limit.value == 400 and limit.rule.number == "240.4(B)" and limit.rule.amended


@pytest.mark.parametrize(
    ("change", "error"),
    [
        (("ampacity", "11", "copper 60", "25"), NotCoveredError),
        (("ampacity", "10", "copper 61", "25"), NotCoveredError),
        (("nothing", "10", "copper 60", "25"), NotCoveredError),
        (("ampacity", "10", "copper 60", "many"), ValueError),
        (("equipment_grounding", "800", "copper", "75"), ValueError),
    ],
)
def test_what_cannot_be_amended_is_refused(change, error):
    with pytest.raises(error):
        edition("nec-2020").with_amendments([Amendment(*change, *WHO)])
    # a job that has changed to an edition without the cell goes on without the amendment
    assert code(change) is edition("nec-2020")


def test_the_same_amendments_are_the_same_edition():
    change = ("ampacity", "10", "copper 60", "25")
    assert code(change) is code(change)
