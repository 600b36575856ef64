"""Sheets, quick sheets, rules, the program's address: right input and wrong."""

import json
import re
from html import unescape
from urllib.parse import parse_qsl

import pytest
from django.test import Client
from django.urls import reverse
from pages import flat

from voltaje.core.codes import editions
from voltaje.web.jobs.demo import COTTAGE
from voltaje.web.jobs.models import Job
from voltaje.web.kinds import presentations
from voltaje.web.parts.quick_views import gallery

NASTY = [
    "", "-5", "1e9", "10⁹", "0", "0 V", "abc", "<script>alert(1)</script>", "٣",
    "12 kW\t3 kW\n4 kW", "' OR 1=1 --", "\x00", "NaN", "inf", "9" * 5000, "{{ 7|add:7 }}", "½", "1,2,3", "٪", "🔥 kW",
]  # fmt: skip
FIELDS = ["area", "small_appliance_circuits", "calculation", "method", "appliances.a1.nameplate",
          "appliances.a1.connection", "appliances.a1.count", "cooking.c1.nameplate",
          "climate.h1.what", "dryers.d1.name"]  # fmt: skip


def whole_form():
    data = {}
    for name, value in COTTAGE.items():
        for row in value if isinstance(value, list) else ():
            data |= {f"{name}.{row['id']}.{k}": v for k, v in row.items() if k != "id"}
        if not isinstance(value, list):
            data[name] = value
    return data


def state(answer):
    text = answer.content.decode().split('data-state="')[1].split('"')[0]
    return json.loads(text.replace("&quot;", '"').replace("&#x27;", "'").replace("&amp;", "&"))


def test_work_follows_what_is_typed_and_keeps_nothing(owner, job, cottage):
    url = reverse("jobs:work", args=[job.pk, cottage.pk])
    answer = owner.post(url, {**whole_form(), "cooking.c1.nameplate": "14.2 kW", "seq": "7"})
    body = answer.content.decode()
    assert "8,800" in body and "Column C raised by 10 %" in body
    assert state(answer)["seq"] == "7" and state(answer)["problems"] == []
    assert Job.objects.get(pk=job.pk).revision == 1


@pytest.mark.parametrize("text", NASTY)
@pytest.mark.parametrize("field", FIELDS)
def test_any_text_in_any_field_is_answered(owner, job, cottage, field, text):
    work = owner.post(
        reverse("jobs:work", args=[job.pk, cottage.pk]), {**whole_form(), field: text}
    )
    assert work.status_code == 200
    assert "<script>alert" not in work.content.decode()
    if state(work)["problems"]:
        assert work["HX-Reswap"] == "none"
    else:
        assert "answer" in work.content.decode()


@pytest.mark.parametrize("text", NASTY)
def test_any_text_is_kept_and_shown_again(owner, job, cottage, text):
    url = reverse("jobs:save", args=[job.pk, cottage.pk])
    posted = {"set:dryers.d1.name": text, "set:area": text}
    # what is longer than an entry may be is refused in words, and nothing of it is kept
    assert owner.post(url, posted).status_code == (422 if len(text) > 200 else 200)
    for name in ("part", "print", "json"):
        page = owner.get(reverse(f"jobs:{name}", args=[job.pk, cottage.pk]))
        assert page.status_code == 200
        assert name == "json" or b"<script>alert" not in page.content


def test_too_many_rows_are_refused_in_words(owner, job, cottage):
    url = reverse("jobs:work", args=[job.pk, cottage.pk])
    rows = {f"appliances.n{i}.nameplate": "1" for i in range(1_000)}
    answer = owner.post(url, {**whole_form(), **rows})
    assert answer.status_code == 200
    assert any("at most 200" in p["words"] for p in state(answer)["problems"])
    rows = {f"appliances.n{i}.nameplate": "1" for i in range(10_000)}
    assert owner.post(url, {**whole_form(), **rows}).status_code == 413


@pytest.mark.parametrize(
    "path", ["/sheets/dwelling/work/", "/account/import/", "/api/v1/sheets/dwelling/"]
)
def test_a_body_is_refused_by_its_length_before_it_is_read(path):
    """Sixty megabytes of a stranger's are not read at all."""
    answer = Client().generic("POST", path, b"x", CONTENT_LENGTH="60000000")
    assert answer.status_code == 413


def test_an_oversized_body_is_refused(owner, job, cottage):
    url = reverse("jobs:save", args=[job.pk, cottage.pk])
    answer = owner.post(url, {"set:area": "9" * 1_500_000})
    assert answer.status_code in (400, 413)
    assert Job.objects.get(pk=job.pk).revision == 1


def test_a_missing_token_is_refused(people, job, cottage):
    client = Client(enforce_csrf_checks=True)
    client.force_login(people[0])
    for name in ("save", "work"):
        answer = client.post(reverse(f"jobs:{name}", args=[job.pk, cottage.pk]), {"set:area": "9"})
        assert answer.status_code == 403 and b"too old to be taken" in answer.content


def test_the_supply_shows_what_stands_on_it(owner, job):
    supply = job.parts.get(kind="supply")
    page = owner.get(reverse("jobs:part", args=[job.pk, supply.pk])).content.decode()
    assert "Cottage" in page and "31.4 kVA" in page
    answer = owner.post(
        reverse("jobs:work", args=[job.pk, supply.pk]), {"system": "1ph-120/240", "rating": "100"}
    )
    assert "31 A over the supply" in answer.content.decode().replace("&#x27;", "'")


def test_print_is_ready_for_a_permit(owner, job, cottage):
    url = reverse("jobs:print", args=[job.pk, cottage.pk])
    for paper in ("letter", "a4"):
        page = owner.get(url, {"paper": paper}).content.decode()
        for words in ("NEC 2020", "Revision", "A calculation aid", "150 A", "Signature",
                      "220.14(J)", "Neutral", f'class="{paper}"'):  # fmt: skip
            assert words in page


@pytest.mark.parametrize("code", [e.id for e in editions()])
def test_every_rule_has_its_page(client, code, db):
    assert client.get(reverse("codes:rules", args=[code])).status_code == 200
    from voltaje.core.codes import edition

    for topic in edition(code).topics():
        page = client.get(reverse("codes:rule", args=[code, topic]))
        assert page.status_code == 200 and b"Checked" in page.content


def test_a_rule_opens_around_the_cell_that_was_read(client, db):
    """The rows and columns beside it, and what it is in the other editions."""
    url = reverse("codes:rule", args=["nec-2020", "ampacity"])
    page = client.get(url, {"row": "2", "column": "copper 75"}).content.decode()
    strip = page[page.index('class="code-table strip"') : page.index("</table>")]
    rows = re.findall(r'<th scope="row">(.*?)</th>', strip)
    assert rows == ["4", "3", "2", "1", "1/0"] and strip.count("⋮") == 2
    assert re.search(r'class="cell"[^>]*>\s*115\s*<', strip)
    assert "NEC 2017: the same" in flat(page)
    other = client.get(
        reverse("codes:rule", args=["nec-2023", "ampacity"]), {"row": "nothing", "column": "x"}
    )
    assert "strip" not in other.content.decode() and other.status_code == 200


def test_a_chip_marks_its_cell(client, db):
    url = reverse("codes:rule", args=["nec-2020", "cooking"])
    page = client.get(url, {"row": "4", "column": "C kW"}, HTTP_HX_REQUEST="true").content.decode()
    assert '<td class="cell" aria-current="true">17</td>' in flat(page)
    assert "from memory" in page and "<html" not in page
    for bad in (["nec-1897", "cooking"], ["nec-2020", "nothing"], ["..", "cooking"]):
        assert client.get(f"/codes/{bad[0]}/{bad[1]}/").status_code == 404


def test_quick_sheet_without_sign_in(client, db):
    assert client.get(reverse("sheets:quick", args=["dwelling"])).status_code == 200
    url = reverse("sheets:quick_work", args=["dwelling"])
    answer = client.post(url, {"area": "1500", "code": "nec-2023", "system": "1ph-120/240"})
    assert "220.41" in answer.content.decode()
    odd = client.post(url, {"area": "140", "code": "x", "system": "x", "units": "metric"})
    assert "4,520" in odd.content.decode()  # 140 m² × 10.764 × 3 VA, under the usual code
    assert client.get("/quick/castle/").status_code == 404


@pytest.mark.parametrize("name", [n for n, p in presentations().items() if p.quick])
def test_an_empty_quick_sheet_shows_worked_examples(client, db, name):
    """Two at least, each with an answer and a picture; the sheet that one fills says the same."""
    found = gallery(name)
    assert len(found) >= 2
    page = client.get(reverse("sheets:quick", args=[name])).content.decode()
    for one in found:
        assert one.answer and one.drawing.startswith("<svg") and one.answer in unescape(page)
        assert "id=" not in one.drawing and "role=" not in one.drawing
        asked = client.post(reverse("sheets:quick_work", args=[name]), dict(parse_qsl(one.asks)))
        assert 'class="answer' in asked.content.decode(), one.title


def test_a_quick_sheet_is_filed_after_signing_in(client, people):
    posted = {"area": "1500", "appliances.n1.name": "Heater", "appliances.n1.nameplate": "4.5 kW",
              "appliances.n1.connection": "240", "code": "nec-2023"}  # fmt: skip
    answer = client.post(reverse("sheets:quick_file", args=["dwelling"]), posted, follow=True)
    assert answer.redirect_chain[-1][0].startswith("/account/sign-in/")
    answer = client.post(
        answer.redirect_chain[-1][0],
        {"username": "owner@trade.example", "password": "a long enough word",
         "next": reverse("sheets:file")}, follow=True,
    )  # fmt: skip
    assert b"File into a job" in answer.content
    assert client.post(reverse("sheets:file"), {"name": ""}).status_code == 422
    client.post(reverse("sheets:file"), {"name": "Filed"})
    job = Job.objects.get(name="Filed")
    assert job.edition == "nec-2023"
    assert job.parts.get(kind="dwelling").entries["area"] == "1500 ft²"
    # and into a job there is, but never into somebody else's
    client.post(reverse("sheets:quick_file", args=["dwelling"]), posted)
    client.post(reverse("sheets:file"), {"job": str(job.pk)})
    assert job.parts.filter(kind="dwelling").count() == 2


def test_programs_get_what_the_command_prints(client, people):
    from knox.models import AuthToken

    _, token = AuthToken.objects.create(people[0])
    head = {"HTTP_AUTHORIZATION": f"Token {token}"}
    url = "/api/v1/sheets/dwelling/?code=nec-2017"

    def send(body, url=url, **more):
        return client.post(url, body, content_type="application/json", **head, **more)

    found = send({"area": 1500, "cooking": [{"nameplate": "12 kW"}]}).json()
    assert found["results"]["cooking_demand"]["value"] == 8000 and found["code"] == "nec-2017"
    assert send({}).status_code == 422 and send("{").status_code == 400
    # a book of practice is no code
    assert all(
        send({}, f"/api/v1/sheets/dwelling/?code={x}").status_code == 400 for x in ("x", "cables")
    )
    assert send({}, "/api/v1/sheets/dwelling/?system=x").status_code == 400
    assert send({}, "/api/v1/sheets/castle/").status_code == 404
    assert client.get("/api/v1/sheets/", **head).json()["codes"][0] == "nec-2017"
    assert "area" in client.get("/api/v1/sheets/dwelling/schema/", **head).json()["properties"]
    assert client.post(url, {}).status_code in (401, 403)
    assert client.post(url, HTTP_AUTHORIZATION="Token nonsense").status_code == 401


def test_a_session_may_call_too_but_not_without_its_token(people):
    client = Client(enforce_csrf_checks=True)
    client.force_login(people[0])
    url, body = "/api/v1/sheets/dwelling/", {"area": 1500}
    assert client.post(url, body, content_type="application/json").status_code == 403
    client.get(reverse("jobs:create"))
    token = client.cookies["csrftoken"].value
    found = client.post(url, body, content_type="application/json", HTTP_X_CSRFTOKEN=token)
    assert found.status_code == 200 and found.json()["ok"]


@pytest.mark.parametrize("name", ["", "x" * 81])
def test_a_job_needs_a_name(owner, name):
    answer = owner.post(
        reverse("jobs:create"), {"name": name, "edition": "nec-2020", "units": "us"}
    )
    assert answer.status_code == 200
    assert b"Give the job a name" in answer.content or b"at most 80" in answer.content
    assert Job.objects.count() == 0


def test_search_and_rename(owner, job, cottage):
    assert b"Mill" in owner.get(reverse("jobs:list"), {"q": "mil"}, HTTP_HX_REQUEST="true").content
    assert "No job has" in owner.get(reverse("jobs:list"), {"q": "zzz"}).content.decode()
    owner.post(reverse("jobs:rename_part", args=[job.pk, cottage.pk]), {"name": "Lodge"})
    assert job.parts.get(pk=cottage.pk).name == "Lodge"


def test_the_front_page_names_every_edition_and_every_quick_sheet(client):
    text = client.get("/").content.decode()
    assert all(book.title in text for book in editions())
    names = [name for name, shown in presentations().items() if shown.quick]
    assert all(f'href="/quick/{name}/"' in text for name in names)
