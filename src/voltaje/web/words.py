"""All words of the program: what a catalogue of another language has to have.

Texts stand where they are used: in templates, in ``say(…)`` and ``gettext(…)``, in the scripts'
``told(…)``. What no call names (labels of entries and of their choices, rules in our own words,
tables with their titles, rows and sources) is asked of the registry and of the editions.
"""

from __future__ import annotations

import ast
import re
from collections.abc import Iterable, Iterator
from functools import cache
from pathlib import Path

from django.utils.translation import get_language, gettext
from django.utils.translation.template import templatize

from voltaje.core import quantities
from voltaje.core.codes import editions, practice
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.entries import FieldSpec, fields
from voltaje.core.kinds import kinds
from voltaje.core.rules.interface import families
from voltaje.core.rules.settings import BASES, DROP_METHODS, JOB_SIZING, PREFERENCES, SCHEMES
from voltaje.web.kinds import presentation

ROOT = Path(__file__).parents[1]
SCRIPTS = Path(__file__).parent / "static" / "voltaje"
# the functions that take words, and how many: one, or one for one thing and one for many
CALLS = {
    "say": 1,
    "Text": 1,
    "gettext": 1,
    "gettext_lazy": 1,
    "gettext_noop": 1,
    "ngettext": 2,
}
_WORD = re.compile(r"[^\W\d_]{2}")
_TOLD = re.compile(r'\btold\("((?:[^"\\]|\\.)*)"')
# a text, or the pair for one thing and for many
Message = str | tuple[str, str]
Word = tuple[Message, str]


def every() -> dict[Message, list[str]]:
    """All texts, each with the places where it stands."""
    found: dict[Message, list[str]] = {}
    for text, place in (*_of_code(), *_of_templates(), *_of_scripts(), *_of_registry()):
        # a text without a word, like a size, is the same in every language
        if _WORD.search(re.sub(r"\{\w+\}", "", text if isinstance(text, str) else text[0])):
            found.setdefault(text, []).append(place)
    return {text: list(dict.fromkeys(found[text])) for text in sorted(found, key=str)}


def of_scripts() -> dict[str, str]:
    """The scripts' words where they are not English; what a page brings along for them."""
    return _scripts_in(get_language() or "")


@cache
def _scripts_in(language: str) -> dict[str, str]:
    told = {text: gettext(text) for text, _ in _of_scripts() if isinstance(text, str)}
    return {text: words for text, words in told.items() if words != text}


def _of_code() -> Iterator[Word]:
    for path in sorted(ROOT.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text())):
            text = _in_call(node)
            if text:
                yield text, f"{path.relative_to(ROOT)}:{getattr(node, 'lineno', 0)}"


def _in_call(node: ast.AST) -> Message | None:
    """What a call gives to be told, where it is written out there."""
    if not isinstance(node, ast.Call):
        return None
    called = node.func
    name = called.attr if isinstance(called, ast.Attribute) else getattr(called, "id", "")
    given = [ast.literal_eval(a) for a in node.args if isinstance(a, ast.Constant)]
    texts = [text for text in given if isinstance(text, str)][: CALLS.get(name, 0)]
    if len(texts) == 2:
        return texts[0], texts[1]
    return texts[0] if texts else None


def _of_templates() -> Iterator[Word]:
    for path in sorted((ROOT / "web" / "templates").rglob("*")):
        if path.suffix in (".html", ".svg", ".txt"):
            for line in templatize(path.read_text()).splitlines():
                # Django leaves nothing of a template but its calls to gettext
                for call in re.finditer(r"\bn?gettext\(", line):
                    text = _in_call(ast.parse(_closed(line[call.start() :]), mode="eval").body)
                    if text:
                        yield text, str(path.relative_to(ROOT))


def _closed(text: str) -> str:
    """A call up to its closing bracket, whatever brackets stand in its texts."""
    quote, depth, before = "", 0, ""
    for index, sign in enumerate(text):
        if quote:
            if sign == quote and before != "\\":
                quote = ""
        elif sign in "'\"":
            quote = sign
        elif sign in "()":
            depth += 1 if sign == "(" else -1
            if depth == 0:
                return text[: index + 1]
        before = sign
    return text


def _of_scripts() -> Iterator[Word]:
    for path in sorted(SCRIPTS.glob("*.js")):
        for found in _TOLD.finditer(path.read_text()):
            yield ast.literal_eval(f'"{found[1]}"'), str(path.relative_to(ROOT))


def _of_registry() -> Iterator[Word]:
    """Labels of kinds, entries and choices; supplies; what editions say."""
    for of in kinds():
        place = f"core/kinds/{of.name}"
        yield from ((text, place) for text in (of.label, of.subtitle, *of.form_groups.values()))
        for code in families():
            yield from ((text, place) for text in _of_fields(fields(of.entries_in(code))))
        for task in presentation(of.name).tasks:
            yield task.title, f"web/kinds/{of.name}.py"
    for system in SYSTEMS.values():
        for text in (system.label, *system.colors.values()):
            yield text, "core/electrical/systems.py"
    for dimension in vars(quantities).values():
        if isinstance(dimension, quantities.Dimension):
            yield from (
                (text, "core/quantities.py") for text in (dimension.name, dimension.example)
            )
    for labels in (PREFERENCES, JOB_SIZING, SCHEMES, DROP_METHODS, BASES):
        yield from ((text, "core/rules") for text in labels.values())
    for code in families():
        yield code.title, "core/rules"
    for edition in (*editions(), practice()):
        for topic in edition.topics():
            rule, place = edition.text(topic), f"core/codes/{edition.id}"
            yield from ((words, place) for words in (rule.number, rule.says, rule.checked))
            if edition.has_table(topic):
                table = edition.table(topic)
                told = [table.meta.get(name, "") for name in ("title", "unit", "source")]
                told += [table.meta.get(name, "") for name in ("checked", "check")]
                told += [table.key, *table.columns, *table.rows]
                told += [cell for cells in table.rows.values() for cell in cells.values()]
                yield from ((words, place) for words in told if words)


def _of_fields(specs: Iterable[FieldSpec]) -> Iterator[str]:
    for spec in specs:
        yield from (spec.label, spec.help, spec.example, spec.add, *(spec.counts or ())[1:])
        yield spec.at_rest or ""
        yield from (label for _, label in spec.choices)
        if spec.usual is not None:
            yield from (spec.usual.what, *(what for *_, what in spec.usual.of))
        yield from _of_fields(spec.columns)
