"""What is worked can also be drawn, printed and told: every choice of every entry, limits and
random mixtures, on every system."""

import json
import math
from dataclasses import replace

import profiles
import pytest
from core.test_every_kind import BELOW, GOOD, good
from django.template.loader import render_to_string
from hypothesis import given, settings
from hypothesis import strategies as st
from profiles import examples

from voltaje.core import faults
from voltaje.core.cli.sheet import report
from voltaje.core.codes import edition, editions
from voltaje.core.electrical.systems import SYSTEMS, Demand, SupplyPoint
from voltaje.core.entries import fields
from voltaje.core.job.calculate import calculate_job
from voltaje.core.kinds import Context, PartInput, evaluate, kind, kinds
from voltaje.core.rules.context import supplied
from voltaje.core.rules.interface import code_of, usual_supplies
from voltaje.web.drawings import riser
from voltaje.web.jobs.models import Job, Part
from voltaje.web.jobs.worked import told, tree
from voltaje.web.parts.respond import result_context

QUANTITIES = ("0", "1", "7", "50", "13.8 kV", "480 V", "2 A", "90 A", "900 A", "75 kVA", "3 hp",
              "5 MVA", "120 ft", "9000 ft", "-40", "85", "1.0", "0.2", "5.75", "")  # fmt: skip
CODES = ("nec-2017", "nec-2020", "nec-2023")


drawn: set = set()


def is_new(worked):
    """Whether a report of that shape has not been drawn yet: its lines, findings and alternatives
    by their names, and how large its figures are. All are drawn with ``--full``."""
    shape = (
        worked.kind,
        worked.edition,
        tuple(line.name for section in worked.sections for line in section.lines),
        tuple(finding.name for finding in worked.findings),
        bool(worked.alternatives),
        len(worked.points),
        tuple(
            math.frexp(one.value)[1] // 7 if isinstance(one.value, int | float) else ""
            for one in worked.results.values()
        ),
    )
    new = profiles.full or shape not in drawn
    drawn.add(shape)
    return new


def shown(of, evaluated):
    """Everything a page does with a worked part; a fault is raised, not borne."""
    plain = json.dumps(report(evaluated), allow_nan=False)
    if evaluated.report is None:
        assert evaluated.problems and all(p.words for p in evaluated.problems)
        return
    assert plain
    for result in evaluated.report.results.values():
        assert isinstance(result.value, str) or math.isfinite(result.value)
    assert of.name == evaluated.report.kind
    if not is_new(evaluated.report):
        return
    context = result_context(evaluated.report)
    assert context["drawing"] is not None
    assert render_to_string("sheets/_result.html", context)
    assert render_to_string("sheets/_drawing.html", context)


def variants(name):
    """The good document with each entry at each of its choices, each quantity at odd ones."""
    of = kind(name)
    for spec in fields(of.entries):
        values = [value for value, _ in spec.choices] or list(QUANTITIES)
        if spec.kind == "check":
            values = ["yes", ""]
        if spec.kind == "rows":
            continue
        for value in values:
            yield {**GOOD[name], spec.name: value}


@pytest.mark.parametrize("name", [item.name for item in kinds()])
def test_every_choice_of_every_entry(name):
    for system in ("1ph-120/240", "3ph-480Y/277", "3ph-240/120"):
        context = Context(edition("nec-2020"), "us", SupplyPoint(SYSTEMS[system], fault=9000.0))
        for document in variants(name):
            shown(kind(name), evaluate(kind(name), document, context))


OTHERS = {book.family: book.id for book in editions()}  # the newest of each
UNDER_OTHERS = [(name, code) for name in (item.name for item in kinds())
                for family, code in OTHERS.items() if kind(name).covers(code_of(family))]  # fmt: skip


def choices_of(model, document):
    """The document with each choice of each entry, those of its rows' columns too."""
    for spec in fields(model):
        for value, _ in spec.choices:
            yield {**document, spec.name: value}
        rows = document.get(spec.name) if spec.kind == "rows" else None
        for column in spec.columns if rows else ():
            for value, _ in column.choices:
                yield {**document, spec.name: [{**rows[0], column.name: value}, *rows[1:]]}


@pytest.mark.parametrize(("name", "code"), UNDER_OTHERS)
def test_every_choice_under_every_code(name, code):
    """What every select offers is worked, told and drawn, or answered in words."""
    of, book = kind(name), edition(code)
    family = code_of(book.family)
    below = BELOW if of.holds_parts else Demand()
    system = usual_supplies(family)[0 if name == "dwelling" else 1]
    point = replace(supplied(system, book), fault=9000.0)
    context = Context(book, family.units, point, below)
    for document in choices_of(of.entries_in(family), good(name, book)):
        shown(of, evaluate(of, document, context))


def mixed(name):
    of = kind(name)
    options = {}
    for spec in fields(of.entries):
        if spec.kind == "rows":
            continue
        values = [value for value, _ in spec.choices] or list(QUANTITIES)
        options[spec.name] = st.sampled_from(["yes", ""] if spec.kind == "check" else values)
    return st.dictionaries(
        st.sampled_from(list(options)), st.none(), min_size=1, max_size=6
    ).flatmap(lambda chosen: st.fixed_dictionaries({n: options[n] for n in chosen}))


@pytest.mark.parametrize("name", [item.name for item in kinds()])
@given(st.data())
@settings(max_examples=examples(60))
def test_random_mixtures(name, data):
    document = {**GOOD[name], **data.draw(mixed(name))}
    system = data.draw(st.sampled_from(list(SYSTEMS)))
    code = data.draw(st.sampled_from(CODES))
    context = Context(edition(code), "us", SupplyPoint(SYSTEMS[system], fault=12_000.0))
    shown(kind(name), evaluate(kind(name), document, context))
    # and in a job, with its volts, in the tree and on the riser
    above = "s"
    parts = [PartInput("s", "supply", None, {"system": system, "fault": "12 kA"}, "S")]
    if name != "supply" and not kind(name).quick_only:
        parts.append(PartInput("p", name, above, document, "Part"))
    if kind(name).holds_parts and name != "supply":
        parts.append(PartInput("c", "circuit", "p", GOOD["circuit"], "Circuit"))
    found = calculate_job(parts, edition(code))
    job = Job(name="Job")
    ids = {}
    rows = []
    for index, part in enumerate(parts):
        row = Part(job=job, kind=part.kind, name=part.name, entries=dict(part.document))
        row.parent_id = ids.get(part.parent)
        row.position = index
        ids[part.id] = row.pk
        rows.append(row)
    job._loaded = (job.revision, rows)
    by_id = {str(ids[key]): value for key, value in found.items()}
    nodes = tree(job, told(by_id))
    drawing = riser.draw(nodes, riser.Shown("/jobs/x/", by_id, True))
    assert render_to_string("sheets/drawings/riser.svg", {"job": job, "riser": drawing})
    for part in parts:
        shown(kind(part.kind), found[part.id])


def test_a_fault_of_the_program_stays_the_parts_own(monkeypatch, caplog):
    monkeypatch.setattr(faults, "raising", False)
    of = kind("circuit")

    def breaks(entries, context):
        raise ZeroDivisionError("no divisor")

    found = evaluate(replace(of, calculate=breaks), GOOD["circuit"], Context())
    number = found.problems[0].words.split("number ")[1][:8]
    assert found.report is None and number.startswith("F-")
    assert number in caplog.text
