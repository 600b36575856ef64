"""Sign-up and sign-in."""

from __future__ import annotations

from django import forms
from django.contrib.auth.forms import AuthenticationForm, BaseUserCreationForm

from voltaje.web.accounts.models import User


class SignUpForm(BaseUserCreationForm):
    """A new account: e-mail address and password, twice."""

    class Meta:
        model = User
        fields = ("email",)

    def clean_email(self) -> str:
        """Refuses an address that has an account, whatever its case."""
        email = str(self.cleaned_data["email"]).lower()
        if User.objects.filter(email__iexact=email).exists():
            raise forms.ValidationError("This address already has an account: sign in instead.")
        return email


class SignInForm(AuthenticationForm):
    """E-mail address and password."""

    username = forms.EmailField(
        label="E-mail address", widget=forms.EmailInput(attrs={"autocomplete": "email"})
    )
