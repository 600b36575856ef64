"""Sign-up and sign-in, and leaving."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib.auth.forms import AuthenticationForm, BaseUserCreationForm
from django.utils.translation import gettext, gettext_lazy

from voltaje.web.accounts.models import User


class SignUpForm(BaseUserCreationForm):  # type: ignore[type-arg]
    """A new account: e-mail address and password, twice. Whether the address has an account
    already is for its owner to know: see :func:`voltaje.web.accounts.views.sign_up`."""

    class Meta:
        model = User
        fields = ("email",)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["email"].widget.attrs |= {"autofocus": True, "autocomplete": "email"}

    def clean_email(self) -> str:
        """Addresses are the same whatever their case."""
        return str(self.cleaned_data["email"]).lower()

    def _get_validation_exclusions(self) -> set[str]:
        """Leaves it to the view, and to the database, whether the address is taken: a taken one
        is answered like a free one."""
        return {*super()._get_validation_exclusions(), "email"}  # type: ignore[misc]  # not public

    def validate_unique(self) -> None:
        """Nothing, for the same reason."""


class SignInForm(AuthenticationForm):
    """E-mail address and password."""

    username = forms.EmailField(
        label=gettext_lazy("E-mail address"),
        widget=forms.EmailInput(attrs={"autocomplete": "email", "autofocus": True}),
    )


class ConfirmForm(forms.Form):
    """Begins an account: the password that was chosen for it makes sure that it is the same
    person."""

    password = forms.CharField(
        label=gettext_lazy("The password that you chose"),
        strip=False,
        max_length=4096,
        widget=forms.PasswordInput(attrs={"autocomplete": "current-password", "autofocus": True}),
    )

    def __init__(self, *args: Any, user: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.user = user

    def clean_password(self) -> str:
        """Refuses another one."""
        given = str(self.cleaned_data["password"])
        if not self.user.check_password(given):
            raise forms.ValidationError(
                gettext(
                    "This letter was sent for another password. If you did not ask for it, do"
                    " nothing; else sign up again."
                )
            )
        return given


class LeaveForm(forms.Form):
    """Deletes an account: its password, or for a demo account its address, makes sure."""

    sure = forms.CharField(max_length=254)

    def __init__(self, *args: Any, user: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.user = user
        field = self.fields["sure"]
        if user.has_usable_password():
            field.label, field.widget = gettext("Your password"), forms.PasswordInput()
        else:
            field.label = gettext("The account’s address, once more")

    def clean_sure(self) -> str:
        """Refuses what is not the account's."""
        given = str(self.cleaned_data["sure"])
        right = (
            self.user.check_password(given)
            if self.user.has_usable_password()
            else given.strip().casefold() == self.user.email.casefold()
        )
        if not right:
            raise forms.ValidationError(gettext("That is not it: nothing was deleted."))
        return given
