"""Values and files that break programs, and every address of this one to send them to."""

import io
import uuid
import zipfile

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import URLPattern, URLResolver, get_resolver
from openpyxl import Workbook

TEXTS = (
    "", " ", "0", "-1", "1e308", "inf", "nan", "-inf", "9" * 400, "1" * 5000, "0x10", "٣", "½",
    "NULL", "None", "true", "[]", "{}", "[" * 3000, '{"a":' * 500, "\0", "a\0b", "\x07\x1b[31m",
    "\u202eabc", "\ufffe", "\u0301" * 50, "İ" * 30, "<script>alert(1)</script>", "'; drop table--",
    "{{7*7}}", "{% debug %}", "%s%n", "../../etc/passwd", "=cmd|' /C calc'!A0", "🔥" * 60,
    "0001-01-01", "9999-12-31 23:59", "0001-01-01T00:00:00+14:00", "2026-13-45", "1" + "0" * 30,
    "00000000-0000-0000-0000-000000000000", "not-an-id", "a" * 300, "13.8 kV", "1e-400",
)  # fmt: skip
NAMES = (
    "name", "edition", "units", "preference", "drop_scheme", "drop_branch", "drop_total", "topic",
    "row", "column", "value", "jurisdiction", "reason", "part", "point", "taken_at", "place", "who",
    "note", "act", "kind", "made", "parent", "before", "set:area", "set:load", "base:load", "q",
    "drop:appliances.a1", "made:appliances.n1", "set:appliances.n1.name", "row-made", "row-out",
    "rows", "take", "agreed", "tab", "turn", "seq", "next", "page", "email", "username", "password",
    "password1", "password2", "sure", "system", "begins", "job", "copper 12", "was-name",
    "was-copper 12", "load", "limit", "three_phase", "out", "back", "horsepower", "code", "scheme",
    "circuits", "paper", "archived", "calculation", "area", "segments.s1.length", "loads.l1.name",
    "objective", "moves", "pin", "by", "weight-x", "seconds", "device", "to", "was", "anew", "aim", "revision",
    "case-0", "named-0", "loads", "make", "lies", "space",
)  # fmt: skip


def routes():
    """Every address, as a function of the ids of a job and a part."""
    found = []

    def walk(patterns, prefix):
        for pattern in patterns:
            if isinstance(pattern, URLResolver):
                space = f"{pattern.namespace}:" if pattern.namespace else ""
                walk(pattern.url_patterns, prefix + space)
            elif isinstance(pattern, URLPattern) and pattern.name:
                found.append((prefix + pattern.name, tuple(pattern.pattern.converters)))

    walk(get_resolver().url_patterns, "")
    return found


def words(chance, names=NAMES):
    """A form of hostile texts."""
    return {
        name: chance.choice(TEXTS) for name in chance.sample(names, chance.randint(1, 6))
    }  # fmt: skip


def ids(chance, job, part):
    """Values for the parts of an address; most often right, else odd."""
    return {
        "job_id": job.pk, "part_id": part.pk, "amendment_id": uuid.uuid4(),
        "reading_id": uuid.uuid4(), "recording_id": uuid.uuid4(), "task_id": uuid.uuid4(),
        "paper_id": uuid.uuid4(), "place": chance.choice([0, 1, 10**12]), "number": chance.choice([0, 1, 2, 10**12]),
        "set_id": uuid.uuid4(), "schedule_id": uuid.uuid4(), "plate_id": uuid.uuid4(), "name": chance.choice(["circuit", "dwelling", "motor", "nothing", "é", "a" * 200]),
        "ending": chance.choice(["csv", "xlsx", "pdf", "é"]),
        "key": chance.choice(["abc", "a" * 300, "é"]), "token": chance.choice(["x", "a:b:c"]),
        "uidb64": chance.choice(["MQ", "é", "x" * 50]), "edition_id": chance.choice(
            ["nec-2020", "nec-2017", "cables", "..", "nec-9999"]),
        "topic": chance.choice(["ampacity", "limits", "cooking", "nothing", "é"]),
    }  # fmt: skip


def workbook(change):
    """A workbook with one of its files changed."""
    book = Workbook()
    book.active.append(["Name", "Load"])
    book.active.append(["A", "1 kW"])
    file = io.BytesIO()
    book.save(file)
    out = io.BytesIO()
    with zipfile.ZipFile(file) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for item in old.infolist():
            content = change(item.filename, old.read(item.filename))
            if content is not None:
                new.writestr(item.filename, content)
    return out.getvalue()


def files():
    """Files that are no tables, or too much of one, by what is wrong with them."""
    sheet, strings = "xl/worksheets/sheet1.xml", "xl/sharedStrings.xml"
    huge = b"<worksheet><sheetData>" + b"<row><c><v>1</v></c></row>" * 400_000

    def only(name, content):
        return workbook(lambda n, c: content if n == name else c)

    bomb = (
        b'<!DOCTYPE a [<!ENTITY b "'
        + b"x" * 9000
        + b'"><!ENTITY c "'
        + b"&b;" * 9000
        + b'">]><a>&c;</a>'
    )
    table = {
        "broken.xlsx": b"not a workbook", "empty.xlsx": b"", "cut.xlsx": workbook(lambda n, c: c)[:900],
        "no_sheet.xlsx": only(sheet, None), "no_types.xlsx": only("[Content_Types].xml", None),
        "no_workbook.xlsx": only("xl/workbook.xml", None), "no_xml.xlsx": only(sheet, b"\x00\xff"),
        "half.xlsx": only(sheet, b"<worksheet><sheetData><row>"), "bomb.xlsx": only(sheet, bomb),
        "strings.xlsx": only(strings, b"<sst>" + b"<si><t>x</t></si>" * 500_000),
        "huge.xlsx": only(sheet, huge), "styles.xlsx": only("xl/styles.xml", b"<styleSheet/>"),
        "formats.xlsx": workbook(lambda n, c: c.replace(b"<fonts", b"<fonts", 1).replace(
            b"<font>", b'<font><sz val="11"/></font>' * 100_000 + b"<font>", 1)
            if n == "xl/styles.xml" else c),
        "rels.xlsx": only("xl/_rels/workbook.xml.rels", b"<Relationships/>"),
        "cell.xlsx": only(sheet, b'<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/'
                          b'2006/main"><sheetData><row r="x"><c r="ZZZZZZ9999999999" t="s"><v>99999'
                          b"</v></c></row></sheetData></worksheet>"),
        "nul.csv": b"Name\nA\x00B\n", "quote.csv": b'Name,Load\n"A,1\n' + b"x" * 200_000,
        "wide.csv": b"Name" + b",x" * 100_000 + b"\nA\n", "long.csv": b"Name\n" + b"x\n" * 200_000,
        "odd.csv": "Name,Load\n\x07\u202e,1 kW\n".encode(), "utf16.csv": "Name\nA\n".encode("utf-16"),
        "json.csv": b'{"a": 1}', "field.csv": b"part,point,value\n" + b"y" * 300_000,
        "deep.json": b"[" * 100_000, "no.json": b"{}", "old.json": b'{"format": "voltaje-account"}',
        "odd.json": b'{"format": "voltaje-account", "version": 1, "jobs": [{"name": null}, 7]}',
    }  # fmt: skip
    return [SimpleUploadedFile(name, content) for name, content in table.items()]
