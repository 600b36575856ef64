"""The network solver against circuit laws and circuits with a closed answer."""

from __future__ import annotations

import cmath
from dataclasses import replace
from math import pi, sqrt

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core.electrical.network import (
    EARTH,
    Conductor,
    ElementError,
    Network,
    NetworkLoad,
    NoSolutionError,
    Source,
    solved,
    sources,
    transformer,
)
from voltaje.core.electrical.network.capacity import most_at_end
from voltaje.core.electrical.network.supplies import source_impedance
from voltaje.core.electrical.systems import SYSTEMS

THREE_WIRE, WYE = SYSTEMS["1ph-120/240"], SYSTEMS["3ph-208Y/120"]


def supplied(system_id: str, *loads: NetworkLoad, z: complex = 0j, cut: str = "") -> Network:
    """Loads at the end of one conductor of ``z`` from each terminal; "far" nodes are ``L1'``."""
    system = SYSTEMS[system_id]
    found, bond = sources(system)
    wires = (*system.lines, *(("N",) if system.has_neutral else ()))
    ends = tuple(Conductor(w, w, w + "'", z, w == cut) for w in wires)
    return Network(found, (*bond, *ends), loads)


def impedance(name: str, plus: str, minus: str, va: complex, volts: float = 120) -> NetworkLoad:
    return NetworkLoad(name, plus, minus, va, volts, 0, 0, 1)


@pytest.mark.parametrize(("on", "neutral"), [((3,), 3), ((3, 3), 3), ((3, 3, 3), 0), ((5, 3), 4.3589),
                                             ((4, 3, 2), 1.7321)])  # fmt: skip
def test_neutral_of_a_wye_is_the_phasor_sum(on: tuple[float, ...], neutral: float) -> None:
    """One load of 3 A gives 3 A, two give 3 A and not 6, three give none (common practice);
    √(a² + b² + c² − ab − bc − ca) for the others."""
    loads = [impedance(f"{i}", f"L{i}'", "N'", 120 * a) for i, a in enumerate(on, 1)]
    ours = solved(supplied("3ph-208Y/120", *loads))
    assert ours.amperes("N") == pytest.approx(neutral, abs=1e-4)


@pytest.mark.parametrize(("one", "other", "volts"), [
    (1440, 1440, (120, 120)), (1440, 720, (80, 160)), (1200, 100, (240 / 13, 240 * 12 / 13)),
])  # fmt: skip
def test_open_neutral_puts_two_loads_in_series(one, other, volts) -> None:
    """They divide 240 V by their resistances, the lighter load takes more (Ohm)."""
    ours = solved(supplied("1ph-120/240", impedance("a", "L1'", "N'", one),
                           impedance("b", "L2'", "N'", other), cut="N"))  # fmt: skip
    assert (ours.load_volts("a"), ours.load_volts("b")) == pytest.approx(volts)
    assert ours.amperes("N") == 0
    assert set(ours.series) == {"a", "b"}


@pytest.mark.parametrize(("system", "lines"), [
    ("1ph-120/240", {("L1", "L2"): 240, ("L1", "N"): 120}),
    ("1ph-120/208", {("L1", "L2"): 208, ("L2", "N"): 120}),
    ("3ph-208Y/120", {("L1", "L2"): 208, ("L3", "N"): 120}),
    ("3ph-240", {("L1", "L2"): 240, ("L2", "L3"): 240, ("L3", "L1"): 240}),
    ("3ph-240/120", {("L1", "L2"): 240, ("L2", "L3"): 240, ("L1", "L3"): 240, ("L2", "N"): 207.85,
                     ("L1", "N"): 120}),
])  # fmt: skip
@pytest.mark.parametrize("z", [0j, 0.01 + 0.02j])
def test_sources_stand_as_their_system_says(system, lines, z) -> None:
    found, bond = sources(SYSTEMS[system], z)
    ours = solved(Network(found, bond))
    for (one, other), volts in lines.items():
        assert ours.volts(one, other) == pytest.approx(volts, rel=2e-3)


def test_a_source_gives_its_fault_current() -> None:
    """Bolted: all lines joined carry what the supply is said to give."""
    for system in (WYE, THREE_WIRE):
        z = source_impedance(system, 10_000, 2.0)
        found, bond = sources(system, z)
        joined = [Conductor(f"short {w}", system.lines[0], w, 1e-9) for w in system.lines[1:]]
        ours = solved(Network(found, (*bond, *joined)))
        assert ours.amperes(found[0].name) == pytest.approx(10_000, rel=5e-3)


node = st.integers(0, 9)
ohms = st.builds(complex, st.floats(0.01, 0.5), st.floats(0, 0.3))
watts = st.builds(complex, st.floats(50, 600), st.floats(-200, 300))
shares = st.sampled_from([(1, 0, 0), (0, 1, 0), (0, 0, 1), (0.4, 0.3, 0.3)])


@st.composite
def networks(draw) -> Network:
    """Three-wire or four-wire, a tree with or without loops, loads of every kind on it."""
    system = draw(st.sampled_from([THREE_WIRE, WYE, SYSTEMS["3ph-480Y/277"]]))
    found, bond = sources(system, draw(st.sampled_from([0j, 0.01 + 0.01j])))
    wires = (*system.lines, "N")
    joints = draw(st.integers(1, 6))
    conductors = list(bond)
    for joint in range(1, joints + 1):
        above = draw(st.integers(0, joint - 1))
        for wire in wires:
            start = f"{wire}.{above}" if above else wire
            conductors.append(Conductor(f"{wire}:{joint}", start, f"{wire}.{joint}", draw(ohms)))
    for extra in range(draw(st.integers(0, 2))):
        wire = draw(st.sampled_from(wires))
        conductors.append(Conductor(f"tie {extra}", wire, f"{wire}.{joints}", draw(ohms)))
    loads = []
    for index in range(draw(st.integers(1, 8))):
        joint = draw(st.integers(1, joints))
        one, other = draw(st.sampled_from([(w, "N") for w in system.lines] + [wires[:2]]))
        volts = system.to_neutral if other == "N" else system.line_to_line
        loads.append(NetworkLoad(f"load {index}", f"{one}.{joint}", f"{other}.{joint}", draw(watts), volts,
                          *draw(shares)))  # fmt: skip
    return Network(found, tuple(conductors), tuple(loads))


@given(networks())
@settings(max_examples=examples(120))
def test_laws_hold_in_every_network(network: Network) -> None:
    ours = solved(network)
    assert ours.mismatch < 1e-9
    given_va = sum(ours.powers[s.name] for s in network.sources)
    taken = sum(ours.powers[load.name] for load in network.loads)
    lost = sum(abs(ours.current(c.name)) ** 2 * complex(c.impedance) for c in network.conductors)
    inside = sum(abs(ours.current(s.name)) ** 2 * complex(s.impedance) for s in network.sources)
    # the EMFs' power is that at the terminals and what is lost behind them
    assert given_va == pytest.approx(taken + lost, rel=1e-6)
    emf = sum(complex(s.volts) * ours.current(s.name).conjugate() for s in network.sources)
    assert emf == pytest.approx(given_va + inside, rel=1e-6)
    for load in network.loads:
        across = abs(ours.phasor(load.plus, load.minus))
        ratio = across / load.volts
        expected = load.va * (load.power + load.current * ratio + load.constant * ratio**2)
        assert ours.powers[load.name] == pytest.approx(expected, rel=1e-6)
    for method in ("matrix", "newton"):
        again = solved(network, method)
        for name, volts in ours.waves[1].volts.items():
            assert again.waves[1].volts[name] == pytest.approx(volts, abs=1e-6)


@given(networks(), st.integers(0, 1))
@settings(max_examples=examples(60))
def test_impedances_add_up_source_by_source(network: Network, keep: int) -> None:
    """Superposition: a linear network's volts are the sum of each source's alone."""
    linear = replace(network, loads=tuple(
        replace(load, power=0, current=0, constant=1) for load in network.loads))  # fmt: skip
    whole = solved(linear)
    parts = []
    for chosen in (range(keep + 1), range(keep + 1, len(linear.sources))):
        parts.append(solved(replace(linear, sources=tuple(
            s if i in chosen else replace(s, volts=0j) for i, s in enumerate(linear.sources)))))  # fmt: skip
    for name, volts in whole.waves[1].volts.items():
        together = sum(part.waves[1].volts[name] for part in parts)
        assert together == pytest.approx(volts, abs=1e-7)


@given(watts, ohms, ohms, shares)
@settings(max_examples=examples(40))
def test_equal_loads_leave_the_neutral_empty(va, z, zn, kinds) -> None:
    for system in (THREE_WIRE, WYE):
        found, bond = sources(system)
        runs = [Conductor(w, w, w + "'", zn if w == "N" else z) for w in (*system.lines, "N")]
        loads = [NetworkLoad(f"load {w}", w + "'", "N'", va, 120, *kinds) for w in system.lines]
        ours = solved(Network(found, (*bond, *runs), tuple(loads)))
        assert ours.amperes("N") < 1e-8 * ours.amperes("L1")


def two(name, primary, secondary, ratio, z=0j, shunt=0j):
    """A core with two coils; the secondary's has the core's name."""
    return transformer(name, primary, (name, *secondary, 1.0, z), turns=ratio, shunt=shunt)


def test_transformers_turn_volts_and_phase() -> None:
    """A delta–wye bank of 480 V to 208Y/120 V: 120 V to neutral, 30° behind; its load is seen on the
    primary through the square of the ratio; the neutral's current stays behind the delta."""
    found, bond = sources(SYSTEMS["3ph-480Y/277"])
    pairs = (("L1", "L2"), ("L2", "L3"), ("L3", "L1"))
    bank = tuple(two(f"T{i}", pair, (f"X{i}", "X0"), 480 / 120, 0.02 + 0.04j, 1e-4 - 5e-4j)
                 for i, pair in enumerate(pairs, 1))  # fmt: skip
    plain = tuple(two(f"T{i}", pair, (f"X{i}", "X0"), 480 / 120) for i, pair in enumerate(pairs, 1))
    x0 = Conductor("X0 bond", "X0", EARTH)
    loads = tuple(impedance(f"load {i}", f"X{i}", "X0", 3000) for i in (1, 2, 3))
    ours = solved(Network(found, (*bond, x0), loads, bank))
    ideal = solved(Network(found, (*bond, x0), loads, plain))
    assert ideal.volts("X1", "X0") == pytest.approx(120, rel=1e-3)
    turned = cmath.phase(ideal.phasor("X1", "X0") / ideal.phasor("L1", "N"))
    assert turned == pytest.approx(pi / 6)
    assert ideal.amperes(found[0].name) == pytest.approx(9000 / (480 * sqrt(3)), rel=2e-3)
    z = 120**2 / 3000
    shared = 480 * sqrt(3) / 1.7320508 / 480  # 277 is nominal: the lines stand at 479.8 V
    expected = abs(z / (z + 0.02 + 0.04j)) * 120 * shared * ideal.volts("L1", "L2") / 480
    assert ours.volts("X1", "X0") == pytest.approx(expected, rel=1e-6)
    assert solved(Network(found, (*bond, x0), loads[:1], bank)).amperes("bond") < 1e-9


def test_split_phase_comes_from_two_halves() -> None:
    """7,200 V to 120/240 V: unequal loads, the primary carries their sum over the ratio."""
    source = Source("line", "H1", "H2", 7200)
    halves = (transformer("T", ("H1", "H2"), ("upper", "X1", "X2", 120, 0j),
                          ("lower", "X2", "X3", 120, 0j), turns=7200),)  # fmt: skip
    bonds = (Conductor("a", "H2", EARTH), Conductor("b", "X2", EARTH))
    loads = (impedance("one", "X1", "X2", 2400), impedance("two", "X2", "X3", 1200))
    ours = solved(Network((source,), bonds, loads, halves))
    assert (ours.amperes("upper"), ours.amperes("lower")) == pytest.approx((20, 10))
    assert ours.amperes("line") == pytest.approx(30 / 60)
    assert ours.volts("X1", "X3") == pytest.approx(240)


def test_islands_are_reported() -> None:
    """What no source reaches is dead; what has no earth is counted from a point of its own."""
    found, _ = sources(SYSTEMS["3ph-240"])
    loose = (Conductor("apart", "A", "B", 0.1), Conductor("stub", "B", "C", 0.1))
    loads = (impedance("lost", "A", "C", 500), impedance("fed", "L1", "L2", 1000, 240))
    ours = solved(Network(found, loose, loads))
    assert set(ours.dead) == {"A", "B", "C"}
    assert ours.load_volts("lost") == 0
    assert ours.load_volts("fed") == pytest.approx(240)
    assert len(ours.floating) == 1


def test_third_harmonics_add_in_the_neutral() -> None:
    """Three equal electronic loads: the neutral carries three times the third, with 70 % of it
    more than a line. On 120/240 V the odd orders of equal loads cancel."""
    loads = [
        NetworkLoad(f"load {i}", f"L{i}'", "N'", 1200, 120, harmonics=((3, 0.7),))
        for i in (1, 2, 3)
    ]
    ours = solved(supplied("3ph-208Y/120", *loads, z=1e-6))
    assert ours.amperes("L1") == pytest.approx(10 * sqrt(1 + 0.7**2), rel=1e-4)
    assert ours.amperes("N") == pytest.approx(3 * 7, rel=1e-4)
    assert ours.amperes("N") > ours.amperes("L1")
    split = solved(supplied("1ph-120/240", *loads[:2], z=1e-6))
    assert split.amperes("N") == pytest.approx(0, abs=1e-3)


def test_harmonics_lose_volts_in_reactance_by_their_order() -> None:
    load = NetworkLoad("load", "L1'", "N'", 1200, 120, 0, 1, 0, ((3, 0.5), (5, 0.2)))
    z = 0.02 + 0.05j
    ours = solved(supplied("1ph-120", load, z=z))
    for order, share in ((3, 0.5), (5, 0.2)):
        wave = ours.waves[order]
        lost = abs(wave.volts["L1'"] - wave.volts["N'"])
        assert lost == pytest.approx(2 * share * 10 * abs(complex(0.02, 0.05 * order)), rel=1e-6)


@pytest.mark.parametrize("power_factor", [1.0, 0.8])
@pytest.mark.parametrize("z", [0.5 + 0j, 0.3 + 0.4j])
def test_no_more_than_the_line_can_carry(power_factor: float, z: complex) -> None:
    """The most a line can bring, V² ÷ (2 (Z + R cos φ + X sin φ)), by maximum power transfer."""
    most = most_at_end(120, 2 * z, power_factor)
    angle = complex(power_factor, sqrt(1 - power_factor**2))
    near = solved(
        supplied("1ph-120", NetworkLoad("heater", "L1'", "N'", 0.99 * most * angle, 120), z=z)
    )
    assert near.powers["heater"] == pytest.approx(0.99 * most * angle, rel=1e-6)
    with pytest.raises(NoSolutionError) as caught:
        solved(supplied("1ph-120", NetworkLoad("heater", "L1'", "N'", 2 * most * angle, 120), z=z))
    assert caught.value.share == pytest.approx(0.5, abs=2e-3)
    assert caught.value.load == "heater"
    assert "50.0 %" in str(caught.value) or "49.9" in str(caught.value)


def test_a_source_at_the_end_raises_the_volts() -> None:
    ours = solved(supplied("1ph-120/240", NetworkLoad("inverter", "L1'", "L2'", -4800, 240), z=0.1))
    # V = 240 + 0.2 × 4,800 ÷ V
    assert ours.load_volts("inverter") == pytest.approx((240 + sqrt(240**2 + 4 * 0.2 * 4800)) / 2)


LINK = Conductor("link", "L1", "P")
BAD = [
    (lambda: Network((Source("s", "L1", "N", 120),), (Conductor("s", "L1", "A", 1),)), "twice"),
    (lambda: Network((), (Conductor("c", "A", "B", -1),)), "below zero"),
    (lambda: Network((), (Conductor("c", "A", "B", complex("nan")),)), "not a number"),
    (lambda: Network((), (), (NetworkLoad("l", "A", "A", 100, 120),)), "one conductor"),
    (lambda: Network((), (), (NetworkLoad("l", "A", "B", 100, 0),)), "rated volts"),
    (lambda: Network((), (), (NetworkLoad("l", "A", "B", 100, 120, 0.5),)), "add up to 1"),
    (lambda: Network((), (), (NetworkLoad("l", "A", "B", complex("inf"), 120),)), "not a number"),
    (lambda: Network((), (), (), (two("t", ("A", "B"), ("C", "D"), 0),)), "turns"),
    (lambda: solved(Network((Source("s", "L1", "N", 120),), (LINK, replace(LINK, name="by-pass")))),
     "nothing divides"),
    (lambda: solved(Network(sources(SYSTEMS["3ph-240"])[0], (), (), tuple(
        two(f"t{i}", pair, pair2, 1.0) for i, (pair, pair2) in enumerate(
            ((("L1", "L2"), ("A", "B")), (("L2", "L3"), ("B", "C")), (("L3", "L1"), ("A", "C"))))))),
     "windings close a loop"),
    (lambda: solved(Network((Source("s", "L1", "N", 120), Source("t", "L1", "N", 110)))), "nothing"),
    (lambda: solved(Network((Source("s", "L1", "N", 120),),
                            (Conductor("c", "L1", "A", 1), Conductor("d", "L1", "B", 1)),
                            (NetworkLoad("l", "A", "B", 100, 120),))), "same potential"),
]  # fmt: skip


@pytest.mark.parametrize(("make", "words"), BAD, ids=[words for _, words in BAD])
def test_what_cannot_stand_says_why(make, words: str) -> None:
    with pytest.raises(ElementError, match=words):
        make()


def test_networks_without_load_or_source_are_no_error() -> None:
    assert solved(Network((Source("s", "L1", "N", 120),))).volts("L1", "N") == pytest.approx(120)
    assert solved(Network((), (Conductor("c", "A", "B", 1),))).volts("A", "B") == 0
