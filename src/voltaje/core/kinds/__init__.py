"""Kinds of item, a package each, with one interface: :class:`~voltaje.core.kinds.interface.Kind`.

In each, ``entries`` says what it is told, ``calculate`` numbers, ``report`` words; ``__init__``
exports ``KIND``, and that is all it takes to be found (``registry``). ``wired`` is no kind: it is
what everything with conductors and a device shares. Its other half, what a page shows of it, is
the module of the same name in ``web/kinds``.
"""

from voltaje.core.kinds.interface import Evaluated, Kind, Outcome, PartInput, evaluate, faulty
from voltaje.core.kinds.registry import (
    current_name,
    forget,
    job_kinds,
    kind,
    kinds,
    register,
)
from voltaje.core.rules.context import Context

__all__ = [
    "Context",
    "Evaluated",
    "Kind",
    "Outcome",
    "PartInput",
    "current_name",
    "evaluate",
    "faulty",
    "forget",
    "job_kinds",
    "kind",
    "kinds",
    "register",
]
