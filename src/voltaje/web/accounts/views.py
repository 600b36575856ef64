"""Sign-up, the account page with its log, tokens for programs, all data out and in, leaving, and
the demo's way in."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import login, logout
from django.contrib.auth import views as auth
from django.contrib.auth.decorators import login_required
from django.core import signing
from django.core.mail import send_mail
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.http.response import HttpResponseBase
from django.shortcuts import get_object_or_404, redirect, render, resolve_url
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.crypto import constant_time_compare, salted_hmac
from django.utils.decorators import method_decorator
from django.utils.translation import gettext, gettext_noop
from django.views.decorators.debug import sensitive_post_parameters
from django.views.decorators.http import require_http_methods, require_POST
from knox.models import AuthToken

from voltaje.web.accounts import throttle
from voltaje.web.accounts.events import note
from voltaje.web.accounts.forms import ConfirmForm, LeaveForm, SignInForm, SignUpForm
from voltaje.web.accounts.models import User
from voltaje.web.http import intake
from voltaje.web.http.requests import Request
from voltaje.web.jobs import demo_copies as demo

BACKEND = "django.contrib.auth.backends.ModelBackend"
CONFIRM = "voltaje.confirm"
CONFIRM_SECONDS = 86_400
NEW_TOKEN = "new_token"
SHOWN_EVENTS = 50
MOST_TOKENS = 20


class SignIn(auth.LoginView):
    """Sign-in, counted for each address as well as for each account."""

    template_name = "accounts/sign_in.html"
    authentication_form = SignInForm
    redirect_authenticated_user = True

    @method_decorator(sensitive_post_parameters())
    def dispatch(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponseBase:
        """429 for an address that tries too often, whatever the accounts."""
        if request.method == "POST" and not throttle.from_here(request, "sign-in"):
            return throttle.too_many(request)
        return super().dispatch(request, *args, **kwargs)


class PasswordForgotten(auth.PasswordResetView):
    """A letter with a link; says the same whether there is such an account or not."""

    def post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """429 beyond the limit for one address or one mailbox."""
        mine = throttle.from_here(request, "letter")
        if not mine or not throttle.within("letter to", request.POST.get("email", "")):
            return throttle.too_many(request)
        return super().post(request, *args, **kwargs)


class PasswordChange(auth.PasswordChangeView):
    """Another password: what was let in by the old one is let out."""

    def form_valid(self, form: Any) -> HttpResponse:
        """Ends the tokens; Django ends the other sessions."""
        AuthToken.objects.filter(user=form.user).delete()
        note(form.user, gettext_noop("password changed"))
        return super().form_valid(form)


class PasswordNew(auth.PasswordResetConfirmView):
    """A password by the link of a letter: the same."""

    def form_valid(self, form: Any) -> HttpResponse:
        """Ends the tokens; Django ends the sessions."""
        AuthToken.objects.filter(user=form.user).delete()
        note(form.user, gettext_noop("password reset"))
        return super().form_valid(form)


@sensitive_post_parameters()
@require_http_methods(["GET", "POST"])
def sign_up(request: Request) -> HttpResponse:
    """Makes an account; 404 where sign-up is switched off. With letters switched on the account
    begins by the link in one, and an address that has an account gets a letter that says so: the
    page is the same for both. Without, a taken address is answered like a wrong one."""
    if not settings.SIGN_UP:
        raise Http404
    form = SignUpForm(request.POST or None)
    if request.method == "POST":
        if not throttle.from_here(request, "sign-up"):
            return throttle.too_many(request)
        if form.is_valid():
            email = form.cleaned_data["email"]
            there = User.objects.filter(email__iexact=email).first()
            if settings.CONFIRM_ADDRESS:
                _send_letter(request, form, there)
                return render(request, "accounts/letter_sent.html", {"email": email})
            if there is None:
                login(request, form.save(), BACKEND)
                return HttpResponseRedirect(_next(request))
            form.add_error(
                None, gettext("No account can be made with this. Is it yours already? Sign in.")
            )
    context = {"form": form, "next": request.GET.get("next", "")}
    return render(request, "accounts/sign_up.html", context)


def _send_letter(request: Request, form: SignUpForm, there: User | None) -> None:
    email = form.cleaned_data["email"]
    if not throttle.within("letter to", email):
        return
    if there is None:
        user = form.save(commit=False)
        user.is_active = False
        user.save()
        there = user
    elif not there.is_active:
        # the letters that went out before were for another password: they no longer confirm
        there.set_password(form.cleaned_data["password1"])
        there.save()
    link = ""
    if not there.is_active:
        token = signing.dumps([there.pk, _mark(there)], salt=CONFIRM)
        link = request.build_absolute_uri(reverse("accounts:confirm", args=[token]))
    words = render_to_string("accounts/confirm_email.txt", {"link": link, "request": request})
    send_mail(gettext("Your account at Voltaje"), words, None, [email])


@sensitive_post_parameters()
@require_http_methods(["GET", "POST"])
def confirm(request: Request, token: str) -> HttpResponse:
    """The link of a letter: the account begins, with the password that the letter was sent for and
    that whoever opens it knows. Somebody else may have signed up with the same address; their
    letter comes to the same mailbox, and must not open it to their password."""
    try:
        key, mark = signing.loads(token, salt=CONFIRM, max_age=CONFIRM_SECONDS)
    except (signing.BadSignature, TypeError, ValueError):
        raise Http404 from None
    user = get_object_or_404(User, pk=key)
    if not constant_time_compare(mark, _mark(user)):
        raise Http404
    if user.is_active:
        return redirect("jobs:list")
    form = ConfirmForm(request.POST or None, user=user)
    if request.method == "POST":
        if not throttle.from_here(request, "sign-in"):
            return throttle.too_many(request)
        if form.is_valid():
            user.is_active = True
            user.save(update_fields=["is_active"])
            login(request, user, BACKEND)
            return redirect("jobs:list")
    context = {"email": user.email, "form": form}
    return render(request, "accounts/confirm.html", context, status=422 if form.errors else 200)


def _mark(user: User) -> str:
    """What a letter's link holds of the password that it is for."""
    return salted_hmac(CONFIRM, user.password).hexdigest()[:32]


@require_POST
def open_demo(request: Request) -> HttpResponse:
    """Signs in to this visitor's own copy of the demo; exists in demo mode only."""
    if not settings.DEMO:
        raise Http404
    user = demo.visitor(request)
    if user is None:
        if not throttle.from_here(request, "demo"):
            return throttle.too_many(request)
        demo.clear()
        user = demo.copy()
    login(request, user, BACKEND)
    response = HttpResponseRedirect(_next(request))
    demo.remember(response, user, request.is_secure())
    return response


@login_required
def account(request: Request) -> HttpResponse:
    """The account: its address, its password, its tokens, its log."""
    tokens = AuthToken.objects.filter(user=request.user).order_by("-created")
    context = {
        "tokens": tokens,
        "new_token": request.session.pop(NEW_TOKEN, ""),
        "events": request.user.events.all()[:SHOWN_EVENTS],
        "jobs": request.user.jobs.count(),
    }
    return render(request, "accounts/account.html", context)


@login_required
@require_POST
def make_token(request: Request) -> HttpResponse:
    """Makes a token for programs; the account's page shows it once."""
    if AuthToken.objects.filter(user=request.user).count() >= MOST_TOKENS:
        messages.error(
            request,
            gettext("At most {most_tokens} tokens: take one back first.").format(
                most_tokens=MOST_TOKENS
            ),
        )
        return redirect("accounts:account")
    made, token = AuthToken.objects.create(request.user)
    note(request.user, gettext_noop("token made"), made.token_key[:8])
    request.session[NEW_TOKEN] = token
    return redirect("accounts:account")


@login_required
@require_POST
def drop_token(request: Request, key: str) -> HttpResponse:
    """Takes a token back."""
    get_object_or_404(AuthToken, user=request.user, token_key=key).delete()
    note(request.user, gettext_noop("token taken back"), key[:8])
    messages.success(request, gettext("The token no longer works."))
    return redirect("accounts:account")


@login_required
@require_http_methods(["GET", "POST"])
def leave(request: Request) -> HttpResponse:
    """Deletes the account and all that is its own, for good."""
    form = LeaveForm(request.POST or None, user=request.user)
    if request.method == "POST" and form.is_valid():
        user = User.objects.get(pk=request.user.pk)
        logout(request)
        user.delete()
        messages.success(request, gettext("The account and all its jobs are deleted."))
        return redirect("front")
    context = {"form": form, "jobs": request.user.jobs.count()}
    return render(request, "accounts/leave.html", context, status=422 if form.errors else 200)


def _next(request: Request) -> str:
    wanted = request.POST.get("next") or request.GET.get("next") or ""
    return intake.here(request, wanted) or resolve_url(settings.LOGIN_REDIRECT_URL)
