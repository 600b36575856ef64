"""A circuit in numbers: its load, its amperes, what may protect it, and its sizing."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import sqrt

from voltaje.core.capabilities import Diversified, FullyRated, can
from voltaje.core.codes import Edition
from voltaje.core.electrical.connection import line_count, load_current
from voltaje.core.electrical.systems import Demand, Piece, System
from voltaje.core.entries import WrongEntryError
from voltaje.core.kinds.circuit.entries import USES, CircuitLoad, Usage
from voltaje.core.kinds.circuit.line_shares import LINES, line_shares, unbalance
from voltaje.core.kinds.elements import at_its_volts
from voltaje.core.kinds.interface import SizedOutcome
from voltaje.core.kinds.placing import check_line, load_voltage
from voltaje.core.quantities import Nameplate
from voltaje.core.report import say
from voltaje.core.rules.context import Context
from voltaje.core.rules.interface import CircuitLoadRequest, CircuitRequest, Feed, Sized

# Common practice: volts further off than this share are another connection's, not the supply's.
OTHER_VOLTS = 0.02


@dataclass(frozen=True, slots=True)
class CircuitAmperes:
    """The load: ``entered`` in VA as it is told, ``va`` as it counts (a sign's least), ``amperes``
    at ``volts``, which are its own ``rated`` ones where it draws more at those (0: the supply's).
    ``unlike`` are its rated volts where they are neither. ``shares`` of L1, L2, L3 where it is
    split as measured: ``amperes`` are those of the heaviest line then."""

    entered: float
    va: float
    amperes: float
    volts: float
    rated: float = 0.0
    unlike: float = 0.0
    shares: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class CircuitOutcome(SizedOutcome[Sized]):
    """The load, what it ``wants`` of its code and what that ``asked`` for, its sizing."""

    load: CircuitAmperes
    wants: CircuitLoadRequest
    asked: CircuitRequest
    feed: Feed
    sizing: Sized


def calculate(entries: CircuitLoad, context: Context) -> CircuitOutcome:
    """The circuit: amperes, device, conductors, what goes with them."""
    system, edition, code = context.supply.system, context.edition, context.code
    volts = load_voltage(system, entries.connection, "connection")
    check_line(entries.line, entries.connection, system)
    load = load_of(entries, volts, context)
    shares = line_shares(entries.line_shares, system) if _split(entries) else ()
    if shares:
        # by the volts to neutral, as the lines of the board have it: 230, not 400 ÷ √3
        each = system.line_to_line / sqrt(LINES) / system.to_neutral
        heaviest = LINES * max(shares) * each
        load = replace(load, shares=shares, amperes=load.amperes * heaviest)
    share = _continuous(entries, USES[entries.use])
    plated = entries.use == "air conditioning"
    wants = CircuitLoadRequest(
        entries.use,
        load.amperes,
        share,
        entries.minimum_ampacity if plated else None,
        entries.maximum_device if plated else None,
        entries.diversity if can(entries, Diversified) else "",
        least_device=_least_of_sign(entries, edition),
        full_rated=can(entries, FullyRated) and entries.continuous_rating == "100",
    )
    asked = code.ask(wants, edition)
    feed = _feed(entries, volts, system)
    if shares:
        # its heaviest line loses in the line and in the neutral too
        back = unbalance(shares) / max(shares) * load.amperes
        feed = replace(feed, drop_amperes=load.amperes + back)
    context = under(asked, context)
    sizing = code.size(asked.need, feed, entries, context)
    return CircuitOutcome(
        amperes=load.amperes,
        wires=feed.wires(context.supply.system, entries.line),
        drop=sizing.lost_percent,
        drop_limit=sizing.total_limit,
        load=load,
        wants=wants,
        asked=asked,
        feed=feed,
        sizing=sizing,
    )


def _split(entries: CircuitLoad) -> bool:
    return entries.connection == "three-phase" and bool(entries.line_shares.strip())


def under(asked: CircuitRequest, context: Context) -> Context:
    """The context with the habit that the use asks for."""
    if asked.preference is None:
        return context
    return replace(context, shop=replace(context.shop, preference=asked.preference))


def load_of(entries: CircuitLoad, volts: float, context: Context) -> CircuitAmperes:
    """The load in VA and its amperes. Raises :class:`WrongEntryError`."""
    if entries.use == "receptacles":
        if not entries.outlets:
            raise WrongEntryError(
                "outlets", say("Needed: how many outlets the circuit has, like 8.")
            )
        va = entries.outlets * context.code.outlet(context.edition).value
        return CircuitAmperes(va, va, load_current(va, volts, entries.connection), volts)
    if entries.use == "air conditioning":
        return _air_conditioning(entries, volts)
    plate = entries.load
    if plate is not None:
        plate = at_its_volts(plate, volts, entries.connection, "load")
    if plate is None or not (plate.watts or plate.amperes or plate.horsepower):
        raise WrongEntryError("load", say("Needed: the load, like 4.5 kW, 3.2 kVA or 24 A."))
    if plate.horsepower is not None:
        raise WrongEntryError(
            "load",
            say(
                "Horsepower belongs on a motor circuit: its current is read from the code’s tables,"
                " not converted."
            ),
        )
    rated = plate.volts or entries.rated_volts or volts
    entered = va = _volt_amperes(plate, rated, entries)
    if entries.use == "range":
        va = range_demand(entered, context.edition)
    if entries.use == "sign":
        least = context.code.least_sign(context.edition)
        va = max(va, least.value) if least else va
    if abs(rated - volts) > OTHER_VOLTS * volts:
        return CircuitAmperes(
            entered, va, load_current(va, rated, entries.connection), rated, rated, rated
        )
    return CircuitAmperes(entered, va, load_current(va, volts, entries.connection), volts)


def _least_of_sign(entries: CircuitLoad, edition: Edition) -> float:
    """A that the circuit of a required sign outlet is rated at least (600.5)."""
    if entries.use != "sign" or not entries.required_sign:
        return 0.0
    return edition.value("sign_least") if edition.has_limit("sign_least") else 0.0


def range_demand(va: float, edition: Edition) -> float:
    """VA that the circuit of one range is sized for (CEC 8-300)."""
    base, mark = edition.value("range_circuit_base"), edition.value("range_circuit_mark")
    return base + max(0.0, va - mark) * edition.value("range_circuit_share") / 100


def _volt_amperes(plate: Nameplate, rated: float, entries: CircuitLoad) -> float:
    if plate.watts is not None:
        return plate.watts / entries.power_factor if plate.active else plate.watts
    return (plate.amperes or 0.0) / (load_current(1.0, rated, entries.connection))


def _air_conditioning(entries: CircuitLoad, volts: float) -> CircuitAmperes:
    if entries.minimum_ampacity is None:
        raise WrongEntryError(
            "minimum_ampacity", say("Needed: the nameplate’s minimum circuit ampacity, like 23 A.")
        )
    if entries.maximum_device is None:
        raise WrongEntryError(
            "maximum_device", say("Needed: the nameplate’s maximum fuse or breaker, like 40 A.")
        )
    amperes = entries.minimum_ampacity
    va = amperes / load_current(1.0, volts, entries.connection)
    return CircuitAmperes(va, va, amperes, volts)


def _continuous(entries: CircuitLoad, usage: Usage) -> float:
    if entries.use == "air conditioning":
        return 0.0
    if entries.continuous == "part":
        if entries.continuous_share is None:
            raise WrongEntryError("continuous_share", say("Needed: the share in percent, like 60."))
        return entries.continuous_share / 100
    if entries.continuous == "auto":
        return 1.0 if usage.continuous else 0.0
    return 1.0 if entries.continuous == "yes" else 0.0


def _feed(entries: CircuitLoad, volts: float, system: System) -> Feed:
    """The wires it takes; one that shares its neutral is counted with its partners' lines."""
    count = line_count(entries.connection)
    neutral = _has_neutral(entries, system)
    factor, nonlinear = entries.power_factor, entries.nonlinear
    if entries.shared_neutral:
        lines = 3 if system.phases == 3 else 2
        pair = system.is_wye and lines == 2
        return Feed(entries.connection, volts, lines, True, factor, nonlinear, pair)
    pair = system.is_wye and count == 2
    return Feed(entries.connection, volts, count, neutral, factor, nonlinear, pair)


def _has_neutral(entries: CircuitLoad, system: System) -> bool:
    """Whether a neutral goes along. Raises :class:`WrongEntryError` where the supply has none."""
    if entries.connection == "line-neutral":
        return True
    if _split(entries):
        return True
    if entries.neutral and not system.has_neutral:
        raise WrongEntryError(
            "neutral",
            say("The supply, {label}, has no neutral to take along.", label=say(system.label)),
        )
    return entries.neutral


def hand_up(entries: CircuitLoad, outcome: CircuitOutcome, context: Context) -> Demand:
    """The load as one piece, with the line it stands on."""
    category, load = USES[entries.use].category, outcome.load
    # lighting and receptacles between lines are counted on the neutral anyhow
    to_neutral = entries.neutral and category not in ("lighting", "receptacles")
    # what usual diversity leaves of it
    share = min(1.0, outcome.asked.design / load.amperes) if outcome.wants.diversity else 1.0
    piece = Piece(
        "",
        category,
        load.va,
        load.va * share,
        load.amperes * share,
        entries.connection,
        entries.line,
        outcome.wants.share,
        device=outcome.sizing.device,
        group=entries.noncoincident_with,
        multiwire=entries.shared_neutral,
        nonlinear=entries.nonlinear,
        neutral=load.amperes if to_neutral else 0.0,
        power_factor=entries.power_factor,
    )
    if not load.shares:
        return Demand.of([piece])
    # one piece for each line: they stay where they were measured
    parts = (
        replace(
            piece,
            connected=load.va * part,
            calculated=load.va * share * part,
            amperes=load.va * share * part / context.supply.system.to_neutral,
            connection="line-neutral",
            line=line,
            choice="split",  # where it never runs with others, all its lines do or none
        )
        for line, part in zip(context.supply.system.lines, load.shares, strict=True)
    )
    return Demand.of([one for one in parts if one.connected])
