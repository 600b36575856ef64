"""Usual values: entered once on an item, they hold for all below it that say nothing themselves."""

from __future__ import annotations

from dataclasses import replace
from random import Random

import pytest
from core import random_entries

from voltaje.core.codes import edition, editions
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.job import code_comparison
from voltaje.core.job.calculate import calculate_job
from voltaje.core.job.usual_values import inherited_values, with_usual_values
from voltaje.core.kinds import PartInput, kind
from voltaje.core.kinds.usual_below import PREFIX, usual_specs
from voltaje.core.rules.interface import code_of, families


def book(family: str):
    return editions(family)[-1]


def circuit_on_board(supply=None, board=None, **own: str) -> list[PartInput]:
    load = {"load": "3 kW", "length": "20 m", **own}
    return [
        PartInput("s", "supply", None, supply or {}, "Intake"),
        PartInput("b", "board", "s", board or {}, "DB1"),
        PartInput("c", "circuit", "b", load, "Heater"),
    ]


@pytest.mark.parametrize("family", [code.family for code in families()])
def test_every_usual_value_is_as_if_it_were_entered_on_the_circuit_itself(family: str) -> None:
    code, book_ = code_of(family), book(family)
    specs = usual_specs(code.wiring)
    assert len(specs) >= 5
    for name, spec in specs.items():
        texts = [value for value, _ in spec.choices][1:] or ["2", "35"]
        for text in texts:
            above = calculate_job(circuit_on_board(board={PREFIX + name: text}), book_)["c"]
            itself = calculate_job(circuit_on_board(**{name: text}), book_)["c"]
            assert above.outcome == itself.outcome, (name, text)
            assert [p.words for p in above.problems] == [p.words for p in itself.problems]


def test_the_nearest_says_and_the_item_itself_before_it() -> None:
    nec = edition("nec-2020")
    usual = {"usual_material": "aluminum"}
    metals = [
        calculate_job(parts, nec)["c"].outcome.sizing.choice.pair.option.material
        for parts in (
            circuit_on_board(),
            circuit_on_board(supply=usual),
            circuit_on_board(supply=usual, board={"usual_material": "copper"}),
            circuit_on_board(supply=usual, material="copper"),
            circuit_on_board(supply=usual, material=" "),
            circuit_on_board(supply=usual, board={"usual_material": ""}),
        )
    ]
    assert metals == ["copper", "aluminum", "copper", "copper", "aluminum", "aluminum"]
    parts = circuit_on_board(supply=usual, board={"usual_ambient": "40"})
    taken = inherited_values(parts, nec_code())
    assert {name: (one.text, one.of) for name, one in taken["c"].items()} == {
        "material": ("aluminum", "Intake"),
        "ambient": ("40", "DB1"),
    }
    assert "b" not in taken  # a board has no conductors of its own


def nec_code():
    return code_of("nec")


def test_a_choice_that_an_item_does_not_have_is_left_to_it() -> None:
    parts = [
        PartInput("s", "supply", None, {"usual_insulation": "TW", "usual_ambient": "45"}, "Intake"),
        PartInput("d", "dwelling", "s", {}, "House"),
    ]
    taken = inherited_values(parts, nec_code()).get("d", {})
    model = kind("dwelling").entries_in(nec_code())
    for name, one in taken.items():
        assert name in model.model_fields
        assert one.text != "TW" or "TW" in str(model.model_fields[name].annotation)


def test_under_a_second_code_they_hold_as_the_first_means_them() -> None:
    parts = circuit_on_board(board={"usual_insulation": "THW", "usual_ambient": "45"})
    put = [
        replace(p, document={k: v for k, v in p.document.items() if not k.startswith(PREFIX)})
        for p in with_usual_values(parts, nec_code())
    ]
    for other in families():
        if other.family != "nec":
            read = code_comparison.inputs(parts, nec_code(), other)
            assert read == code_comparison.inputs(put, nec_code(), other)
            worked = calculate_job(read, book(other.family))
            assert not worked["b"].problems, worked["b"].problems


@pytest.mark.parametrize("seed", range(4))
@pytest.mark.parametrize("family", [code.family for code in families()])
def test_over_any_tree_they_are_as_if_entered_on_each(family: str, seed: int) -> None:
    rng, code = Random(f"{family} {seed}"), code_of(family)
    parts = random_entries.tree(family, SYSTEMS[code.systems[0]], rng)
    specs = usual_specs(code.wiring)
    some = {
        PREFIX + name: rng.choice([value for value, _ in spec.choices] or ["3"])
        for name, spec in specs.items()
    }
    parts = [replace(p, document={**p.document, **some}) if not p.parent else p for p in parts]
    put = [
        replace(p, document={k: v for k, v in p.document.items() if not k.startswith(PREFIX)})
        for p in with_usual_values(parts, code)
    ]
    first, second = calculate_job(parts, book(family)), calculate_job(put, book(family))
    for key, one in first.items():
        assert one.problems == second[key].problems
        if one.report is not None:
            assert one.report.headline == second[key].report.headline
