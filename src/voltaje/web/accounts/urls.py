"""Addresses of accounts; Django's own views where it has them."""

from __future__ import annotations

from django.contrib.auth import views as auth
from django.urls import path, reverse_lazy

from voltaje.web.accounts import views
from voltaje.web.jobs import archive_views

app_name = "accounts"
urlpatterns = [
    path("", views.account, name="account"),
    path("sign-in/", views.SignIn.as_view(), name="sign_in"),
    path("sign-out/", auth.LogoutView.as_view(), name="sign_out"),
    path("sign-up/", views.sign_up, name="sign_up"),
    path("confirm/<str:token>/", views.confirm, name="confirm"),
    path("demo/", views.open_demo, name="demo"),
    path("leave/", views.leave, name="leave"),
    path("export.json", archive_views.export, name="export"),
    path("import/", archive_views.bring, name="import"),
    path("tokens/", views.make_token, name="make_token"),
    path("tokens/<str:key>/drop/", views.drop_token, name="drop_token"),
    path("password/", views.PasswordChange.as_view(
        template_name="accounts/password_change.html",
        success_url=reverse_lazy("accounts:account")), name="password_change"),
    path("password/forgotten/", views.PasswordForgotten.as_view(
        template_name="accounts/password_forgotten.html",
        email_template_name="accounts/reset_email.txt",
        subject_template_name="accounts/reset_subject.txt",
        success_url=reverse_lazy("accounts:reset_sent")), name="password_forgotten"),
    path("password/sent/", auth.PasswordResetDoneView.as_view(
        template_name="accounts/reset_sent.html"), name="reset_sent"),
    path("password/new/<uidb64>/<token>/", views.PasswordNew.as_view(
        template_name="accounts/password_new.html",
        success_url=reverse_lazy("accounts:sign_in")), name="password_new"),
]  # fmt: skip
