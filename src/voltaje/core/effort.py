"""How much work a search may take.

Work is counted in steps of the solver, not in time, so that the same question gets the same answer
on a busy machine and on an idle one. Steps are weighed so that a *second of effort* takes about a
second of processor time on the two-core machine on which they were measured (docs/benchmarks.md).
"""

from __future__ import annotations

from collections.abc import Callable
from math import inf


class StoppedError(Exception):
    """A search that has no answer before its end was stopped, or ran out of effort."""


class Effort:
    """What a search may still take, s of effort. ``stopped`` is asked now and then: once it is
    true, nothing is left. What a part of it (:meth:`at_most`) takes is taken from the whole."""

    def __init__(
        self,
        seconds: float = inf,
        stopped: Callable[[], bool] | None = None,
        whole: Effort | None = None,
    ) -> None:
        self.seconds, self.used = seconds, 0.0
        self._stopped, self._whole = stopped, whole

    @property
    def left(self) -> float:
        """s of effort that are left; 0 once it was stopped."""
        if self._stopped is not None and self._stopped():
            return 0.0
        mine = max(0.0, self.seconds - self.used)
        return mine if self._whole is None else min(mine, self._whole.left)

    @property
    def share(self) -> float:
        """How much of it is used, 0 to 1."""
        return min(self.used / self.seconds, 1.0) if self.seconds else 1.0

    def spend(self, seconds: float) -> None:
        """Takes so much off what is left."""
        self.used += seconds
        if self._whole is not None:
            self._whole.spend(seconds)

    def at_most(self, seconds: float) -> Effort:
        """A part of it: what is left, but no more than ``seconds``."""
        return Effort(seconds, whole=self)

    def check(self) -> None:
        """Raises :class:`StoppedError` where nothing is left."""
        if not self.left:
            raise StoppedError
