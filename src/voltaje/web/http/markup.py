"""HTML that is written hundreds of times on one page, where a template would take ten times as
long: an element at a time, everything in it escaped."""

from __future__ import annotations

from html import escape

from django.utils.safestring import SafeString, mark_safe

# elements that hold nothing and have no end
EMPTY = frozenset(("br", "hr", "img", "input"))


def tag(element: str, /, *inside: str, **attributes: str | int | bool | None) -> SafeString:
    """An element with what is ``inside``, texts escaped, elements as they are.

    An attribute is written as Python can name it: ``class_``, ``data_part``. One that is ``None``
    or ``False`` is left out, one that is ``True`` stands without a value."""
    shown = "".join([_attribute(key, value) for key, value in attributes.items()])
    end = "" if element in EMPTY else f"{_joined(inside)}</{element}>"
    return mark_safe(f"<{element}{shown}>{end}")


def joined(*inside: str, between: str = "") -> SafeString:
    """Texts and elements one after the other."""
    return mark_safe(_joined(inside, between))


def _joined(inside: tuple[str, ...], between: str = "") -> str:
    texts = [item if isinstance(item, SafeString) else escape(str(item)) for item in inside]
    return between.join(texts)


def _attribute(key: str, value: str | int | bool | None) -> str:
    if value is None or value is False:
        return ""
    name = key.rstrip("_").replace("_", "-")
    return f" {name}" if value is True else f' {name}="{escape(str(value))}"'
