"""The solver beside programs that were not written here.

Sources: ngspice 39 (Debian), a general circuit simulator; power-grid-model and pandapower (PyPI),
two general grid-calculation libraries. A four-wire line whose neutral is the only way back has
Z1 = Zc and Z0 = Zc + 3 Zn (symmetrical components, C. L. Fortescue, 1918), and its bus volts to
neutral are those libraries' bus volts to ground.
"""

from __future__ import annotations

import warnings
from dataclasses import replace
from itertools import pairwise

import numpy as np
import power_grid_model as pgm
import pytest
from core.radial import VOLTS, Radial, radial, tableau, to_neutral
from core.spice import ngspice

from voltaje.core.electrical.network import (
    EARTH,
    Conductor,
    Network,
    NetworkLoad,
    solved,
    sources,
    transformer,
)
from voltaje.core.electrical.network.solve import solve
from voltaje.core.electrical.systems import SYSTEMS


def along(
    system: str, loads: list[tuple[str, str, complex]], z: complex, zn: complex,
    cut: str = "", source: complex = 0.01 + 0.01j,
) -> Network:  # fmt: skip
    """A run with one load at each joint: (line, other line or N, VA)."""
    of = SYSTEMS[system]
    found, bond = sources(of, source)
    wires = (*of.lines, *(("N",) if of.has_neutral else ()))
    conductors = list(bond)
    for step in range(1, len(loads) + 1):
        for wire in wires:
            before = f"{wire}.{step - 1}" if step > 1 else wire
            name = f"{wire}:{step}"
            conductors.append(Conductor(name, before, f"{wire}.{step}", (zn if wire == "N" else z)
                                        * step, open=name == cut))  # fmt: skip
    placed = tuple(
        NetworkLoad(f"load {i}", f"{one}.{i}", f"{other}.{i}", va,
             of.to_neutral if other == "N" else of.line_to_line, 0, 0, 1)
        for i, (one, other, va) in enumerate(loads, 1)
    )  # fmt: skip
    return Network(found, tuple(conductors), placed)


KITCHEN = [("L1", "N", 1200), ("L2", "N", 1500 + 300j), ("L1", "N", 400 - 90j), ("L2", "N", 250),
           ("L1", "L2", 3000 + 800j), ("L2", "N", 1800)]  # fmt: skip
SHOP = [("L1", "N", 900 + 400j), ("L2", "N", 2400), ("L3", "N", 300 - 200j), ("L1", "L2", 1800),
        ("L3", "N", 1500 + 900j)]  # fmt: skip
CASES = {
    "three-wire": along("1ph-120/240", KITCHEN, 0.05 + 0.01j, 0.05 + 0.01j),
    "three-wire, four loads": along("1ph-120/240", KITCHEN[:4], 0.12, 0.12, source=0j),
    "neutral open at its start": along("1ph-120/240", KITCHEN, 0.05 + 0.01j, 0.05, "N:1"),
    "neutral open on its way": along("1ph-120/240", KITCHEN, 0.05 + 0.01j, 0.08, "N:3"),
    "line open": along("1ph-120/240", KITCHEN, 0.05 + 0.01j, 0.05, "L2:2"),
    "four-wire": along("3ph-208Y/120", SHOP, 0.08 + 0.04j, 0.1 + 0.05j),
    "four-wire, neutral open": along("3ph-208Y/120", SHOP, 0.08 + 0.04j, 0.1 + 0.05j, "N:2"),
    "four-wire, line open": along("3ph-400Y/230", SHOP, 0.3 + 0.1j, 0.3 + 0.1j, "L1:1"),
    "two lines of a wye": along("1ph-120/208", KITCHEN, 0.05 + 0.01j, 0.05 + 0.01j),
    "high leg": along("3ph-240/120", [("L1", "N", 1200), ("L3", "N", 300j + 500), ("L1", "L2", 2e3),
                                      ("L2", "L3", 900 + 900j)], 0.05 + 0.01j, 0.06),
}  # fmt: skip


@pytest.mark.parametrize("case", CASES)
def test_ngspice_finds_the_same_volts(case: str, tmp_path) -> None:
    """Within 0.01 % of the supply's volts; what is asked of both is far below."""
    network = CASES[case]
    other = ngspice(network, tmp_path)
    ours = solved(network)
    highest = max(abs(v) for v in other.values())
    for node, volts in other.items():
        assert abs(ours.waves[1].volts[node] - volts) < 1e-6 * highest, node
    # and the amperes, by Ohm from the simulator's volts
    for conductor in network.conductors:
        if conductor.impedance and not conductor.open:
            by_ohm = (other[conductor.start] - other[conductor.end]) / conductor.impedance
            assert abs(ours.current(conductor.name) - by_ohm) < 1e-4 * max(1.0, abs(by_ohm))


def bank(connection: str) -> Network:
    """480 V to 208Y/120 V or 240 V, three loads that differ much, one of them between lines."""
    found, bond = sources(SYSTEMS["3ph-480Y/277"], 0.01 + 0.03j)
    delta = (("L1", "L2"), ("L2", "L3"), ("L3", "L1"))
    wye = (("L1", "N"), ("L2", "N"), ("L3", "N"))
    ends = {"delta-wye": (delta, wye, 4.0), "wye-wye": (wye, wye, 277 / 120),
            "delta-delta": (delta, delta, 2.0), "open delta": (delta[:2], delta[:2], 2.0)}  # fmt: skip
    one, two, ratio = ends[connection]
    windings = tuple(
        transformer(f"T{i}", p, (f"T{i}", *(f"X{n}" for n in s), 1.0, 0.02 + 0.05j), turns=ratio,
                    shunt=1e-4 - 4e-4j)
        for i, (p, s) in enumerate(zip(one, two, strict=True))
    )  # fmt: skip
    neutral = [Conductor("X bond", "XN", EARTH)] if "wye" in connection.split("-")[1:] else []
    across = (("XL1", "XL2", 2400 + 500j), ("XL2", "XL3", 900j + 300), ("XL3", "XL1", 5000))
    to_n = (("XL1", "XN", 2400 + 500j), ("XL2", "XN", 900 - 300j), ("XL3", "XL1", 1500))
    loads = tuple(NetworkLoad(f"load {i}", a, b, va, 120 if b == "XN" else 208, 0, 0, 1)
                  for i, (a, b, va) in enumerate(to_n if neutral else across))  # fmt: skip
    return Network(found, (*bond, *neutral), loads, windings)


@pytest.mark.parametrize("connection", ["delta-wye", "wye-wye", "delta-delta", "open delta"])
def test_ngspice_finds_the_same_behind_transformers(connection: str, tmp_path) -> None:
    """Volts between all pairs behind the bank and on its primary; without earth behind a delta the
    single volts are only known among themselves."""
    network = bank(connection)
    ours, other = solved(network), ngspice(network, tmp_path)
    nodes = [n for n in other if n.startswith("X")], [n for n in other if n.startswith("L")]
    for group in nodes:
        for one in group:
            for two in group:
                theirs = other[one] - other[two]
                assert abs(ours.phasor(one, two) - theirs) < 1e-4 * 480, (one, two)
    assert ours.mismatch < 1e-9


def test_ngspice_finds_the_same_third_and_fifth_harmonic(tmp_path) -> None:
    """Electronic loads as sources of current at 180 and 300 Hz beside motors and heaters."""
    base = CASES["four-wire"]
    spectrum = ((3, 0.6), (5, 0.25))
    loads = tuple(replace(load, current=1, constant=0, harmonics=spectrum) if i in (1, 2) else load
                  for i, load in enumerate(base.loads))  # fmt: skip
    network = replace(base, loads=loads)
    ours = solved(network)
    for order, share in spectrum:
        forced = {}
        for load in (loads[1], loads[2]):
            first = ours.current(load.name)
            forced[load.name] = share * abs(first) * np.exp(1j * order * np.angle(first))
        other = ngspice(network, tmp_path, order=order, forced=forced)
        most = max(abs(v) for v in other.values())
        for node, volts in other.items():
            assert abs(ours.waves[order].volts[node] - volts) < 1e-4 * most + 1e-9, (order, node)


def by_power_grid_model(net: Radial) -> np.ndarray:
    """(buses, 3) volts to ground."""
    count = net.buses
    node = pgm.initialize_array("input", "node", count)
    node["id"] = np.arange(count)
    node["u_rated"] = VOLTS * np.sqrt(3)
    line = pgm.initialize_array("input", "line", count - 1)
    line["id"] = count + np.arange(count - 1)
    line["from_node"], line["to_node"] = net.parent, np.arange(1, count)
    line["from_status"] = line["to_status"] = 1
    zero = net.z + 3 * net.zn
    line["r1"], line["x1"], line["r0"], line["x0"] = net.z.real, net.z.imag, zero.real, zero.imag
    for shunt in ("c1", "tan1", "c0", "tan0"):
        line[shunt] = 0
    source = pgm.initialize_array("input", "source", 1)
    source["id"], source["node"], source["status"] = 2 * count, 0, 1
    source["u_ref"], source["sk"] = 1.0, 1e15
    load = pgm.initialize_array("input", "asym_load", count - 1)
    load["id"], load["node"] = 3 * count + np.arange(count - 1), np.arange(1, count)
    load["status"], load["type"] = 1, pgm.LoadGenType.const_power
    load["p_specified"], load["q_specified"] = net.va[1:].real, net.va[1:].imag
    model = pgm.PowerGridModel({"node": node, "line": line, "source": source, "asym_load": load})
    found = model.calculate_power_flow(
        symmetric=False, error_tolerance=1e-10, max_iterations=50,
        calculation_method=pgm.CalculationMethod.iterative_current,
    )["node"]  # fmt: skip
    return found["u"] * np.exp(1j * found["u_angle"])


def pandapower_net(net: Radial):
    """The network as that library holds it."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import pandapower as pp
    grid = pp.create_empty_network()
    pp.create_buses(grid, net.buses, vn_kv=VOLTS * np.sqrt(3) / 1000)
    pp.create_ext_grid(grid, 0, s_sc_max_mva=1e9, rx_max=0.1, x0x_max=1.0, r0x0_max=0.1)
    zero = net.z + 3 * net.zn
    pp.create_lines_from_parameters(
        grid, net.parent, np.arange(1, net.buses), 1.0, net.z.real, net.z.imag, 0.0, 1.0,
        r0_ohm_per_km=zero.real, x0_ohm_per_km=zero.imag, c0_nf_per_km=0.0,
    )  # fmt: skip
    for bus in range(1, net.buses):
        p, q = net.va[bus].real / 1e6, net.va[bus].imag / 1e6
        pp.create_asymmetric_load(grid, bus, p_a_mw=p[0], p_b_mw=p[1], p_c_mw=p[2], q_a_mvar=q[0],
                                  q_b_mvar=q[1], q_c_mvar=q[2], type="wye")  # fmt: skip
    return grid


def by_pandapower(net: Radial) -> np.ndarray:
    """(buses, 3) volts to ground."""
    grid = pandapower_net(net)
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import pandapower as pp

        pp.runpp_3ph(grid, tolerance_mva=1e-12, max_iteration=100)
    found = grid.res_bus_3ph
    volts = found[["vm_a_pu", "vm_b_pu", "vm_c_pu"]].to_numpy() * VOLTS
    return volts * np.exp(1j * np.deg2rad(found[["va_a_degree", "va_b_degree", "va_c_degree"]]))


@pytest.mark.filterwarnings("ignore")
@pytest.mark.parametrize("other", [by_power_grid_model, by_pandapower])
@pytest.mark.parametrize("buses", [50, 500])
def test_grid_libraries_find_the_same_volts(buses: int, other) -> None:
    """Within 1e-6 per unit at every bus and phase, whichever way ours is solved."""
    net = radial(buses)
    theirs = np.asarray(other(net))
    for method in (None, "matrix") if buses > 50 else (None, "matrix", "newton"):
        ours = to_neutral(solve(tableau(net), method).volts)
        assert np.abs(ours - theirs).max() / VOLTS < 1e-6, method
    drops = 1 - np.abs(theirs) / VOLTS
    assert drops.max() > 0.02, "a network without drop would prove nothing"


def test_the_walk_of_a_tree_is_in_order() -> None:
    """The sweep's sums stand on it: what lies below a node stands together."""
    from voltaje.core.electrical.network.solve import tree_of

    tree = tree_of(tableau(radial(60, 3)))
    assert tree is not None
    spans = list(zip(range(len(tree.nodes)), tree.after.tolist(), strict=True))
    for (at, after), (below, below_after) in pairwise(spans):
        assert after > at
        if below < after:
            assert below_after <= after
