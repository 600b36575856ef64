"""Single-phase or three-phase: the two questions. Common practice, no source."""

import pytest

from voltaje.core.electrical.advice import advise


@pytest.mark.parametrize(
    ("only", "kva", "limit", "system", "words"),
    [
        (False, 30, 400, "1ph-120/240", "125 A at 240 V is within"),
        (False, 96, 400, "1ph-120/240", "400 A at 240 V is within"),
        (False, 96.5, 400, "3ph-208Y/120", "more than the 400 A"),
        (False, 60, 200, "3ph-208Y/120", "more than the 200 A"),
        (True, 5, 400, "3ph-208Y/120", "however small"),
        (True, 500, 400, "3ph-480Y/277", "heavy at 208 V"),
    ],
)
def test_two_questions_decide(only, kva, limit, system, words):
    found = advise(only, kva, limit)
    assert found.system.id == system and words in " ".join(str(text) for text in found.why)
