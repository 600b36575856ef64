"""What a set of documents costs, in processor time: the mill's 54 items and a job of 561, all
sections; 500 items in under 60 s are wanted."""

from __future__ import annotations

import time

import pytest
from benchmarks.test_acts import JOBS

from voltaje.web.documents import sections, typesetting
from voltaje.web.documents.long_work import blocks_of
from voltaje.web.documents.presets import SECTIONS, known
from voltaje.web.jobs.actions import create_job, plant
from voltaje.web.jobs.worked import work_job

WORDS = typesetting.SetWords("Set", "who", "foot", "page {n} of {all}", "tile {tile}", "en")


@pytest.mark.django_db
@pytest.mark.parametrize("name", JOBS)
def test_a_whole_set(benchmark, name, django_user_model):
    owner = django_user_model.objects.create_user("who@trade.example", "a long enough word")
    job = create_job(owner, "Works", "nec-2020", "us")
    plant(job, owner, JOBS[name])
    job = type(job).objects.get(pk=job.pk)
    began = time.process_time()
    found = work_job(job)
    worked = time.process_time()
    blocks = blocks_of(sections.Worked(job, found, "who"), known(SECTIONS))
    written = time.process_time()
    content, pages = benchmark.pedantic(typesetting.to_pdf, (blocks, "letter", WORDS), rounds=1)
    ended = time.process_time()
    print(
        f"{name}: worked {worked - began:.2f} s, written {written - worked:.2f} s,"
        f" set {ended - written:.2f} s, {pages} pages, {len(content) / 1e6:.1f} MB"
    )
