"""Every connection and tap of a bank, the one taken, its currents, and the reading across the last
corner before it is closed."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from math import sqrt
from typing import Literal

from voltaje.core import quantities
from voltaje.core.codes import Edition, NotCoveredError, practice
from voltaje.core.electrical.network import EARTH, Coil, Conductor, Core, Network, solved
from voltaje.core.electrical.windings import Joint, across, group_of, joined, phases_of
from voltaje.core.electrical.windings.groups import reversed_coils
from voltaje.core.entries import WrongEntryError, ask_needed
from voltaje.core.kinds.bank.entries import BankEntries
from voltaje.core.kinds.interface import Equipment, Outcome
from voltaje.core.report import figure, fits, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.north_america.transformers import Limit, protection, protection_high

Side = Literal["star", "delta", "open delta"]
Fault = Literal["", "flux", "volts"]
HIGH, LOW = ("A", "B", "C"), ("a", "b", "c")
MOST_TAPS, FARTHEST_TAP = 11, 25.0  # no code figures: what a tap changer has
NOTHING = 0.01  # of a coil's volts: about nothing on a meter (no code figure)


@dataclass(frozen=True, slots=True)
class BankOption:
    """A connection at a tap: V across a primary coil ``fed`` and what it is ``rated`` for there,
    the ``flux`` that makes in percent, V across a secondary coil and between lines, percent off
    the volts wanted."""

    high: Side
    low: Side
    tap: float
    fed: float
    rated: float
    flux: float
    coil: float
    out: float
    error: float
    fault: Fault

    @property
    def coil_rated(self) -> float:
        """Rated V of a secondary coil at this tap."""
        return self.coil * self.rated / self.fed


@dataclass(frozen=True, slots=True)
class Currents:
    """At full bank kVA: A in the lines and the coils of both sides, ``kva`` of the bank, percent
    that the ``load`` is of it (``None``: no load given)."""

    kva: float
    line_in: float
    coil_in: float
    line_out: float
    coil_out: float
    loading: float | None


@dataclass(frozen=True, slots=True)
class Corner:
    """The low side as it is joined: V between its lines (``None``: not tied), the connection group
    (empty: none), V across the last open corner of a delta, A that would flow in it,
    closed, and whether it ``may_close``: about nothing is read there."""

    lines: tuple[float | None, ...]
    group: str
    open_volts: float | None
    closed_amperes: float | None
    may_close: bool


@dataclass(frozen=True, slots=True)
class UnitLoads:
    """With a single-phase load on one unit besides the three-phase load, VA of the ``lighting``
    unit that has it and of each of the ``others``."""

    lighting: float
    others: float


@dataclass(frozen=True, slots=True, kw_only=True)
class BankOutcome(Outcome):
    """All rows, the one taken, its currents, its corner and what each unit carries; the most that a
    ``fuse`` in each line of the supply may be (``None``: the code here has no rule of it)."""

    units: UnitLoads | None = None
    fuse: Limit | None = None

    rows: tuple[BankOption, ...]
    chosen: BankOption | None
    currents: Currents | None
    corner: Corner | None
    joints: tuple[Joint, ...]


def calculate(entries: BankEntries, context: Context) -> BankOutcome:
    """Raises :class:`WrongEntryError` at what is missing."""
    ask_needed(entries)
    rows = _rows(entries)
    chosen = next((row for row in rows if not row.fault), None)
    if chosen is None:
        return BankOutcome(rows=rows, chosen=None, currents=None, corner=None, joints=())
    if entries.reversed_secondary == "3" and entries.count == "2":
        raise WrongEntryError("reversed_secondary", say("There is no unit 3: choose one of two."))
    currents = _currents(chosen, entries)
    corner, joints = _corner(chosen, entries)
    units = None
    if entries.lighting_va is not None:
        if chosen.low == "star":
            words = say("A single-phase load of one unit stands on a delta: this one is a star.")
            raise WrongEntryError("lighting", words)
        units = _unit_loads(chosen, entries.load_va or 0.0, entries.lighting_va)
    return BankOutcome(
        units=units,
        fuse=_fuse(currents.line_in, entries, context.edition),
        amperes=currents.line_in,
        rows=rows,
        chosen=chosen,
        currents=currents,
        corner=corner,
        joints=joints,
    )


def _fuse(line: float, entries: BankEntries, edition: Edition) -> Limit | None:
    """450.3: by the lines' amperes at the bank's rating, in any location; of an impedance that is
    not told the row of the lowest."""
    if not edition.has_table("transformer_protection_high"):
        return None
    mark = edition.limit("transformer_high")
    try:
        if (entries.supply or 0.0) <= mark.value:
            return protection(line, "primary only", "primary", edition)
        impedance = entries.impedance or 0.0
        found = protection_high(line, impedance, False, True, True, edition)[0]
    except NotCoveredError:
        return None
    return replace(found, rules=(*found.rules, mark.rule))


def taps_of(entries: BankEntries) -> tuple[float, ...]:
    """Taps in percent of the rated turns. Raises :class:`WrongEntryError`."""
    if entries.tap_side == "none":
        return (0.0,)
    found = []
    for text in entries.taps.replace(";", ",").replace("−", "-").split(","):
        if not text.strip():
            continue
        try:
            tap = quantities.read_number(text.strip().removesuffix("%").removeprefix("+"))
        except (ValueError, OverflowError):
            tap = float("nan")
        if not abs(tap) <= FARTHEST_TAP:
            words = say("Give percents within ± {most}, like +2.5, 0, -2.5.", most=FARTHEST_TAP)
            raise WrongEntryError("taps", words)
        found.append(tap)
    if not found or len(found) > MOST_TAPS:
        raise WrongEntryError("taps", say("Give one to {most} taps.", most=MOST_TAPS))
    return tuple(dict.fromkeys(found))


def _rows(entries: BankEntries) -> tuple[BankOption, ...]:
    sides: tuple[tuple[Side, Side], ...] = (
        ("star", "star"),
        ("star", "delta"),
        ("delta", "star"),
        ("delta", "delta"),
    )
    if entries.count == "2":
        sides = (("open delta", "open delta"),)
    most = practice().limit("overflux").value
    rows = [_row(high, low, tap, entries, most) for high, low in sides for tap in taps_of(entries)]
    # of one output, windings near their rated volts before windings far below them
    return tuple(
        sorted(rows, key=lambda r: (bool(r.fault), round(abs(r.error), 6), abs(r.flux - 100)))
    )


def _row(high: Side, low: Side, tap: float, entries: BankEntries, most: float) -> BankOption:
    primary, secondary = entries.primary or 1.0, entries.secondary or 1.0
    supply, wanted = entries.supply or 1.0, entries.required_voltage or 1.0
    turns = 1 + tap / 100
    rated = primary * turns if entries.tap_side == "primary" else primary
    behind = secondary * turns if entries.tap_side == "secondary" else secondary
    fed = supply / sqrt(3) if high == "star" else supply
    coil = fed * behind / rated
    out = coil * sqrt(3) if low == "star" else coil
    flux, error = 100 * fed / rated, 100 * (out / wanted - 1)
    fault: Fault = ""
    if not fits(flux, most):
        fault = "flux"
    elif not fits(abs(error), entries.tolerance):
        fault = "volts"
    return BankOption(high, low, tap, fed, rated, flux, coil, out, error, fault)


def _currents(row: BankOption, entries: BankEntries) -> Currents:
    each = entries.kva or 0.0
    supply = entries.supply or 1.0
    # the coils carry their rated amperes; their volts may be below the rated ones
    coil_in = each / row.rated
    coil_out = coil_in * row.fed / row.coil
    line_in = coil_in * (sqrt(3) if row.high == "delta" else 1.0)
    line_out = coil_out * (sqrt(3) if row.low == "delta" else 1.0)
    kva = sqrt(3) * row.out * line_out
    assert abs(kva - sqrt(3) * supply * line_in) <= 1e-6 * kva  # noqa: S101 - one power
    loading = None if entries.load_va is None else 100 * entries.load_va / kva
    return Currents(kva, line_in, coil_in, line_out, coil_out, loading)


def _unit_loads(row: BankOption, three: float, single: float) -> UnitLoads:
    """A balanced three-phase and a single-phase load of one power factor, as phasors. In a closed
    delta two thirds of the single-phase load flow through its own unit, a third through the other
    two in series; in an open delta each unit carries a line's current, 30° off its voltage."""
    if row.low == "open delta":
        line = three / sqrt(3)
        return UnitLoads(sqrt(single**2 + line**2 + 2 * single * line * sqrt(3) / 2), line)
    others = sqrt(three**2 + three * single + single**2) / 3
    return UnitLoads((three + 2 * single) / 3, others)


def _corner(row: BankOption, entries: BankEntries) -> tuple[Corner, tuple[Joint, ...]]:
    """The bank as coils with its joints, the coil that is turned round among them."""
    high, low = joints_of(row)
    count = 2 if entries.count == "2" else 3
    z = 0j
    if entries.impedance is not None:
        z = 1j * entries.impedance / 100 * row.coil_rated**2 / (entries.kva or 1.0)
    cores = [
        Core(
            f"unit {k}",
            (
                Coil(f"h{k}", f"H{k}1", f"H{k}2", row.rated),
                Coil(f"x{k}", f"X{k}1", f"X{k}2", row.coil_rated, z),
            ),
        )
        for k in range(1, count + 1)
    ]
    feed = phases_of(entries.supply or 1.0, HIGH, EARTH)
    star = [Conductor("star", "N", EARTH)] if row.high == "star" else []
    turned = [f"x{entries.reversed_secondary}"] if entries.reversed_secondary != "none" else []

    def with_joints(joints: tuple[Joint, ...]) -> Network:
        return reversed_coils(joined(cores, (*high, *joints), feed, (), star), turned)

    closing = row.low == "delta"
    left = solved(with_joints(low[:-1] if closing else low))
    pairs = ((LOW[0], LOW[1]), (LOW[1], LOW[2]), (LOW[2], LOW[0]))
    lines = tuple(
        abs(volts) if (volts := across(left, *pair)) is not None else None for pair in pairs
    )
    if not closing:
        name = group_of(left, HIGH, LOW).name if row.low == "star" else ""
        return Corner(lines, name, None, None, True), (*high, *low)
    reading = abs(across(left, *low[-1]) or 0j)
    closed, name = None, ""
    if not turned or z:
        whole = solved(with_joints(low))
        name = group_of(whole, HIGH, LOW).name
        closed = whole.amperes("x1") if z else None
    may_close = reading <= NOTHING * row.coil
    return Corner(lines, name, reading, closed, may_close), (*high, *low)


def joints_of(row: BankOption) -> tuple[tuple[Joint, ...], tuple[Joint, ...]]:
    """The joints of the high and of the low side, a delta's last corner last. Ends 1 have the
    dot."""
    return _side(row.high, "H", HIGH, "N"), _side(row.low, "X", LOW, "n")


def _side(how: Side, letter: str, lines: tuple[str, ...], star: str) -> tuple[Joint, ...]:
    count = 2 if how == "open delta" else 3
    starts = tuple((lines[k], f"{letter}{k + 1}1") for k in range(count))
    if how == "star":
        return (*starts, *((f"{letter}{k + 1}2", star) for k in range(count)))
    if how == "open delta":
        return (*starts, (f"{letter}12", f"{letter}21"), (f"{letter}22", lines[2]))
    ring = tuple((f"{letter}{k + 1}2", f"{letter}{(k + 1) % 3 + 1}1") for k in range(count))
    return (*starts, *ring)


def equipment(entries: BankEntries, outcome: BankOutcome, context: Context) -> Iterable[Equipment]:
    """Its units."""
    if entries.kva:
        kva = figure(entries.kva / 1000, 2)
        words = say("Single-phase transformer, {kva} kVA, unit of a bank", kva=kva)
        yield Equipment(f"unit|{kva}", words, int(entries.count))
