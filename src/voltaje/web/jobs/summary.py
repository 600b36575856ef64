"""What a revision changed, in a line: ``Keeper’s cottage: Range 11.4 kW → 12 kW``."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from django.utils.translation import gettext, gettext_noop

from voltaje.core.entries import FieldSpec, fields
from voltaje.core.kinds import kind
from voltaje.core.report import told
from voltaje.core.rules.interface import families
from voltaje.web.history.delta import ORDER, Step

State = Mapping[str, Any] | None
SHOWN = 4
EMPTY = "empty"


# what a revision may be, as the list of revisions says it
ACTIONS = (
    gettext_noop("create"),
    gettext_noop("edit"),
    gettext_noop("undo"),
    gettext_noop("redo"),
    gettext_noop("restore"),
)


def of_step(act: str, summary: str) -> str:
    """What an undo or a redo did, for whoever asked."""
    if act == "undo":
        return gettext("Undo: {summary}").format(summary=summary)
    return gettext("Redo: {summary}").format(summary=summary)


def of_nothing(act: str) -> str:
    """Why nothing was done."""
    found = {
        "undo": gettext("There is nothing to undo."),
        "redo": gettext("There is nothing to redo."),
    }
    return found.get(act) or gettext("That changes nothing.")


def summarise(
    changes: Sequence[Mapping[str, Any]], before: Mapping[str, State], after: Mapping[str, State]
) -> str:
    """The first few of the changes in words, and how many more there are."""
    words = [
        text
        for item in changes
        for text in _summary(item, before[item["target"]], after[item["target"]])
    ]
    shown = "; ".join(words[:SHOWN])
    if len(words) <= SHOWN:
        return shown
    return gettext("{shown}; and {many} more").format(shown=shown, many=len(words) - SHOWN)


def _summary(item: Mapping[str, Any], before: State, after: State) -> list[str]:
    if item["target"].startswith("amendment:"):
        state = after or before or {}
        topic = state["topic"].replace("_", " ")
        cell = f"{topic} {state['row']} {state['column']}"
        if after is None:
            return [gettext("Amendment {cell}: removed").format(cell=cell)]
        what = f"{state['value']}, {state['jurisdiction']}"
        return [gettext("Amendment {cell}: {what}").format(cell=cell, what=what)]
    if before is None or after is None:
        name = (after or before or {})["name"]
        if after is None:
            return [gettext("{name} removed").format(name=name)]
        return [gettext("{name} added").format(name=name)]
    if "entries" not in after:
        return _of_job(item)
    found = [
        text for step in item.get("entries", ()) for text in _of_step(step, before, after)
    ] + _of_part(item)
    return [f"{after['name']}: {text}" for text in found]


def _of_job(item: Mapping[str, Any]) -> list[str]:
    return [
        gettext("prices changed")
        if name == "prices"
        else f"{_of_setting(name)} “{was}” → “{item['after'][name]}”"
        for name, was in item["before"].items()
    ]


def _of_setting(name: str) -> str:
    """A job's field as its settings name it."""
    words = {
        "name": gettext("name"),
        "edition": gettext("code edition"),
        "second": gettext("second code"),
        "units": gettext("bare figures in"),
        "preference": gettext("devices"),
        "stock": gettext("devices in stock"),
        "reserve": gettext("reserve, %"),
        "drop_scheme": gettext("volts may fall"),
        "drop_branch": gettext("own figure, one run"),
        "drop_total": gettext("own figure, in all"),
        "drop_sizing": gettext("conductors sized for it"),
        "drop_method": gettext("voltage drop calculated"),
        "basis": gettext("transformers shown"),
    }
    return words.get(name, name)


def _label(of: str, *path: str) -> str:
    """An entry by its label, in whichever family of codes has it; else by its name."""
    for code in families():
        specs: tuple[FieldSpec, ...] = fields(kind(of).entries_in(code))
        spec: FieldSpec | None = None
        for name in path:
            spec = next((one for one in specs if one.name == name), None)
            specs = spec.columns if spec else ()
        if spec is not None:
            return told(spec.label)
    return path[-1].replace("_", " ")


def _of_part(item: Mapping[str, Any]) -> list[str]:
    found = []
    for name, was in item["before"].items():
        if name == "name":
            found.append(
                gettext("name “{was}” → “{after}”").format(was=was, after=item["after"][name])
            )
        elif name == "kind":
            found.append(f"{was} → {item['after'][name]}")
        elif name == "parent":
            found.append(gettext("moved"))
    if not found and "position" in item["before"]:
        found.append(gettext("order changed"))
    return found


def _of_step(step: Step, before: Mapping[str, Any], after: Mapping[str, Any]) -> list[str]:
    path, was, now = step
    if len(path) == 1:
        if isinstance(was, list) or isinstance(now, list):
            return _of_lists(_label(after["kind"], path[0]), was, now)
        return [_changed(_label(after["kind"], path[0]), was, now)]
    if path[1] == ORDER:
        return [gettext("rows in another order")] if sorted(was) == sorted(now) else []
    if len(path) == 2:
        return [_row_words(was, now)]
    rows: list[dict[str, Any]] = after["entries"][path[0]]
    row = next((r for r in rows if r.get("id") == path[1]), {})
    title = _label(after["kind"], path[0], path[2])
    if path[2] != "name" and row.get("name"):
        title = f"{row['name']}, {title}"
    return [_changed(title, was, now)]


def _of_lists(name: str, was: Any, now: Any) -> list[str]:
    old, new = was or [], now or []
    if not (isinstance(old, list) and isinstance(new, list)):
        return [gettext("{name} changed").format(name=name)]
    return [_row_words(row, None) for row in old if row not in new] + [
        _row_words(None, row) for row in new if row not in old
    ]


def _row_words(was: Any, now: Any) -> str:
    row = was if now is None else now
    name = row.get("name") if isinstance(row, dict) else ""
    name = name or gettext("without a name")
    if now is None:
        return gettext("row “{name}” deleted").format(name=name)
    return gettext("row “{name}” added").format(name=name)


def _changed(title: str, was: Any, now: Any) -> str:
    return f"{title} {_shown(was)} → {_shown(now)}"


def _shown(value: Any) -> str:
    if value in (None, ""):
        return EMPTY
    if isinstance(value, bool):
        return gettext("yes") if value else gettext("no")
    return str(value)
