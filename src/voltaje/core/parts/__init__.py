"""Kinds of part, a package each, all with the same face: :class:`~voltaje.core.parts.kind.Kind`.

In each, ``entries`` says what it is told, ``work`` gives numbers, ``tell`` words; ``__init__``
exports ``KIND``, and that is all it takes to be found (``registry``). ``wired`` is no kind: it is
what everything with conductors and a device shares. Its other half, what a page shows of it, is
the module of the same name in ``web/kinds``.
"""

from voltaje.core.parts.kind import Evaluated, Kind, Outcome, PartInput, evaluate, faulty
from voltaje.core.parts.registry import forget, job_kinds, kind, kinds, register
from voltaje.core.rules.context import Context

__all__ = [
    "Context",
    "Evaluated",
    "Kind",
    "Outcome",
    "PartInput",
    "evaluate",
    "faulty",
    "forget",
    "job_kinds",
    "kind",
    "kinds",
    "register",
]
