"""Kinds of part, one module each, all with the same face: :class:`~voltaje.core.parts.kind.Kind`.

A kind's module exports ``KIND``. Adding one is adding the module, its name in ``NAMES``, a
drawing and a test module.
"""

from voltaje.core.parts.kind import (
    Context,
    Evaluated,
    Kind,
    PartInput,
    evaluate,
    faulty,
    job_kinds,
    kind,
    kinds,
)

__all__ = [
    "Context",
    "Evaluated",
    "Kind",
    "PartInput",
    "evaluate",
    "faulty",
    "job_kinds",
    "kind",
    "kinds",
]
