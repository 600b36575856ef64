"""The same network for ngspice: one frequency, steady state, every load an impedance or, at a
harmonic order, a source of current. The coils of a core are inductances, coupled whole."""

from __future__ import annotations

import subprocess
from cmath import phase
from math import degrees, pi
from pathlib import Path

from voltaje.core.electrical.network import EARTH, Network


def _impedance(name: str, one: str, other: str, ohms: complex, hertz: float) -> list[str]:
    """R and L, or R and C, in series."""
    w = 2 * pi * hertz
    if ohms.imag > 0:
        second = f"L{name} {name}m {other} {ohms.imag / w:.15g}"
    elif ohms.imag < 0:
        second = f"C{name} {name}m {other} {-1 / (w * ohms.imag):.15g}"
    else:
        return [f"R{name} {one} {other} {ohms.real:.15g}"]
    return [f"R{name} {one} {name}m {ohms.real:.15g}", second]


# Ω of an ideal core's largest coil: far above all else
NO_MAGNETIZING = 1e9


def ngspice(
    network: Network, folder: Path, hertz: float = 60.0, order: int = 1,
    forced: dict[str, complex] | None = None,
) -> dict[str, complex]:  # fmt: skip
    """Volts of every node above earth, as ngspice finds them. ``forced`` are the amperes that loads
    take at an ``order`` above the first, where the sources are shorted."""
    forced = forced or {}
    names = {EARTH: "0"}
    for item in (*network.sources, *network.loads):
        names.setdefault(item.plus, f"n{len(names)}")
        names.setdefault(item.minus, f"n{len(names)}")
    for conductor in network.conductors:
        names.setdefault(conductor.start, f"n{len(names)}")
        names.setdefault(conductor.end, f"n{len(names)}")
    for coil in network.coils:
        names.setdefault(coil.start, f"n{len(names)}")
        names.setdefault(coil.end, f"n{len(names)}")
    deck = ["* network"]
    for i, source in enumerate(network.sources):
        emf = complex(source.volts)
        deck.append(
            f"V{i} s{i} {names[source.minus]} AC {abs(emf) if order == 1 else 0:.15g} {degrees(phase(emf)):.15g}"
        )
        z = source.impedance or 1e-12
        deck += _impedance(f"s{i}z", f"s{i}", names[source.plus], complex(z), hertz)
    for i, conductor in enumerate(network.conductors):
        if not conductor.open:
            one, other = names[conductor.start], names[conductor.end]
            # a link is a source of nothing: a tiny resistance would cost the simulator its digits
            deck += (_impedance(f"c{i}", one, other, complex(conductor.impedance), hertz)
                     if conductor.impedance else [f"Vc{i} {one} {other} 0"])  # fmt: skip
    for i, load in enumerate(network.loads):
        if load.name in forced:
            amperes = forced[load.name]
            deck.append(f"I{i} {names[load.plus]} {names[load.minus]} AC {abs(amperes):.15g}"
                        f" {degrees(phase(amperes)):.15g}")  # fmt: skip
            continue
        assert load.constant == 1, "only impedances here"
        z = load.volts**2 / load.va.conjugate()
        deck += _impedance(f"d{i}", names[load.plus], names[load.minus], z, hertz)
    for i, core in enumerate(network.cores):
        # inductances by the square of the turns, coupled whole; iron as a resistance across one
        y = complex(core.magnetizing)
        most = max(coil.turns for coil in core.coils)
        henry = (
            1 / (-y.imag * 2 * pi * hertz)
            if y.imag
            else NO_MAGNETIZING / (2 * pi * hertz * most**2)
        )
        for j, coil in enumerate(core.coils):
            deck.append(f"Lt{i}c{j} t{i}c{j} {names[coil.end]} {henry * coil.turns**2:.15g}")
            z = complex(coil.impedance or 1e-12)
            deck += _impedance(f"t{i}z{j}", names[coil.start], f"t{i}c{j}", z, hertz)
            deck += [f"Kt{i}c{k}c{j} Lt{i}c{k} Lt{i}c{j} 1" for k in range(j)]
        if y.real:
            coil = core.coils[0]
            deck.append(f"Rt{i}m t{i}c0 {names[coil.end]} {coil.turns**2 / y.real:.15g}")
    # a node that nothing ties to earth has no volts of its own in the simulator
    deck += [f"Rg{n} {n} 0 1e15" for n in names.values() if n != "0"]
    shown = [n for n in names.values() if n != "0"]
    deck += [".control", "set numdgt=14", f"ac lin 1 {hertz * order} {hertz * order}", "set wr_singlescale",
             "wrdata out.txt " + " ".join(f"v({n})" for n in shown), "quit", ".endc", ".end"]  # fmt: skip
    (folder / "network.cir").write_text("\n".join(deck) + "\n")
    ran = subprocess.run(["ngspice", "-b", "network.cir"], cwd=folder, capture_output=True,
                         text=True, check=False)  # fmt: skip
    assert (folder / "out.txt").exists(), ran.stdout + ran.stderr
    values = [float(word) for word in (folder / "out.txt").read_text().split()][1:]
    pairs = [complex(*values[i : i + 2]) for i in range(0, len(values), 2)]
    by_node = dict(zip(shown, pairs, strict=True))
    return {name: by_node.get(node, 0j) for name, node in names.items()}
