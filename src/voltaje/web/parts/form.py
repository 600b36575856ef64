"""A part's entries as a form: groups, fields, rows, each with its text and its problem."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Any

from django.utils.translation import gettext

from voltaje.core.codes import Edition, practice
from voltaje.core.entries import Entries, FieldSpec, Problem, fields
from voltaje.core.kinds import Kind
from voltaje.core.kinds.usual_below import Inherited
from voltaje.core.report import Text, say, told
from voltaje.web.history.patch import as_text

FIRST = ("name", "count", "area", "nameplate", "load", "ends")


@dataclass(frozen=True, slots=True)
class FormField:
    """One entry on the page. ``text`` is what is kept, as typed."""

    spec: FieldSpec
    path: str
    text: str
    problem: str
    shown: bool = True
    help: Text | str = ""
    # usually left as it is, and left so here: it stands folded, and this is what it says there
    at_rest: str | None = None
    # set by an item above for all that hangs below it
    usual: Inherited | None = None
    # it can be left to be found: ``?`` is typed for it
    findable: bool = False

    @property
    def usual_words(self) -> str:
        """What an item above says of it: where it is followed, and where it is not."""
        if self.usual is None:
            return ""
        text = dict(self.spec.choices).get(self.usual.text)
        value = told(text) if text else self.usual.text
        if self.text == self.usual.text:
            return gettext("usual below {item}").format(item=self.usual.of)
        return gettext("{value} is usual below {item}").format(value=value, item=self.usual.of)

    @property
    def id(self) -> str:
        return "e-" + self.path.replace(".", "-").replace("_", "-")

    @property
    def hint(self) -> str:
        """The first of the examples, short enough for the field."""
        return re.split(r",| or ", self.spec.example)[0]

    @property
    def suggests(self) -> str:
        """Id of the list of suggestions, shared by all rows of a group."""
        return f"names-{self.path.split('.')[0]}" if self.spec.suggestions else ""


@dataclass(frozen=True, slots=True)
class FormRow:
    """One row of a group."""

    id: str
    path: str
    cells: Mapping[str, FormField]

    @property
    def in_words(self) -> str:
        """The choices, for paper: what is left at its usual choice goes without saying."""
        found = []
        for cell in self.rest:
            if cell.spec.kind == "check":
                found += [told(cell.spec.label)] if cell.text == "yes" else []
            elif cell.text != "auto":
                label = dict(cell.spec.choices).get(cell.text)
                found.append(told(label) if label else cell.text)
        return ", ".join(found)

    @property
    def first(self) -> list[FormField]:
        """Name, how many, nameplate or another quantity, ends: what is typed in every row. A row
        that has no name begins with how many of what."""
        return [self.cells[name] for name in self._first]

    @property
    def _first(self) -> list[str]:
        found = [name for name in FIRST if name in self.cells]
        if found in ([], ["count"]):
            found += [name for name in self.cells if name not in FIRST][:1]
        return found

    @property
    def rest(self) -> list[FormField]:
        """The choices under them."""
        first = self._first
        return [cell for name, cell in self.cells.items() if name not in first]

    @property
    def resting(self) -> list[FormField]:
        """Those of them that only a second code asks, where they are left as they usually are."""
        return [cell for cell in self.rest if cell.at_rest is not None]


@dataclass(frozen=True, slots=True)
class FormGroup:
    """Fields under one heading; ``rows`` where the group is a list."""

    name: str
    title: str
    fields: tuple[FormField, ...]
    lists: tuple[tuple[FormField, tuple[FormRow, ...], FormRow], ...]
    shown: bool

    @property
    def open_fields(self) -> list[FormField]:
        """Those that differ from what is usual, or are asked of everybody."""
        return [one for one in self.fields if one.at_rest is None]

    @property
    def resting(self) -> list[FormField]:
        """Those that are left as they usually are."""
        return [one for one in self.fields if one.at_rest is not None]

    @property
    def open_lists(self) -> list[tuple[FormField, tuple[FormRow, ...], FormRow]]:
        return [one for one in self.lists if one[0].at_rest is None]

    @property
    def resting_lists(self) -> list[tuple[FormField, tuple[FormRow, ...], FormRow]]:
        return [one for one in self.lists if one[0].at_rest is not None]

    @property
    def says(self) -> str:
        """What the folded entries hold, in a line."""
        words = [one.at_rest for one in self.resting if one.at_rest and one.shown]
        return " · ".join(words) or gettext("nothing entered")


def _help(spec: FieldSpec, book: Edition | None) -> Text | str:
    """The help of a field, with the figure of the code where it tells one."""
    if spec.counts is None or book is None:
        return spec.help
    topic, words = spec.counts
    source = next((one for one in (book, practice()) if one.has_limit(topic)), None)
    return say(words, figure=source.value(topic)) if source else spec.help


def _at_rest(spec: FieldSpec, text: str, from_above: bool = False) -> str:
    """What an entry that is left as it usually is says in a line with others; nothing where it is
    empty."""
    if spec.at_rest is not None and not from_above:
        return told(spec.at_rest)
    if spec.kind == "choice":
        return told(dict(spec.choices).get(text, text))
    return f"{told(spec.label)} {text}" if text else ""


def build(
    of: Kind,
    model: type[Entries],
    document: Mapping[str, Any],
    problems: Iterable[Problem] = (),
    more: Mapping[str, str] | None = None,
    book: Edition | None = None,
    usual: Mapping[str, Inherited] = MappingProxyType({}),
) -> list[FormGroup]:
    """The form of a document under a code's entries, with the problems at their fields. ``more``
    are groups that stand behind the kind's own; ``book`` has the figures of its helps; ``usual``
    are the values that items above set for this one."""
    words = {problem.path: problem.words for problem in problems}
    specs = fields(model)
    texts = {
        spec.name: as_text(document.get(spec.name, spec.default))
        for spec in specs
        if spec.kind != "rows"
    }
    found: list[FormGroup] = []
    for name, title in {**of.form_groups, **(more or {})}.items():
        singles: list[FormField] = []
        lists: list[tuple[FormField, tuple[FormRow, ...], FormRow]] = []
        for spec in specs:
            if spec.group != name:
                continue
            shown = spec.when is None or texts[spec.when[0]] in spec.when[1]
            text = texts.get(spec.name, "")
            problem, helps = words.get(spec.name, ""), _help(spec, book)
            in_group = name in of.seldom or name in (more or {})
            seldom = in_group if spec.seldom is None else spec.seldom
            given = (
                document.get(spec.name)
                if spec.kind == "rows"
                else text
                != (usual[spec.name].text if spec.name in usual else as_text(spec.default))
            )
            rests = seldom and not given and not spec.required and not problem
            above = usual.get(spec.name)
            at_rest = _at_rest(spec, text, above is not None) if rests else None
            entry = FormField(
                spec,
                spec.name,
                text,
                problem,
                shown,
                helps,
                at_rest,
                above,
                spec.name in of.unknowns,
            )
            if spec.kind == "rows":
                rows = tuple(
                    _row(spec, str(row.get("id") or f"r{index}"), row, words, more)
                    for index, row in enumerate(document.get(spec.name) or [])
                    if isinstance(row, dict)
                )
                lists.append((entry, rows, _row(spec, "new", {}, {}, more)))
            else:
                singles.append(entry)
        if not singles and not lists:
            continue  # a group of another code
        shown = any(item.shown for item in (*singles, *(item[0] for item in lists)))
        found.append(FormGroup(name, title, tuple(singles), tuple(lists), shown))
    return found


def _row(
    spec: FieldSpec,
    row_id: str,
    row: Mapping[str, Any],
    words: Mapping[str, str],
    more: Mapping[str, str] | None,
) -> FormRow:
    cells = {}
    for column in spec.columns:
        path = f"{spec.name}.{row_id}.{column.name}"
        text = as_text(row.get(column.name, column.default))
        problem = words.get(path, "")
        usual = text == as_text(column.default) and not problem
        rests = usual and column.group in (more or {})
        at_rest = _at_rest(column, text) if rests else None
        cells[column.name] = FormField(column, path, text, problem, at_rest=at_rest)
    return FormRow(row_id, f"{spec.name}.{row_id}", cells)
