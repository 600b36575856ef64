"""The network solver beside two general grid-calculation libraries, one run, the same networks.

Unbalanced radial four-wire networks of 50, 500 and 2,000 buses, one single-phase load of constant
power on most: ours with the neutral as a conductor of its own, theirs with it folded into the zero
sequence. Each is timed from arrays to volts, its own model made anew, all to 1e-10 per unit where
the library lets one choose. Nothing is asserted; the ratios are printed and stand in
docs/benchmarks.md.
"""

import time
import warnings

import pytest
from core.radial import radial, tableau
from core.test_network_outside import by_power_grid_model, pandapower_net

from voltaje.core.electrical.network.solve import solve

ROUNDS = {50: (60, 60, 3), 500: (40, 40, 2), 2000: (20, 20, 1)}


def quickest(work, rounds):
    best = float("inf")
    for _ in range(rounds):
        begin = time.perf_counter()
        work()
        best = min(best, time.perf_counter() - begin)
    return 1000 * best


@pytest.mark.filterwarnings("ignore")
@pytest.mark.parametrize("buses", [50, 500, 2000])
def test_side_by_side(benchmark, buses, capsys):
    warnings.simplefilter("ignore")
    import pandapower as pp

    net = radial(buses)
    grid = pandapower_net(net)  # made once: making it takes longer than solving it
    ours, pgm, panda = ROUNDS[buses]
    swept = quickest(lambda: solve(tableau(net)), ours)
    matrix = quickest(lambda: solve(tableau(net), "matrix"), max(3, ours // 4))
    compiled = quickest(lambda: by_power_grid_model(net), pgm)
    frames = quickest(lambda: pp.runpp_3ph(grid, tolerance_mva=1e-10, max_iteration=100), panda)
    benchmark.extra_info.update(
        sweep=swept, matrix=matrix, power_grid_model=compiled, pandapower=frames
    )
    benchmark(lambda: solve(tableau(net)))
    with capsys.disabled():
        print(
            f"\n{buses} buses ({4 * buses} nodes): sweep {swept:.2f} ms, matrix {matrix:.2f} ms,"
            f" power-grid-model {compiled:.2f} ms, pandapower {frames:.0f} ms;"
            f" power-grid-model ÷ ours {compiled / swept:.2f}, pandapower ÷ ours"
            f" {frames / swept:.0f}"
        )
