"""What web and browser tests share: accounts, jobs, static files without a manifest."""

import profiles
import pytest
from hypothesis import settings as hypothesis

from voltaje.core import faults
from voltaje.web.jobs.actions import create_job, plant
from voltaje.web.jobs.demo import COTTAGE, MILL

# one profile for all: no test fails because a machine is slow
hypothesis.register_profile("voltaje", deadline=None)
hypothesis.load_profile("voltaje")
# a fault of the program fails a test, it does not become a line on a page
faults.raising = True


def pytest_addoption(parser):
    """``--full``: every cell and example, not a sample of them. ``--machines``: browser tests on two
    web processes behind nginx, ``--machines pooled`` with PgBouncer as well."""
    parser.addoption("--full", action="store_true", help="every cell and example")
    parser.addoption("--machines", nargs="?", const="direct", choices=("direct", "pooled"))


def pytest_configure(config):
    """Says which profile it is before any test is read."""
    profiles.full = config.getoption("--full")


@pytest.fixture(scope="session")
def full():
    """Whether all is to be tried."""
    return profiles.full


@pytest.fixture(autouse=True)
def plain_static_files(settings):
    """Tests run from the sources: no collected files are needed."""
    settings.STORAGES = {
        **settings.STORAGES,
        "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
    }
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]


@pytest.fixture
def people(db, django_user_model):
    """Two accounts: (owner, stranger)."""
    return tuple(
        django_user_model.objects.create_user(f"{name}@trade.example", "a long enough word")
        for name in ("owner", "stranger")
    )


@pytest.fixture
def job(people):
    """The owner's job: a supply and the demo's cottage."""
    return create_job(people[0], "Mill", "nec-2020", "us", COTTAGE, part="Cottage")


@pytest.fixture
def mill(job, people):
    """The job with the demo's mill planted beside the cottage's supply."""
    plant(job, people[0], MILL)
    job.refresh_from_db()
    return job


@pytest.fixture
def cottage(job):
    """Its dwelling."""
    return job.parts.get(kind="dwelling")


@pytest.fixture
def owner(client, people):
    """A client signed in as the owner."""
    client.force_login(people[0])
    return client


@pytest.fixture
def stranger(people):
    """A client signed in as somebody else."""
    from django.test import Client

    client = Client()
    client.force_login(people[1])
    return client
