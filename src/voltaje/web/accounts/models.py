"""An account: an e-mail address and a password."""

from __future__ import annotations

from typing import Any, ClassVar

from django.contrib.auth.models import AbstractUser, BaseUserManager
from django.db import models
from django.db.models.functions import Lower


class UserManager(BaseUserManager):
    """Makes accounts by e-mail address."""

    use_in_migrations = True

    def create_user(self, email: str, password: str | None = None, **extra: Any) -> User:
        """An account. Raises ``ValueError`` without an address."""
        if not email:
            raise ValueError("An account needs an e-mail address.")
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

    username = None
    email = models.EmailField("e-mail address", unique=True)
    USERNAME_FIELD = "email"
    REQUIRED_FIELDS: ClassVar[list[str]] = []
    objects: ClassVar[UserManager] = UserManager()

    class Meta:
        constraints = [models.UniqueConstraint(Lower("email"), name="one_account_per_address")]

    def __str__(self) -> str:
        return self.email
