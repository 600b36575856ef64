"""A load on three lines split as its lines were measured: the board's lines, the solved network and
the circuit's own size agree with the sums done by hand."""

import pytest

from voltaje.core.codes import edition
from voltaje.core.job.calculate import calculate_job
from voltaje.core.job.voltages.report import ByBand
from voltaje.core.kinds import PartInput

SYSTEMS = {
    "nec-2020": ("3ph-208Y/120", 120.0),
    "bs7671-2018": ("3ph-400Y/230", 230.0),
    "cec-2021": ("3ph-208Y/120", 120.0),
}


def job(code, shares, kva=18.0, more=(), system=None):
    supply = {"system": system or SYSTEMS[code][0], "rating": "200 A", "fault": "10 kA"}
    house = {
        "load": f"{kva} kVA",
        "connection": "three-phase",
        "line_shares": shares,
        "length": "12 m",
    }
    parts = [PartInput("s", "supply", None, supply, "S"), PartInput("b", "board", "s", {"spaces": "42"}, "B"),
             PartInput("h", "circuit", "b", house, "House"), *more]  # fmt: skip
    return calculate_job(parts, edition(code))


@pytest.mark.parametrize("code", list(SYSTEMS))
@pytest.mark.parametrize(
    "shares", ["42, 31, 18 A", "50; 30; 20 %", "1,1,1", "100, 0, 0", "5/70/25"]
)
def test_each_line_carries_its_share(code, shares):
    found, volts = job(code, shares), SYSTEMS[code][1]
    figures = [float(x.strip(" A%")) for x in shares.replace(";", ",").replace("/", ",").split(",")]
    hand = [18_000 * x / sum(figures) for x in figures]
    board, house = found["b"].report, found["h"].report
    assert [board.value(f"va_l{n}") for n in (1, 2, 3)] == pytest.approx(hand)
    assert [board.value(f"current_l{n}") for n in (1, 2, 3)] == pytest.approx(
        [va / volts for va in hand]
    )
    assert house.value("amperes") == pytest.approx(max(hand) / volts, rel=2e-3)  # 208 = 1.733 × 120
    assert board.value("circuits") == 1 and board.value("poles") == 3
    # the neutral carries what is left of three currents 120° apart: √(a² + b² + c² − ab − bc − ca)
    a, b, c = (va / volts for va in hand)
    left = max(0.0, a * a + b * b + c * c - a * b - b * c - c * a) ** 0.5
    assert board.value("neutral_amperes") == pytest.approx(left, abs=1e-6)
    # the heaviest line stands lowest in the solved network too
    if max(figures) > min(figures):
        solved = found["h"].volts
        solved = solved.volts if isinstance(solved, ByBand) else solved
        assert solved.one == f"L{hand.index(max(hand)) + 1}"


@pytest.mark.parametrize("code", list(SYSTEMS))
def test_alike_lines_are_as_without_shares(code):
    split, whole = (job(code, text)["h"].report for text in ("1, 1, 1", ""))
    for name in ("device", "conductor"):
        assert split.results[name].value == whole.results[name].value


def test_other_circuits_go_to_the_light_line():
    lamp = PartInput("l", "circuit", "b", {"load": "1.5 kVA"}, "Lamp")
    found = job("nec-2020", "50, 30, 10", more=(lamp,))
    assert found["b"].report.results["line_of_l"].value == "L3"
    assert found["b"].report.results["line_of_h"].value == "all"
    assert found["b"].report.value("circuits") == 2


@pytest.mark.parametrize(("shares", "system", "said"), [
    ("42, 31", None, "three figures"), ("a, b, c", None, "three figures"), ("0, 0, 0", None, "three figures"),
    ("-1, 5, 5", None, "three figures"), ("1, 1, 1", "3ph-240", "neutral"), ("1, 1, 1", "3ph-240/120", "neutral"),
])  # fmt: skip
def test_what_cannot_be_split_is_said_at_the_entry(shares, system, said):
    found = job("nec-2020", shares, system=system)["h"]
    assert [problem.path for problem in found.problems] == ["line_shares"]
    assert said in str(found.problems[0].words)


@pytest.mark.parametrize("code", list(SYSTEMS))
@pytest.mark.parametrize("shares", ["1, 1, 1", "60, 30, 10", "100, 0, 0", "50, 50, 0"])
def test_the_drop_of_the_heaviest_line_has_its_neutral_in_it(code, shares):
    """Volts lost to neutral: line current and what flows back, over one conductor each: at 100 % on one line it
    is that of a single-phase circuit, 2 × I × R, twice the balanced three-phase one."""
    a, b, c = (float(x) for x in shares.split(","))
    back = max(0.0, a * a + b * b + c * c - a * b - b * c - c * a) ** 0.5
    metric = not code.startswith(("nec", "cec"))
    size = {"area": "25"} if metric else {"size": "4"}

    def lost(text):
        system = SYSTEMS[code][0]
        entries = {
            "load": "9 kVA",
            "connection": "three-phase",
            "length": "30 m",
            "line_shares": text,
            **size,
        }
        parts = [PartInput("s", "supply", None, {"system": system}, "S"),
                 PartInput("h", "circuit", "s", entries, "House")]  # fmt: skip
        return calculate_job(parts, edition(code))["h"].report.value("drop_percent")

    times = 3 * (max(a, b, c) + back) / (a + b + c)
    assert lost(shares) == pytest.approx(
        lost("") * times, rel=6e-3
    )  # 208 and 400 V are not quite √3 × 120, 230


def test_all_lines_of_a_split_load_count_where_it_never_runs_with_others():
    """18 kVA split against 4 kVA that never runs with it: the split load counts whole, on all its lines."""
    other = PartInput("o", "circuit", "b", {"load": "4 kVA", "noncoincident_with": "Or"}, "Other")
    supply = {"system": "3ph-208Y/120", "rating": "200 A", "fault": "10 kA"}
    house = {
        "load": "18 kVA",
        "connection": "three-phase",
        "line_shares": "40, 30, 30",
        "noncoincident_with": "Or",
    }
    parts = [
        PartInput("s", "supply", None, supply, "S"),
        PartInput("f", "feeder", "s", {}, "F"),
        PartInput("b", "board", "f", {"spaces": "42"}, "B"),
        PartInput("h", "circuit", "b", house, "House"),
        other,
    ]
    found = calculate_job(parts, edition("nec-2020"))["f"].report
    assert found.value("calculated_load") == pytest.approx(18_000)
