"""Hostile requests in numbers: every address, hostile forms and files, as an account of its own.
No fault, and none above its budget of processor time. ``./voltaje bench fuzz``."""

import gc
import os
import random
import time
from collections import Counter

import pytest
from django.core.management import call_command
from django.test import Client
from django.urls import NoReverseMatch, reverse
from web.hostile import files, ids, routes, words

from voltaje.web.accounts.models import User
from voltaje.web.jobs.models import Job

MANY = int(os.environ.get("VOLTAJE_FUZZ", "0"))
BUDGET = 1.0  # s of processor time for one request


@pytest.mark.skipif(not MANY, reason="run by ./voltaje bench fuzz")
@pytest.mark.django_db
def test_many_hostile_requests(settings):
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    settings.STORAGES = {
        **settings.STORAGES,
        "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
    }
    call_command("load_demo")
    gc.collect()
    gc.freeze()  # as the server does it
    gc.set_threshold(100_000, 20, 100)
    owner = User.objects.get(email="keeper@alder-mill.example")
    client = Client(raise_request_exception=False)
    chance = random.Random(MANY)
    found, seconds = Counter(), []
    known, uploads = routes(), files()
    for number in range(MANY):
        if number % 20 == 0:
            client.force_login(owner)
        job = Job.objects.of(owner).first() or Job.objects.create(owner=owner, name="Again")
        parts = list(job.parts.all()[:60])
        if not parts:
            call_command("load_demo")
            continue
        part = chance.choice(parts)
        name, converters = chance.choice(known)
        if name in ("accounts:leave", "jobs:delete"):
            continue
        values = ids(chance, job, part)
        posted = words(chance)
        if chance.random() < 0.15:
            upload = chance.choice(uploads)
            upload.seek(0)
            posted["file"] = upload
        try:
            url = reverse(name, kwargs={key: values[key] for key in converters})
        except NoReverseMatch:
            continue
        began = time.process_time()
        answer = client.post(url, posted) if chance.random() < 0.7 else client.get(url, posted)
        taken = time.process_time() - began
        seconds.append((taken, name))
        found[answer.status_code] += 1
        assert answer.status_code < 500, (name, url, posted)
    seconds.sort(reverse=True)
    print(f"\n{sum(found.values())} requests: {dict(found)}; slowest {seconds[:5]}")
    assert seconds[0][0] < BUDGET, seconds[:5]
