"""What programs may ask, as OpenAPI 3.1 and as a page: each kind of item with its entries and its
results.

The entries' schemas are those of the entries models. What results a sheet gives is asked of the
demo's jobs and of the examples of each kind, under each family: no list of them stands anywhere.
That takes some seconds, so ``checks/openapi.py`` writes it down and ``./voltaje check`` holds it.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

from voltaje.core.codes import editions
from voltaje.core.electrical.systems import SYSTEMS
from voltaje.core.entries import FieldSpec, fields, schema
from voltaje.core.job.calculate import calculate_job
from voltaje.core.kinds import Context, Kind, PartInput, evaluate, kinds
from voltaje.core.report import Result
from voltaje.core.rules.context import supplied
from voltaje.core.rules.interface import Code, code_of, families, usual_supplies
from voltaje.web.jobs import demo_quay
from voltaje.web.jobs.demo import COTTAGE, MILL, Planted
from voltaje.web.kinds import presentation

SHEET = "/api/v1/sheets/{name}/"
_BY_ID = re.compile(r"_of_[\w.]+$")  # results of an item that stands on another, by its id


_FIRST = re.compile(r", | or ")  # an example may name several ways to write it
FILE = Path(__file__).parent / "openapi.json"


@dataclass(frozen=True, slots=True)
class KindReference:
    """A kind as a program meets it: its entries by family (families that ask the same stand
    together), and its results by name, as JSON schemas."""

    of: Kind
    entries: tuple[tuple[tuple[Code, ...], tuple[FieldSpec, ...]], ...]
    results: Mapping[str, Any]


@cache
def written() -> dict[str, Any]:
    """The description of all addresses as it was written down."""
    found: dict[str, Any] = json.loads(FILE.read_text(encoding="utf-8"))
    return found


def references() -> tuple[KindReference, ...]:
    """Every kind that a program can ask for."""
    schemas = written()["components"]["schemas"]
    return tuple(
        KindReference(of, tuple(_entries(of)), _told(schemas.get(f"{_title(of)}Results", {})))
        for of in kinds()
    )


def _told(results: Mapping[str, Any]) -> Mapping[str, Any]:
    """Results by name; those that go by an item's id with the id left open."""
    by_id = {
        f"{name.strip('^')}…": one for name, one in results.get("patternProperties", {}).items()
    }
    return {**results.get("properties", {}), **by_id}


def _title(of: Kind) -> str:
    return "".join(word.title() for word in of.name.split("_"))


def _entries(of: Kind) -> Iterable[tuple[tuple[Code, ...], tuple[FieldSpec, ...]]]:
    found: list[tuple[list[Code], tuple[FieldSpec, ...]]] = []
    for code in (code for code in families() if of.covers(code)):
        asked = fields(of.entries_in(code))
        alike = next((codes for codes, other in found if other == asked), None)
        if alike is None:
            found.append(([code], asked))
        else:
            alike.append(code)
    return ((tuple(codes), asked) for codes, asked in found)


def _results(of: Kind, demo: Mapping[str, Mapping[str, Result]]) -> Mapping[str, Result]:
    """Every result that the demo's jobs and the kind's own examples give, under each family."""
    found = dict(demo.get(of.name, {}))
    shown = presentation(of.name)
    for code in (code for code in families() if of.covers(code)):
        edition = editions(code.family)[-1]
        asked = fields(of.entries_in(code))
        documents: list[Mapping[str, Any]] = [example.entries for example in shown.examples]
        documents.append({f.name: f.example for f in asked if f.required})
        figures = {f.name: _FIRST.split(f.example)[0] for f in asked if f.kind == "quantity"}
        # what is solved for its one open entry
        documents += [{k: v for k, v in figures.items() if k != open_} for open_ in figures]
        systems = {shown.usual_system, *(system.id for system in usual_supplies(code))}
        systems |= {
            example.document.get("system", shown.usual_system) for example in shown.examples
        }
        for document in documents:
            for system in sorted(systems):
                context = Context(edition, code.units, supplied(SYSTEMS[system], edition))
                worked = evaluate(of, dict(document), context).report
                found = {**(worked.results if worked else {}), **found}
    return found


def _of_demo() -> Mapping[str, Mapping[str, Result]]:
    """The results of the demo's jobs by kind."""
    cottage: Planted = ("supply", "", {"system": "1ph-120/240"}, [("dwelling", "", COTTAGE, [])])
    quay: Planted = ("supply", "", demo_quay.SUPPLY, demo_quay.UNDER_SUPPLY)
    found: dict[str, dict[str, Result]] = {}
    for tree in (cottage, MILL, quay):
        parts = list(_parts(tree))
        for edition in (editions(code.family)[-1] for code in families()):
            for part in calculate_job(parts, edition, code_of(edition.family).units).values():
                if part.of is not None and part.report is not None:
                    own = found.setdefault(part.of.name, {})
                    found[part.of.name] = {**part.report.results, **own}
    return found


def _parts(tree: Planted) -> Iterator[PartInput]:
    """A planted tree as a job's parts."""
    waiting: list[tuple[Planted, str | None]] = [(tree, None)]
    for number, ((of, name, document, under), parent) in enumerate(waiting):
        yield PartInput(str(number), of, parent, document, name)
        waiting += [(child, str(number)) for child in under]


def kinds_told(
    result: dict[str, Any], generator: Any, request: Any, public: bool
) -> dict[str, Any]:
    """Puts an address for each kind in the place of the one for all of them: a hook of
    drf-spectacular."""
    paths, parts = result["paths"], result["components"].setdefault("schemas", {})
    plain = paths.pop(SHEET)["post"]
    demo = _of_demo()
    for of in kinds():
        title, models = _title(of), []
        entries = list(_entries(of))
        for codes, _ in entries:
            own = "" if len(entries) == 1 else codes[0].family.title()
            models.append(f"{title}{own}Entries")
            parts[models[-1]] = _anchored(
                schema(of.entries_in(codes[0]), codes[0].units), models[-1]
            )
            parts[models[-1]]["title"] = (
                f"{of.label} under {', '.join(code.title for code in codes)}"
            )
        parts[f"{title}Results"] = _results_schema(_results(of, demo))
        paths[SHEET.replace("{name}", of.name)] = {
            "post": {
                **plain,
                "operationId": f"sheet_{of.name}",
                "summary": f"{of.label}: {of.subtitle}",
                "parameters": [p for p in plain["parameters"] if p["name"] != "name"],
                "requestBody": {
                    "required": True,
                    "content": {"application/json": {"schema": _any_of(models)}},
                },
                "responses": {
                    **plain["responses"],
                    "200": {
                        "description": "The worksheet.",
                        "content": {
                            "application/json": {
                                "schema": {
                                    "allOf": [
                                        {"$ref": "#/components/schemas/Worksheet"},
                                        {
                                            "properties": {
                                                "results": {
                                                    "$ref": f"#/components/schemas/{title}Results"
                                                }
                                            }
                                        },
                                    ]
                                }
                            }
                        },
                    },
                },
            }
        }
    parts.update(_answers())
    result["paths"] = dict(sorted(paths.items()))
    return result


def _any_of(models: list[str]) -> dict[str, Any]:
    refs = [{"$ref": f"#/components/schemas/{name}"} for name in models]
    return refs[0] if len(refs) == 1 else {"anyOf": refs}


def _anchored(node: Any, name: str) -> Any:
    """A schema whose own definitions are found where it stands in the document."""
    if isinstance(node, dict):
        found = {key: _anchored(value, name) for key, value in node.items() if key != "$schema"}
        if isinstance(found.get("$ref"), str):
            found["$ref"] = found["$ref"].replace("#/", f"#/components/schemas/{name}/", 1)
        return found
    if isinstance(node, list):
        return [_anchored(item, name) for item in node]
    return node


def _results_schema(results: Mapping[str, Result]) -> dict[str, Any]:
    plain: dict[str, Any] = {}
    by_id: dict[str, Any] = {}
    for name, one in sorted(results.items()):
        schema_of = {
            "type": "object",
            "description": one.label.template if _BY_ID.search(name) else str(one.label),
            "properties": {
                "value": TEXTS if isinstance(one.value, str) else NUMBER,
                "unit": {"type": "string", "examples": [one.unit]},
                "label": TEXTS,
                "at_least": FLAG,
            },
            "required": ["value", "unit", "label"],
        }
        if _BY_ID.search(name):
            by_id["^" + _BY_ID.sub("_of_", name)] = schema_of
        else:
            plain[name] = schema_of
    words = "By stable name; which of them there are depends on what was entered."
    found = {"type": "object", "description": words, "properties": plain}
    return found | ({"patternProperties": by_id} if by_id else {})


def _of(texts: str, **others: dict[str, Any]) -> dict[str, Any]:
    """An object: the names of its texts, and its other properties."""
    return {"type": "object", "properties": dict.fromkeys(texts.split(), TEXTS) | others}


def _list(item: dict[str, Any]) -> dict[str, Any]:
    return {"type": "array", "items": item}


TEXTS, NUMBER, FLAG = {"type": "string"}, {"type": "number"}, {"type": "boolean"}


def _answers() -> dict[str, Any]:
    """What every sheet answers: see docs/api.md."""
    rules = _list({"$ref": "#/components/schemas/Rule"})
    names = _list(TEXTS)
    problem = _of("entry words")
    severity = {"type": "string", "enum": ["fail", "incomplete", "check", "remark", "pass"]}
    line = _of(
        "name label expression unit rounding note kind",
        value={"type": ["number", "null"]},
        rules=rules,
        entries=names,
    )
    alternative = _of(
        "size metal conductor check why group",
        device=NUMBER,
        sets={"type": "integer"},
        ampacity=NUMBER,
        passes=FLAG,
        chosen=FLAG,
        kg_per_m=NUMBER,
        price_per_m={"type": ["number", "null"]},
        rules=rules,
    )
    worksheet = _of(
        "kind code",
        ok=FLAG,
        status={"type": "string", "enum": ["fail", "incomplete", "check", "pass"]},
        missing=names,
        problems=_list(problem),
        results={"type": "object"},
        sections=_list(_of("name title", lines=_list(line))),
        findings=_list(
            _of("name words amount remedy", severity=severity, rules=rules, entries=names)
        ),
        alternatives=_list(alternative),
        methods=_list(_of("name label unit why", value=NUMBER, chosen=FLAG, permitted=FLAG)),
        wires=_list(_of("role color size")),
        points=_list(_of("name label unit", value=NUMBER, degrees=NUMBER, open=FLAG)),
        tests=_list(_of("name label unit", value=NUMBER, limit=NUMBER, at_most=FLAG)),
    )
    return {
        "Rule": _of("code topic cite row column amended"),
        "Worksheet": worksheet,
        "Problems": _of("status", ok=FLAG, missing=names, problems=_list(problem)),
    }
