"""What holds for every dwelling, over made-up dwellings."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core.electrical.loads import split_lines
from voltaje.core.report import fits, to_json
from voltaje.core.rules.north_america.neutral import paired

watts = st.integers(0, 20_000)
appliance = st.fixed_dictionaries({
    "name": st.just("A"), "nameplate": watts, "connection": st.sampled_from(["120", "240"]),
    "place": st.sampled_from(["fixed", "own", "any", "charger"]), "motor": st.booleans(),
    "count": st.integers(1, 4),
})  # fmt: skip
cooking = st.fixed_dictionaries(
    {"nameplate": st.integers(1000, 27_000), "count": st.integers(1, 12)}
)
dryer = st.fixed_dictionaries({"nameplate": watts, "count": st.integers(1, 4)})
climate = st.fixed_dictionaries({
    "nameplate": watts, "count": st.integers(1, 4),
    "what": st.sampled_from(["heating", "cooling", "heat_pump", "backup", "storage", "fan"]),
})  # fmt: skip
dwellings = st.fixed_dictionaries({
    "area": st.integers(1, 20_000),
    "method": st.sampled_from(["standard", "optional"]),
    "appliances": st.lists(appliance, max_size=6), "cooking": st.lists(cooking, max_size=4),
    "dryers": st.lists(dryer, max_size=4), "climate": st.lists(climate, max_size=4),
})  # fmt: skip
codes = st.sampled_from(["nec-2017", "nec-2020", "nec-2023"])
ROWS = {"appliances": appliance, "cooking": cooking, "dryers": dryer, "climate": climate}


@settings(max_examples=examples(150))
@given(dwellings, codes, st.data())
def test_one_more_load_never_lowers_the_connected_load(work, document, code, data):
    group = data.draw(st.sampled_from(sorted(ROWS)))
    more = {**document, group: [*document[group], data.draw(ROWS[group])]}
    before, after = work(document, code), work(more, code)
    assert fits(before.value("connected_load"), after.value("connected_load"))
    if not fits(before.value("calculated_load"), after.value("calculated_load")):
        names = {line.name for line in after.sections[0].lines}
        assert any(name.endswith("_lowered") for name in names)


@settings(max_examples=examples(100))
@given(dwellings, codes, st.randoms(use_true_random=False))
def test_the_order_of_rows_does_not_matter(work, document, code, random):
    shuffled = {
        name: random.sample(value, len(value)) if isinstance(value, list) else value
        for name, value in document.items()
    }
    first, second = work(document, code), work(shuffled, code)
    for name in ("connected_load", "calculated_load", "standard_load", "optional_load",
                 "neutral_load", "service_device"):  # fmt: skip
        assert first.value(name) == pytest.approx(second.value(name))


@settings(max_examples=examples(100))
@given(dwellings, codes)
def test_every_worksheet_holds_together(work, document, code):
    worked = work(document, code)
    groups = ("general_lighting_demand", "fixed_appliance_demand", "vehicle_charging_demand",
              "dryer_demand", "cooking_demand", "climate_demand", "motor_adder")  # fmt: skip
    assert sum(worked.value(name) for name in groups) == pytest.approx(
        worked.value("standard_load")
    )
    assert worked.value("service_device") >= max(100, worked.value("amperes"))
    for section in worked.sections:
        for line in section.lines:
            assert str(line.label) and all(rule.number for rule in line.rules)
    assert to_json(worked)["results"]["amperes"]["unit"] == "A"


@given(st.lists(st.tuples(st.integers(0, 50), st.sampled_from(["auto", "L1", "L2"])), max_size=12))
def test_lines_are_split_as_evenly_as_the_largest_load_allows(weights):
    rows = [(f"a{i}", float(va), line) for i, (va, line) in enumerate(weights)]
    split = split_lines(rows)
    placed = dict(split.lines)
    assert split.l1 + split.l2 == sum(va for _, va, _ in rows)
    assert all(placed[p] == float(line[1]) for p, _, line in rows if line != "auto")
    free = [va for _, va, line in rows if line == "auto"]
    pinned = abs(sum(v if li == "L1" else -v for _, v, li in rows if li != "auto"))
    assert abs(split.l1 - split.l2) <= max([pinned, *free])
    one = [va for p, va, _ in rows if placed[p] == 1]
    two = [va for p, va, _ in rows if placed[p] == 2]
    assert paired(one, two) >= max(split.l1, split.l2)
