"""How kinds of part are shown, a module each of the name that the kind has in ``core/kinds``.

A module exports ``PRESENTATION`` (:class:`~voltaje.web.kinds.presentation.Presentation`): its
drawing, its symbol, the tasks by which it is asked for, its place in a board's table. The program
refuses to start where one of a kind's halves is missing (``apps``). Shapes and scales that drawings
share are in ``sheets/drawings``.
"""

from __future__ import annotations

from functools import lru_cache
from importlib import import_module
from importlib.util import find_spec

from voltaje.core.kinds import current_name, kind, kinds
from voltaje.core.rules.interface import Code
from voltaje.web.kinds.presentation import BoardColumns, Presentation

_added: dict[str, Presentation] = {}


class MissingHalfError(Exception):
    """A kind of part without its presentation."""


def register(name: str, presentation: Presentation) -> None:
    """Adds the presentation of a kind that stands elsewhere."""
    _added[name] = presentation


def forget(name: str) -> None:
    """Takes an added presentation away again."""
    _added.pop(name, None)


def presentation(name: str) -> Presentation:
    """How a kind is shown. Raises :class:`MissingHalfError`."""
    found = _added.get(name) or _known(name) or _known(current_name(name))
    if found is None:
        raise MissingHalfError(
            f"The kind of part “{name}” has no presentation: put PRESENTATION into"
            f" voltaje/web/kinds/{name}.py."
        )
    return found


@lru_cache(maxsize=256)  # asked for by addresses, which may name anything
def _known(name: str) -> Presentation | None:
    home = f"voltaje.web.kinds.{name}"
    if not name.isidentifier() or find_spec(home) is None:
        return None
    found = getattr(import_module(home), "PRESENTATION", None)
    return found if isinstance(found, Presentation) else None


def presentations() -> dict[str, Presentation]:
    """The presentations of all kinds, in the kinds' order. Raises :class:`MissingHalfError`."""
    return {item.name: presentation(item.name) for item in kinds()}


def rows_of() -> dict[str, BoardColumns]:
    """The kinds that are rows of a board's table."""
    return {name: shown.row for name, shown in presentations().items() if shown.row}


def plain_kind() -> str:
    """The kind that a row is by itself: its uses are entries of its own."""
    return next(name for name, row in rows_of().items() if not row.use)


def kinds_as_uses(code: Code) -> dict[str, str]:
    """A row's use may also be one of these kinds: choosing it makes the row such a part. Under
    another family of codes the same use may be another kind."""
    found = {row.use: name for name, row in rows_of().items() if row.use}
    covered = {
        row.use: name for name, row in rows_of().items() if row.use and kind(name).covers(code)
    }
    return {use: covered[use] for use in found if use in covered}
