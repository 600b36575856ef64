"""What entries can say is asked by capability: the kinds that have it, under their codes."""

import pytest

from voltaje.core import capabilities
from voltaje.core.capabilities import can
from voltaje.core.kinds import kinds
from voltaje.core.rules.interface import families

HAVE = [
    (capabilities.InCases, "nec", {"circuit", "cooking", "motor"}),
    (capabilities.Fused, "bs7671", {"street"}),
    (capabilities.LimitsDrop, "bs7671", {"distribution"}),
    (capabilities.MainDevice, "nec", {"board"}),
    (capabilities.FullyRated, "cec", {"circuit", "feeder"}),
    (capabilities.FullyRated, "nec", set()),
    (capabilities.SeveralDwellings, "asnzs3000", {"dwelling"}),
    (capabilities.Diversified, "bs7671", {"circuit"}),
    (capabilities.Diversified, "nec", set()),
]


def model(of, code):
    """The entries of a kind under a family, made without being read."""
    return of.entries_in(code).model_construct()


@pytest.mark.parametrize(("capability", "family", "wanted"), HAVE)
def test_the_kinds_that_have_a_capability(capability, family, wanted):
    (code,) = (one for one in families() if one.family == family)
    found = {of.name for of in kinds() if of.covers(code) and can(model(of, code), capability)}
    assert found >= wanted and bool(found) == bool(wanted)


def test_every_kind_of_every_family_answers():
    """Asked of all, a capability is a plain yes or no, and what says yes has every entry of it."""
    asked = [one for name, one in vars(capabilities).items() if getattr(one, "_is_protocol", False)]
    assert len(asked) > 12
    for code in families():
        for of in (of for of in kinds() if of.covers(code)):
            entries = model(of, code)
            for capability in asked:
                if can(entries, capability):
                    for name in capability.__annotations__:
                        assert name in type(entries).model_fields or hasattr(entries, name)
