"""Short ways to a worked dwelling."""

import pytest

from voltaje.core.codes import edition
from voltaje.core.electrical.systems import SYSTEMS, SupplyPoint
from voltaje.core.kinds import Context, evaluate, kind


@pytest.fixture(scope="session")
def code_2020():
    return edition("nec-2020")


@pytest.fixture(scope="session")
def found():
    """``found(document, code, system)``: a dwelling evaluated, problems and all."""

    def run(document, code="nec-2020", system="1ph-120/240", units="us"):
        context = Context(edition(code), units, SupplyPoint(SYSTEMS[system]))
        return evaluate(kind("dwelling"), document, context)

    return run


@pytest.fixture(scope="session")
def work(found):
    """The same, worked: fails with the problems if there are any."""

    def run(*args, **kwargs):
        result = found(*args, **kwargs)
        assert result.problems == ()
        return result.report

    return run
