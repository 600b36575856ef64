"""Every slip that a kind declares, and every factor that a worksheet reads, is named when a learner makes
it: the sheet worked with the slip is typed in, line by line. What slips are usual is common practice."""

from __future__ import annotations

from functools import lru_cache

import pytest
from core.test_every_kind import CANADA, GOOD, METRIC

from voltaje.core.codes import Amendment, Misreading, edition
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.kinds import evaluate, kind, kinds
from voltaje.core.practice import Marker, problem
from voltaje.core.practice.problems import as_given, holding
from voltaje.core.practice.slips import kind_slips, rule_slips
from voltaje.core.report import Rule
from voltaje.core.rules.interface import code_of

CODES = ("nec-2017", "nec-2023", "cec-2021", "bs7671-2018", "sans10142-2020", "asnzs3000-2018")
OWN = {"cec-2021": CANADA, "bs7671-2018": METRIC, "sans10142-2020": METRIC, "asnzs3000-2018": METRIC}  # fmt: skip
SLIPPED = [one.name for one in kinds() if one.slips is not None]


@lru_cache(maxsize=256)
def base(name, code):
    """The entries that hold under a code, with their system."""
    of, book = kind(name), edition(code)
    if not of.covers(code_of(book.family)):
        return ()
    document = {**GOOD, **OWN.get(code, {})}.get(name, {})
    systems = list(of.stands_on(code_of(book.family)) if of.stands_on else SYSTEMS)
    return holding(of, book, [(systems, document)])


def made(name, code, seed):
    found = base(name, code)
    return problem(kind(name), edition(code), found, seed) if found else None


def missed(slips, set_):
    """The slips that no line names: each as the sheet with it tells."""
    marker, left = Marker(set_), []
    for slip in slips:
        context = set_.context
        if slip.cells:
            context = type(context)(
                context.edition.misread(slip.cells), context.units, context.supply
            )
        read = evaluate(set_.kind, slip.document, context).report
        if read is None:
            continue
        other = {
            one.id: one
            for one in Marker(
                type(set_)(set_.kind, slip.document, context, read, set_.level, "")
            ).lines
        }
        differ = [
            one for one in marker.lines if one.id in other and other[one.id].shown != one.shown
        ]
        given = {one.id: other[one.id].shown for one in marker.lines if one.id in other}
        wrong = [one for one in marker.mark(given) if one.mark == "wrong"]
        told = {str(words) for one in wrong for words in one.slips}
        ambiguous = any(len(one.slips) > 1 for one in wrong)
        # lines that are the key's within their rounding tell nothing of it
        if differ and wrong and str(slip.words) not in told and not ambiguous:
            left.append((slip.name, str(slip.words), sorted(told)))
    return left


@pytest.mark.parametrize("code", CODES)
@pytest.mark.parametrize("name", SLIPPED)
def test_a_declared_slip_is_named(name, code):
    tried = 0
    for seed in ("1", "2"):
        found = made(name, code, seed)
        if found is None:
            continue
        worked = evaluate(found.kind, found.document, found.context)
        slips = list(kind_slips(found.kind, worked, found.document))
        assert len({slip.name for slip in slips}) == len(slips)
        tried += len(slips)
        assert missed(slips, found) == []
    assert tried or not base(name, code) or (name, code[:3]) == ("multiwire_circuit", "bs7")


@pytest.mark.parametrize("code", CODES)
@pytest.mark.parametrize(
    "name", ["circuit", "motor", "machine", "dwelling", "cooking", "feeder", "inverter"]
)
def test_a_factor_left_out_or_taken_twice_is_named(name, code):
    found = made(name, code, "1")
    if found is None:
        return
    assert (
        missed(list(rule_slips(found.report, found.document, found.context.edition)), found) == []
    )


FACTORS = [
    # entries, code, what is asked, the figure with the slip by hand, how it is told
    ("motor", "nec-2020", {"horsepower": "10 hp"}, "3ph-208Y/120", "125 % for a motor’s conductors left out"),
    ("cooking", "nec-2020", {"layout": "range", "nameplate": "16 kW", "length": "40 ft"}, "1ph-120/240",
     "the increase above the column’s last kilowatt left out"),
    ("circuit", "bs7671-2018", {"load": "6 kW", "length": "20 m", "grouped_circuits": "3", "device_type": "B",
                                "cable": "multi", "reference_method": "C"}, "1ph-230", "0.75 left out"),
    ("dwelling", "nec-2020", GOOD["dwelling"] | {"area": "2400"}, "1ph-120/240", "the small-appliance circuits left out"),
]  # fmt: skip


@pytest.mark.parametrize(("name", "code", "document", "system", "words"), FACTORS)
def test_factors_of_rules_have_their_names(name, code, document, system, words):
    found = as_given(kind(name), edition(code), SYSTEMS[system], document, "guided", "")
    said = [str(one.words) for one in rule_slips(found.report, document, found.context.edition)]
    assert words in said, said


def test_a_misread_cell_is_read_everywhere_and_says_nothing():
    book = edition("nec-2020")
    read = book.misread(
        [
            Misreading("limits", "continuous", "value", "100"),
            Misreading("limits", "no", "value", "1"),
        ]
    )
    assert (book.limit("continuous").value, read.limit("continuous").value) == (125, 100)
    assert (
        read.value("continuous") == 100
        and read.limit("continuous").rule == book.limit("continuous").rule
    )
    assert read.cell("ampacity", "12", "copper 75") is book.cell("ampacity", "12", "copper 75")
    assert read.has_table("ampacity") and not read.has_table("nothing")


@pytest.mark.parametrize(("rule", "address"), [
    (Rule("nec-2020", "continuous", "210.20(A)", False, "continuous", "value"), ("limits", "continuous", "value")),
    (Rule("nec-2020", "ampacity", "310.16", True, "12", "copper 75"), ("ampacity", "12", "copper 75")),
    (Rule("nec-2020", "ampacity", "310.16", True, "12", ""), None),
    (Rule("nec-2020", "continuous", "210.20(A)", False, "", ""), None),
])  # fmt: skip
def test_the_address_of_a_rules_cell(rule, address):
    assert edition("nec-2020").address(rule) == address


def test_a_slip_tells_the_figure_of_a_local_amendment():
    """The words have no figure of the code in them: 140 % where a jurisdiction asks that."""
    item = Amendment("limits", "motor_conductor", "value", "140", "Town", "local rule")
    book = edition("nec-2020").with_amendments([item])
    found = as_given(
        kind("motor"), book, SYSTEMS["3ph-208Y/120"], {"horsepower": "10 hp"}, "guided", ""
    )
    said = [str(one.words) for one in rule_slips(found.report, found.document, book)]
    assert "140 % for a motor’s conductors left out" in said and not any(
        "125 % for a motor" in one for one in said
    )
