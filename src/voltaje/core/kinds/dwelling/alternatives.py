"""The conductors of a dwelling's service as alternatives, in North America: of each metal the one
that is taken, and the next smaller one, which may not be."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from voltaje.core.codes import Edition
from voltaje.core.codes.vocabulary import Metal
from voltaje.core.report import Alternative, figure, figure_beside, say
from voltaje.core.rules.north_america.alternatives import KG_PER_MIL
from voltaje.core.rules.north_america.conductors import LineConductor, label
from voltaje.core.rules.north_america.wiring import METALS, Installation, options


def alternatives(
    lines: Mapping[Metal, LineConductor],
    device: float,
    wires: int,
    installation: Installation,
    column: int,
    edition: Edition,
) -> Iterator[Alternative]:
    """``lines`` by metal behind ``device`` A, ``wires`` of them in each set, at terminals of
    ``column`` °C. Copper is taken for the chosen: both are answers."""
    for metal, line in lines.items():
        every = options(metal, installation, edition)
        place = next(i for i, o in enumerate(every) if o.size == line.size)
        for index in (place - 1, place) if line.sets == 1 and place else (place,):
            option, passes = every[index], index == place
            carries = option.final(column) * line.sets
            why = line.rules[-1]  # what asks for more than the smaller one carries
            cell = option.decisive(column).rule
            yield Alternative(
                device,
                label(option.size, metal, line.sets),
                option.size,
                line.sets,
                metal,
                carries,
                passes,
                passes and metal == METALS[0],
                say(
                    "Carries {ampacity} A of the {needed} A needed",
                    ampacity=figure_beside(carries, line.needed),
                    needed=figure(line.needed),
                ),
                (cell,) if passes or why.topic == cell.topic else (cell, why),
                wires * option.mils * line.sets * KG_PER_MIL[metal],
            )
