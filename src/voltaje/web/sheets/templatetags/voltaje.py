"""Figures, rules and shapes in templates."""

from __future__ import annotations

from urllib.parse import urlencode

from django import template
from django.urls import reverse
from django.utils.translation import gettext

from voltaje.core.worksheet import Rule, Text, figure

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


@register.filter
def rule_url(rule: Rule) -> str:
    """The page of a rule, with the cell to mark."""
    url = reverse("codes:rule", args=[rule.edition, rule.topic])
    query = {name: value for name, value in (("row", rule.row), ("column", rule.column)) if value}
    return f"{url}?{urlencode(query)}" if query else url


@register.filter
def joined(values: tuple[str, ...]) -> str:
    """Paths for a data attribute."""
    return " ".join(values)
