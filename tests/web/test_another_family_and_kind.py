"""A family of codes and a kind of part that stand in this file alone: the face that each needs is
all it takes for them to be worked, read, described and shown."""

from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

import pytest
from django.core.exceptions import ImproperlyConfigured
from django.urls import reverse

from voltaje.core import kinds as parts
from voltaje.core.cli import sheet as headless
from voltaje.core.codes import Edition, NotCoveredError, edition
from voltaje.core.electrical.systems import SYSTEMS, Demand, Piece, SupplyPoint
from voltaje.core.entries import Entries, PowerFactor, Reads, entry, schema
from voltaje.core.job.calculate import calculate_job
from voltaje.core.kinds import Context, Kind, Outcome, PartInput, evaluate, kind
from voltaje.core.quantities import CURRENT
from voltaje.core.report import (
    Alternative,
    Findings,
    PulledConductor,
    Report,
    Result,
    Worksheet,
    say,
)
from voltaje.core.rules import interface as codes
from voltaje.core.rules.interface import CircuitRequest, SizingReport, Wiring
from voltaje.web import kinds as shown
from voltaje.web.drawings.canvas import Canvas
from voltaje.web.jobs.actions import add_part, create_job
from voltaje.web.kinds import presentation
from voltaje.web.kinds.apps import KindsConfig
from voltaje.web.kinds.presentation import Presentation, task
from voltaje.web.parts.finder import find_tasks, tasks

# a family whose conductors are ropes ---------------------------------------------------------------


class Ropes(Wiring):
    """How ropes are run."""

    rope: Literal["thin", "thick"] = entry(
        "thin", "Rope", choices={"thin": "a thin rope", "thick": "a thick rope"}, group="run"
    )


@dataclass(frozen=True)
class Rope:
    device: float
    rope: str
    lost_percent: ClassVar[float | None] = None
    total_limit: ClassVar[None] = None


class RopeCode:
    """Every load gets a device of its own amperes."""

    family, title, wiring, cable = "ropes", "Code of ropes", Ropes, Ropes
    design_label = say("Pull")
    systems, units = ("1ph-120/240",), "us"

    def outlet(self, edition):
        raise NotCoveredError(edition.title, "outlets")

    def least_sign(self, edition):
        return None

    def ask(self, wants, edition):
        return CircuitRequest(wants.amperes, wants.amperes)

    def report_design(self, wants, asked, edition, worksheet):
        pass

    def size(self, need, feed, entries, context):
        return Rope(need, entries.rope)

    def report_sizing(self, sized, entries, context):
        worksheet = Worksheet()
        worksheet.result("device", say("Knot"), sized.device, "A")
        results = {"device": Result(sized.device, "A", say("Knot")),
                   "conductor": Result(f"{sized.rope} rope", "", say("Rope"))}  # fmt: skip
        pair = Alternative(sized.device, f"{sized.rope} rope", sized.rope, 1, "hemp", 99.0, True, True,
                    say("It holds"), (), 1.0)  # fmt: skip
        return SizingReport((pair,), (worksheet.section("device", say("Knot")),), Findings(), results, (),
                    f"{sized.rope} rope", (PulledConductor("L1", "brown", sized.rope),))  # fmt: skip

    def calculated_load(self, pieces, edition, occupancies=()):
        return None

    def report_demand(self, found, pieces, edition):
        return Worksheet()


@pytest.fixture
def ropes(tmp_path, monkeypatch):
    folder = tmp_path / "ropes-1"
    folder.mkdir()
    (folder / "edition.csv").write_text("title,year,parent,family\nRopes 1,1999,,ropes\n")
    (folder / "rules.csv").write_text("topic,number,table,says,checked\n")
    codes.register(RopeCode())
    try:
        yield Edition(folder)
    finally:
        codes.forget("ropes")


def test_a_family_of_its_own_works_the_same_circuit(ropes):
    context = Context(ropes, "us", SupplyPoint(SYSTEMS["1ph-230"]))
    document = {"load": "2.3 kW", "rope": "thick", "method": "EMT", "area": "6"}
    found = evaluate(kind("circuit"), document, context)
    assert found.problems == () and found.report.headline == "thick rope"
    assert (
        found.report.value("device") == 10
        and str(found.report.results["design_amperes"].label) == "Pull"
    )
    wrong = evaluate(kind("circuit"), {**document, "rope": "silk"}, context)
    assert [p.path for p in wrong.problems] == ["rope"]
    # the others read the same document and know the rope for another family's
    assert evaluate(kind("circuit"), document, Context(edition("nec-2020"))).report is not None
    assert "rope" in schema(kind("circuit").entries_in(codes.code_of("ropes")))["properties"]
    other = evaluate(kind("motor"), {"horsepower": "5"}, context)
    assert "Motor circuit” is not covered by Ropes 1" in other.problems[0].words


def test_a_name_is_taken_once(ropes):
    with pytest.raises(ValueError, match="ropes already"):
        codes.register(RopeCode())


# a kind that is a lamp -----------------------------------------------------------------------------


class LampEntries(Entries):
    amperes: Annotated[float, Reads(CURRENT, 0.1, 100.0)] = entry(1.0, "Lamp amperes", group="lamp")
    power_factor: PowerFactor = entry(1.0, "Power factor", group="lamp")


@dataclass(frozen=True, slots=True, kw_only=True)
class LampOutcome(Outcome):
    va: float


def lamp_work(entries, context):
    volts = context.supply.system.to_neutral
    return LampOutcome(amperes=entries.amperes, wires=("L1", "N"), va=entries.amperes * volts)


def lamp_tell(outcome, entries, context):
    worksheet = Worksheet()
    worksheet.result("lamp", say("Lamp"), outcome.va, "VA", entries="amperes")
    results = {"amperes": Result(outcome.amperes, "A", say("Lamp amperes"))}
    return Report("lamp", context.edition.id, (worksheet.section("lamp", say("Lamp")),), results,
                  answer=("amperes",), headline=f"{outcome.va:g} VA")  # fmt: skip


def lamp_up(entries, outcome, context):
    return Demand.of(
        [Piece("", "lighting", outcome.va, outcome.va, outcome.amperes, "line-neutral")]
    )


LAMP = Kind("lamp", "Lamp", "One lamp", LampEntries, lamp_work, lamp_tell, lamp_up,
            lambda entries, above: above, {"lamp": "The lamp"}, order=200, families=None)  # fmt: skip


def lamp_drawing(worked, below=()):
    canvas = Canvas(say("A lamp"))
    canvas.text(0, 10, "THE LAMP", "h")
    canvas.height = 20
    return canvas


@pytest.fixture
def lamp():
    parts.register(LAMP)
    yield LAMP
    parts.forget("lamp")
    shown.forget("lamp")
    tasks.cache_clear()


@pytest.fixture
def whole_lamp(lamp):
    shown.register(
        "lamp", Presentation(lamp_drawing, quick=True, tasks=(task(99, "Lantern", "lantern"),))
    )
    tasks.cache_clear()
    return lamp


def test_a_kind_without_its_other_half_stops_the_start(lamp):
    with pytest.raises(ImproperlyConfigured, match="“lamp” has no presentation"):
        KindsConfig("voltaje.web.kinds", shown).ready()


def test_a_kind_is_worked_in_a_job_beside_the_others(lamp):
    given = [PartInput("s", "supply", None, {"system": "1ph-120/240"}, "S"),
             PartInput("b", "board", "s", {}, "B"),
             PartInput("l", "lamp", "b", {"amperes": "2"}, "Lantern")]  # fmt: skip
    found = calculate_job(given, edition("nec-2020"))
    assert found["l"].report.headline == "240 VA" and found["b"].outcome.line_of == {"l": "L1"}
    assert found["s"].report.value("calculated_load") == 240


def test_a_kind_is_known_to_the_command(lamp, capsys):
    assert (
        headless.main(["--list"]) == 0
        and "lamp                 Lamp: One lamp" in capsys.readouterr().out
    )
    assert headless.main(["lamp", "--schema"]) == 0 and "Lamp amperes" in capsys.readouterr().out
    with pytest.raises(ValueError, match="lamp already"):
        parts.register(LAMP)


def test_a_kind_is_known_to_the_pages(whole_lamp, owner, people):
    """Its quick sheet, the finder, the tree, the sheet of a part, the riser, the program's address."""
    assert presentation("lamp").draw is lamp_drawing
    page = owner.get(reverse("sheets:quick", args=["lamp"])).content.decode()
    assert "Lamp amperes" in page and "One lamp" in page
    assert [found.kind for found in find_tasks("lantern")] == ["lamp"]
    answer = owner.post(
        reverse("sheets:quick_work", args=["lamp"]), {"amperes": "3"}
    ).content.decode()
    assert "THE LAMP" in answer and "360" in answer
    job = create_job(people[0], "Yard", "nec-2020", "us", system="1ph-120/240", begins="supply")
    supply = job.parts.get(kind="supply")
    assert 'value="lamp"' in owner.get(reverse("jobs:job", args=[job.pk])).content.decode()
    part = add_part(job, people[0], "lamp", str(supply.pk), "Lantern", {"amperes": "2"})
    sheet = owner.get(reverse("jobs:part", args=[job.pk, part.pk])).content.decode()
    assert "THE LAMP" in sheet and "Lamp amperes" in sheet
    riser = owner.get(reverse("jobs:riser", args=[job.pk])).content.decode()
    assert "Lantern" in riser and "240 VA" in riser


@pytest.mark.parametrize(
    ("asked", "system", "units"),
    [
        ("code=bs7671-2018", "1ph-230", "metric"),
        ("code=bs7671-2018&system=1ph-120/240&units=us", "1ph-230", "us"),
        ("code=bs7671-2018&system=3ph-400Y/230", "3ph-400Y/230", "metric"),
        ("code=nec-2020&system=1ph-230", "1ph-120/240", "us"),
        ("", "1ph-120/240", "us"),
    ],
)
def test_a_quick_sheet_offers_the_supplies_of_its_family(db, client, asked, system, units):
    chosen = client.get(f"/quick/circuit/?{asked}").context["chosen"]
    assert (chosen["system"], chosen["units"]) == (system, units)


def test_ohms_and_metal_are_shown_as_the_sheet_is_asked(db, client):
    entries = {"load": "7.2 kW", "length": "20 m", "external_loop": "0.35"}
    asked = {"code": "bs7671-2018", "system": "1ph-230", "units": "metric", **entries}
    shown = client.post("/quick/circuit/work/", asked).content.decode()
    assert ">1.366 <" in shown and ">0.571 <" in shown  # 230 × 0.95 ÷ (5 × 32); 0.35 + 0.221
    assert "kg" in shown.lower() and "lb/" not in shown.lower()
