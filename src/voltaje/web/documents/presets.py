"""The sections that a set may have, and usual choices of them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from django.utils.translation import gettext_noop

# in the order in which they stand
SECTIONS: Mapping[str, str] = {
    "cover": gettext_noop("Cover: codes, amendments, cautions, contents"),
    "open": gettext_noop("Open items: fail, incomplete, check"),
    "loads": gettext_noop("Load calculation of each supply"),
    "diagram": gettext_noop("One-line diagram"),
    "panels": gettext_noop("Panel schedules and circuit charts"),
    "levels": gettext_noop("Voltage drop and fault current"),
    "materials": gettext_noop("Materials, with slack and waste"),
    "main_sheets": gettext_noop("Worksheets of supplies, feeders, transformers and boards"),
    "sheets": gettext_noop("Worksheets of all items"),
    "accepted": gettext_noop("Accepted checks with reasons"),
    "readings": gettext_noop("Site readings and calculated values"),
}
# common practice: what is usually handed to whom
USUAL: Mapping[str, tuple[str, ...]] = {
    gettext_noop("permit"): (
        "cover", "open", "loads", "diagram", "panels", "levels", "main_sheets", "accepted",
    ),
    gettext_noop("shop"): ("cover", "open", "diagram", "panels", "materials"),
    gettext_noop("door"): ("panels",),
    gettext_noop("as built"): tuple(name for name in SECTIONS if name != "main_sheets"),
}  # fmt: skip


def known(names: Iterable[str]) -> list[str]:
    """Those that there are, in their order; the worksheets of all items are not told twice."""
    wanted = set(names)
    if "sheets" in wanted:
        wanted.discard("main_sheets")
    return [name for name in SECTIONS if name in wanted]
