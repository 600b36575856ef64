"""A job's stock and reserve: what is chosen by them passes its sheet, is told, and where nothing in
stock does, is not left without an answer. Checked by hand against NEC 310.16 and 240.6, BS 7671
tables; for any load by chance."""

from __future__ import annotations

from random import Random

import pytest
from core.random_entries import circuit

from voltaje.core.codes import edition
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.kinds import evaluate, kind
from voltaje.core.rules.context import Context, supplied
from voltaje.core.rules.settings import Shop


def worked(load, code="nec-2020", name="circuit", **more):
    shop = Shop(**{key: more.pop(key) for key in ("stock", "reserve", "preference") if key in more})
    book = edition(code)
    system = SYSTEMS[
        more.pop("system", "1ph-120/240" if code.startswith(("nec", "cec")) else "1ph-230")
    ]
    entries = {"load": load, "connection": "two-line", "use": "general", "continuous": "no", **more}
    if not code.startswith(("nec", "cec")):
        entries["connection"] = "line-neutral"
    return evaluate(kind(name), entries, Context(book, "us", supplied(system, book), shop=shop))


def chosen(found):
    return found.outcome.device_rating, found.report.results["conductor"].value


def names(found):
    return {one.name for one in found.report.findings}


# 240 V: amperes, stock, reserve, device and conductors; 310.16 in its 60 °C column below 100 A:
# 14 AWG 15, 12 20, 10 30, 8 40, 6 55, 4 70, 3 85 A
CASES = {
    "plain": ("4 kW", (), 0.0, (20, "12 AWG Cu")),  # 16.7 A
    "not in stock: the next that is": ("4 kW", (15, 30, 60), 0.0, (30, "10 AWG Cu")),
    "the reserve is kept": ("4.56 kW", (), 0.05, (20, "12 AWG Cu")),  # 19.0 A = 95 % of 20 A
    "within the reserve": ("4.6 kW", (), 0.05, (25, "10 AWG Cu")),  # 19.2 A
    "both": ("4.6 kW", (15, 20, 30), 0.05, (30, "10 AWG Cu")),
    "nothing in stock": ("4.6 kW", (15,), 0.05, (25, "10 AWG Cu")),
    "the conductor's own": ("13.1 kW", (), 0.05, (60, "4 AWG Cu")),  # 54.6 A: 6 AWG carries 55 A
    "without it": ("13.1 kW", (), 0.0, (60, "6 AWG Cu")),
}


@pytest.mark.parametrize("case", CASES)
def test_what_is_taken(case):
    load, stock, reserve, wanted = CASES[case]
    found = worked(load, stock=stock, reserve=reserve)
    assert chosen(found) == wanted
    usual = chosen(worked(load))
    assert ("habit" in names(found)) == (chosen(found) != usual)
    assert ("stock" in names(found)) == bool(stock and wanted[0] not in stock)


def test_the_equipment_ground_grows_with_what_the_reserve_adds():
    """250.122(B): 6 AWG would do, 4 AWG is taken: its ground of 10 AWG grows by the circular mils,
    41740/26240 of 10380, to 16512: more than the 16510 of 8 AWG, so 6 AWG."""
    found = worked("13.1 kW", reserve=0.05).report.results
    assert found["ground_conductor"].value == "6 AWG Cu"
    assert worked("13.1 kW").report.results["ground_conductor"].value == "10 AWG Cu"


def test_what_is_fixed_by_hand_stays():
    found = worked("4.6 kW", stock=(30,), reserve=0.2, device="20 A", size="12")
    assert chosen(found) == (20, "12 AWG Cu") and not names(found) & {"habit", "stock"}
    found = worked("4.6 kW", code="bs7671-2018", stock=(63,), reserve=0.2, device="20 A")
    assert found.outcome.device_rating == 20


def test_under_bs_7671():
    # 4.6 kW at 230 V: 20 A
    assert worked("4.6 kW", code="bs7671-2018").outcome.device_rating == 20
    found = worked("4.6 kW", code="bs7671-2018", reserve=0.05)
    assert found.outcome.device_rating == 25 and "habit" in names(found)
    found = worked("4.6 kW", code="bs7671-2018", stock=(6, 16, 32))
    assert found.outcome.device_rating == 32
    found = worked("4.6 kW", code="bs7671-2018", stock=(6, 16))
    assert found.outcome.device_rating == 20 and "stock" in names(found)


@pytest.mark.parametrize("seed", range(60))
def test_an_automatic_choice_never_fails_and_more_load_makes_nothing_smaller(seed):
    rng = Random(seed)
    code = rng.choice(["nec-2020", "cec-2021", "bs7671-2018", "sans10142-2020", "asnzs3000-2018"])
    system = "3ph-208Y/120" if code.startswith(("nec", "cec")) else "3ph-400Y/230"
    stock = tuple(sorted(rng.sample([6, 10, 15, 16, 20, 25, 30, 32, 40, 50, 60, 63, 80, 100], 6)))
    habits = {"stock": rng.choice([stock, ()]), "reserve": rng.choice([0.0, 0.05, 0.1]),
              "preference": rng.choice(["smallest", "maximum", "ampacity"])}  # fmt: skip
    more = circuit(SYSTEMS[system], rng)
    more.pop("load", None)
    last = None
    for amperes in range(4, 60, 4):
        found = worked(f"{amperes * 110} W", code, system=system, **{**more, **habits})
        if found.report is None:
            continue
        # what fails does so by its load, with or without habits
        plain = worked(f"{amperes * 110} W", code, system=system, **more)
        bad = [
            {f.name for f in one.report.findings if f.severity == "fail"} for one in (plain, found)
        ]
        assert bad[1] <= bad[0], (amperes, bad)
        now = (found.outcome.device_rating, found.outcome.sizing.pair.ampacity)
        if last is not None:
            assert now[0] >= last[0] or habits["preference"] != "smallest"
        last = now
