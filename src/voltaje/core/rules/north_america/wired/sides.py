"""What has conductors and a device on both its sides: one side sized, and both told apart."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

from voltaje.core.electrical.systems import SupplyPoint
from voltaje.core.report import Alternative, Finding, Result, Section, say
from voltaje.core.rules.context import Context
from voltaje.core.rules.interface import SizingReport
from voltaje.core.rules.north_america.wired.sizing import Sizing


@dataclass(frozen=True, slots=True)
class SideRun:
    """One side sized, with the entries and the point of supply that it was sized by."""

    sizing: Sizing
    entries: Any
    supply: SupplyPoint

    def context(self, context: Context) -> Context:
        """The context in which the side is told."""
        return replace(context, supply=self.supply)


def side_results(told: SizingReport, side: str, title: str) -> dict[str, Result]:
    """Its figures under the side's name."""
    return {
        f"{side}_{name}": Result(
            r.value, r.unit, say("{side}: {what}", side=say(title), what=r.label)
        )
        for name, r in told.results.items()
    }


def side_sections(told: SizingReport, side: str, title: str) -> Iterator[Section]:
    """Its sections of the worksheet under the side's name."""
    for section in told.sections:
        words = say("{side}: {what}", side=say(title), what=section.title)
        yield Section(f"{side}_{section.name}", words, section.lines)


def side_findings(told: SizingReport) -> tuple[Finding, ...]:
    """What is found of it, without the changes that would mend it: its entries are not those of the
    sheet, where they have other names."""
    return tuple(replace(finding, change=None) for finding in told.findings)


def side_alternatives(told: SizingReport, title: str) -> Iterator[Alternative]:
    """Its alternatives, as a group."""
    return (replace(one, group=title) for one in told.alternatives)
