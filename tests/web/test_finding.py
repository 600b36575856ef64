"""Finding a quick sheet by the task, and a table by what stands in it."""

import pytest
from django.urls import reverse

from voltaje.core.codes import editions
from voltaje.core.kinds import kind, kinds
from voltaje.web.kinds import presentations
from voltaje.web.parts.finder import find_tasks, tasks

QUICK = [name for name, shown in presentations().items() if shown.quick]


@pytest.mark.parametrize(
    ("asked", "title", "entries"),
    [
        ("wire for a range", "Range", {"layout": "range"}),
        ("what size wire for a 12 kw range", "Range, 12 kW", {"nameplate": "12 kW"}),
        ("breaker for 10 hp", "Motor, 10 hp", {"horsepower": "10 hp"}),
        ("7-1/2 hp motor", "Motor, 7-1/2 hp", {"horsepower": "7-1/2 hp"}),
        ("cooktop and double oven on one circuit", "Cooktop and wall ovens together",
         {"layout": "together"}),
        ("hot water tank", "Water heater", {"use": "water heater"}),
        ("how many outlets on a breaker", "Receptacles, outlets", {"use": "receptacles"}),
        ("kiln 9.6 kW", "Kiln, 9.6 kW", {"load": "9.6 kW"}),
        ("voltage drop of a long run", "Voltage drop along a run", {}),
        ("open neutral", "Multiwire circuit, shared neutral", {}),
        ("multiwire branch", "Multiwire circuit, shared neutral", {}),
        ("car charger", "Vehicle charger", {"use": "vehicle charging"}),
        ("subpanel wire size", "Feeder", {}), ("house load calculation", "Dwelling service", {}),
        ("heat pump mca", "Air conditioner", {"use": "air conditioning"}),
        ("75 kva transformer", "Transformer, 75 kVA", {"kva": "75 kVA"}),
        ("baseboard", "Space heater", {"use": "space heating"}),
        ("3 phase motor 10 hp 480 v 150 ft", "Motor, 10 hp",
         {"system": "3ph-480Y/277", "connection": "three-phase", "length": "150 ft"}),
        ("single phase motor 3 hp 240v", "Single-phase motor, 3 hp", {"system": "1ph-120/240"}),
        ("wire 30 a 80 ft", "Any circuit, 30 A", {"load": "30 A", "length": "80 ft"}),
        ("voltage drop 2.4 kw 64 m 3 %", "Voltage drop along a run, 2.4 kW",
         {"segments.s1.length": "64 m", "segments.s1.nameplate": "2.4 kW", "maximum_drop": "3"}),
        ("voltage drop to a 1-1/2 hp pump 210 ft", "Voltage drop along a run, 1-1/2 hp",
         {"segments.s1.nameplate": "1-1/2 hp"}),
    ],
)  # fmt: skip
def test_tasks_by_their_names(asked, title, entries):
    task = find_tasks(asked)[0]
    assert task.title == title
    assert entries.items() <= dict(task.entries).items()


@pytest.mark.parametrize(
    ("asked", "title"),
    [
        # questions as they are asked; "" where nothing here answers
        ("transformer fuse 600 VA", "Transformer"),
        ("hot tub", "Hot tub or spa"),
        ("50 amp spa wire", "Hot tub or spa"),
        ("grounding electrode size", "Grounding electrode conductor"),
        ("ground rod wire", "Grounding electrode conductor"),
        ("ground wire size for 100 amp", "Equipment grounding conductor"),
        ("conduit fill", "Raceway fill"),
        ("how many 12 awg in 3/4 emt", "Raceway fill"),
        ("kva to amps", "Amperes"),
        ("75 kva to amps 208 3 phase", "Amperes"),
        ("kw to amps", "Amperes"),
        ("how many amps does 5 kw draw at 240", "Amperes"),
        ("full load current 10 hp", "Motor"),
        ("amps to kva", "Amperes"),
        ("hp to amps", "Amperes"),
        ("board schedule", "Board"),
        ("panel schedule", "Board"),
        ("phase balance", "Board"),
        ("balance the phases of a panel", "Board"),
        ("main bonding jumper", "Service"),
        ("service entrance commercial", "Service"),
        ("wire for a range", "Range"),
        ("stove breaker", "Range"),
        ("oven circuit", "Wall oven"),
        ("cooktop and two ovens", "Cooktop"),
        ("dryer breaker size", "Clothes dryer"),
        ("water heater wire", "Water heater"),
        ("electric baseboard", "Space heater"),
        ("air conditioner breaker", "Air conditioner"),
        ("mini split", "Air conditioner"),
        ("heat pump mca 23", "Air conditioner"),
        ("ev charger 48 amp", "Vehicle charger"),
        ("car charging station", "Vehicle charger"),
        ("kiln", "Kiln"),
        ("how many outlets on a 20 amp circuit", "Receptacles"),
        ("duplex receptacles", "Receptacles"),
        ("lights on a circuit", "Lighting"),
        ("parking lot lights", "Lighting"),
        ("well pump wire 350 ft", "Single-phase motor"),
        ("garage disposer", "Single-phase motor"),
        ("motor overload", "Motor"),
        ("25 hp motor 480 v", "Motor"),
        ("starting current of a motor", "Motor"),
        ("several motors on one feeder", "Feeder"),
        ("subpanel in garage", "Feeder"),
        ("detached garage feeder", "Feeder"),
        ("barn sub panel", "Feeder"),
        ("house load calculation", "Dwelling service"),
        ("200 amp service for a house", "Dwelling service"),
        ("apartment load", "Dwelling service"),
        ("transformer 45 kva", "Transformer"),
        ("step down transformer", "Transformer"),
        ("secondary conductors of a transformer", "Transformer"),
        ("voltage drop", "Voltage drop"),
        ("voltage drop 200 ft 20 amps", "Voltage drop"),
        ("wire size for long distance", "Voltage drop"),
        ("open neutral", "Multiwire"),
        ("shared neutral", "Multiwire"),
        ("store lighting load", "Store"),
        ("office load per square foot", "Store"),
        ("restaurant kitchen equipment", "Commercial kitchen"),
        ("fryer and dishwasher demand", "Commercial kitchen"),
        ("ampacity of 4/0 aluminum", "Ampacity table"),
        ("standard breaker sizes", "Standard breakers"),
        ("derating for 9 conductors", "Derating for number"),
        ("temperature correction attic", "Derating for heat"),
        ("wire size for 30 amps", "Any circuit"),
        ("breaker for 16 amps", "Any circuit"),
        ("20 amp circuit", "Any circuit"),
        ("insulation resistance", "Insulation resistance"),
        ("do I need three phase", "Single-phase or three-phase"),
        ("single or three phase supply", "Single-phase or three-phase"),
        ("welder", ""),
        ("solar", "Inverter: breaker, cable, rise"),
        ("generator", ""),
    ],
)
def test_questions_as_they_are_asked(asked, title):
    found = find_tasks(asked)
    assert found[0].title.startswith(title) if title else not found


@pytest.mark.parametrize(
    ("asked", "entries", "unread"),
    [
        # what nameplates say leads to the system that it stands for (NEMA MG 1, IEC 60038)
        ("motor 10 hp 460 V", {"system": "3ph-480Y/277", "connection": "three-phase"}, ()),
        ("10 hp motor 480", {"system": "3ph-480Y/277"}, ()),
        ("motor 575 V 20 hp", {"system": "3ph-600Y/347"}, ()),
        ("motor 230 v 5 hp", {"system": "3ph-240", "connection": "three-phase"}, ()),
        ("motor 200 V 5 hp", {"system": "3ph-208Y/120"}, ()),
        ("1/2 hp motor 115 V", {"system": "1ph-120/240", "connection": "line-neutral",
                                "motor": "single-phase"}, ()),
        ("motor 400 V 5 hp", {"system": "3ph-400Y/230"}, ()),
        ("motor 415 v 7.5 kw", {"system": "3ph-415Y/240", "power": "7.5 kW", "code": "bs7671-2018"}, ()),
        ("motor 380 v sans", {"system": "3ph-380Y/220", "code": "sans10142-2020"}, ()),
        ("water heater 240 v uk", {"system": "1ph-240", "code": "bs7671-2018"}, ()),
        ("water heater 230 v uk", {"system": "1ph-230", "code": "bs7671-2018"}, ()),
        ("lighting 277 v 12 a", {"system": "3ph-480Y/277", "connection": "line-neutral"}, ()),
        # no supply has those volts: they are told, and it is asked for
        ("motor 5 hp 333 V", {"horsepower": "5 hp", "system": ""}, ("333 V",)),
        ("water heater 4.5 kW 2400 v", {"load": "4.5 kW", "system": ""}, ("2400 v",)),
        # a conductor, a code, an area, two voltages that are said
        ("12 A 120 V 90 ft 14", {"segments.s1.nameplate": "12 A", "segments.s1.length": "90 ft",
                                 "size": "14", "system": "1ph-120/240"}, ()),
        ("any circuit 40 a #8 al", {"size": "8", "material": "aluminum"}, ()),
        ("circuit 40 a 10 mm2", {"load": "40 A", "area": "10", "code": "bs7671-2018"}, ()),
        ("dwelling 2000 sq ft", {"area": "2000 sq ft"}, ()),
        ("boost 208 to 230 5 kva", {"measured_voltage": "208 V", "required_voltage": "230 V"}, ()),
        ("feeder 208Y/120 200 amp", {"system": "3ph-208Y/120", "loads.l1.nameplate": "200 A"}, ()),
        ("shower 9.5 kw 25 m bs 7671", {"use": "shower", "load": "9.5 kW", "length": "25 m",
                                        "code": "bs7671-2018"}, ()),
        ("canada any circuit 40 a #8", {"size": "8", "code": "cec-2021"}, ()),
        ("canada range 12 kw", {"use": "range", "code": "cec-2021"}, ()),
        ("ring circuit uk", {"layout": "ring", "code": "bs7671-2018"}, ()),
        ("motor 10 hp nec 2023", {"code": "nec-2023"}, ()),
        ("transformer 75 kva 3 %", {"kva": "75 kVA"}, ("3 %",)),
    ],
)  # fmt: skip
def test_what_is_said_is_taken_over_or_marked(asked, entries, unread, client):
    task = find_tasks(asked)[0]
    found = dict(task.entries)
    assert entries.items() <= found.items()
    assert task.unread == unread
    assert ("system" in found) == ("system" in entries) and ("code" in found) == ("code" in entries)
    page = client.get(task.url).content.decode()
    assert all(figure in page for figure in unread)
    assert ("Not taken over" in page) == bool(unread)
    if "system" in entries:
        assert f'value="{entries["system"]}" selected' in page


def test_an_open_supply_gives_no_result_until_it_is_chosen(client):
    task = find_tasks("motor 5 hp 333 V")[0]
    sheet, asked = reverse("sheets:quick_work", args=["motor"]), dict(task.entries)
    answer = client.post(sheet, asked).content.decode()
    assert "Supply: not chosen" in answer and "&quot;path&quot;: &quot;system&quot;" in answer
    chosen = client.post(sheet, {**asked, "system": "3ph-208Y/120"}).content.decode()
    assert "16.7" in chosen and "not chosen" not in chosen  # table 430.250, 5 hp at 208 V
    back = client.post(reverse("sheets:quick_file", args=["motor"]), asked)
    assert "horsepower=5+hp" in back.url and "system=&" in f"{back.url}&"
    page = client.get(back.url).content.decode()
    assert '<option value="" selected>' in page and 'value="5 hp"' in page


@pytest.mark.parametrize(
    ("asked", "where"),
    [
        ("430.22", "Motor"), ("220.55 column C", "Range"), ("450.3(B)", "Transformer"),
        ("310.16", "Ampacity table"), ("240.6", "Standard breakers"),
        ("short circuit current", "Service"),
    ],
)  # fmt: skip
def test_sections_lead_to_what_they_rule(asked, where):
    assert find_tasks(asked)[0].title.startswith(where)


def test_units_stay_as_they_were_asked():
    assert dict(find_tasks("transformer fuse 600 VA")[0].entries)["kva"] == "600 VA"
    assert "kva" not in dict(find_tasks("transformer for 40 kW")[0].entries)


def test_nonsense_finds_nothing_and_says_so(client):
    assert find_tasks("qqq zzz") == [] == find_tasks("???")
    page = client.get(reverse("sheets:find"), {"q": "qqq"}).content.decode()
    assert "No quick sheet" in page and all(task.title in page for task in tasks()[:3])


@pytest.mark.parametrize("task", tasks(), ids=lambda t: t.title)
def test_every_task_opens_its_sheet_with_its_entries(client, task):
    page = client.get(task.url, follow=True).content.decode()
    for _name, value in task.entries:
        assert value in page


def test_there_is_a_quick_sheet_for_every_kind_of_load():
    assert set(QUICK) == {item.name for item in kinds()} - {"supply", "board", "service"}


@pytest.mark.parametrize("name", QUICK)
@pytest.mark.parametrize("system", ["1ph-120/240", "3ph-240/120", "nonsense"])
def test_quick_sheets_answer_on_every_system(client, name, system):
    answer = client.post(reverse("sheets:quick_work", args=[name]), {
        "system": system, "load": "3 kW", "horsepower": "5", "nameplate": "8 kW", "area": "1500",
        "connection": "two-line" if name != "motor" else "three-phase",
    })  # fmt: skip
    assert answer.status_code == 200


@pytest.mark.parametrize("name", [n for n in QUICK if not kind(n).quick_only])
def test_a_quick_sheet_is_filed_as_what_it_is(owner, job, name):
    owner.post(reverse("sheets:quick_file", args=[name]), {"load": "3 kW", "horsepower": "5"})
    owner.post(reverse("sheets:file"), {"job": str(job.pk)})
    made = job.parts.exclude(name="Cottage").filter(kind=name)
    assert made.exists()


@pytest.mark.parametrize(
    ("asked", "title"),
    [
        ("430.250", "Full-load current, three-phase motors"),
        ("aluminum 90", "Ampacity"),
        ("raceway", "Inside of raceways"),
        ("500 compact", "compact conductors"),
        ("kitchen", "kitchen equipment"),
    ],
)
def test_tables_by_number_words_and_rows(client, asked, title):
    page = client.get(
        reverse("codes:tables"), {"q": asked}, HTTP_HX_REQUEST="true"
    ).content.decode()
    assert (title in page and "from memory" in page) or "independent" in page


@pytest.mark.parametrize("topic", sorted({t for e in editions() for t in e.topics()}))
def test_every_table_stands_side_by_side(client, topic):
    answer = client.get(reverse("codes:side_by_side", args=[topic]))
    has = any(topic in code._tables for code in editions())
    assert answer.status_code == (200 if has else 404)


def test_differences_between_editions_are_marked(client):
    page = client.get(reverse("codes:side_by_side", args=["occupancy_load"])).content.decode()
    assert 'class="differs"' in page and "220.42(A)" in page and "differ" in page
    page = client.get(reverse("codes:side_by_side", args=["ampacity"])).content.decode()
    assert 'class="differs"' not in page and "The editions agree" in page


def test_what_stands_in_no_code_has_its_page_and_no_editions_beside_it(client):
    """Cable tables and supply practice: every rule's page opens, and none leads nowhere."""
    from voltaje.core.codes import editions, practice

    assert practice() not in editions()
    for topic in practice().topics():
        page = client.get(reverse("codes:rule", args=["cables", topic])).content.decode()
        assert practice().text(topic).checked in page or practice().text(topic).says[:30] in page
        assert "side by side" not in page
    listed = client.get(reverse("codes:rules", args=["cables"]))
    assert listed.status_code == 200
