"""Accounts, the throttle, headers, health."""

import re

import pytest
from django.core import mail
from django.db import OperationalError
from django.urls import reverse

from voltaje.web.accounts.models import User

WORD = "a long enough word"


def sign_in(client, email="owner@trade.example", password=WORD, **more):
    return client.post(
        reverse("accounts:sign_in"), {"username": email, "password": password}, **more
    )


def test_sign_up_in_and_out(client, db):
    data = {"email": "New@Trade.example", "password1": WORD, "password2": WORD}
    assert client.post(reverse("accounts:sign_up"), data).status_code == 302
    assert client.get(reverse("jobs:list")).status_code == 200
    client.post(reverse("accounts:sign_out"))
    assert client.get(reverse("jobs:list")).status_code == 302
    assert sign_in(client, "new@trade.EXAMPLE").status_code == 302
    again = client.post(reverse("accounts:sign_up"), {**data, "email": "new@trade.example"})
    assert User.objects.count() == 1 and again.status_code in (200, 302)


@pytest.mark.parametrize(
    ("password", "words"),
    [("short", "too short"), ("password123", "too common"), ("1" * 12, "numeric")],
)
def test_weak_passwords_are_refused(client, db, password, words):
    data = {"email": "a@b.example", "password1": password, "password2": password}
    assert words in client.post(reverse("accounts:sign_up"), data).content.decode()


def test_sign_up_can_be_switched_off(client, db, settings):
    settings.SIGN_UP = False
    assert client.get(reverse("accounts:sign_up")).status_code == 404


def test_passwords_are_argon2(people, settings):
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.Argon2PasswordHasher"]
    people[0].set_password(WORD)
    assert people[0].password.startswith("argon2$argon2id$")


def test_sign_in_is_throttled(client, people):
    for _ in range(6):
        answer = sign_in(client, password="wrong")
    assert answer.status_code == 429 and b"Too many tries" in answer.content
    assert sign_in(client).status_code == 429  # the right word does not help now
    assert sign_in(client, "stranger@trade.example").status_code == 302


def test_a_forged_address_does_not_get_round_the_throttle(client, people):
    for n in range(7):
        answer = sign_in(client, password="wrong", HTTP_X_FORWARDED_FOR=f"10.0.0.{n}")
    assert answer.status_code == 429


def test_password_reset_by_mail(client, people):
    client.post(reverse("accounts:password_forgotten"), {"email": "owner@trade.example"})
    link = re.search(r"http://\S+?(/account/\S+)", mail.outbox[0].body)[1]
    page = client.get(link, follow=True)
    url = page.redirect_chain[-1][0]
    client.post(url, {"new_password1": "another good word", "new_password2": "another good word"})
    assert sign_in(client, password="another good word").status_code == 302
    client.post(reverse("accounts:password_forgotten"), {"email": "nobody@trade.example"})
    assert len(mail.outbox) == 1


def test_password_change(owner):
    data = {"old_password": WORD, "new_password1": "yet another word",
            "new_password2": "yet another word"}  # fmt: skip
    assert owner.post(reverse("accounts:password_change"), data).status_code == 302


def test_the_demo_button_exists_in_demo_mode_only(client, db, settings):
    assert b"Open the demo" not in client.get("/").content
    assert client.post(reverse("accounts:demo")).status_code == 404
    settings.DEMO = True
    from django.core.management import call_command

    call_command("load_demo")
    call_command("load_demo")
    assert b"Open the demo" in client.get("/").content
    page = client.post(reverse("accounts:demo"), follow=True)
    assert page.content.decode().count("Alder Mill</a>") == 1


def test_tokens_are_shown_once_and_taken_back(owner):
    page = owner.post(reverse("accounts:make_token")).content.decode()
    token = re.search(r"<output><code>(\w+)</code>", page)[1]
    assert token not in owner.get(reverse("accounts:account")).content.decode()
    key = token[:15]
    owner.post(reverse("accounts:drop_token", args=[key]))
    owner.logout()
    answer = owner.get("/api/v1/sheets/", HTTP_AUTHORIZATION=f"Token {token}")
    assert answer.status_code == 401


def test_open_redirects_are_refused(client, people):
    answer = client.post(
        reverse("accounts:sign_in") + "?next=https://elsewhere.example/",
        {"username": "owner@trade.example", "password": WORD, "next": "https://elsewhere.example/"},
    )
    assert answer.url == reverse("jobs:list")
    answer = client.post(reverse("scheme"), {"scheme": "dark", "next": "//elsewhere.example"})
    assert answer.url == "/" and answer.cookies["scheme"].value == "dark"


def test_headers_are_strict(client, db):
    answer = client.get("/")
    policy = answer["Content-Security-Policy"]
    assert "default-src 'none'" in policy and "unsafe" not in policy
    assert answer["X-Frame-Options"] == "DENY" and answer["X-Content-Type-Options"] == "nosniff"


def test_no_template_has_inline_script_or_style():
    from pathlib import Path

    import voltaje.web

    for path in (Path(voltaje.web.__file__).parent / "templates").rglob("*.*"):
        text = path.read_text()
        assert not re.search(r"<script(?![^>]*src=)|<style|\sstyle=|\son\w+=|javascript:", text), (
            path
        )


def test_health_looks_at_the_database(client, db, monkeypatch):
    assert client.get("/health/").json() == {"database": "up to date"}

    def gone(*args):
        raise OperationalError

    monkeypatch.setattr("voltaje.web.health.MigrationExecutor", gone)
    assert client.get("/health/").status_code == 503


def test_pages_that_are_not_there_say_so(client, db):
    answer = client.get("/nowhere/")
    assert answer.status_code == 404 and b"nothing at this address" in answer.content


@pytest.mark.parametrize(
    ("proxies", "forwarded", "wanted"),
    [(0, "1.1.1.1", "127.0.0.1"), (1, "1.1.1.1", "1.1.1.1"), (1, "9.9.9.9, 2.2.2.2", "2.2.2.2"),
     (2, "3.3.3.3, 2.2.2.2", "3.3.3.3"), (1, "", "127.0.0.1")],
)  # fmt: skip
def test_client_address_behind_proxies(rf, settings, proxies, forwarded, wanted):
    from voltaje.web.accounts.address import client_address

    settings.TRUSTED_PROXIES = proxies
    request = rf.get("/", HTTP_X_FORWARDED_FOR=forwarded)
    assert client_address(request) == wanted


def test_static_files_are_collected_once(settings, tmp_path):
    from voltaje.web.jobs.management.commands.set_up import collect_static

    settings.STATIC_ROOT = str(tmp_path / "static")
    assert [collect_static(), collect_static()] == [True, False]
    assert list((tmp_path / "static" / "voltaje").glob("sheet.css"))
    assert not (tmp_path / "static" / "rest_framework").exists()
