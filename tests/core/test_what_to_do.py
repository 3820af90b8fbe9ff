"""Each finding tells what can be done about it."""

import ast
from dataclasses import replace
from pathlib import Path

import pytest

from tests.core.test_checks import VENDOR, facts
from veridox.core.checks import CODES, run_checks

CHECKS_AT = Path("src/veridox/core/checks")


@pytest.mark.parametrize("code", CODES)
def test_every_code_says_what_to_do_in_a_sentence(code):
    assert CODES[code].do.endswith((".", "?"))
    assert CODES[code].do[0].isupper()


def test_a_finding_that_says_nothing_closer_has_what_its_code_says():
    there = facts(without=("order_number",))
    vendor = replace(VENDOR, needs_order=True)
    found = {each.code: each for each in run_checks(replace(there, order=None, vendor=vendor))}
    assert found["order.missing"].hint == CODES["order.missing"].do


def test_no_check_says_of_one_finding_what_its_code_says_already():
    for path in CHECKS_AT.glob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if not isinstance(node, ast.Call):
                continue
            said = {each.arg: each.value for each in node.keywords}
            if "hint" in said and isinstance(said["hint"], ast.Constant):
                code = said["code"].value if isinstance(said["code"], ast.Constant) else None
                assert code is None or CODES[code].do != said["hint"].value, (path, code)
