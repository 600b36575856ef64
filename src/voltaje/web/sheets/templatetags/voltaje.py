"""Figures, rules and shapes in templates."""

from __future__ import annotations

from collections.abc import Iterable
from functools import cache
from urllib.parse import urlencode

from django import template
from django.urls import reverse
from django.utils.html import escape
from django.utils.safestring import SafeString, mark_safe
from django.utils.translation import gettext

from voltaje.core.worksheet import Line, Rule, Section, Text, figure

register = template.Library()


@register.filter
def amount(value: object, digits: int = 1) -> str:
    """``31444.6`` → ``31,444.6``; words stay words."""
    return figure(value, digits)


@register.filter
def whole(value: object) -> str:
    """``31444.6`` → ``31,445``."""
    return figure(value, 0)


@register.filter
def words(text: Text | str | None) -> str:
    """A core text in the reader's language, with its figures."""
    if text is None:
        return ""
    if isinstance(text, Text):
        return gettext(text.template).format(**text.params) if text.template else ""
    return text


@cache
def _chip(rule: Rule) -> str:
    url = reverse("codes:rule", args=[rule.edition, rule.topic])
    query = {name: value for name, value in (("row", rule.row), ("column", rule.column)) if value}
    href = escape(f"{url}?{urlencode(query)}" if query else url)
    table = "T " if rule.is_table else ""
    return (
        f'<a class="chip" href="{href}" hx-get="{href}" hx-target="#rule-body"'
        f' data-dialog="rule">{table}{escape(rule.number)}</a>'
    )


@register.simple_tag
def chips(rules: Iterable[Rule]) -> SafeString:
    """The rules of a line or a finding as links that open them with the cell marked."""
    return mark_safe("".join(_chip(rule) for rule in rules))


@register.simple_tag
def lines(section: Section) -> SafeString:
    """The rows of a section. Written here and not in a template: a sheet has a hundred of them
    and is drawn again with every key, and the template engine takes ten times as long."""
    return mark_safe("\n".join(_row(line) for line in section.lines))


def _row(line: Line) -> str:
    data = f' data-entries="{escape(" ".join(line.entries))}"' if line.entries else ""
    data += f' data-flow="{escape(line.flow)}"' if line.flow else ""
    small = "".join(f'<span class="ex">{escape(text)}</span>' for text in _under(line))
    span = "" if line.value is not None else ' colspan="2"'
    cell = ""
    if line.value is not None:
        unit = f" <small>{escape(line.unit)}</small>" if line.unit != "VA" else ""
        cell = f'<td class="num">{figure(line.value, 1)}{unit}</td>'
    return (
        f'<tr class="{line.kind}" data-name="{escape(line.name)}"{data}><td{span}>'
        f'<span class="lab">{escape(words(line.label))}</span> {chips(line.rules)}{small}</td>'
        f"{cell}</tr>"
    )


def _under(line: Line) -> list[str]:
    texts = [line.expression, words(line.rounding), words(line.note)]
    return [text for text in texts if text]


@register.filter
def under(line: Line) -> str:
    """What stands under a line's label: its arithmetic, its rounding, its note."""
    return "; ".join(_under(line))


@register.filter
def joined(values: tuple[str, ...]) -> str:
    """Paths for a data attribute."""
    return " ".join(values)
