"""Coils on cores: laws that hold whatever is joined, groups of IEC 60076-1 from their joints,
autotransformers of published examples, and ngspice with coupled inductors as the other witness."""

import cmath
import random
from itertools import pairwise
from math import pi, sqrt

import numpy as np
import pytest
from core.spice import ngspice
from hypothesis import given
from hypothesis import strategies as st
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from voltaje.core.electrical.network import (
    EARTH,
    Coil,
    Conductor,
    Core,
    ElementError,
    Network,
    NetworkLoad,
    ShortError,
    Source,
    solved,
)
from voltaje.core.electrical.network.tableau import components
from voltaje.core.electrical.windings import (
    TwoWindingUnit,
    across,
    contracted,
    group_of,
    joined,
    mended_by,
    phases_of,
    small_unit,
    ways,
)
from voltaje.core.electrical.windings.groups import USUAL, reversed_coils

HIGH, LOW = ("A", "B", "C"), ("a", "b", "c")
RING = ((0, 1), (1, 2), (2, 0))


def bank(high: str, low: str, shift: int = 0, turned: bool = False, order: int = 1) -> Network:
    """Three units joined as textbooks have it: ``high`` fed with 400 V, ``low`` open. ``shift``
    renames the low side's lines in turn, ``turned`` takes its coils the other way round, ``order``
    is the core to whose half a zigzag goes on."""
    halves = 2 if low == "z" else 1
    cores, joints = [], []
    for k in range(3):
        lows = [Coil(f"x{k}{h}", f"X{k}{h}+", f"X{k}{h}-", 115.47) for h in range(halves)]
        cores.append(Core(f"unit {k}", (Coil(f"h{k}", f"H{k}+", f"H{k}-", 230.94), *lows)))
    for k, line in enumerate(HIGH):
        joints.append((line, f"H{k}+"))
        joints.append((f"H{k}-", "N") if high == "Y" else (f"H{k}-", HIGH[(k + 1) % 3]))
    first, last = ("-", "+") if turned else ("+", "-")
    names = [LOW[(k - shift) % 3] for k in range(3)]
    for k in range(3):
        joints.append((names[k], f"X{k}0{first}"))
        if low == "y":
            joints.append((f"X{k}0{last}", "n"))
        elif low == "d":
            joints.append((f"X{k}0{last}", names[(k + 1) % 3]))
        else:  # on through the second half of another leg, the other way round
            other = (k + order) % 3
            joints += [(f"X{k}0{last}", f"X{other}1{last}"), (f"X{other}1{first}", "n")]
    return joined(cores, joints, [*phases_of(400, HIGH, EARTH)],
                  conductors=[Conductor("star", "N", EARTH)] if high == "Y" else [])  # fmt: skip


# the hour of the plain joints, as phasors drawn by hand give it: a coil of a delta stands on the
# line volts, 30° ahead of its line; a low delta's line stands 30° behind its coil; a zigzag's line
# is one coil less another
PLAIN = {"Yy": 0, "Dd": 0, "Dy": 11, "Yd": 1, "Yz": 11, "Dz": 10}


@pytest.mark.parametrize("letters", PLAIN)
def test_every_usual_group_has_its_clock_number(letters):
    seen = set()
    for shift in range(3):
        for turned in (False, True):
            for order in (1, 2) if letters[1] == "z" else (1,):
                found = group_of(solved(bank(*letters, shift, turned, order)), HIGH, LOW)
                hour = PLAIN[letters] + 4 * shift + 6 * turned
                if order == 2:  # the other leg lies 60° to the other side
                    hour += 2
                assert (found.letters, found.hour) == (letters, hour % 12)
                assert found.same_sequence
                if hour % 12 in USUAL[letters]:
                    assert found.name == f"{letters}{hour % 12}"
                    seen.add(hour % 12)
    assert seen == set(USUAL[letters])


def test_a_zigzag_gives_less_than_its_halves():
    """√3/2 of the arithmetic sum of both halves."""
    found = group_of(solved(bank("Y", "z")), HIGH, LOW)
    assert abs(found.low[0]) == pytest.approx(2 * 115.47 * sqrt(3) / 2, rel=1e-4)


@pytest.mark.parametrize("coil", ["x00", "x10", "x20"])
def test_a_star_with_one_coil_turned_is_no_group_and_says_which(coil):
    wrong = reversed_coils(bank("D", "y"), [coil])
    found = group_of(solved(wrong), HIGH, LOW)
    assert (found.name, found.hour) == ("", None)
    turned, mended = mended_by(wrong, HIGH, LOW)
    assert turned == (coil,) and mended.name == "Dy11"


def test_turning_all_coils_of_a_side_turns_the_clock_by_six():
    for letters in PLAIN:
        network = bank(*letters)
        lows = [coil.name for coil in network.coils if coil.name.startswith("x")]
        one = group_of(solved(network), HIGH, LOW).hour
        assert group_of(solved(reversed_coils(network, lows)), HIGH, LOW).hour == (one + 6) % 12


def test_two_lines_changed_turn_the_sequence():
    network = bank("D", "y")
    found = group_of(solved(network), HIGH, ("a", "c", "b"))
    assert not found.same_sequence and found.name == ""


def open_corner(turned: int = 0, impedance: complex = 0j) -> tuple[Network, Network]:
    """A low delta with its last corner open, and the same with it closed."""
    cores = [Core(f"T{k}", (Coil(f"h{k}", HIGH[k], HIGH[(k + 1) % 3], 480),
                            Coil(f"x{k}", f"X{k}+", f"X{k}-", 120, impedance))) for k in range(3)]  # fmt: skip
    joints = [("X0-", "X1+"), ("X1-", "X2+"), ("X2-", "X0+")]
    feed = phases_of(480, HIGH, EARTH)
    made = joined(cores, joints[:2], feed), joined(cores, joints, feed)
    names = [f"x{k}" for k in range(turned)]
    return reversed_coils(made[0], names), reversed_coils(made[1], names)


def test_the_reading_before_a_corner_is_closed():
    """Nothing when all coils stand right, twice a coil's volts with one turned (common practice)."""
    left, _ = open_corner()
    assert abs(across(solved(left), "X2-", "X0+")) < 1e-6
    left, closed = open_corner(1)
    assert abs(across(solved(left), "X2-", "X0-")) == pytest.approx(120)  # the turned coil apart
    assert abs(across(solved(left), "X2-", "X0+")) == pytest.approx(240)
    with pytest.raises(ShortError) as refused:
        solved(closed)
    assert abs(refused.value.volts) == pytest.approx(240)
    assert refused.value.name == "X2-–X0+" and "240 V" in str(refused.value)


def test_a_wrong_corner_with_impedances_gives_its_current():
    _, closed = open_corner(1, 0.1 + 0.2j)
    assert solved(closed).amperes("x0") == pytest.approx(240 / (3 * abs(0.1 + 0.2j)), rel=1e-6)
    _, right = open_corner(0, 0.1 + 0.2j)
    assert solved(right).amperes("x0") < 1e-6


def test_no_meter_reads_between_pieces_that_nothing_ties():
    left, _ = open_corner()
    assert across(solved(left), "A", "X0+") is None
    assert across(solved(left), "X0+", "X2-") is not None


def test_a_line_taken_from_a_midpoint_is_told_as_phasors():
    """480 V between A and B, the third line the middle of a coil between them: half on each side
    and no even set."""
    core = Core("T", (Coil("upper", "A", "M", 240), Coil("lower", "M", "B", 240)))
    out = Core("X", (Coil("in", "A", "M", 240), Coil("out", "p", "q", 24)))
    ours = solved(joined([core, out], [], [Source("line", "A", "B", 480)]))
    assert ours.volts("A", "M") == pytest.approx(240)
    assert ours.volts("p", "q") == pytest.approx(24)


@pytest.mark.parametrize(("make", "words"), [
    (lambda: Network((), (), (), (Core("T", (Coil("c", "A", "B", 0),)),)), "turns, above zero"),
    (lambda: Network((), (), (), (Core("T", (Coil("c", "A", "A", 9),)),)), "one conductor"),
    (lambda: Network((), (), (), (Core("T", ()),)), "needs a coil"),
    (lambda: Network((), (), (), (Core("T", (Coil("c", "A", "B", float("nan")),)),)), "turns"),
    (lambda: Network((), (), (), (Core("T", (Coil("c", "A", "B", 1), Coil("c", "C", "D", 1))),)),
     "twice"),
], ids=["no turns", "one point", "no coil", "no number", "one name"])  # fmt: skip
def test_a_coil_that_cannot_stand_says_why(make, words):
    with pytest.raises(ElementError, match=words):
        make()


def test_a_core_that_nothing_feeds_is_dead():
    apart = Core("B", (Coil("p", "E", "F", 120), Coil("q", "G", "H", 24)))
    fed = Core("A", (Coil("r", "A", "N", 120),))
    ours = solved(Network((Source("s", "A", "N", 120),), (), (), (fed, apart)))
    assert set(ours.dead) == {"E", "F", "G", "H"} and ours.volts("G", "H") == 0


# A. E. Fitzgerald, C. Kingsley, S. D. Umans, "Electric Machinery": 50 kVA, 2400:240 V, carries
# 550 kVA as 2640:2400 V. S. J. Chapman, "Electric Machinery Fundamentals": 100 VA, 120:12 V, steps
# 120 up to 132 V and carries 1100 VA. Both recalled from memory; the VA agree with VA × Vhigh ÷
# (Vhigh − Vlow).
PUBLISHED = [
    (TwoWindingUnit(2400, 240, 50_000), 2640, 2400, 550_000),
    (TwoWindingUnit(120, 12, 100), 120, 132, 1100),
]


@pytest.mark.parametrize(("unit", "fed", "out", "va"), PUBLISHED)
def test_published_autotransformers(unit, fed, out, va):
    found = [way for way in ways(unit) if (way.rated_in, way.rated_out) == (fed, out)]
    assert [way.delivers for way in found] == [pytest.approx(va)]
    high, low = max(fed, out), min(fed, out)
    assert found[0].delivers == pytest.approx(unit.va * high / (high - low))


@given(st.floats(10, 600), st.floats(5, 600), st.floats(50, 50_000))
def test_every_way_keeps_each_winding_at_its_rating(one, other, va):
    """Each way, solved as coils: the volts of its ratio, and with its full load both windings
    carry just what they are rated for."""
    for way in ways(TwoWindingUnit(one, other, va)):
        if min(way.rated_in, way.rated_out) < 1:
            continue
        ours = solved(stacked(way))
        assert ours.load_volts("load") == pytest.approx(way.out(way.rated_in), rel=1e-6)
        assert ours.amperes("series") == pytest.approx(way.series_amperes, rel=1e-6)
        assert ours.amperes("common") == pytest.approx(way.common_amperes, rel=1e-6)
        found = way.amperes(way.delivers, way.rated_in)
        assert found[0] == pytest.approx(ours.amperes("line"), rel=1e-6)
        assert found[2:] == pytest.approx((way.series_amperes, way.common_amperes), rel=1e-6)


def stacked(way) -> Network:
    """The way as coils: the common one from C to earth, the series one on to S."""
    series = ("S", "C") if way.aiding else ("C", "S")
    core = Core(
        "unit", (Coil("common", "C", EARTH, way.common), Coil("series", *series, way.series))
    )
    ends = ("C", "S") if way.in_load_side else ("S", "C")
    load = NetworkLoad("load", ends[1], EARTH, way.delivers, way.rated_out, 0, 0, 1)
    return Network((Source("line", ends[0], EARTH, way.rated_in),), (), (load,), (core,))


def at_random(seed: int) -> Network:
    """Some cores of two to four coils, chained or starred at random, loads across open pairs."""
    rng = random.Random(seed)
    cores, pairs = [], []
    feed = phases_of(rng.choice((208, 400, 480)), HIGH, EARTH)
    for k in range(rng.randint(1, 4)):
        coils = []
        for c in range(rng.randint(2, 4)):
            ends = (f"T{k}c{c}+", f"T{k}c{c}-")
            z = complex(rng.uniform(0.01, 0.3), rng.uniform(0.02, 0.6))
            coils.append(Coil(f"T{k}c{c}", *ends, rng.choice((24, 48, 115, 120, 240, 277)), z))
            pairs.append(ends)
        y = complex(rng.uniform(0, 2), -rng.uniform(1, 40))
        cores.append(Core(f"T{k}", tuple(coils), y))
    joints = []
    for core in cores:
        one, other = rng.sample(HIGH, 2)
        joints.append((one, core.coils[0].start))
        joints.append((core.coils[0].end, rng.choice((other, EARTH))))
    rest = [coil for core in cores for coil in core.coils[1:]]
    rng.shuffle(rest)
    for one, other in pairwise(rest):
        joints.append((rng.choice((one.start, one.end)), rng.choice((other.start, other.end))))
    joints.append((rest[0].start, EARTH))
    loads = [NetworkLoad(f"load {i}", coil.start, coil.end, complex(rng.uniform(50, 900), rng.uniform(0, 400)),
                  coil.turns, 0, 0, 1) for i, coil in enumerate(rest) if rng.random() < 0.7]  # fmt: skip
    sources = tuple(Source(s.name, s.plus, s.minus, s.volts, 0.02 + 0.03j) for s in feed)
    return joined(cores, joints, sources, loads)


@pytest.mark.parametrize("seed", range(30))
def test_ngspice_finds_the_same_for_coils_joined_at_random(seed, tmp_path):
    network = at_random(seed)
    ours, other = solved(network), ngspice(network, tmp_path)
    scale = max(abs(v) for v in other.values())
    for coil in network.coils:
        theirs = other[coil.start] - other[coil.end]
        assert abs(ours.phasor(coil.start, coil.end) - theirs) < 1e-6 * scale, coil.name
    _laws(ours)


@given(st.integers(0, 10_000))
def test_power_balances_and_ampere_turns_add_up(seed):
    _laws(solved(at_random(seed)))


def _laws(ours) -> None:
    network = ours.network
    assert ours.mismatch < 1e-8
    given_ = sum(ours.powers[s.name].real for s in network.sources)
    taken = sum(ours.powers[load.name].real for load in network.loads)
    iron = 0.0
    for core in network.cores:
        turns = sum(coil.turns * ours.current(coil.name) for coil in core.coils)
        coil = core.coils[0]
        e = ours.phasor(coil.start, coil.end) - coil.impedance * ours.current(coil.name)
        e /= coil.turns
        most = max(abs(c.turns * ours.current(c.name)) for c in core.coils)
        assert abs(turns - core.magnetizing * e) <= 1e-6 * max(most, 1.0)
        iron += (abs(e) ** 2 * core.magnetizing).real
    lost = sum(ours.loss(item.name) for item in (*network.coils, *network.sources))
    assert given_ + sum(ours.loss(s.name) for s in network.sources) == pytest.approx(
        taken + lost + iron, rel=1e-6
    )


def test_six_phases_and_angles_come_out_of_any_sources():
    """Sources of any phasors: a coil between two of them has their difference."""
    a, b = cmath.rect(100, 0), cmath.rect(70, pi / 5)
    core = Core("T", (Coil("p", "A", "B", 10), Coil("q", "Q", EARTH, 20)))
    ours = solved(
        Network((Source("a", "A", EARTH, a), Source("b", "B", EARTH, b)), (), (), (core,))
    )
    assert ours.phasor("Q") == pytest.approx(2 * (a - b))


@given(st.integers(2, 60), st.lists(st.tuples(st.integers(0, 59), st.integers(0, 59)), max_size=80))
def test_small_networks_hang_together_as_the_graph_library_has_it(nodes, pairs):
    """Pieces told without a matrix, against scipy's connected components."""
    ends = [(a % nodes, b % nodes) for a, b in pairs] or [(0, 0)]
    one, other = (np.array(side) for side in zip(*ends, strict=True))
    ours = components(nodes, (one, other))
    graph = coo_array((np.ones(len(one)), (one, other)), shape=(nodes, nodes))
    theirs = connected_components(graph, directed=False)[1]
    assert (ours[:, None] == ours).tolist() == (theirs[:, None] == theirs).tolist()


@pytest.mark.parametrize("letters", PLAIN)
@pytest.mark.parametrize("turned", [False, True])
def test_one_node_for_all_that_is_joined_changes_no_volts(letters, turned):
    """Contracted and joint by joint: the same volts at every end, the same amperes in every coil."""
    network = bank(*letters, 1, turned)
    whole = solved(network)
    small, place = contracted(network)
    found = solved(small)
    assert len(small.conductors) < len(network.conductors)
    for name, node in place.items():
        if whole.tied(name, EARTH):
            assert found.phasor(node) == pytest.approx(whole.phasor(name), abs=1e-6)
    for coil in network.coils:
        ends = place[coil.start], place[coil.end]
        assert found.phasor(*ends) == pytest.approx(whole.phasor(coil.start, coil.end), abs=1e-6)
        assert found.current(coil.name) == pytest.approx(whole.current(coil.name), abs=1e-6)


def test_a_small_unit_leaks_half_in_each_winding():
    """4 % of a 10 kVA unit, measured from one side with the other shorted: 4 % of its volts."""
    coils = (Coil("one", "a", "e", 400), Coil("other", "b", "c", 100))
    core = small_unit("unit", coils, 10_000, 4)
    shorted = [("e", EARTH), ("b", "c"), ("c", EARTH)]
    found = solved(joined([core], shorted, [Source("line", "a", EARTH, 16.0)]))
    assert found.amperes("one") == pytest.approx(10_000 / 400, rel=0.01)
