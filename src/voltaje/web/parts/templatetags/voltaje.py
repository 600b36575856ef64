"""Figures, rules and shapes in templates."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from functools import lru_cache
from typing import Any
from urllib.parse import urlencode

from django import template
from django.urls import reverse
from django.utils.html import escape
from django.utils.safestring import SafeString, mark_safe
from django.utils.translation import gettext

from voltaje.core.codes import RuleText
from voltaje.core.report import (
    Change,
    Offer,
    Result,
    Rule,
    Section,
    Severity,
    Text,
    WorksheetLine,
    figure,
    say,
    told,
    worst,
)
from voltaje.web.http import markup
from voltaje.web.http.markup import tag

register = template.Library()


# a loop of 1.366 Ω is not to read as 1.4, which would let a device be too slow
# small transformers are 0.75 or 0.15 kVA
DIGITS = {"Ω": 3, "kVA": 2, "in²": 4, "in³": 2, "in": 2}


@register.filter
def get(mapping: Mapping[str, Any], key: str) -> Any:
    """What a mapping holds under a key; nothing where it has none."""
    return mapping.get(key, "")


@register.filter
def quantity(line: WorksheetLine | Result) -> str:
    """A line's or a result's value with the decimals that its unit needs; words stay words."""
    return figure(line.value, DIGITS.get(line.unit, 1))


@register.filter
def amount(value: object, digits: int = 1) -> str:
    """``31444.6`` → ``31,444.6``; words stay words."""
    return figure(value, digits)


@register.filter
def kilo(value: float) -> str:
    """``101440.9`` → ``101.4``, ``490`` → ``0.49``."""
    return figure(value / 1000, 1 if abs(value) >= 1000 else 2)


# the last place that a tester shows
TESTER = {"Ω": 2, "MΩ": 1, "ms": 0}


@register.filter
def shown(value: float, unit: str) -> str:
    """A reading as its instrument shows it."""
    return figure(value, TESTER.get(unit, 1))


@register.filter
def whole(value: object) -> str:
    """``31444.6`` → ``31,445``."""
    return figure(value, 0)


@register.filter
def words(text: Text | str | None) -> str:
    """A core text or a word of the program in the reader's language."""
    if isinstance(text, str):
        return told(text)
    return "" if text is None else str(text)


@register.filter
def cite(rule: Rule | RuleText) -> str:
    """A rule by its number; a table says that it is one."""
    number = told(rule.number)
    return str(say("Table {number}", number=number)) if rule.is_table else number


_SHAPES = {
    "pass": '<svg class="shape pass" width="22" height="14" viewBox="0 0 22 14"'
    ' aria-hidden="true"><path d="M0 8h22" stroke="currentColor" stroke-width="2.2"/>'
    '<circle cx="6" cy="8" r="2.4" fill="currentColor"/>'
    '<circle cx="16" cy="8" r="2.4" fill="currentColor"/></svg>',
    "fail": '<svg class="shape fail" width="22" height="14" viewBox="0 0 22 14"'
    ' aria-hidden="true"><path d="M0 10h6M16 10h6M6 10l9-8" fill="none" stroke="currentColor"'
    ' stroke-width="2.2"/>'
    '<circle cx="6" cy="10" r="2.4" fill="currentColor"/><circle cx="16" cy="10" r="2.4"'
    ' fill="currentColor"/></svg>',
    "check": '<svg class="shape check" width="22" height="16" viewBox="0 0 22 16"'
    ' aria-hidden="true"><path d="M11 2 20 14.5H2z" fill="none" stroke="currentColor"'
    ' stroke-width="2.2"/></svg>',
    "remark": '<svg class="shape remark" width="22" height="14" viewBox="0 0 22 14"'
    ' aria-hidden="true"><path d="M4 5h14M4 10h9" stroke="currentColor" stroke-width="1.8"/></svg>',
    # a line that is broken: what is asked does not arrive
    "incomplete": '<svg class="shape incomplete" width="22" height="14" viewBox="0 0 22 14"'
    ' aria-hidden="true"><path d="M0 8h7M15 8h7" stroke="currentColor" stroke-width="2.2"/>'
    '<path d="M8.5 12l2-8M11.5 12l2-8" stroke="currentColor" stroke-width="1.4"/></svg>',
    "empty": '<svg class="shape empty-shape" width="22" height="14" viewBox="0 0 22 14"'
    ' aria-hidden="true"><circle cx="11" cy="8" r="2" fill="none" stroke="currentColor"'
    ' stroke-width="1.6"/></svg>',
}
STATUS_WORDS = {
    "pass": say("pass"),
    "remark": say("a remark"),
    "fail": say("fail"),
    "check": say("check"),
    "incomplete": say("incomplete"),
    "empty": say("no result yet"),
}


@register.filter
def status_word(status: str) -> str:
    """A status in the reader's language."""
    return str(STATUS_WORDS[status])


@register.simple_tag
def shape(status: str) -> SafeString:
    """A status as its shape, with its word for those who do not see it."""
    word = STATUS_WORDS.get(status)
    return mark_safe(
        f'{_SHAPES.get(status, "")}<span class="visually-hidden">{word}</span>' if word else ""
    )


@register.simple_tag
def tree_rows(nodes: Iterable[Any], job_id: Any, chosen: str) -> SafeString:
    """The rows of a job's tree. Written here like the worksheet's: a job has hundreds of them."""
    return markup.joined(*(_tree_row(node, job_id, chosen) for node in nodes))


def _tree_row(node: Any, job_id: Any, chosen: str) -> SafeString:
    key, name = str(node.part.pk), node.part.name
    choose = tag(
        "input",
        type="radio",
        name="part",
        id=f"p-{key}",
        value=key,
        checked=key == chosen,
        aria_label=gettext("Choose %(name)s") % {"name": name},
    )
    return tag(
        "li",
        choose,
        tag("span", shape(node.status), class_="st"),
        tag("a", name, href=f"/jobs/{job_id}/parts/{key}/"),
        tag("span", words(node.label), class_="kind"),
        tag("span", node.head or gettext("no result yet"), class_="head-line num"),
        class_=f"depth-{node.depth}{' holder' if node.holds_parts else ''}",
        draggable="true",
        data_part=key,
        data_parent=str(node.part.parent_id or ""),
    )


@register.simple_tag
def side_tree(nodes: Iterable[Any], job_id: Any, at: Any) -> SafeString:
    """A job's tree beside the item ``at``: the way up, its neighbours and what hangs below it; each
    other branch folded, with how many items it has and the worst of their statuses."""
    return tag("ol", *(_side_node(node, job_id, at)[0] for node in nodes))


def _side_node(node: Any, job_id: Any, at: Any) -> tuple[SafeString, list[Severity]]:
    """A node of it, and the statuses of the item and of all below."""
    key, name, here = str(node.part.pk), node.part.name, node.part.pk == at
    head = node.head or gettext("no result yet")
    link = tag(
        "a",
        tag(
            "span",
            tag("span", shape(node.status), data_shape=key, data_status=node.status),
            name,
            class_="part-name",
        ),
        tag("small", head, data_head=key),
        tag(
            "small",
            node.drop,
            class_="upstream",
            data_drop=key,
            title=gettext("Voltage drop from the supply"),
        ),
        class_="part-link on" if here else "part-link",
        href=f"/jobs/{job_id}/parts/{key}/",
        aria_current="page" if here else None,
        title=f"{name}\n{head}",
    )
    if not node.children:
        return tag("li", link), [node.status]
    below = [_side_node(child, job_id, at) for child in node.children]
    statuses: list[Severity] = [status for _, all_below in below for status in all_below]
    count = gettext("{count} items below {name}").format(count=len(statuses), name=name)
    fold = tag(
        "summary",
        tag("span", count, class_="visually-hidden"),
        tag("span", str(len(statuses)), class_="many", aria_hidden="true"),
        tag("span", shape(worst(statuses)), data_worst="yes"),
        title=count,
    )
    rows = tag("ol", *(row for row, _ in below))
    branch = tag("details", fold, rows, class_="branch", data_branch=key, open=node.on_way)
    return tag("li", link, branch), [node.status, *statuses]


# a rule carries the words of whoever amended it, so there is no end of them
@lru_cache(maxsize=4096)
def _chip(rule: Rule, number: str) -> SafeString:
    url = reverse("codes:rule", args=[rule.edition, rule.topic])
    query = {name: value for name, value in (("row", rule.row), ("column", rule.column)) if value}
    href = f"{url}?{urlencode(query)}" if query else url
    return tag(
        "a",
        number,
        class_="chip amended" if rule.amended else "chip",
        title=rule.amended or None,
        href=href,
        hx_get=href,
        hx_target="#rule-body",
        data_dialog="rule",
    )


def _number(rule: Rule) -> str:
    number = told(rule.number)
    return gettext("T %(number)s") % {"number": number} if rule.is_table else number


@register.simple_tag
def chips(rules: Iterable[Rule]) -> SafeString:
    """The rules of a line or a finding as links that open them with the cell marked."""
    return markup.joined(*(_chip(rule, _number(rule)) for rule in once(rules)), between=" ")


@register.filter
def sets(change: Change) -> str:
    """The entries that a change sets, for the page's script."""
    return ";".join(f"{name}={text}" for name, text in change.entries)


@register.simple_tag
def offer_url(offer: Offer) -> str:
    """The quick sheet of what a finding offers, with its entries."""
    asked = urlencode((*offer.entries, *offer.alone))
    return f"{reverse('sheets:quick', args=[offer.kind])}?{asked}"


@register.filter
def once(rules: Iterable[Rule]) -> list[Rule]:
    """Each number once: a line may cite several cells of one table. An amended cell is never left
    out."""
    found: dict[str, Rule] = {}
    for rule in rules:
        if rule.cite not in found or (rule.amended and not found[rule.cite].amended):
            found[rule.cite] = rule
    return list(found.values())


@register.simple_tag
def lines(section: Section) -> SafeString:
    """The rows of a section. Written here and not in a template: a sheet has a hundred of them
    and is drawn again with every key, and the template engine takes ten times as long."""
    return mark_safe("\n".join(_row(line) for line in section.lines))


def _row(line: WorksheetLine) -> str:
    data = f' data-entries="{escape(" ".join(line.entries))}"' if line.entries else ""
    data += f' data-flow="{escape(line.flow)}"' if line.flow else ""
    small = "".join(f'<span class="ex">{escape(text)}</span>' for text in _under(line))
    span = "" if line.value is not None else ' colspan="2"'
    cell = ""
    if line.value is not None:
        unit = f" <small>{escape(line.unit)}</small>" if line.unit != "VA" else ""
        cell = f'<td class="num">{quantity(line)}{unit}</td>'
    return (
        f'<tr class="{line.kind}" data-name="{escape(line.name)}"{data}><td{span}>'
        f'<span class="lab">{escape(words(line.label))}</span> {chips(line.rules)}{small}</td>'
        f"{cell}</tr>"
    )


def _under(line: WorksheetLine) -> list[str]:
    texts = [line.expression, words(line.rounding), words(line.note)]
    changed = [rule.amended for rule in line.rules if rule.amended]
    texts += [gettext("Amended. %(why)s") % {"why": why} for why in changed]
    return [text for text in texts if text]


@register.filter
def under(line: WorksheetLine) -> str:
    """What stands under a line's label: its arithmetic, its rounding, its note."""
    return "; ".join(_under(line))


@register.filter
def at(index: int, values: Sequence[Any]) -> Any:
    """What stands at that place."""
    return values[index]


@register.filter
def of(values: Mapping[str, Any], key: str) -> Any:
    """What stands under that key."""
    return values.get(key)


@register.filter
def joined(values: tuple[str, ...]) -> str:
    """Paths for a data attribute."""
    return " ".join(values)
