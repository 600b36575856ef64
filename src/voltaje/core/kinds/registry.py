"""The kinds that there are: every package beside this one that exports ``KIND``.

A kind is looked up by its name alone, so that a single sheet loads no other; the whole list reads
them all.
"""

from __future__ import annotations

from functools import cache
from importlib import import_module
from importlib.util import find_spec
from pkgutil import iter_modules

from voltaje.core.kinds.interface import Kind

HOME = "voltaje.core.kinds"
_added: dict[str, Kind] = {}


def register(added: Kind) -> None:
    """Adds a kind that stands elsewhere. Raises ``ValueError`` where its name is taken."""
    if added.name in _added or _known(added.name) is not None:
        raise ValueError(f"there is a kind named {added.name} already")
    _added[added.name] = added
    kinds.cache_clear()
    _renamed.cache_clear()


def forget(name: str) -> None:
    """Takes an added kind away again."""
    _added.pop(name, None)
    kinds.cache_clear()
    _renamed.cache_clear()


def kind(name: str) -> Kind:
    """The kind of that name, or the one that had it once. Raises ``KeyError``."""
    found = _added.get(name) or _known(name)
    if found is None:
        return next(item for item in kinds() if item.name == _renamed()[name])
    return found


def current_name(name: str) -> str:
    """The id of a kind in this version; what is no kind's stays as it is."""
    return _renamed().get(name, name)


@cache
def _renamed() -> dict[str, str]:
    """The ids of earlier versions, each with the one of today."""
    return {old: item.name for item in kinds() for old in item.formerly}


@cache
def _known(name: str) -> Kind | None:
    if not name.isidentifier() or find_spec(f"{HOME}.{name}") is None:
        return None
    found = getattr(import_module(f"{HOME}.{name}"), "KIND", None)
    return found if isinstance(found, Kind) else None


@cache
def kinds() -> tuple[Kind, ...]:
    """All kinds, in the order in which a job uses them."""
    package = import_module(HOME)
    found = [_known(module.name) for module in iter_modules(package.__path__)]
    every = [*(item for item in found if item is not None), *_added.values()]
    return tuple(sorted(every, key=lambda item: (item.order, item.name)))


def job_kinds() -> tuple[Kind, ...]:
    """The kinds that a job may hold."""
    return tuple(item for item in kinds() if not item.quick_only)
