"""Sign-up, the account page, tokens for programs, and the demo's way in."""

from __future__ import annotations

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render, resolve_url
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.debug import sensitive_post_parameters
from django.views.decorators.http import require_http_methods, require_POST
from knox.models import AuthToken

from voltaje.web.accounts.forms import SignUpForm
from voltaje.web.accounts.models import User

DEMO_EMAIL = "keeper@alder-mill.example"
BACKEND = "django.contrib.auth.backends.ModelBackend"


@sensitive_post_parameters()
@require_http_methods(["GET", "POST"])
def sign_up(request: HttpRequest) -> HttpResponse:
    """Makes an account and signs it in; 404 where sign-up is switched off."""
    if not settings.SIGN_UP:
        raise Http404
    form = SignUpForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        login(request, form.save(), BACKEND)
        return redirect(_next(request))
    context = {"form": form, "next": request.GET.get("next", "")}
    return render(request, "accounts/sign_up.html", context)


@require_POST
def open_demo(request: HttpRequest) -> HttpResponse:
    """Signs in as the demo's keeper; exists in demo mode only."""
    if not settings.DEMO:
        raise Http404
    user = get_object_or_404(User, email=DEMO_EMAIL)
    login(request, user, BACKEND)
    return redirect(_next(request))


@login_required
def account(request: HttpRequest) -> HttpResponse:
    """The account: its address, its password, its tokens."""
    tokens = AuthToken.objects.filter(user=request.user).order_by("-created")
    return render(request, "accounts/account.html", {"tokens": tokens})


@login_required
@require_POST
def make_token(request: HttpRequest) -> HttpResponse:
    """Makes a token for programs and shows it this one time."""
    _, token = AuthToken.objects.create(request.user)
    tokens = AuthToken.objects.filter(user=request.user).order_by("-created")
    return render(request, "accounts/account.html", {"tokens": tokens, "new_token": token})


@login_required
@require_POST
def drop_token(request: HttpRequest, key: str) -> HttpResponse:
    """Takes a token back."""
    get_object_or_404(AuthToken, user=request.user, token_key=key).delete()
    messages.success(request, "The token no longer works.")
    return redirect("accounts:account")


def _next(request: HttpRequest) -> str:
    wanted = request.POST.get("next") or request.GET.get("next") or ""
    if url_has_allowed_host_and_scheme(wanted, {request.get_host()}, request.is_secure()):
        return wanted
    return resolve_url(settings.LOGIN_REDIRECT_URL)
