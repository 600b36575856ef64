"""Accounts, the throttle, headers, health."""

import io
import re

import pytest
from django.core import mail
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
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
    call_command("load_demo")
    call_command("load_demo")
    assert b"Open the demo" in client.get("/").content
    page = client.post(reverse("accounts:demo"), follow=True)
    assert page.content.decode().count("Alder Mill</a>") == 1


def test_tokens_are_shown_once_and_taken_back(owner):
    made = owner.post(reverse("accounts:make_token"))
    page = owner.get(made.url).content.decode()
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

    monkeypatch.setattr("voltaje.web.http.health.MigrationExecutor", gone)
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


# limits, tokens, the account's own data -------------------------------------------------------


def test_letter_case_is_not_another_name_to_the_throttle(client, people):
    names = ("owner@trade.example", "OWNER@trade.example", "Owner@Trade.Example")
    for n in range(6):
        answer = sign_in(client, names[n % 3], "wrong")
    assert answer.status_code == 429 and sign_in(client, "owNer@trade.example").status_code == 429


@pytest.mark.parametrize(
    ("name", "posted", "most"),
    [
        ("sign_in", {"username": "n{}@trade.example", "password": "x"}, 60),
        ("sign_up", {"email": "n{}@trade.example", "password1": "1", "password2": "1"}, 10),
        ("password_forgotten", {"email": "n{}@trade.example"}, 10),
        ("password_forgotten", {"email": "owner@trade.example"}, 3),
    ],
)
def test_what_guesses_or_floods_is_limited_by_address(client, people, name, posted, most):
    url = reverse(f"accounts:{name}")
    for n in range(most + 1):
        found = {key: value.format(n) for key, value in posted.items()}
        answer = client.post(url, found)
        assert (answer.status_code == 429) == (n >= most), n
    assert answer.status_code == 429


def test_sign_up_by_letter_tells_nobody_which_addresses_exist(client, people, settings):
    settings.CONFIRM_ADDRESS = True
    pages = []
    for email in ("owner@trade.example", "fresh@trade.example"):
        data = {"email": email, "password1": WORD, "password2": WORD}
        page = client.post(reverse("accounts:sign_up"), data)
        pages.append((page.status_code, page.content.decode().replace(email, "")))
    assert pages[0][0] == pages[1][0] == 200
    assert re.sub(r"value=\"\w{64}\"|Token\": \"\w+", "", pages[0][1]) == re.sub(
        r"value=\"\w{64}\"|Token\": \"\w+", "", pages[1][1]
    )
    assert "has one already" in mail.outbox[0].body
    assert sign_in(client, "fresh@trade.example").status_code == 200  # not begun yet
    link = re.search(r"http://\S+?(/account/confirm/\S+)", mail.outbox[1].body)[1]
    assert client.get(link).status_code == 200
    assert client.post(link, {"password": "another word"}).status_code == 422
    assert client.post(link, {"password": WORD}).status_code == 302
    assert client.get(reverse("jobs:list")).status_code == 200
    assert client.get("/account/confirm/forged/").status_code == 404


@pytest.mark.parametrize("way", ["change", "reset"])
def test_another_password_ends_the_tokens(client, people, way):
    client.force_login(people[0])
    client.post(reverse("accounts:make_token"))
    page = client.get(reverse("accounts:account")).content.decode()
    token = re.search(r"<output><code>(\w+)</code>", page)[1]
    header = {"HTTP_AUTHORIZATION": f"Token {token}"}
    other = type(client)()
    assert other.get("/api/v1/sheets/", **header).status_code == 200
    new = {"new_password1": "yet another word", "new_password2": "yet another word"}
    if way == "change":
        client.post(reverse("accounts:password_change"), {"old_password": WORD, **new})
    else:
        other.post(reverse("accounts:password_forgotten"), {"email": "owner@trade.example"})
        link = re.search(r"http://\S+?(/account/\S+)", mail.outbox[0].body)[1]
        url = other.get(link, follow=True).redirect_chain[-1][0]
        other.post(url, new)
    assert other.get("/api/v1/sheets/", **header).status_code == 401


def test_tokens_end_by_themselves_and_a_reload_makes_none(owner, people):
    from knox.models import AuthToken

    owner.post(reverse("accounts:make_token"))
    for _ in range(2):
        owner.get(reverse("accounts:account"))
    token = AuthToken.objects.get()
    assert 80 < (token.expiry - token.created).days <= 90


def test_pages_of_an_account_are_kept_by_no_cache(owner, client, job, cottage):
    for name, args in (("list", []), ("job", [job.pk]), ("part", [job.pk, cottage.pk])):
        assert owner.get(reverse(f"jobs:{name}", args=args))["Cache-Control"] == "no-store"
    assert type(client)().get(reverse("accounts:sign_in"))["Cache-Control"] == "no-store"


def test_the_accounts_log_says_what_happened(client, people):
    sign_in(client, password="wrong")
    sign_in(client)
    client.post(reverse("accounts:make_token"))
    client.get(reverse("accounts:export"))
    page = client.get(reverse("accounts:account")).content.decode()
    for what in ("wrong password", "signed in", "token made", "exported"):
        assert what in page


def test_all_of_an_account_goes_out_and_comes_back(owner, stranger, people, job, cottage):
    from voltaje.web.history import revisions
    from voltaje.web.jobs import actions
    from voltaje.web.jobs.demo import MILL, READINGS
    from voltaje.web.jobs.management.commands.load_demo import _log
    from voltaje.web.jobs.models import Job
    from voltaje.web.jobs.worked import digest_of

    actions.plant(job, people[0], MILL)
    _log(job, READINGS)
    owner.post(reverse("jobs:save", args=[job.pk, cottage.pk]), {"set:area": "1600"})
    owner.post(reverse("jobs:amendments", args=[job.pk]), {
        "topic": "ampacity", "row": "12", "column": "copper 75", "value": "22",
        "jurisdiction": "County", "reason": "7"})  # fmt: skip
    content = b"".join(owner.get(reverse("accounts:export")).streaming_content)
    file = SimpleUploadedFile("voltaje.json", content)
    assert stranger.post(reverse("accounts:import"), {"file": file}).status_code == 302
    one, two = Job.objects.get(owner=people[0]), Job.objects.get(owner=people[1])

    def told(found):
        return sorted(
            (p.name, *map(str, digest_of(found)["parts"][str(p.pk)])) for p in found.loaded()
        )

    assert told(one) == told(two) and one.readings.count() == two.readings.count() > 9
    assert [r.summary for r in one.revisions.all()] == [r.summary for r in two.revisions.all()]
    assert one.parts.get(kind="dwelling").pk != two.parts.get(kind="dwelling").pk
    for _ in range(2):
        revisions.undo(two, people[1])
    assert two.parts.get(kind="dwelling").entries["area"] == "1480 sq ft"
    assert not two.amendments.exists()
    revisions.restore(two, people[1], 1)
    assert two.parts.count() == 2


def test_an_account_is_deleted_with_all_that_is_its_own(owner, people, job):
    from voltaje.web.jobs.models import Job, Part

    url = reverse("accounts:leave")
    assert owner.post(url, {"sure": "wrong"}).status_code == 422 and Job.objects.exists()
    assert owner.post(url, {"sure": WORD}).status_code == 302
    assert not Job.objects.exists() and not Part.objects.exists()
    assert list(User.objects.values_list("email", flat=True)) == ["stranger@trade.example"]


def test_each_visitor_has_a_copy_of_the_demo(client, db, settings):
    from voltaje.web.jobs import demo_copies
    from voltaje.web.jobs.models import Job

    settings.DEMO = True
    call_command("load_demo")
    other = type(client)()
    for visitor in (client, other, client):
        visitor.post(reverse("accounts:demo"))
    assert User.objects.filter(is_demo=True).count() == 2 and Job.objects.count() == 6
    mine, theirs = (
        Job.objects.get(owner_id=c.session["_auth_user_id"], name="Alder Mill")
        for c in (client, other)
    )
    assert mine.readings.count() == theirs.readings.count() > 9
    assert client.get(reverse("jobs:job", args=[theirs.pk])).status_code == 404
    User.objects.filter(is_demo=True).update(date_joined="2020-01-01T00:00Z")
    call_command("clear_old", stdout=io.StringIO())
    assert Job.objects.count() == 2 and demo_copies.clear() == 0


def test_a_job_in_the_archive_is_deleted_by_its_name(owner, job):
    url = reverse("jobs:delete", args=[job.pk])
    owner.post(url, {"name": "Mill"})
    owner.post(reverse("jobs:archive", args=[job.pk]))
    owner.post(url, {"name": "Other"})
    assert type(job).objects.filter(pk=job.pk).exists()
    owner.post(url, {"name": "Mill"})
    assert not type(job).objects.filter(pk=job.pk).exists()


def test_log_lines_carry_the_request_and_nobodys_data(owner, job, caplog):
    import json as plain
    import logging

    from voltaje.web.http.logs import Lines

    caplog.set_level(logging.INFO, "voltaje.requests")
    answer = owner.get(reverse("jobs:list"), {"q": "secret words"})
    line = plain.loads(Lines().format(caplog.records[-1]))
    assert line["route"] == "jobs:list" and line["status"] == 200 and line["ms"] > 0
    assert len(answer["X-Request-Id"]) == 12
    assert "secret" not in str(line) and "owner@" not in str(line)


def test_the_page_of_a_fault_asks_nothing_of_the_database(rf):
    from voltaje.web.http.errors import server_error

    # without the database's mark on this test any query would raise
    answer = server_error(rf.get("/jobs/"))
    assert answer.status_code == 500 and b"What you had kept is safe" in answer.content


def test_modules_are_collected_under_names_of_their_contents(settings, tmp_path):
    from django.core.management import call_command as call

    from voltaje.web.jobs.management.commands.set_up import UNUSED

    settings.STATIC_ROOT = str(tmp_path)
    settings.STORAGES = {
        **settings.STORAGES,
        "staticfiles": {"BACKEND": "voltaje.web.http.static_files.HashedFiles"},
    }
    call("collectstatic", interactive=False, verbosity=0, ignore_patterns=UNUSED)
    (sheet,) = (tmp_path / "voltaje").glob("sheet.????????????.js")
    imported = re.findall(r'from "\./(\w+\.\w{12}\.js)"', sheet.read_text())
    assert len(imported) >= 6
    assert all((tmp_path / "voltaje" / name).is_file() for name in imported)


def test_a_strangers_password_does_not_open_a_confirmed_account(client, settings, db):
    """Two sign-ups with one address: the first letter is for a password that is no more, the second
    comes to the owner's mailbox, and without the stranger's password it opens nothing."""
    settings.CONFIRM_ADDRESS = True
    links = []
    for word in (WORD, "a stranger's word 9"):
        data = {"email": "owner2@trade.example", "password1": word, "password2": word}
        client.post(reverse("accounts:sign_up"), data)
        links.append(re.search(r"http://\S+?(/account/confirm/\S+)", mail.outbox[-1].body)[1])
    assert (
        client.get(links[0]).status_code
        == client.post(links[0], {"password": WORD}).status_code
        == 404
    )
    assert client.post(links[1], {"password": WORD}).status_code == 422
    assert sign_in(client, "owner2@trade.example", "a stranger's word 9").status_code == 200
    assert (
        sign_in(client, "owner2@trade.example", WORD).status_code == 200
    )  # neither lets anybody in


def test_a_password_of_spaces_alone_is_none(client, db):
    data = {"email": "blank@trade.example", "password1": " " * 12, "password2": " " * 12}
    page = client.post(reverse("accounts:sign_up"), data)
    assert page.status_code == 200 and "spaces alone" in page.content.decode()
