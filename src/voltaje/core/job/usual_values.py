"""Usual values on their way down a job: what each item leaves is as the nearest item above says."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from voltaje.core.kinds import PartInput, kind
from voltaje.core.kinds.usual_below import PREFIX, Inherited, handed_down, inherited
from voltaje.core.rules.interface import Code


def inherited_values(
    parts: Sequence[PartInput], code: Code
) -> Mapping[str, Mapping[str, Inherited]]:
    """What each item takes from above where it says nothing itself, by its id; nothing where no
    item sets a usual value. Items that stand in a loop are left out."""
    if not any(name.startswith(PREFIX) for part in parts for name in part.document):
        return {}
    children: dict[str | None, list[PartInput]] = {}
    for part in parts:
        children.setdefault(part.parent, []).append(part)
    found: dict[str, Mapping[str, Inherited]] = {}
    level: list[tuple[PartInput, Mapping[str, Inherited]]] = [
        (part, {}) for part in children.get(None, ())
    ]
    for part, above in level:  # grows while it is walked
        of = kind(part.kind)
        if above and (own := inherited(of.entries_in(code), code.wiring, above)):
            found[part.id] = own
        if of.holds_parts:
            above = handed_down(part.document, part.name, code.wiring, above)
        level += [(child, above) for child in children.get(part.id, ())]
    return found


def with_usual_values(parts: Sequence[PartInput], code: Code) -> Sequence[PartInput]:
    """The items with what they take from above in their documents."""
    taken = inherited_values(parts, code)
    if not taken:
        return parts
    return [
        replace(part, document={**part.document, **missing_texts(part.document, taken[part.id])})
        if part.id in taken
        else part
        for part in parts
    ]


def missing_texts(
    document: Mapping[str, object], taken: Mapping[str, Inherited]
) -> Mapping[str, str]:
    """The texts of those entries that the document does not give itself."""
    return {
        name: value.text
        for name, value in taken.items()
        if not str(document.get(name) or "").strip()
    }
