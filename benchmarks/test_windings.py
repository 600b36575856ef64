"""How long windings take: twelve coils solved, the full lists of booster and bank, a bench of
joints with the change that mends it, and all of them through the view that recalculates.

Budgets of processor time: twelve coils 5 ms, a list 30 ms, a recalculation through the view 20 ms.
"""

import pytest
from django.urls import reverse

from voltaje.core.kinds.winding_connections.benches import LIBRARY
from voltaje.web.kinds.presentation import Example


def test_twelve_coils_joined(benchmark):
    """Four cores of three coils, fed at three lines, joined in star and in series."""
    from voltaje.core.electrical.network import Coil, Core, solved
    from voltaje.core.electrical.windings import joined, phases_of

    lines = ("A", "B", "C")
    cores = [
        Core(f"T{k}", tuple(Coil(f"T{k}c{c}", f"T{k}c{c}+", f"T{k}c{c}-", 120) for c in range(3)))
        for k in range(4)
    ]
    joints = [(lines[k % 3], f"T{k}c0+") for k in range(4)]
    joints += [(f"T{k}c0-", "earth") for k in range(4)]
    joints += [(f"T{k}c1-", f"T{k}c2+") for k in range(4)] + [("T0c1+", "earth")]
    network = joined(cores, joints, phases_of(208, lines, "earth"))
    benchmark(solved, network)


def test_every_booster_for_a_load(benchmark):
    from voltaje.core.kinds import Context, evaluate, kind

    volts = iter(range(180_000, 10_000_000))

    def act():
        entries = {
            "measured": f"{next(volts) / 1000} V",
            "required_voltage": "240 V",
            "load": "9.6 kVA",
        }
        assert evaluate(kind("buck_boost"), entries, Context()).report

    benchmark(act)


def test_every_connection_of_a_bank(benchmark):
    from voltaje.core.kinds import Context, evaluate, kind

    volts = iter(range(440_000, 10_000_000))

    def act():
        entries = {
            "primary": "480 V", "secondary": "240 V", "kva": "15 kVA", "required_voltage": "240 V",
            "supply": f"{next(volts) / 1000} V", "tap_side": "primary", "tolerance": "9",
        }  # fmt: skip
        assert evaluate(kind("bank"), entries, Context()).report

    benchmark(act)


@pytest.mark.parametrize("bench", LIBRARY, ids=lambda bench: bench.name)
def test_a_bench_through_the_view(benchmark, client, bench):
    """Each round with other volts, so that nothing is remembered."""
    _through_the_view(benchmark, client, "winding_connections", bench.document, "supply", 400)


SHEETS = {
    "buck_boost": ({"required_voltage": "240 V", "load": "9.6 kVA"}, "measured_voltage", 208),
    "bank": ({"primary": "480 V", "secondary": "240 V", "kva": "15 kVA", "tolerance": "9",
              "required_voltage": "240 V", "tap_side": "primary"}, "supply", 480),
    "autotransformer": ({"winding": "240 V", "other_winding": "32 V", "kva": "1.5 kVA",
                         "required_voltage": "208 V", "fault": "series shorted"},
                        "source_voltage", 240),
}  # fmt: skip


@pytest.mark.parametrize("kind", SHEETS)
def test_a_winding_sheet_through_the_view(benchmark, client, kind):
    document, name, volts = SHEETS[kind]
    _through_the_view(benchmark, client, kind, document, name, volts)


def _through_the_view(benchmark, client, kind, document, name, volts):
    from urllib.parse import parse_qsl

    url, steps = reverse("sheets:quick_work", args=[kind]), iter(range(10_000_000))

    def act():
        now = {**document, name: f"{volts + next(steps) / 1000} V"}
        posted = dict(parse_qsl(Example(kind, now).asks()))
        assert client.post(url, posted).status_code == 200

    benchmark(act)
