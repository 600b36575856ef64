"""Where practice differs: the drop by impedance, by resistance alone and for the conductor's own
temperature; kVA and full-load current at nominal and at delivered voltage."""

import pytest

from voltaje.core.codes import edition
from voltaje.core.electrical.systems import SYSTEMS, SupplyPoint
from voltaje.core.job.calculate import calculate_job
from voltaje.core.kinds import Context, PartInput, evaluate, kind
from voltaje.core.rules.settings import Limits, Shop

CIRCUIT = {"load": "16 A", "length": "150 ft", "size": "12", "connection": "line-neutral"}


def worked(
    name, document, code="nec-2020", system="1ph-120/240", method="impedance", basis="nominal"
):
    context = Context(edition(code), "us", SupplyPoint(SYSTEMS[system]), shop=Shop(basis=basis),
                      limits=Limits(method=method))  # fmt: skip
    found = evaluate(kind(name), document, context)
    assert found.report, found.problems
    return found.report


def lines(report):
    return {line.name: line for section in report.sections for line in section.lines}


@pytest.mark.parametrize(("size", "ohms"), [
    # chapter 9, Table 8, uncoated stranded copper, Ω for each 1,000 ft at 75 °C: recalled, and each
    # within 2.5 % of resistivity × length ÷ area (checked with the table itself)
    ("12", 1.98), ("10", 1.24), ("8", 0.778), ("6", 0.491), ("4", 0.308),
])  # fmt: skip
def test_by_resistance_alone(size, ohms):
    found = worked("circuit", CIRCUIT | {"size": size}, method="resistance")
    assert found.value("drop_percent") == pytest.approx(100 * 2 * 16 * ohms * 0.15 / 120, rel=1e-6)
    assert lines(found)["drop"].rules[0].topic == "conductor_properties"


def test_for_its_own_temperature():
    """θ = ambient + (insulation − ambient) × (I ÷ ampacity)², R × (1 + α (θ − 75)): the usual
    estimate of a conductor's heat (IEC 60287, annex of BS 7671 on voltage drop; common practice)."""
    found = worked("circuit", CIRCUIT | {"ambient": "30"}, method="temperature")
    # 12 AWG copper THHN carries 30 A at 90 °C (310.16); 2.0 Ω for each 1,000 ft in steel (Table 9)
    degrees = 30 + 60 * (16 / 30) ** 2
    ohms = 2.0 * (1 + 0.00323 * (degrees - 75))
    assert found.value("drop_percent") == pytest.approx(100 * 2 * 16 * ohms * 0.15 / 120, rel=1e-6)
    assert "47 °C" in str(lines(found)["drop"].note)


@pytest.mark.parametrize(
    "code", ["nec-2023", "cec-2021", "bs7671-2018", "asnzs3000-2018", "sans10142-2020"]
)
@pytest.mark.parametrize("amperes", [4, 12, 15])
def test_a_cooler_conductor_loses_less(code, amperes):
    metric = not code.startswith(("nec", "cec"))
    name, system = ("distribution", "1ph-230") if metric else ("circuit", "1ph-120/240")
    entries = {"load": f"{amperes} A", "length": "40 m"} | (
        {"area": "4"} if metric else {"size": "8"}
    )
    usual = worked(name, entries, code, system)
    own = worked(name, entries, code, system, method="temperature")
    assert 0 < own.value("drop_percent") < usual.value("drop_percent")
    # each sheet shows the other beside it, and the item's own choice goes before the job's
    beside = lines(usual)["drop_otherwise" if metric else "drop_temperature"].value
    assert beside == pytest.approx(own.value("drop_percent"))
    by_hand = entries | {"drop_method": "table" if metric else "impedance"}
    again = worked(name, by_hand, code, system, method="temperature")
    assert again.value("drop_percent") == pytest.approx(usual.value("drop_percent"))


@pytest.mark.parametrize("method", ["impedance", "resistance", "temperature"])
@pytest.mark.parametrize("amperes", [10, 40, 90])
def test_what_is_sized_holds_by_its_own_method(method, amperes):
    entries = {"load": f"{amperes} A", "length": "300 ft", "drop_sizing": "part"}
    found = worked("circuit", entries, method=method)
    assert found.value("drop_percent") <= 3.0 + 1e-9


def test_full_load_current_on_its_tap():
    """75 kVA at 480 V: 90.2 A; on the 5 % tap below, rated for 456 V, 95.0 A: S ÷ (√3 × V)."""
    entries = {"kva": "75", "tap": "-5"}
    for basis in ("nominal", "actual"):
        found = worked("transformer", entries, system="3ph-480Y/277", basis=basis)
        assert found.value("primary_current") == pytest.approx(75000 / 3**0.5 / 480)
        assert found.value("tap_current") == pytest.approx(75000 / 3**0.5 / 456)
        assert {one.name: one.chosen for one in found.methods} == {
            "method_nominal": basis == "nominal", "method_actual": basis == "actual"}  # fmt: skip
        assert ("tap_current" in found.answer) == (basis == "actual")
    assert worked("transformer", {"kva": "75"}, system="3ph-480Y/277").methods == ()


def test_kva_at_nominal_and_at_delivered_voltage():
    booster = {
        "measured_voltage": "204",
        "required_voltage": "240",
        "load": "40 A",
        "load_type": "heater",
    }
    found = worked("buck_boost", booster, basis="actual")
    assert found.value("load") == pytest.approx(9.6)
    # 240 V ÷ 40 A = 6 Ω at 244.8 V
    assert found.value("delivered_load") == pytest.approx(244.8**2 / 6 / 1000)
    assert "delivered_load" in found.answer
    assert "load" in worked("buck_boost", booster).answer
    bank = {
        "primary": "480",
        "secondary": "240",
        "supply": "460",
        "required_voltage": "230",
        "kva": "15",
    }
    found = worked("bank", bank, basis="actual")
    assert found.value("nominal_kva") == pytest.approx(45)
    assert found.value("bank_kva") == pytest.approx(45 * 460 / 480)


def test_a_grounded_conductor_by_its_load_and_as_the_path_of_fault_current():
    """250.24(C): no smaller than the table asks for the fault, nor than the neutral's load."""
    loads = (
        {"load": "2 kW", "connection": "line-neutral"},
        {"load": "34 kW", "connection": "line-neutral"},
    )
    for load in loads:
        parts = [PartInput("s", "supply", None, {}, "S"), PartInput("v", "service", "s", {"rod": "yes"}, "V"),
                 PartInput("c", "circuit", "v", load, "C")]  # fmt: skip
        found = calculate_job(parts, edition("nec-2020"))["v"].report
        beside = {
            name: str(line.label) for name, line in lines(found).items() if "grounded_" in name
        }
        sizes = [beside[f"grounded_by_{way}"].split(": ")[1] for way in ("load", "fault")]
        assert beside["grounded_conductor"].split(": ")[1] in sizes
