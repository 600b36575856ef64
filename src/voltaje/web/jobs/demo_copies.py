"""The demo as each visitor's own copy, thrown away after a day: nobody meets another's changes.

What is copied is the demo account's (``load_demo``), which nobody signs in to.
"""

from __future__ import annotations

import secrets
from datetime import timedelta

from django.core import signing
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from voltaje.web.accounts.models import User
from voltaje.web.jobs import actions
from voltaje.web.jobs.models import Job
from voltaje.web.materials import price_list
from voltaje.web.practice import class_backup, results

DEMO_EMAIL = "keeper@alder-mill.example"
COOKIE = "demo"
LIFE = timedelta(days=1)
CLEARED_AT_ONCE = 5


def copy() -> User:
    """A new account with copies of the demo's jobs, their readings, what was practised."""
    user = User.objects.create_user(
        f"visitor-{secrets.token_hex(4)}@alder-mill.example", None, is_demo=True
    )
    keeper = User.objects.get(email=DEMO_EMAIL)
    for job in Job.objects.of(keeper).filter(archived_at=None).order_by("created_at"):
        actions.copy_job(job, user, job.name)
    results.bring(user, results.read(results.out(keeper)))
    class_backup.bring(user, class_backup.read(class_backup.out(keeper)))
    price_list.bring(user, price_list.read(price_list.out(keeper)))
    return user


def visitor(request: HttpRequest) -> User | None:
    """The account of a visitor who has been here within the day."""
    try:
        key = signing.loads(request.COOKIES.get(COOKIE, ""), salt=COOKIE, max_age=LIFE)
    except signing.BadSignature:
        return None
    return User.objects.filter(pk=key, is_demo=True).first()


def remember(response: HttpResponse, user: User, secure: bool) -> None:
    """Lets the same browser find its copy again."""
    response.set_cookie(
        COOKIE,
        signing.dumps(user.pk, salt=COOKIE),
        max_age=int(LIFE.total_seconds()),
        httponly=True,
        samesite="Lax",
        secure=secure,
    )


def clear(most: int = CLEARED_AT_ONCE) -> int:
    """Throws away copies that are over a day old, at most so many at once."""
    old = User.objects.filter(is_demo=True, date_joined__lt=timezone.now() - LIFE)[:most]
    found = list(old)
    for user in found:
        user.delete()
    return len(found)
