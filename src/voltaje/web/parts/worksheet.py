"""A worked part as the page shows it: the main worksheet, the answer, the worksheets behind it."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from voltaje.core.report import Report, Result, Section


@dataclass(frozen=True, slots=True)
class WorksheetView:
    """The sections in their places, and the answer's figures: the first one large, none where
    nothing is known."""

    report: Report
    main: tuple[Section, ...]
    folded: tuple[Section, ...]
    large: tuple[str, Result] | None
    small: tuple[tuple[str, Result], ...]


def lay_out(worked: Report, open_: Collection[str]) -> WorksheetView:
    """Places a worked part on the page: the first section is always on the main worksheet, with
    those that its kind has ``open_``; the others fold away under it."""
    first, rest = worked.sections[:1], worked.sections[1:]
    main = [*first, *(section for section in rest if section.name in open_)]
    folded = tuple(section for section in rest if section.name not in open_)
    answer = [(name, worked.results[name]) for name in worked.answer]
    large = answer[0] if answer else None
    return WorksheetView(worked, tuple(main), folded, large, tuple(answer[1:]))
