"""What programs may ask, as it is written down: valid, whole, and true of what is answered."""

import json
import re

import jsonschema
import pytest
from django.urls import reverse
from drf_spectacular.validation import validate_schema

from voltaje.core.codes import editions
from voltaje.core.kinds import Context, evaluate, kinds
from voltaje.core.rules.interface import families
from voltaje.web.api.reference import references, written
from voltaje.web.kinds import presentation

TITLES = {of.name: "".join(word.title() for word in of.name.split("_")) for of in kinds()}


def test_it_is_openapi_and_open_to_all(client, db):
    found = client.get(reverse("api:openapi")).json()
    validate_schema(found)
    assert found["openapi"].startswith("3.1") and found == written()
    assert {f"/api/v1/sheets/{name}/" for name in TITLES} < set(found["paths"])


def whole(name):
    """A schema with the definitions that it refers to."""
    return {"$ref": f"#/components/schemas/{name}", "components": written()["components"]}


@pytest.mark.parametrize("of", kinds(), ids=lambda of: of.name)
def test_entries_and_results_of_a_kind_are_described(of):
    """The examples of each kind are what its schema accepts, and what they give is described."""
    schemas = written()["components"]["schemas"]
    results = schemas[f"{TITLES[of.name]}Results"]
    patterns = [re.compile(one) for one in results.get("patternProperties", ())]
    assert results["properties"], of.name
    models = [
        name for name in schemas if re.fullmatch(f"{TITLES[of.name]}[A-Z0-9a-z]*Entries", name)
    ]
    code = next(code for code in families() if of.covers(code))
    for example in presentation(of.name).examples:
        document = json.loads(json.dumps(example.entries))
        assert any(jsonschema.Draft202012Validator(whole(model)).is_valid(document)
                   for model in models), example.title  # fmt: skip
        worked = evaluate(of, document, Context(editions(code.family)[-1])).report
        for name in worked.results if worked else ():
            assert name in results["properties"] or any(p.match(name) for p in patterns), name


def test_a_wrong_entry_is_none_of_the_schema():
    asked = jsonschema.Draft202012Validator(whole("MotorNecEntries"))
    assert asked.is_valid({"horsepower": "15 hp"})
    assert not asked.is_valid({"horse_power": "15 hp"})
    assert not asked.is_valid({"material": "silver"})


def test_the_page_tells_every_kind(client, db):
    text = client.get(reverse("api:reference")).content.decode()
    for one in references():
        assert f'id="{one.of.name}"' in text
        for _, entries in one.entries:
            assert all(f"<code>{spec.name}</code>" in text for spec in entries)
        assert all(f"<code>{name}</code>" in text for name in one.results)
