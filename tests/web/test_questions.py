"""Questions as they are typed, answered under the question field: each answer against what is
published, and every answer of a sheet against the sheet itself.

The figures of NEC tables stand as published (NFPA 70-2020: 240.6(A), 250.66, 250.102(C)(1),
250.122, 310.16, 430.248, 430.250, 220.55, Annex C, chapter 9), those of BS 7671:2018 tables 4D5 and
4D1A likewise; all carried over from memory. Currents, drops and units are worked here by their
formulas."""

from __future__ import annotations

import json
from math import sqrt

import pytest
from django.urls import reverse

from voltaje.core.cli.sheet import report
from voltaje.core.codes import edition
from voltaje.core.kinds import evaluate, kind
from voltaje.web.history.patch import read_form
from voltaje.web.parts.answers import ask
from voltaje.web.parts.quick_views import quick_context, quick_model, quick_settings


def first(question: str):
    found = ask(question)
    assert found.answers, question
    assert found.answers[0].figures, (question, found.answers[0].needs)
    assert not found.answers[0].unread and not found.missed, (question, found.missed)
    return found.answers[0]


def figure_of(question: str, name: str) -> float | str:
    return first(question).values[name]["value"]


def table_of(question: str) -> list:
    answer = first(question)
    assert not answer.kind, (question, answer.title)
    return answer.values["values"]


# horsepower, and full-load amperes at 208, 230, 460 and 575 V
THREE_PHASE = {
    "1/2": (2.4, 2.2, 1.1, 0.9), "1": (4.6, 4.2, 2.1, 1.7), "2": (7.5, 6.8, 3.4, 2.7),
    "5": (16.7, 15.2, 7.6, 6.1), "7-1/2": (24.2, 22, 11, 9), "10": (30.8, 28, 14, 11),
    "15": (46.2, 42, 21, 17), "20": (59.4, 54, 27, 22), "25": (74.8, 68, 34, 27),
    "30": (88, 80, 40, 32), "50": (143, 130, 65, 52), "100": (273, 248, 124, 99),
}  # fmt: skip
VOLTS = (208, 230, 460, 575)


@pytest.mark.parametrize(("hp", "amperes"), THREE_PHASE.items())
def test_three_phase_motors_draw_what_the_table_says(hp, amperes):
    for volts, expected in zip(VOLTS, amperes, strict=True):
        question = f"{hp} hp {volts} V three-phase"
        assert figure_of(question, "full_load_current") == pytest.approx(expected), question
    if hp != "1/2":
        assert table_of(f"430.250 {hp} hp 460") == [amperes[2]]


@pytest.mark.parametrize(
    ("question", "amperes"),
    [("1/2 hp 115 V single phase motor", 9.8), ("3/4 hp 115 V single phase motor", 13.8),
     ("1 hp 230 V single phase motor", 8.0), ("2 hp 230 V single phase", 12.0),
     ("3 hp 230 V single-phase motor", 17.0), ("5 hp 230 V single phase motor", 28.0),
     ("7-1/2 hp 230 V single phase motor", 40.0), ("10 hp 230 V single phase motor", 50.0)],
)  # fmt: skip
def test_single_phase_motors_draw_what_the_table_says(question, amperes):
    assert figure_of(question, "full_load_current") == pytest.approx(amperes)


# size: copper 60, 75, 90 and aluminum 60, 75, 90 °C
AMPACITY = {
    "12": (20, 25, 30, 15, 20, 25), "10": (30, 35, 40, 25, 30, 35), "8": (40, 50, 55, 35, 40, 45),
    "6": (55, 65, 75, 40, 50, 55), "4": (70, 85, 95, 55, 65, 75), "3": (85, 100, 115, 65, 75, 85),
    "2": (95, 115, 130, 75, 90, 100), "1": (110, 130, 145, 85, 100, 115),
    "1/0": (125, 150, 170, 100, 120, 135), "2/0": (145, 175, 195, 115, 135, 150),
    "3/0": (165, 200, 225, 130, 155, 175), "4/0": (195, 230, 260, 150, 180, 205),
    "250": (215, 255, 290, 170, 205, 230), "500": (320, 380, 430, 260, 310, 350),
}  # fmt: skip


@pytest.mark.parametrize(("size", "amperes"), AMPACITY.items())
def test_a_size_carries_what_the_table_says(size, amperes):
    unit = "kcmil" if size in ("250", "500") else "AWG"
    assert table_of(f"ampacity of {size} {unit} copper") == list(amperes[:3])
    assert table_of(f"ampacity {size} {unit} aluminum") == list(amperes[3:])
    assert table_of(f"310.16 {size} {unit} copper 75") == [amperes[1]]
    assert table_of(f"{size} {unit} cu 75") == [amperes[1]]
    assert table_of(f"{size} {unit} aluminum 90") == [amperes[5]]


@pytest.mark.parametrize(
    ("device", "copper", "aluminum"),
    [(15, "14", "12"), (20, "12", "10"), (60, "10", "8"), (100, "8", "6"), (150, "6", "4"),
     (200, "6", "4"), (225, "4", "2"), (300, "4", "2"), (400, "3", "1"), (600, "1", "2/0"),
     (800, "1/0", "3/0"), (1000, "2/0", "4/0"), (1200, "3/0", "250")],
)  # fmt: skip
def test_equipment_grounding_conductors_by_their_device(device, copper, aluminum):
    metal = "kcmil" if aluminum == "250" else "AWG"
    expected = [f"{copper} AWG Cu", f"{aluminum} {metal} Al"]
    assert table_of(f"ground wire for {device} A breaker") == expected
    assert table_of(f"egc {device} amp aluminum") == expected[1:]


@pytest.mark.parametrize(
    ("size", "electrode", "jumper"),
    [("2 AWG", "8", "8"), ("1/0 AWG", "6", "6"), ("3/0 AWG", "4", "4"), ("4/0 AWG", "2", "2"),
     ("350 kcmil", "2", "2"), ("500 kcmil", "1/0", "1/0"), ("600 kcmil", "1/0", "1/0"),
     ("750 kcmil", "2/0", "2/0")],
)  # fmt: skip
def test_grounding_electrode_conductors_and_jumpers_by_size(size, electrode, jumper):
    assert table_of(f"grounding electrode conductor for {size} copper") == [f"{electrode} AWG Cu"]
    assert table_of(f"main bonding jumper for {size} copper") == [f"{jumper} AWG Cu"]


def test_several_sets_are_added_and_an_electrode_caps():
    assert table_of("gec 2 sets of 500 kcmil copper") == ["2/0 AWG Cu"]
    # 3 × 600 kcmil = 1,800 kcmil, 12.5 % of it is 225 kcmil: 250 kcmil
    assert table_of("supply side bonding jumper 3 sets 600 kcmil copper") == ["250 kcmil Cu"]
    assert table_of("ground rod wire for 500 kcmil copper") == ["6 AWG Cu"]
    assert table_of("ufer ground for 500 kcmil copper") == ["4 AWG Cu"]


@pytest.mark.parametrize(
    ("amperes", "device"),
    [(16, 20), (21, 25), (33, 35), (41, 45), (47, 50), (62, 70), (81, 90), (111, 125), (130, 150),
     (176, 200), (201, 225), (226, 250), (301, 350), (401, 450), (601, 700), (801, 1000)],
)  # fmt: skip
def test_the_next_standard_device(amperes, device):
    assert table_of(f"next standard breaker above {amperes} A") == [device]


@pytest.mark.parametrize(
    ("question", "count"),
    # Annex C, tables C.1 (EMT) and C.10 (PVC 40), THHN
    [("how many 12 awg in 1/2 emt", 9), ("how many 12 awg in 3/4 emt", 16),
     ("how many 12 awg in 1 emt", 26), ("how many 10 awg in 1/2 emt", 5),
     ("how many 10 awg in 3/4 emt", 10), ("how many 10 awg in 1 emt", 16),
     ("how many 8 awg in 3/4 emt", 6), ("how many 8 awg in 1 emt", 9),
     ("how many 6 awg in 1 emt", 7), ("how many 14 awg in 1/2 emt", 12),
     ("how many 14 awg in 3/4 emt", 22), ("how many 3/0 awg in 2 emt", 5)],
)  # fmt: skip
def test_how_many_conductors_a_raceway_takes(question, count):
    assert table_of(question) == [count]


def test_receptacles_on_a_circuit():
    assert table_of("how many outlets on a 20 amp circuit") == [13]  # 220.14(I): 180 VA each
    assert table_of("how many receptacles on a 15 A breaker") == [10]


@pytest.mark.parametrize(
    ("question", "amperes"),
    [(f"{kva} kVA to amps {volts} V three phase", kva * 1000 / sqrt(3) / volts)
     for kva, volts in ((75, 480), (45, 208), (112.5, 208), (30, 480), (150, 480), (225, 208), (10, 400), (500, 600))]
    + [(f"{kva} kVA to amps {volts} V single phase", kva * 1000 / volts)
       for kva, volts in ((25, 240), (10, 120), (50, 480), (37.5, 240))]
    + [("10 kW to amps 240 V single phase", 10_000 / 240), ("1500 W to amps 120 V", 12.5),
       ("7.2 kW to amps at 240 V single phase", 30.0)],
)  # fmt: skip
def test_power_to_amperes(question, amperes):
    assert figure_of(question, "amperes") == pytest.approx(amperes, rel=1e-6)


@pytest.mark.parametrize(
    ("question", "value"),
    [("50 hp to kW", 37.3), ("10 kW to hp", 13.4048), ("100 ft to m", 30.48), ("25 m in ft", 82.021),
     ("1480 sq ft to m²", 137.496), ("140 m² to sq ft", 1506.95), ("3/4 in to mm", 19.05),
     ("2-1/2 in to mm", 63.5), ("12 awg in mm²", 3.309), ("4/0 awg in mm²", 107.2),
     ("500 kcmil to mm²", 253.35), ("75 f to c", 23.889), ("40 c to f", 104.0), ("7-1/2 hp to W", 5595.0),
     ("10 lb to kg", 4.5359), ("746 W to hp", 1.0)],
)  # fmt: skip
def test_one_unit_in_another(question, value):
    assert table_of(question)[0] == pytest.approx(value, rel=1e-3)


def test_a_metric_area_lies_between_two_gauges():
    assert table_of("6 mm² to awg") == ["8", "10"]  # 8.37 and 5.26 mm²


@pytest.mark.parametrize(
    ("size", "clipped"),
    [("1", 16), ("1.5", 20), ("2.5", 27), ("4", 37), ("6", 47), ("10", 64), ("16", 85)],
)
def test_cells_of_metric_tables_by_their_address(size, clipped):
    """Table 4D5: flat cable with protective conductor, clipped direct (method C)."""
    answer = first(f"4D5 {size} mm² C")
    assert answer.values["values"] == [clipped] and "BS 7671" in answer.code


@pytest.mark.parametrize(
    ("question", "value"),
    [("310.15(C)(1) 9", 70), ("310.15(C)(1) 4", 80), ("310.15(B)(1) 45 75", 0.82), ("250.122 100 copper", "8"),
     ("430.248 1 hp 230", 8.0), ("table 4B1 40 70", 0.87), ("nec 2017 310.15(B)(16) 4 awg copper 75", 85),
     ("canada table 2 6 awg copper 75", 65)],
)  # fmt: skip
def test_cells_by_the_number_of_their_table(question, value):
    found = table_of(question)
    assert found == [value] or (isinstance(value, str) and [f"{x:g}" for x in found] == [value])


# drop by the conductor's resistance (chapter 9, table 8, coated or not: uncoated copper, 75 °C), Ω/kft
OHMS = {"12": 1.98, "10": 1.24, "8": 0.778, "6": 0.491}


@pytest.mark.parametrize("size", OHMS)
@pytest.mark.parametrize(
    ("amperes", "volts", "feet"), [(10, 120, 150), (15, 240, 200), (20, 240, 90)]
)
def test_the_drop_of_a_load_along_a_conductor(size, amperes, volts, feet):
    question = f"{amperes} A {volts} V {feet} ft {size} AWG"
    expected = 100 * 2 * amperes * feet / 1000 * OHMS[size] / volts
    answer = first(question)
    assert answer.kind == "cable_run"
    assert answer.values["drop_by_table"]["value"] == pytest.approx(expected, rel=0.02), question


@pytest.mark.parametrize(
    ("question", "amperes"),
    # Table 220.55, column C: 8 kW to 12 kW, 5 % more for each kW above
    [("12 kw range 240 V", 8000 / 240), ("14 kW range 240 V", 8800 / 240), ("16 kW range", 9600 / 240)],
)  # fmt: skip
def test_a_range_by_its_demand(question, amperes):
    assert figure_of(question, "amperes") == pytest.approx(amperes)


@pytest.mark.parametrize(
    ("question", "kinds", "figures"),
    [
        ("30 A circuit 80 ft", "circuit", {"device": 30, "conductor": "10 AWG Cu"}),
        ("water heater 4.5 kW 240 V", "circuit", {"device": 25, "conductor": "10 AWG Cu"}),
        ("lights 1600 W 120 V 90 ft", "circuit", {"device": 20, "conductor": "12 AWG Cu"}),
        ("air conditioner mca 23 max 40", "circuit", {"device": 40, "conductor": "10 AWG Cu"}),
        ("transformer 75 kVA 480 V", "transformer", {"primary_device": 125, "kva": 75}),
        ("208 to 230, 12 A", "buck_boost", {"load_amperes": 12}),
        ("buck boost 208 to 240 10 kVA", "buck_boost", {"output": 235.7333}),
        ("300 A 480 V feeder 200 ft aluminum", "feeder", {"device": 300, "conductor": "500 kcmil Al"}),
        ("house 2000 sq ft range 12 kW dryer 5 kW", "dwelling", {"governing_amperes": 18_625 / 240}),
        ("9.5 kW shower 14 m", "circuit", {"device": 50, "conductor": "10 mm² Cu"}),
        ("uk motor 11 kW 400 V 30 m", "machine", {}),
        ("11 kW motor 400 V", "machine", {}),
        ("canada 20 hp 575 V", "motor", {"full_load_current": 22}),
        ("australia 10 kW 400 V 40 m", "circuit", {}),
        ("5 kW geyser south africa 12 m", "circuit", {}),
        ("7.2 kW EV charger 25 m 6 mm²", "circuit", {"device": 32, "conductor": "6 mm² Cu"}),
        ("20 A 230 V 25 m 2.5 mm²", "cable_run", {"conductor": "2.5 mm²"}),
        ("hot tub 50 A", "circuit", {"device": 50}),
        ("6 kW solar inverter", "inverter", {}),
    ],
)  # fmt: skip
def test_what_opens_a_sheet_answers_as_it(question, kinds, figures):
    answer = first(question)
    assert answer.kind == kinds, answer.title
    for name, value in figures.items():
        found = (
            answer.values.get(name)
            or answer.values["amperes_exact" if name == "governing_amperes" else name]
        )
        assert found["value"] == (
            value if isinstance(value, str) else pytest.approx(value, rel=1e-4)
        )


SHEETS = [
    "20 hp 460 V three-phase", "7.5 hp 230 V single phase motor 120 ft", "12 kw range 240 V 45 ft",
    "water heater 4.5 kW 240 V", "kiln 9.6 kW 208 V 60 ft", "75 kVA to amps 480 V", "transformer 45 kVA 480 to 208",
    "208 to 240 V, 9 kVA", "10 A 120 V 150 ft 12 AWG", "uk shower 9.5 kW 14 m", "canada range 12 kW 10 m",
    "250 A feeder 480 V 150 ft", "house 1500 sq ft 12 kW range 5 kW dryer 4.5 kW water heater",
    "11 kW motor 400 V 25 m", "australia 32 A 20 m", "clothes dryer 5 kW", "wall oven 4 kW", "mini split mca 15 max 25",
    "vehicle charger 48 A 30 ft", "space heater 2 kW 240 V",
]  # fmt: skip


@pytest.mark.parametrize("question", SHEETS)
def test_every_figure_is_that_of_the_sheet_that_enter_opens(question, client):
    """The answer, the page that its address opens and the headless command say the same."""
    answer = first(question)
    chosen = quick_settings(answer.kind, dict(answer.entries))
    of = kind(answer.kind)
    document = read_form(dict(answer.entries), quick_model(of, chosen), of.former_entries)
    worked = report(evaluate(of, document, quick_context(chosen)))
    assert worked["ok"]
    assert {name: one["value"] for name, one in worked["results"].items()} == {
        name: one["value"] for name, one in answer.values.items()
    }
    page = client.get(answer.url)
    assert page.status_code == 200
    text = page.content.decode()
    for name, value in answer.entries:
        if name not in ("code", "system") and "." not in name:
            assert f'name="{name}"' in text, name
        if name not in ("code", "system"):
            assert value in text or name.endswith((".name", ".what")), (name, value)


def test_a_list_of_figures_becomes_rows():
    found = ask("50, 40 and 30 hp 460 V")
    currents = [one.values["full_load_current"]["value"] for one in found.answers]
    assert currents == [65, 52, 40] and not found.missed
    assert [one.title for one in found.answers] == ["Motor, 50 hp", "Motor, 40 hp", "Motor, 30 hp"]


@pytest.mark.parametrize("question", ["asdf qwerty", "the moon landing", "zzz", "????", "", "   "])
def test_nonsense_gets_no_answer(question):
    assert ask(question).answers == ()


@pytest.mark.parametrize(
    ("question", "missed"),
    [("20 hp 460 V zylophone", ("zylophone",)), ("30 A circuit 80 ft blurgh", ("blurgh",)),
     ("310.16 2 AWG 75 qwx", ("qwx",)), ("12 kW range 17 qwx", ("17", "qwx"))],
)  # fmt: skip
def test_what_is_not_understood_is_marked(question, missed):
    assert ask(question).missed == missed


@pytest.mark.parametrize(
    ("question", "code"),
    [("uk 32 A 20 m", "bs7671-2018"), ("32 A 20 m 6 mm²", "bs7671-2018"), ("canada 30 A 20 m", "cec-2021"),
     ("nec 2023 30 A", "nec-2023"), ("nec 2017 30 A", "nec-2017"), ("australia 32 A", "asnzs3000-2018"),
     ("south africa 32 A", "sans10142-2020"), ("30 A circuit", "nec-2020"), ("10 A 400 V three phase", "bs7671-2018"),
     ("cooker 9 kW", "bs7671-2018")],
)  # fmt: skip
def test_country_units_and_words_of_the_trade_set_the_code(question, code):
    answer = first(question)
    assert answer.code == edition(code).title
    assert ("no code named" in answer.assumed) == (
        not any(w in question for w in ("uk", "canada", "nec", "australia", "africa"))
    )


def test_the_field_the_address_and_the_command_answer_alike(owner, capsys):
    client = owner
    page = client.get(reverse("sheets:find"), {"q": "20 hp 460 V"}, headers={"HX-Request": "true"})
    assert "Full-load current 27 A" in page.content.decode()
    opened = client.get(reverse("sheets:find"), {"q": "20 hp 460 V", "open": "1"})
    assert opened.status_code == 302 and "horsepower=20" in opened["Location"]
    told = client.get("/api/v1/ask/", {"q": "20 hp 460 V"}).json()
    assert told["answers"][0]["values"]["full_load_current"]["value"] == 27
    assert client.get("/api/v1/ask/").status_code == 400
    assert client.get("/api/v1/ask/", {"q": "x" * 300}).status_code == 400
    from django.core.management import call_command

    call_command("ask", "20 hp 460 V", "--json")
    assert json.loads(capsys.readouterr().out)["answers"] == told["answers"]
    with pytest.raises(SystemExit):
        call_command("ask", "asdf qwerty")
    assert "No answer" in capsys.readouterr().out


@pytest.mark.parametrize(
    "text", ["<b>20 hp</b>", "20 hp" * 60, "\u202e20 hp", "1" * 190, "((((", "% % %", "1/0 1/0"]
)
def test_whatever_is_typed_is_answered_without_a_fault(text, client):
    page = client.get(reverse("sheets:find"), {"q": text}, headers={"HX-Request": "true"})
    assert page.status_code == 200 and "<b>20 hp</b>" not in page.content.decode()
