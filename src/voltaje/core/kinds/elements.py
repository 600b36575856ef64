"""A heating element that is told by its ohms."""

from __future__ import annotations

from voltaje.core.electrical.systems import Connection
from voltaje.core.entries import WrongEntryError
from voltaje.core.quantities import Nameplate
from voltaje.core.report import say


def at_its_volts(plate: Nameplate, volts: float, connection: Connection, path: str) -> Nameplate:
    """A nameplate whose ohms, if it has any, are the watts that they take at ``volts``. Raises
    :class:`WrongEntryError` for those of a three-phase load: star and delta differ by three."""
    if plate.ohms is None:
        return plate
    if connection == "three-phase":
        words = say("Ohms of a three-phase load: star or delta is not told. Give kW, like 9 kW.")
        raise WrongEntryError(path, words)
    return plate.at(volts)
