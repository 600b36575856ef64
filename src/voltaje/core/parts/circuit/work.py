"""A circuit in numbers: its load, its amperes, what may protect it, and its sizing."""

from __future__ import annotations

from dataclasses import dataclass, replace

from voltaje.core.codes import Edition
from voltaje.core.electrical.systems import Demand, Piece, System
from voltaje.core.entries import WrongEntryError
from voltaje.core.parts.circuit.entries import USES, CircuitEntries, Usage
from voltaje.core.parts.kind import Context
from voltaje.core.parts.wired import (
    Feed,
    WiredOutcome,
    amperes_of,
    lines_of,
    size,
    volts_of,
    wires_of,
)
from voltaje.core.rules.choose import Need
from voltaje.core.rules.ladder import Shop
from voltaje.core.rules.overcurrent import (
    devices_between,
    largest_rating,
    next_standard_device,
    previous_standard_device,
    standard_ratings,
)
from voltaje.core.units import Nameplate
from voltaje.core.worksheet import fits

# Common practice: volts further off than this share are another connection's, not the supply's.
OTHER_VOLTS = 0.02
MANY = 6  # no code figure: how many devices below a nameplate's most are tried


@dataclass(frozen=True, slots=True)
class Load:
    """The load: ``entered`` in VA as it is told, ``va`` as it counts (a sign's least), ``amperes``
    at ``volts``, which are its own ``rated`` ones where it draws more at those (0: the supply's).
    ``unlike`` are its rated volts where they are neither."""

    entered: float
    va: float
    amperes: float
    volts: float
    rated: float = 0.0
    unlike: float = 0.0


@dataclass(frozen=True, slots=True)
class TooMuch:
    """More than such a circuit may have: ``design`` A above ``most``, the rule's topic."""

    design: float
    most: float
    topic: str


@dataclass(frozen=True, slots=True, kw_only=True)
class CircuitOutcome(WiredOutcome):
    """``share`` of the load is continuous; ``design`` A with the quarter more of it."""

    load: Load
    share: float
    design: float
    too_much: TooMuch | None


def work(entries: CircuitEntries, context: Context) -> CircuitOutcome:
    """The circuit: amperes, device, conductors, what goes with them."""
    system, edition = context.supply.system, context.edition
    volts = volts_of(system, entries.connection, "connection")
    load = load_of(entries, volts, edition)
    share = _continuous(entries, USES[entries.use])
    more = edition.value("continuous")
    design = load.amperes * (1 + share * (more - 100) / 100)
    need, too_much = _need(entries, load.amperes, design, edition)
    context = under(entries, context)
    feed = _feed(entries, volts, system)
    sizing = size(need, feed, entries, context)
    return CircuitOutcome(
        amperes=load.amperes,
        wires=wires_of(feed, entries, context),
        drop=sizing.lost.percent if sizing.lost else None,
        sizing=sizing,
        load=load,
        share=share,
        design=design,
        too_much=too_much,
    )


def under(entries: CircuitEntries, context: Context) -> Context:
    """The context with the habit that the use asks for: a smaller device than the nameplate's may
    not start air conditioning."""
    if entries.use != "air conditioning":
        return context
    return replace(context, shop=Shop("maximum", context.shop.prices))


def load_of(entries: CircuitEntries, volts: float, edition: Edition) -> Load:
    """The load in VA and its amperes. Raises :class:`WrongEntryError`."""
    if entries.use == "receptacles":
        if not entries.outlets:
            raise WrongEntryError("outlets", "Needed: how many outlets the circuit has, like 8.")
        va = entries.outlets * edition.value("receptacle_load")
        return Load(va, va, amperes_of(va, volts, entries.connection), volts)
    if entries.use == "air conditioning":
        return _air_conditioning(entries, volts)
    plate = entries.load
    if plate is None or not (plate.watts or plate.amperes or plate.horsepower):
        raise WrongEntryError("load", "Needed: the load, like 4.5 kW, 3.2 kVA or 24 A.")
    if plate.horsepower is not None:
        raise WrongEntryError(
            "load",
            "Horsepower belongs on a motor circuit: its current is read from the code’s tables,"
            " not converted.",
        )
    rated = plate.volts or entries.rated_volts or volts
    entered = va = _volt_amperes(plate, rated, entries)
    if entries.use == "sign":
        va = max(va, edition.value("sign_circuit"))
    if abs(rated - volts) > OTHER_VOLTS * volts:
        return Load(entered, va, amperes_of(va, rated, entries.connection), rated, rated, rated)
    return Load(entered, va, amperes_of(va, volts, entries.connection), volts)


def _volt_amperes(plate: Nameplate, rated: float, entries: CircuitEntries) -> float:
    if plate.watts is not None:
        return plate.watts / entries.power_factor if plate.active else plate.watts
    return (plate.amperes or 0.0) / (amperes_of(1.0, rated, entries.connection))


def _air_conditioning(entries: CircuitEntries, volts: float) -> Load:
    if entries.minimum_ampacity is None:
        raise WrongEntryError(
            "minimum_ampacity", "Needed: the nameplate’s minimum circuit ampacity, like 23 A."
        )
    if entries.maximum_device is None:
        raise WrongEntryError(
            "maximum_device", "Needed: the nameplate’s maximum fuse or breaker, like 40 A."
        )
    amperes = entries.minimum_ampacity
    va = amperes / amperes_of(1.0, volts, entries.connection)
    return Load(va, va, amperes, volts)


def _continuous(entries: CircuitEntries, usage: Usage) -> float:
    if entries.use == "air conditioning":
        return 0.0
    if entries.continuous == "part":
        if entries.continuous_share is None:
            raise WrongEntryError("continuous_share", "Needed: the share in percent, like 60.")
        return entries.continuous_share / 100
    if entries.continuous == "auto":
        return 1.0 if usage.continuous else 0.0
    return 1.0 if entries.continuous == "yes" else 0.0


def _need(
    entries: CircuitEntries, amperes: float, design: float, edition: Edition
) -> tuple[Need, TooMuch | None]:
    """What may protect the circuit, and what is too much for it."""
    if entries.use == "air conditioning":
        return _need_of_nameplate(entries, amperes, edition), None
    ratings, most, topic = _allowed(entries, amperes, edition)
    found = devices_between(design, most, edition, ratings=ratings)
    too_much = None
    if not found:
        too_much = TooMuch(design, most, topic)
        most = largest_rating(edition)
        found = devices_between(design, most, edition, 2)
    several = entries.use == "receptacles"
    need = Need(
        amperes, design, design, found, next_size=not several, ceiling_topic=topic, ceiling=most
    )
    return need, too_much


def _need_of_nameplate(entries: CircuitEntries, amperes: float, edition: Edition) -> Need:
    most = entries.maximum_device or 0.0
    least = previous_standard_device(most * (1 + 1e-6), edition)
    if not least or amperes > most:
        raise WrongEntryError(
            "maximum_device",
            "The maximum device is below the minimum circuit ampacity: read the nameplate again.",
        )
    return Need(
        amperes,
        0.0,
        amperes,
        devices_between(amperes, most, edition, MANY) or (least,),
        elsewhere=True,
        device_topic="air_conditioning_device",
        conductor_topic="air_conditioning",
        ceiling_topic="air_conditioning_device",
        ceiling=most,
    )


def _allowed(
    entries: CircuitEntries, amperes: float, edition: Edition
) -> tuple[tuple[float, ...], float, str]:
    """The ratings that such a circuit may have, the largest of them, and the rule's topic."""
    if entries.use == "receptacles":
        ratings = outlet_ratings(edition)
        least, most = edition.value("receptacle_least"), edition.value("receptacle_most")
        return tuple(r for r in ratings if fits(least, r)), most, "multi_outlet"
    if entries.use in ("lighting", "sign"):
        ratings = outlet_ratings(edition)
        return ratings, ratings[-1], "circuit_ratings"
    ratings = standard_ratings(edition)
    if entries.use != "water heater":
        return ratings, largest_rating(edition), "standard_devices"
    most = edition.value("small_appliance_device")
    if not fits(amperes, edition.value("small_appliance_amperes")):
        percent = edition.value("single_appliance")
        most = next_standard_device(amperes * percent / 100, edition).value
    return ratings, most, "single_appliance"


def outlet_ratings(edition: Edition) -> tuple[float, ...]:
    """The ratings of circuits with more than one outlet, A (210.18)."""
    return tuple(edition.table("circuit_ratings").column("A").values())


def _feed(entries: CircuitEntries, volts: float, system: System) -> Feed:
    """The wires it takes; one that shares its neutral is counted with its partners' lines."""
    count = lines_of(entries.connection)
    neutral = _has_neutral(entries, system)
    factor, nonlinear = entries.power_factor, entries.nonlinear
    if entries.multiwire:
        lines = 3 if system.phases == 3 else 2
        pair = system.is_wye and lines == 2
        return Feed(entries.connection, volts, lines, True, factor, nonlinear, pair)
    pair = system.is_wye and count == 2
    return Feed(entries.connection, volts, count, neutral, factor, nonlinear, pair)


def _has_neutral(entries: CircuitEntries, system: System) -> bool:
    """Whether a neutral goes along. Raises :class:`WrongEntryError` where the supply has none."""
    if entries.connection == "line-neutral":
        return True
    if entries.neutral and not system.has_neutral:
        raise WrongEntryError(
            "neutral", f"The supply, {system.label}, has no neutral to take along."
        )
    return entries.neutral


def hand_up(entries: CircuitEntries, outcome: CircuitOutcome, context: Context) -> Demand:
    """The load as one piece, with the line it stands on."""
    category, load = USES[entries.use].category, outcome.load
    # lighting and receptacles between lines are counted on the neutral anyhow
    to_neutral = entries.neutral and category not in ("lighting", "receptacles")
    piece = Piece(
        "",
        category,
        load.va,
        load.va,
        load.amperes,
        entries.connection,
        entries.line,
        outcome.share,
        device=outcome.sizing.pair.device,
        group=entries.together,
        multiwire=entries.multiwire,
        nonlinear=entries.nonlinear,
        neutral=load.amperes if to_neutral else 0.0,
        power_factor=entries.power_factor,
    )
    return Demand.of([piece])
