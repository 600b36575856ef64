"""Longer looks for the best spread: one an account, over all processes, and never so many in one
process that nobody else gets a page."""

from __future__ import annotations

from threading import BoundedSemaphore, RLock

from django.db import connection
from django.utils.translation import gettext

AT_ONCE = 2  # no code figure: in one process, which serves pages with four threads
ADVISORY = 28  # no code figure: the class of these locks among PostgreSQL's advisory locks

_free = BoundedSemaphore(AT_ONCE)
_accounts: set[int] = set()
_guard = RLock()  # what nobody has closed is given free at any time


class BusyError(Exception):
    """No longer look can begin now; ``str()`` says why and what to do."""


class Place:
    """A place for a longer look of one account."""

    def __init__(self, account: int) -> None:
        self._account: int | None = account

    def end(self) -> None:
        """Gives it free again, in the thread that has asked for it. Once is enough."""
        account = self._account
        try:
            if account is not None:
                _ask("select pg_advisory_unlock(%s, %s)", account)
        finally:
            self.leave()

    def leave(self) -> None:
        """Gives it free for this process alone: for an answer that nobody has read or closed."""
        with _guard:
            account, self._account = self._account, None
            if account is not None:
                _accounts.discard(account)
                _free.release()


def begin(account: int) -> Place:
    """Takes a place for a longer look of that account. Raises :class:`BusyError`.

    The lock ends with its connection, so that a killed process leaves none behind."""
    with _guard:
        if account in _accounts:
            raise BusyError(_own())
        if not _free.acquire(blocking=False):
            raise BusyError(gettext("Other long searches are running: try again in half a minute."))
        _accounts.add(account)
    place, mine = Place(account), False
    try:
        mine = _ask("select pg_try_advisory_lock(%s, %s)", account)
    finally:
        if not mine:  # nor where the database did not answer
            place.leave()
    if not mine:
        raise BusyError(_own())
    return place


def _own() -> str:
    return gettext("Your other long search is still running: stop it, or wait until it ends.")


def _ask(query: str, account: int) -> bool:
    with connection.cursor() as cursor:
        cursor.execute(query, [ADVISORY, account])
        return bool(cursor.fetchone()[0])
