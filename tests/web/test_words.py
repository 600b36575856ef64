"""Every word that a user sees can be translated: in a language whose letters are all foreign
nothing is left in English, and whatever is asked for stands in the catalogue's template."""

import re
from html.parser import HTMLParser
from pathlib import Path

import django
import pytest
from babel.messages.pofile import read_po
from core.test_every_kind import GOOD
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.translation import override, trans_real
from profiles import sample

from voltaje.core.codes import edition, editions
from voltaje.core.electrical.systems import SYSTEMS, SupplyPoint
from voltaje.core.entries import fields
from voltaje.core.kinds import Context, evaluate, kind, kinds
from voltaje.web import words
from voltaje.web.jobs.actions import create_job, plant
from voltaje.web.jobs.demo import COTTAGE, MILL
from voltaje.web.jobs.logbook import COLUMNS
from voltaje.web.jobs.models import Job
from voltaje.web.kinds import presentation
from voltaje.web.parts.form import build
from voltaje.web.parts.respond import result_context

FOREIGN = {**{ord(a): ord(a) - 97 + 0x1D552 for a in map(chr, range(97, 123))},
           **{ord(a): ord(a) - 65 + 0x1D538 for a in map(chr, range(65, 91))}}  # fmt: skip
# figures' names, markup and entities stay what they are
KEPT = re.compile(r"(\{[^{}]*\}|%\(\w+\)[sd]|<[^>]*>|&\w+;)")


def foreign(message):
    """The message with foreign letters in place of its own."""
    pieces = KEPT.split(message)
    return "".join(p if i % 2 else p.translate(FOREIGN) for i, p in enumerate(pieces))


class Foreign(trans_real.DjangoTranslation):
    """A language that has a word for everything."""

    def __init__(self):
        self._catalog = trans_real.TranslationCatalog()
        self.domain, self._fallback = "django", None
        self._DjangoTranslation__language = self._DjangoTranslation__to_language = "eo"
        self._DjangoTranslation__locale = "eo"
        self.plural = lambda n: int(n != 1)

        self.asked = set()

    def gettext(self, message):
        self.asked.add(message)
        return foreign(message)

    def ngettext(self, one, many, n):
        self.asked.add((one, many))
        return foreign(one if n == 1 else many)

    def pgettext(self, context, message):
        return foreign(message)


class Seen(HTMLParser):
    """What a page shows: its texts and the attributes that are read out or shown."""

    SHOWN = ("aria-label", "title", "placeholder", "alt", "data-label", "data-says")

    def __init__(self, page):
        super().__init__()
        self.texts, self.inside = [], []
        self.feed(page)

    def handle_starttag(self, tag, attrs):
        self.inside.append(tag)
        self.texts += [value for name, value in attrs if name in self.SHOWN and value]

    def handle_endtag(self, tag):
        while self.inside and self.inside.pop() != tag:
            pass

    def handle_data(self, data):
        if not {"script", "style", "code", "kbd"} & set(self.inside[-3:]):
            self.texts.append(data)


# what is the same in every language: units, sizes, types, lines, editions, files, the name
SAME = re.compile(
    r"\b(VA|kVA|MVA|kW|Wh?|kV|hp|AWG|kcmil|mm²?|cm|ft²?|sq ft|in|lb|kg|m|V|A|kA|mV|Hz|Cu|Al"
    r"|XLSX|CSV|SVG|JSON|PDF|NEC \d{4}|CEC \d{4}|T90 Nylon|TWN75|[RT]W\d\d|NMD90|NMWU|AC90|TECK90|CSA C22.1:21|BS \d+(:\d{4})?|SANS \d+(-\d)?(:\d{4})?|AS/NZS \d+(:\d{4})?|THHN|THWN(-2)?|XHHW(-2)?|TW|NM(-B)?|UF"
    r"|EMT|PVC|RMC|gG|BS \d+(-\d)?|TN(-C)?(-S)?|TT|Ze|RCD|Ca|Cg|Ci|Cs|Cd|Cf|R1|R2|[DY][dyz]\d+|Voltaje|L1|L2|L3|PE|Ib|In|Iz|It|Zs|IEC \d+|\S+@\S+)(?![A-Za-z])"
)
ENGLISH = re.compile(r"[A-Za-z]{2,}")


def english(page):
    """Texts of the page in which a word is left as it was."""
    found = {" ".join(text.split()) for text in Seen(page).texts}
    return {text for text in found if ENGLISH.search(SAME.sub("", text))}


def renamed(planted):
    """A part of the demo with all that somebody named in foreign letters."""
    name, title, document, below = planted
    free = {}
    for spec in fields(kind(name).entries):
        value = document.get(spec.name)
        if spec.kind == "text" and value:
            free[spec.name] = foreign(value)
        if spec.kind == "rows" and value:
            words = {c.name for c in spec.columns if c.kind == "text"}
            free[spec.name] = [
                {k: foreign(v) if k in words else v for k, v in row.items()} for row in value
            ]
    return name, foreign(title), {**document, **free}, [renamed(one) for one in below]


@pytest.fixture
def abroad(settings, monkeypatch):
    """The foreign language is spoken; what was asked of it."""
    settings.LANGUAGES = [("eo", "Eo")]
    settings.LANGUAGE_CODE = "eo"
    spoken = Foreign()
    monkeypatch.setitem(trans_real._translations, "eo", spoken)
    trans_real.get_languages.cache_clear()
    words._scripts_in.cache_clear()
    with override("eo"):
        yield spoken
    words._scripts_in.cache_clear()
    trans_real.get_languages.cache_clear()


@pytest.fixture(scope="module")
def catalogue():
    """All texts that a catalogue has to have, and Django's own, which come with it."""
    known = set()
    for part in ("conf", "contrib/auth", "contrib/sessions"):
        path = Path(django.__file__).parent / part / "locale/en/LC_MESSAGES/django.po"
        if path.exists():
            with path.open("rb") as file:
                known |= {message.id for message in read_po(file)}
    return known | set(words.every())


def missing(abroad, catalogue):
    """What was asked for and stands in no catalogue. Names that somebody gave have no English."""
    texts = {text for text in abroad.asked if text not in catalogue and "\x04" not in text}
    plain = {t: re.sub(r"\{\w+\}", "", t if isinstance(t, str) else t[0]) for t in texts}
    return {text for text in texts if ENGLISH.search(SAME.sub("", plain[text]))}


@pytest.fixture
def demo(people, abroad):
    """The demo's mill and cottage, all named in foreign letters."""
    job = create_job(people[0], "1", "nec-2020", "us")
    cottage = ("dwelling", "C", COTTAGE, [])
    for tree in (MILL, ("supply", "C", {"system": "1ph-120/240"}, [cottage])):
        plant(job, people[0], renamed(tree))
    Job.objects.filter(pk=job.pk).update(second="cec-2021")
    job.refresh_from_db()
    return job


@pytest.fixture
def get(owner):
    """Fetches a page by its name."""

    def fetch(name, *args, status=200):
        answer = owner.get(reverse(name, args=args))
        assert answer.status_code == status, name
        return answer.content.decode()

    return fetch


PLAIN = ["front", "jobs:list", "jobs:create", "jobs:adviser", "jobs:adviser_list", "accounts:account", "accounts:leave",
         "accounts:import", "accounts:password_change", "codes:tables", "sheets:find"]  # fmt: skip
OPEN = ["front", "accounts:sign_in", "accounts:sign_up", "accounts:password_forgotten",
        "codes:tables", "sheets:find"]  # fmt: skip
OF_JOB = ["job", "riser", "codes", "prices", "readings", "readings_import", "amendments", "settings",
          "revisions"]  # fmt: skip


def test_no_page_keeps_a_word_of_english(demo, get, client, abroad, catalogue):
    found = {name: english(get(name)) for name in PLAIN}
    found |= {name: english(get(f"jobs:{name}", demo.pk)) for name in OF_JOB}
    for part in demo.parts.all():
        found |= {f"{part.kind} {part.pk}": english(get("jobs:part", demo.pk, part.pk))}
        found |= {f"print {part.pk}": english(get("jobs:print", demo.pk, part.pk))}
        if presentation(part.kind).table:
            found |= {f"file {part.pk}": english(get("jobs:import", demo.pk, part.pk))}
            for page in ("balance", "door", "cases", "work_order"):
                found |= {f"{page} {part.pk}": english(get(f"jobs:{page}", demo.pk, part.pk))}
            found |= {
                f"rows {part.pk}": english(
                    get("jobs:rows_in", demo.pk, part.pk, "reserved_positions")
                )
            }
        if part.name in ("House feeder", "Workshop feeder"):
            for page in ("balance", "metal"):
                found |= {f"{page} {part.pk}": english(get(f"jobs:{page}", demo.pk, part.pk))}
    found |= {of.name: english(get("sheets:quick", of.name)) for of in kinds()
              if presentation(of.name).quick}  # fmt: skip
    found |= {
        "none": english(get("jobs:riser", "0" * 8 + "-0000-4000-8000-" + "0" * 12, status=404))
    }
    client.logout()
    found |= {f"out {name}": english(get(name)) for name in OPEN}
    assert {name: texts for name, texts in found.items() if texts} == {}
    assert missing(abroad, catalogue) == set()


def sheet(name, document, code, system):
    """What a page shows of a sheet: its form, its worksheet, its drawing, or why there is none."""
    of, context = kind(name), Context(edition(code), "us", SupplyPoint(SYSTEMS[system], 22000.0))
    worked = evaluate(of, document, context)
    model = of.entries_in(context.code)
    shown = render_to_string("sheets/_entries.html",
                             {"groups": build(of, model, document, worked.problems)})  # fmt: skip
    if worked.report is None:
        return shown
    context = result_context(worked.report)
    shown += render_to_string("sheets/_result.html", context)
    return shown + render_to_string("sheets/_drawing.html", context)


WRONG = ("5 MVA", "", "99999999", "-3")


def documents(name):
    """The good document of a kind, it with each choice of each entry, and with wrong figures."""
    good = renamed((name, "", GOOD[name], []))[2]
    yield good
    for spec in fields(kind(name).entries):
        if spec.kind == "choice":
            yield from ({**good, spec.name: value} for value, _ in spec.choices)
        elif spec.kind == "quantity":
            yield from ({**good, spec.name: text} for text in WRONG)


BRITISH = [
    ("1ph-230", {"load": "3 kW", "length": "20 m", "external_loop": "0.35"}),
    ("1ph-230", {"load": "7 kW", "length": "900 m", "external_loop": "2"}),
    ("3ph-400Y/230", {"load": "300 kW", "connection": "three-phase"}),
    ("3ph-400Y/230", {"load": "9 kW", "connection": "three-phase"}),
    ("1ph-230", {}),
    (
        "1ph-230",
        {
            "load": "3 kW",
            "cable": "armoured",
            "reference_method": "D",
            "ground": "30",
            "soil": "1",
            "depth": "2",
            "grouped_circuits": "2",
            "length": "9 m",
        },
    ),
    (
        "1ph-230",
        {
            "load": "3 kW",
            "cable": "flat",
            "reference_method": "C",
            "thermal_insulation": "90",
            "length": "9 m",
            "external_loop": "0.3",
            "device_type": "BS 3036",
        },
    ),
    ("3ph-400Y/230", {"load": "9 kW", "connection": "three-phase", "third_harmonic": "40"}),
    ("1ph-230", {"load": "3 kW", "earthing": "TT", "external_loop": "40", "length": "9 m"}),
    ("1ph-230", {"load": "3 kW", "rcd": "30", "external_loop": "4", "length": "9 m"}),
    ("1ph-230", {"load": "3 kW", "use": "vehicle charging", "reference_method": "A"}),
    ("1ph-230", {"load": "3 kW", "cable": "flat", "reference_method": "D"}),
    (
        "1ph-230",
        {
            "load": "3 kW",
            "device_type": "gG",
            "external_loop": "0.3",
            "length": "9 m",
            "area": "2.5",
            "protective_conductor": "1",
        },
    ),
]
MAINS = [{"load": "20 kW", "length": "40 m", "external_loop": "0.2"}, {}, {"load": "5 hp"},
         {"load": "900 kW"}, {"load": "40 kW", "length": "900 m"}]  # fmt: skip


RUN = {"length": "30 m", "external_loop": "0.2"}
HOMES = [
    ("cec-2021", {"area": "60 m²", "basement": "40 m²", "climate": [{"nameplate": "12 kW"}],
                  "appliances": [{"nameplate": "9 kW", "counts_as": "spa"},
                                 {"nameplate": "7 kW", "counts_as": "managed"},
                                 {"nameplate": "1 kW"}], "ambient": "45", "others": "4"}),
    ("cec-2021", {"area": "200 m²", "cooking": [{"nameplate": "14 kW"}, {"nameplate": "4 kW"}],
                  "climate": [{"nameplate": "9 kW"}, {"nameplate": "5 kW", "what": "cooling"},
                              {"nameplate": "3 kW", "what": "heat_pump"}]}),
    ("cec-2021", {"area": "200 m²", "existing": "60 A", "dryers": [{"nameplate": "5 kW"}]}),
    ("cec-2021", {"area": "200 m²", "existing": "200 A", "noncoincident_climate": "yes"}),
    ("cec-2021", {"subject": "unit", "area": "100 m²"}), ("cec-2021", {}),
    ("cec-2021", {"subject": "building", "units": [{"load": "9 kW", "count": "30"}],
                  "units_heating": "30 kW", "units_cooling": "5 kW", "units_vehicles": "7 kW",
                  "units_common": "3 kW"}),
]  # fmt: skip
CANADIAN = [
    ("circuit", {"use": "receptacles", "outlets": "14"}), ("circuit", {"load": "12 A", "length": "90 m"}),
    ("circuit", {"load": "20 A", "continuous": "yes", "continuous_rating": "100"}),
    ("motor", {"horsepower": "10 hp", "nameplate": "28 A"}), ("motor", {"horsepower": "5 hp"}),
    ("transformer", {"kva": "45 kVA", "secondary_length": "9 m", "impedance": "4"}),
    ("cable_run", {"segments": [{"length": "90 m", "nameplate": "20 A"}]}),
    ("inverter", {"power": "20 kW", "bus": "100 A", "main": "90 A", "place": "center"}),
    ("feeder", {"receptacles": "40", "length": "20 m"}), ("cooking", {}),
]  # fmt: skip
USES = [{"use": "lighting", "load": "2 kW", "count": "9"}, {"use": "cooking", "load": "9 kW"},
        {"use": "other", "load": "9 kW", "connection": "three-phase"},
        {"use": "vehicle", "load": "90 A", "line": "L1"}]  # fmt: skip


def rows_of(document):
    """The document with ids on its rows, as pages have them."""
    return {
        name: [{"id": f"r{i}", **row} for i, row in enumerate(value)]
        if isinstance(value, list)
        else value
        for name, value in document.items()
    }


ELSEWHERE = [
    ("dwelling", rows_of({"uses": USES, "device_type": "gG", "length": "20 m"})),
    ("dwelling", rows_of({"uses": USES[:1]})), ("dwelling", rows_of({"uses": [{"use": "other"}]})),
    ("machine", {"power": "7.5 kW", "device_type": "D", **RUN}),
    ("machine", {"power": "7.3 kW", "start": "soft", "length": "300 m", "relay": "no"}),
    ("machine", {"nameplate": "14 A", "starting_current": "6", "device_type": "gG", "area": "1.5", **RUN}),
    ("machine", {}), ("machine", {"power": "7 A"}), ("machine", {"power": "7.5 kW", "device": "10 A"}),
    ("machine", {"power": "90 kW", "device_type": "MCCB", "thermal_setting": "200 A", **RUN}),
    ("machine", {"power": "90 kW", "device_type": "MCCB", "thermal_setting": "20 A", "device": "200 A"}),
    ("machine", {"power": "4 kW", "device_type": "gG", "device": "63 A", "area": "1.5",
                 "cable": "multi", "external_loop": "0.05", "length": "2 m"}),
    ("grounding", {"size": "600", "sets": "3", "device_ahead": "1200 A", "neutral": "400 A", "ring": "yes"}),
    ("grounding", {"size": "6", "device_ahead": "40 A", "enlarged_from": "8"}), ("grounding", {"size": "1/0", "sets": "2"}),
    ("earthing", {"line": "35", "fault": "3 kA", "seconds": "5"}),
    ("earthing", {"earthing": "TT", "buried": "yes"}), ("earthing", {"earthing": "TN-C-S"}),
    ("circuit", {"use": "cooker", "load": "9 kW", "diversity": "cooker and socket", **RUN}),
    ("circuit", {"use": "shower", "load": "9 kW", "drop_method": "finer", **RUN}),
    ("circuit", {"use": "sockets", "load": "20 A", "layout": "ring", "other_leg_length": "50 m",
                 "spur": "4 m", **RUN}),
    ("circuit", {"load": "4 kW", "material": "aluminum"}),
    ("circuit", {"load": "70 A", "material": "aluminum", "cable": "multi", "protective_conductor": "10"}),
    ("circuit", {"load": "16 A", "device_type": "D", "length": "60 m", "external_loop": "0.2"}),
    ("circuit", {"load": "6 A", "device_type": "gG", "third_harmonic": "40", "connection": "three-phase", **RUN}),
    ("distribution", {"load": "60 A", "breaking": "6 kA", "device_type": "C", **RUN}),
    ("supply", {"system": "3ph-400Y/230", "earthing": "IT"}),
    ("supply", {"system": "3ph-400Y/230", "earthing": "TN-S"}),
]  # fmt: skip


def test_no_sheet_keeps_a_word_of_english(abroad, catalogue):
    found = {}
    for name in GOOD:
        # every fourth, so that each edition and each system comes in turn
        for index, document in sample(list(enumerate(documents(name))), 4):
            code = ("nec-2017", "nec-2020", "nec-2023")[index % 3]
            system = ("3ph-208Y/120", "1ph-120/240", "3ph-480Y/277")[index // 3 % 3]
            texts = english(sheet(name, document, code, system))
            # typed, or chosen by its name in the book
            texts = {t for t in texts if not any(word in t for word in (*WRONG, "Warehouse"))}
            found[name] = found.get(name, set()) | texts
    for system, document in BRITISH:
        found[f"{system} {document}"] = english(sheet("circuit", document, "bs7671-2018", system))
    for document in MAINS:
        shown = sheet("distribution", document, "bs7671-2018", "3ph-400Y/230")
        found[f"main {document}"] = english(shown)
    for code in ("bs7671-2018", "sans10142-2020", "asnzs3000-2018"):
        for name, document in ELSEWHERE:
            found[f"{code} {document}"] = english(sheet(name, document, code, "3ph-400Y/230"))
    for code, document in HOMES:
        shown = sheet("dwelling", rows_of(document), code, "1ph-120/240")
        found[f"{code} {document}"] = english(shown)
    for name, document in CANADIAN:
        shown = sheet(name, rows_of(document), "cec-2021", "3ph-208Y/120")
        found[f"cec {name} {document}"] = english(shown)
    assert {name: texts for name, texts in found.items() if texts} == {}
    assert missing(abroad, catalogue) == set()


def test_no_rule_and_no_table_keeps_a_word_of_english(abroad, get, catalogue):
    topics = {topic for code in editions() for topic in code.topics() if code.has_table(topic)}
    found = {topic: english(get("codes:side_by_side", topic)) for topic in sorted(topics)}
    found |= {code.id: english(get("codes:rules", code.id)) for code in editions()}
    for topic in editions()[-1].topics():
        found[f"rule {topic}"] = english(get("codes:rule", editions()[-1].id, topic))
    assert {name: texts for name, texts in found.items() if texts} == {}
    assert missing(abroad, catalogue) == set()


ACTS = [("up", {}), ("out", {}), ("in", {}), ("duplicate", {}), ("delete", {}), ("undo", {}),
        ("redo", {}), ("redo", {}), ("add", {"kind": "motor"}), ("add", {"kind": "supply"}),
        ("drop", {"parent": "none"}), ("nothing", {})]  # fmt: skip


def test_what_is_said_of_an_act_is_said_in_the_language(demo, owner, abroad, catalogue):
    said = {}
    part = demo.parts.get(kind="board", name=foreign("Kiln room"))
    address = reverse("jobs:tree", args=[demo.pk])
    for index, (act, more) in enumerate(ACTS):
        values = {"act": act, "part": str(part.pk), **more}
        said[index, act] = english(owner.post(address, values, follow=True).content.decode())
    kiln = demo.parts.filter(kind="circuit").exclude(entries__length=None).first()
    owner.post(reverse("jobs:save", args=[demo.pk, kiln.pk]),
               {"set:length": "41 ft", "base:length": kiln.entries["length"]})  # fmt: skip
    page = owner.get(reverse("jobs:revisions", args=[demo.pk])).content.decode()
    assert "41 ft" in page
    said["revisions"] = english(page)
    for name, values in (("jobs:create", {}), ("jobs:settings", {"drop_scheme": "own"})):
        args = [] if name == "jobs:create" else [demo.pk]
        said[name] = english(owner.post(reverse(name, args=args), values).content.decode())
    for name, args in (("jobs:readings", [demo.pk]), ("jobs:amendments", [demo.pk]),
                       ("accounts:leave", []), ("accounts:import", [])):  # fmt: skip
        said[name] = english(owner.post(reverse(name, args=args), {}).content.decode())
    wrong = b"Name,Load,Use\nA,5 apples,kiln\n,3 kW,\n"
    for name, args in (("jobs:import", [demo.pk, part.pk]), ("jobs:readings_import", [demo.pk])):
        for content in (b"", wrong, b"part,point,value\nX,L1,7\n", b"\xff\xfe\x00"):
            file = SimpleUploadedFile("a.csv", content)
            page = owner.post(reverse(name, args=args), {"file": file}).content.decode()
            # what stands in the file, and the names of columns
            texts = {re.sub("|".join(COLUMNS), "", t) for t in english(page) if "apples" not in t}
            said[name, content] = {t for t in texts if english(t)}
    assert {name: texts for name, texts in said.items() if texts} == {}
    assert missing(abroad, catalogue) == set()


def test_the_scripts_take_their_words_from_the_page(abroad, get):
    page = get("jobs:create")
    assert 'id="words"' in page
    assert len(words.of_scripts()) > 30
    with override("en"):
        assert words.of_scripts() == {}, "English needs none"


SCRIPTS = sorted(words.SCRIPTS.glob("*.js"))


@pytest.mark.parametrize("path", SCRIPTS, ids=lambda path: path.stem)
def test_a_script_has_no_sentence_of_its_own(path):
    code = re.sub(r"/\*.*?\*/|^\s*//.*$|\s//.*$", "", path.read_text(), flags=re.S | re.M)
    code = re.sub(r'told\("(?:[^"\\]|\\.)*"', "", code)
    # "use strict" is no sentence; selectors have signs that sentences have not
    quoted = re.findall(r'"([^"]*)"|`([^`]*)`', code)
    texts = {one or other for one, other in quoted} - {"use strict", "signed out"}
    assert {
        t for t in texts if re.match(r"^[A-Z“]?[\w’“”{}$.,:; ]+ [\w’“”{}$.,:; ]+[.:]?$", t)
    } == set()


def test_the_command_writes_a_template_and_keeps_what_is_translated(tmp_path, capsys):
    template, catalog = tmp_path / "v.pot", tmp_path / "es.po"
    call_command("words", str(template))
    assert "without a translation" in capsys.readouterr().out
    text = template.read_text().replace('msgid "Jobs"\nmsgstr ""', 'msgid "Jobs"\nmsgstr "Obras"')
    catalog.write_text(text + '\nmsgid "Gone"\nmsgstr "Ido"\n')
    call_command("words", str(catalog))
    with catalog.open("rb") as file:
        kept = read_po(file)
    assert kept["Jobs"].string == "Obras"
    assert "Gone" not in kept and "Gone" in kept.obsolete
    assert ("One reading.", "%(good)s readings.") in {m.id for m in kept}
