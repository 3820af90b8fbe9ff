"""Each finding tells what can be done about it."""

from dataclasses import replace

from tests.core.test_checks import facts
from veridox.core.checks import CODES, run_checks
from veridox.core.checks.doing import WHAT_TO_DO


def test_every_code_has_a_sentence_and_no_other_has():
    assert set(WHAT_TO_DO) == set(CODES)
    assert all(said.endswith(".") and said[0].isupper() for said in WHAT_TO_DO.values())


def test_no_finding_leaves_people_without_a_word():
    empty = replace(facts(), reading=replace(facts().reading, fields={}))
    found = run_checks(empty)
    assert found
    assert all(each.hint for each in found)
