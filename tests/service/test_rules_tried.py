"""An expression tried on a document: what it gives, or what is wrong with it and where."""

from datetime import timedelta

import pytest

from demo import bills
from tests.service.conftest import PIPELINE, SYSTEM, table
from tests.service.test_api import Caller
from veridox.service.documents.models import Document, State
from veridox.service.flow.models import Walk
from veridox.service.flow.trying import try_on
from veridox.service.pipelines.actions.publish import publish


@pytest.fixture
def slip(installation):
    return installation.checked(bills.SALT_SLIP, "band")


@pytest.mark.parametrize(("source", "type_", "value", "said"), [
    ("gross_total > 1000 GBP", "truth", "yes", "gross_total 1,481.28 GBP > 1,000.00 GBP: yes"),
    ("vendor.needs_order", "truth", "yes", "vendor.needs_order: yes"),
    ('found("total.sum") and blocked', "truth", "yes", ""),
    ("sum(line.amount for line in lines)", "money", "1,148.40 GBP", ""),
    ("count(findings)", "number", "1", ""),
    ("any(order.closed for order in orders)", "truth", "no", ""),
    ('part(file.name, "[0-9]+")', "text", '"10442"', ""),
    ("net_total + tax_total", "money", "1,421.28 GBP", ""),
    ("due_date - issue_date", "duration", "30 days", ""),
])  # fmt: skip
def test_an_expression_is_evaluated_as_the_gates_would(slip, source, type_, value, said):
    found = try_on(slip, source)
    assert (found.problem, found.type, found.value) == ("", type_, value)
    assert said in found.said


@pytest.mark.parametrize(("source", "why"), [
    ('contract_number == "C"', "contract_number is missing"),
    ("gross_total > 5 EUR", "no rate from GBP to EUR"),
    ('convert(gross_total, "EUR", issue_date)', "no rate from GBP to EUR on"),
])  # fmt: skip
def test_what_cannot_be_evaluated_says_why(slip, source, why):
    found = try_on(slip, source)
    assert (found.value, why in found.why) == ("", True)


def test_amounts_in_other_currencies_are_taken_at_the_rate_of_the_issue_date(slip):
    rates = "currency,into,day,rate,source\n"
    day, before = slip.issue_date, slip.issue_date - timedelta(days=1)
    table("rates", f"{rates}GBP,EUR,{before},1.1,ours\nEUR,NOK,{day},11,ours\n")
    found = try_on(slip, "gross_total > 1600 EUR")
    assert found.said == "gross_total 1,481.28 GBP (1,629.41 EUR) > 1,600.00 EUR: yes"
    assert try_on(slip, "gross_total > 17923.48 NOK").value == "yes"  # by way of the euro
    assert try_on(slip, 'convert(gross_total, "EUR", issue_date)').value == "1,629.41 EUR"
    late = try_on(slip, 'convert(gross_total, "EUR", due_date)')
    assert "no rate from GBP to EUR on" in late.why  # only the day of issue is known


def test_a_gate_compares_at_the_rate_of_the_day_and_stops_without_one(installation):
    installation.version = publish(SYSTEM, PIPELINE.replace(
        "desk:\n", "desk:\n  - when: gross_total > 1 EUR\n    queue: check\n"
    ))  # fmt: skip
    doubtful = installation.checked(bills.VET_VISIT)
    assert doubtful.state == State.AT_DESK
    assert any("no rate from GBP to EUR" in each for each in doubtful.reasons)
    bill = bills.of_its_own("SG-20881")
    day = bill.issued
    table("rates", f"currency,into,day,rate,source\nGBP,EUR,{day},1.1,ours\n")
    small = installation.checked(bill)
    assert small.state == State.AT_DESK
    assert not any("rate" in each for each in small.reasons)


def test_a_mistake_is_told_with_its_place(slip):
    found = try_on(slip, "blocked and gross_totl > 1 GBP")
    assert (found.at, found.hint) == (12, "did you mean gross_total?")
    assert found.type == ""


def test_declared_fields_are_names_too(installation):
    installation.version = publish(SYSTEM, PIPELINE.replace(
        "read:\n", "read:\n  fields:\n    desk_of: {type: text, labels: [desk], default: main}\n"
    ))  # fmt: skip
    document = installation.checked(bills.KRILL)
    assert try_on(document, 'desk_of == "main"').said == 'desk_of "main" == "main": yes'


def test_trying_changes_nothing(slip):
    before = list(Document.objects.values()), Walk.objects.count()
    try_on(slip, "risk > 1 %")
    assert (list(Document.objects.values()), Walk.objects.count()) == before


def test_rules_are_tried_over_the_api(slip, clerk):
    reads = Caller(clerk, "read")
    asked = {"expression": "blocked", "document": slip.pk}
    answer = reads.send("post", "/rules/try", asked)
    assert (answer.status_code, answer.json()["said"]) == (200, "blocked: yes")
    alone = reads.send("post", "/rules/try", {"expression": "risk > 1 %"}).json()
    assert (alone["type"], alone["value"], alone["at"]) == ("truth", "", None)
    wrong = reads.send("post", "/rules/try", {"expression": "rsk > 1 %"}).json()
    assert (wrong["at"], wrong["hint"]) == (0, "did you mean risk?")
    nobody = reads.send("post", "/rules/try", {"expression": "blocked", "document": 999_999})
    assert nobody.status_code == 404
    huge = reads.send("post", "/rules/try", {"expression": "x" * 20_000})
    assert huge.status_code == 400


def test_on_the_command_line(monkeypatch):
    from click.testing import CliRunner

    from veridox.cli.main import cli
    from veridox.client import Veridox

    answers = {
        "blocked": {"type": "truth", "value": "yes", "said": "blocked: yes", "why": "",
                    "problem": "", "hint": "", "at": None},
        "rsk": {"type": "", "value": "", "said": "", "why": "", "problem": "unknown name 'rsk'",
                "hint": "did you mean risk?", "at": 0},
        "number": {"type": "text", "value": "", "said": "", "why": "number is missing",
                   "problem": "", "hint": "", "at": None},
    }  # fmt: skip
    monkeypatch.setattr(Veridox, "try_rule", lambda self, source, document: answers[source])
    monkeypatch.setenv("VERIDOX_TOKEN", "x")

    def run(*words):
        done = CliRunner().invoke(cli, ["rule", "try", *words])
        return done.exit_code, done.output

    assert run("blocked", "--document", "3") == (0, "blocked: yes\n")
    code, said = run("rsk")
    assert (code, said) == (1, "rsk\n^ unknown name 'rsk' (did you mean risk?)\n")
    assert (
        run("number", "--document", "3")[1] == "number: cannot be evaluated (number is missing)\n"
    )
