"""The one command, as a newcomer types it. It runs in its own folder, against what is set up."""

import json
import os
import socket
import stat
import subprocess
import sys
from pathlib import Path

import pytest

HOME = Path(__file__).parents[2]
COMMAND = str(HOME / "voltaje")


def run(*arguments, typed=None, cwd="/", **environment):
    return subprocess.run(
        [COMMAND, *arguments], capture_output=True, text=True, input=typed, cwd=cwd, timeout=300,
        env={**os.environ, **environment}, check=False,
    )  # fmt: skip


def in_script(line, **environment):
    """Runs one line with the script's functions and its strictness."""
    script = HOME.joinpath("voltaje").read_text().split("command=${1:-help}")[0]
    return subprocess.run(
        ["bash", "-c", f"{script}\n{line}", COMMAND], capture_output=True, text=True, check=False,
        env={**os.environ, **environment},
    )  # fmt: skip


@pytest.mark.parametrize("arguments", [(), ("help",), ("--help",)])
def test_help_names_every_command(arguments):
    found = run(*arguments)
    assert found.returncode == 0
    for word in ("demo", "serve", "test", "check", "sheet", "db start|stop|status|shell", "lock"):
        assert word in found.stdout


@pytest.mark.parametrize(
    ("arguments", "words"),
    [(("nonsense",), "no such command: nonsense"), (("db", "dance"), "db start, stop, status"),
     (("sheet", "castle", "-"), "no such kind")],
)  # fmt: skip
def test_a_wrong_call_says_so_and_fails(arguments, words):
    found = run(*arguments)
    assert found.returncode != 0 and words in found.stderr


@pytest.mark.parametrize("cwd", ["/", "/tmp", str(HOME)])
def test_a_sheet_is_worked_from_any_folder(cwd):
    entries = json.dumps({"area": 1500, "cooking": [{"nameplate": "12 kW"}]})
    found = run("sheet", "dwelling", "--code", "nec-2020", "-", typed=entries, cwd=cwd)
    assert found.returncode == 0, found.stderr
    assert json.loads(found.stdout)["results"]["cooking_demand"]["value"] == 8000


def test_the_database_is_ours_alone():
    assert run("db", "status").returncode == 0
    data = HOME / ".voltaje" / "pg"
    assert stat.S_IMODE((HOME / ".voltaje" / "pg.password").stat().st_mode) == 0o600
    rules = [
        line.split() for line in (data / "pg_hba.conf").read_text().splitlines()
        if line.strip() and not line.startswith("#")
    ]  # fmt: skip
    assert rules and all(rule[-1] == "scram-sha-256" for rule in rules)
    settings = (data / "postgresql.conf").read_text()
    assert "listen_addresses = '127.0.0.1'" in settings
    listed = run("db", "shell", "-Atc", "show listen_addresses; show unix_socket_directories")
    assert listed.stdout.split() == ["127.0.0.1"]


def test_starting_twice_is_no_matter():
    for _ in range(2):
        found = run("db", "start")
        assert found.returncode == 0 and "runs on 127.0.0.1" in found.stderr


def test_a_port_in_use_is_passed_over():
    with socket.create_server(("127.0.0.1", 0)) as busy:
        port = busy.getsockname()[1]
        found = in_script(f"free_port {port} VOLTAJE_PORT")
    assert int(found.stdout) > port and f"Port {port} is in use" in found.stderr


@pytest.mark.parametrize(
    ("environment", "words"),
    [
        ({"VOLTAJE_SECRET_KEY": ""}, "VOLTAJE_SECRET_KEY"),
        ({"VOLTAJE_SECRET_KEY": "short"}, "32 characters"),
        ({"VOLTAJE_DATABASE_URL": None}, "VOLTAJE_DATABASE_URL"),
    ],
)
def test_settings_that_are_missing_are_named(environment, words):
    full = {**os.environ, **environment, "PYTHONPATH": str(HOME / "src")}
    full = {name: value for name, value in full.items() if value is not None}
    found = subprocess.run(
        [sys.executable, "-c", "import voltaje.web.settings"],
        capture_output=True, text=True, env=full, check=False,
    )  # fmt: skip
    assert found.returncode != 0 and words in found.stderr


def test_production_is_strict_unless_told_otherwise():
    script = (
        "import voltaje.web.settings as s; print(s.DEBUG, s.DEMO, s.SESSION_COOKIE_SECURE,"
        " s.CSRF_COOKIE_SECURE, s.SECURE_SSL_REDIRECT, s.SECURE_HSTS_SECONDS > 0, s.ALLOWED_HOSTS)"
    )
    drop = ("VOLTAJE_INSECURE_LOOPBACK", "VOLTAJE_ALLOWED_HOSTS", "VOLTAJE_DEMO")
    full = {name: value for name, value in os.environ.items() if name not in drop}
    found = subprocess.run(
        [sys.executable, "-c", script], capture_output=True, text=True, check=True,
        env={**full, "PYTHONPATH": str(HOME / "src"), "VOLTAJE_SECRET_KEY": "x" * 40},
    )  # fmt: skip
    assert found.stdout.split() == ["False", "False", "True", "True", "True", "True", "[]"]


def test_every_pinned_package_has_its_hashes():
    for name in ("runtime", "dev"):
        text = (HOME / "requirements" / f"{name}.txt").read_text()
        pins = [line for line in text.splitlines() if line and line[0].isalpha()]
        assert pins and all("==" in line for line in pins)
        assert text.count("--hash=sha256:") >= len(pins)
        assert "http" not in text and "--find-links" not in text


@pytest.mark.parametrize(
    ("versions", "newest"),
    [([], ""), ([("15", False)], ""), ([("9.6", True), ("15", True), ("14", True)], "15"),
     ([("15", True), ("16", False)], "15")],
)  # fmt: skip
def test_the_newest_postgresql_server_is_found_or_none(tmp_path, versions, newest):
    """A machine without a server, or with a client's programs only, is no error."""
    for version, is_server in versions:
        programs = tmp_path / version / "bin"
        programs.mkdir(parents=True)
        if is_server:
            (programs / "initdb").touch(mode=0o755)
    found = in_script('bin=$(find_postgres); echo "found:$bin"', VOLTAJE_PG_HOME=str(tmp_path))
    wanted = str(tmp_path / newest / "bin") if newest else ""
    assert found.stdout.strip() == f"found:{wanted}", found.stderr


def test_a_step_that_fails_without_words_says_where():
    found = in_script("false")
    assert found.returncode != 0 and "stopped at line" in found.stderr
