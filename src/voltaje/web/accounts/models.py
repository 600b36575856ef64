"""An account: an e-mail address and a password."""

from __future__ import annotations

from typing import Any, ClassVar

from django.contrib.auth.models import AbstractUser, BaseUserManager
from django.db import models
from django.db.models.functions import Lower
from django.utils import timezone
from django.utils.translation import gettext, gettext_lazy


class UserManager(BaseUserManager["User"]):
    """Makes accounts by e-mail address."""

    use_in_migrations = True

    def create_user(self, email: str, password: str | None = None, **extra: Any) -> User:
        """An account. Raises ``ValueError`` without an address."""
        if not email:
            raise ValueError(gettext("An account needs an e-mail address."))
        user = self.model(email=self.normalize_email(email).lower(), **extra)
        user.set_password(password)
        user.save(using=self._db)
        return user

    def create_superuser(self, email: str, password: str | None = None, **extra: Any) -> User:
        """An account that may do everything."""
        return self.create_user(email, password, is_staff=True, is_superuser=True, **extra)

    def get_by_natural_key(self, username: str | None) -> User:
        """Addresses are the same whatever their case."""
        return self.get(email__iexact=username)


class User(AbstractUser):
    """Signs in with an e-mail address."""

    username = None  # type: ignore[assignment]  # an address takes its place
    email = models.EmailField(gettext_lazy("E-mail address"), unique=True)
    # a visitor's own copy of the demo, thrown away after a day
    is_demo = models.BooleanField(default=False)
    USERNAME_FIELD = "email"
    REQUIRED_FIELDS: ClassVar[list[str]] = []
    objects: ClassVar[UserManager] = UserManager()  # type: ignore[assignment]

    class Meta:
        constraints = [models.UniqueConstraint(Lower("email"), name="one_account_per_address")]

    def __str__(self) -> str:
        return self.email


class Event(models.Model):
    """A line of an account's own log: who came in, which tokens were made, what was taken out or
    deleted. It goes with the account."""

    user = models.ForeignKey(User, models.CASCADE, related_name="events")
    at = models.DateTimeField(default=timezone.now)
    what = models.CharField(max_length=30)
    detail = models.CharField(max_length=120, blank=True)

    class Meta:
        ordering = ("-at", "-pk")
        indexes = [models.Index(fields=["user", "-at"])]

    def __str__(self) -> str:
        return f"{self.what} {self.detail}".strip()


class Attempt(models.Model):
    """A try at something that is limited: sign-in from an address, sign-up, a letter."""

    what = models.CharField(max_length=20)
    key = models.CharField(max_length=80)
    at = models.DateTimeField(default=timezone.now)

    class Meta:
        indexes = [models.Index(fields=["what", "key", "-at"])]

    def __str__(self) -> str:
        return f"{self.what} {self.key}"
