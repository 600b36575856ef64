"""A worked part as the page shows it: the main tape, the answer, the tapes behind it."""

from __future__ import annotations

from dataclasses import dataclass

from voltaje.core.worksheet import Result, Section, Worked

# the sections printed on the main tape; the others fold away under it
MAIN = (
    "service", "supply", "entered", "load", "motors", "protection", "device", "conductor", "beside",
    "taps", "overload", "volts", "editions", "lines",
    "drop", "table", "mend", "series", "junctions", "loops",
    "primary_device", "primary_conductor", "saved", "secondary_device",
    "secondary_conductor", "grounding",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Tape:
    """The sections in their places, and the answer's figures: the first one large."""

    worked: Worked
    main: tuple[Section, ...]
    folded: tuple[Section, ...]
    large: tuple[str, Result]
    small: tuple[tuple[str, Result], ...]


def lay_out(worked: Worked) -> Tape:
    """Places a worked part on the page. The first section is always the main one."""
    first, *rest = worked.sections
    main = [first, *(section for section in rest if section.name in MAIN)]
    folded = tuple(section for section in rest if section.name not in MAIN)
    answer = [(name, worked.results[name]) for name in worked.answer]
    return Tape(worked, tuple(main), folded, answer[0], tuple(answer[1:]))
