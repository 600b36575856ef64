"""A load in amperes or ohms wherever kVA is asked: the same sheet as with the VA that they make."""

import pytest

from voltaje.core.codes import edition
from voltaje.core.kinds import Context, evaluate, kind

BANK = {
    "primary": "480",
    "secondary": "240",
    "kva": "25",
    "supply": "480",
    "required_voltage": "240",
}
AUTO = {
    "winding": "2400",
    "other_winding": "240",
    "kva": "50",
    "source_voltage": "2640",
    "required_voltage": "2400",
}
MEASURED = {"calculation": "measured", "existing_service": "100 A", "measured_demand": "58 A"}


@pytest.mark.parametrize(("name", "entries", "of", "amperes", "kva"), [
    # √3 × V × A for three lines, V × A for one phase
    ("bank", BANK, "load", "100 A", 3**0.5 * 240 * 100 / 1000),
    ("bank", BANK | {"load": "30"}, "lighting", "50 A", 12.0),
    ("bank", BANK, "lighting", "4.8 Ω", 12.0),
    ("autotransformer", AUTO, "load", "150 A", 2400 * 150 / 1000),
    ("autotransformer", AUTO | {"phases": "wye", "source_voltage": "4573", "required_voltage": "4157"}, "load",
     "120 A", None),
    ("dwelling", MEASURED, "new_load", "30 A", 7.2), ("dwelling", MEASURED, "new_load", "60 A 120 V", 7.2),
])  # fmt: skip
def test_amperes_or_the_kva_that_they_make(name, entries, of, amperes, kva):
    found = evaluate(kind(name), entries | {of: amperes}, Context())
    assert found.report, found.problems
    if kva is None:
        assert found.report.value("load_amperes") == pytest.approx(120)
        return
    by_kva = evaluate(kind(name), entries | {of: f"{kva!r} kVA"}, Context()).report
    assert {n: r.value for n, r in found.report.results.items()} == pytest.approx(
        {n: r.value for n, r in by_kva.results.items()}
    )


@pytest.mark.parametrize(
    ("typed", "said"), [("5 hp", "kVA"), ("abc", "60 kVA"), ("12 ft", "60 kVA")]
)
def test_what_is_no_load_says_what_would_be(typed, said):
    found = evaluate(kind("bank"), BANK | {"load": typed}, Context())
    assert said in str(next(p.words for p in found.problems if p.path == "load"))


def test_a_bare_figure_is_in_kva():
    bare, told = (
        evaluate(kind("bank"), BANK | {"load": text}, Context()).report for text in ("30", "30 kVA")
    )
    assert bare.sections == told.sections


def test_the_largest_load_of_a_bank_is_told_in_kva():
    found = evaluate(kind("bank"), BANK | {"load": "?"}, Context()).report
    assert found.results["found"].unit == "kVA"
    assert found.value("found") == pytest.approx(75, rel=0.006)


def test_units_of_a_building_in_amperes_by_the_canadian_code():
    """40 A of each at 240 V are 9.6 kW, 100 A of heating of all are 24 kW."""

    def worked(load, heating):
        entries = {"subject": "building", "units": [{"id": "a", "name": "Flats", "load": load, "count": "6"}],
                   "units_heating": heating}  # fmt: skip
        found = evaluate(kind("dwelling"), entries, Context(edition("cec-2021")))
        assert found.report, found.problems
        return {name: result.value for name, result in found.report.results.items()}

    assert worked("40 A", "100 A") == pytest.approx(worked("9600", "24 kW"))
