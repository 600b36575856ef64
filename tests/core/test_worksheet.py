"""Worksheets, figures, editions: the small things everything rests on."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from voltaje.core.codes import Edition, NotCoveredError, Table, editions
from voltaje.core.codes import edition as find
from voltaje.core.report import Text, figure, figure_beside, fits, say, to_json, worst


@pytest.mark.parametrize(
    ("value", "digits", "text"),
    [(18600.0, 2, "18,600"), (0.75, 2, "0.75"), (172.5, 0, "173"), (171.5, 0, "172"), (2.5, 0, "3"),
     (1234567.891, 1, "1,234,567.9"), (0, 2, "0"), (-3900.0, 2, "-3,900"), (5, 2, "5"),
     ("1/0 AWG", 1, "1/0 AWG"), (True, 1, "True"), (0.1 + 0.2, 2, "0.3")],
)  # fmt: skip
def test_figures_as_the_trade_writes_them(value, digits, text):
    assert figure(value, digits) == text


@given(st.floats(0, 1e7), st.integers(0, 3))
def test_a_figure_is_within_half_of_its_last_digit(value, digits):
    assert abs(float(figure(value, digits).replace(",", "")) - value) <= 0.5 * 10**-digits * 1.0001


@pytest.mark.parametrize(
    ("load", "capacity", "holds"),
    [
        (40.0, 40, True),
        (0.1 + 0.2, 0.3, True),
        (40.000001, 40, False),
        (39.9, 40, True),
        (0, 0, True),
    ],
)
def test_fits(load, capacity, holds):
    assert fits(load, capacity) is holds


def test_texts_keep_their_figures_apart():
    text = say("{count} at {each} VA", count=3, each=5000.0)
    assert (text.template, dict(text.params)) == (
        "{count} at {each} VA",
        {"count": "3", "each": "5,000"},
    )
    assert str(text) == "3 at 5,000 VA"
    assert str(Text("{each} VA, {count} veces", text.params)) == "5,000 VA, 3 veces"


@pytest.mark.parametrize(
    ("found", "status"),
    [([], "pass"), (["pass", "check"], "check"), (["check", "fail", "pass"], "fail")],
)
def test_the_worst_finding_is_the_status(found, status):
    assert worst(found) == status


def test_a_worksheet_as_json_holds_everything_and_survives(work):
    worked = work({"area": 1500, "cooking": [{"name": "Range", "nameplate": "14 kW"}]})
    found = json.loads(json.dumps(to_json(worked)))
    line = next(
        item
        for section in found["sections"]
        for item in section["lines"]
        if item["name"] == "cooking_column_c"
    )
    assert line["value"] == 8800 and line["unit"] == "VA"
    assert [rule["cite"] for rule in line["rules"]] == ["Table 220.55", "220.55 Note 1"]
    assert line["rules"][0] | {"row": "1", "column": "C kW"} == line["rules"][0]
    assert "counts as 2" in line["rounding"] and line["entries"] == ["cooking.r0.nameplate"]
    with pytest.raises(KeyError):
        worked.line("nothing")
    with pytest.raises(KeyError):
        worked.section("nothing")
    with pytest.raises(TypeError, match="in words"):
        worked.value("service_conductor_copper")


def write(folder, name, text):
    folder.mkdir(exist_ok=True)
    (folder / name).write_text(text, encoding="utf-8")


HEAD = "# title: T\n# source: S\n# checked: from memory\n"


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("# title: T\n# source: S\na,b\n1,2\n", "lacks checked"),
        (HEAD + "a,b\n1,2\n1,3\n", "given twice"),
        (HEAD + "a,b\n1,2,3\n", "does not fit"),
        (HEAD + "a,b\n1\n", "does not fit"),
    ],
)
def test_a_table_that_is_not_whole_is_refused(tmp_path, text, words):
    write(tmp_path, "t.csv", text)
    with pytest.raises(ValueError, match=words):
        Table.load(tmp_path / "t.csv")


def test_rows_that_are_ranges(tmp_path):
    write(tmp_path, "t.csv", HEAD + "n,v\n1,10\n2-5,20\n6+,30\n")
    table = Table.load(tmp_path / "t.csv")
    assert [table.rows[table.span(n)]["v"] for n in (1, 2, 5, 6, 99)] == [
        "10",
        "20",
        "20",
        "30",
        "30",
    ]
    with pytest.raises(KeyError):
        table.span(0)
    assert table.column("v") == {"1": 10.0, "2-5": 20.0, "6+": 30.0}


def test_an_edition_answers_itself_then_its_parent_then_not(tmp_path):
    """An edition of one rule under the 2020 one."""
    write(tmp_path / "own", "edition.csv", "title,year,parent,family\nOwn,2099,nec-2020,nec\n")
    write(tmp_path / "own", "rules.csv",
          "topic,number,table,says,checked\nrounding,999.9,no,says,from memory\n")  # fmt: skip
    write(tmp_path / "own", "lighting_demand.csv", HEAD + "above VA,percent\n0,50\n")
    own = Edition(tmp_path / "own")
    assert own.rule("rounding").number == "999.9"
    assert own.rule("unit_load").number == "220.14(J)"
    assert own.cell("lighting_demand", "0", "percent").value == 50
    assert own.cell("cooking", "1", "C kW").value == 8
    assert own.cell("cooking", "1", "C kW").rule.edition == "own"
    for bad in (("cooking", "1", "D kW"), ("cooking", "1", "C kW each"), ("nothing", "1", "A")):
        with pytest.raises(NotCoveredError, match="not covered by Own"):
            own.cell(*bad)


def test_editions_inherit_in_order_and_load_once():
    assert [item.year for item in editions("nec")] == [2017, 2020, 2023]
    assert [item.id for item in find("nec-2023").lineage()] == ["nec-2023", "nec-2020", "nec-2017"]
    assert find("nec-2020") is find("nec-2020")
    assert find("nec-2023").table("cooking") is find("nec-2017").table("cooking")


@pytest.mark.parametrize(
    ("value", "limit", "digits", "told"),
    [(5.04, 5, 1, "5.04"), (5.0, 5, 1, "5"), (5.6, 5, 1, "5.6"), (99.52, 100, 0, "99.5"),
     (100.04, 100, 0, "100.04"), (99.3, 100, 0, "99"), (0.04, 0, 1, "0.04"), (3.0001, 3, 1, "3")],
)  # fmt: skip
def test_a_figure_never_reads_as_the_limit_that_it_is_not(value, limit, digits, told):
    assert figure_beside(float(value), float(limit), digits) == told
