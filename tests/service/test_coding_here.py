"""Codes of lines in the service: lists come in, people say codes, posted lines are learned from."""

from dataclasses import replace
from decimal import Decimal

import pytest

from demo import bills
from tests.service.caller import Caller
from tests.service.conftest import PIPELINE, SYSTEM, carry_through, go_on, table
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.code import code_lines
from veridox.service.desk.actions.correct import correct
from veridox.service.desk.actions.post import post
from veridox.service.documents.models import CodedPart, State
from veridox.service.errors import BadInputError, WrongStateError
from veridox.service.flow.actions.recheck import recheck_waiting
from veridox.service.masterdata.codes import ledger_codes
from veridox.service.masterdata.models import CostCentre, GlAccount, Project, TaxCode
from veridox.service.pipelines.actions.publish import publish

KRILL = bills.KRILL
ACCOUNTS = (
    "code,name,closed,needs_cost_centre\n4310,Feed,no,yes\n6310,Freight,no,no\n6410,Signs,yes,no\n"
)
CODING = "  coding: {need: [gl_account]}\n"


@pytest.fixture
def cleo(clerk):
    return Actor.of(clerk)


@pytest.fixture
def coded(installation):
    """A pipeline that codes lines, with the ledger's codes."""
    given = PIPELINE.replace("  as: bill\n", f"  as: bill\n{CODING}")
    installation.version = publish(SYSTEM, given)
    table("gl-accounts", ACCOUNTS)
    table("cost-centres", "code,name,owner\nCC-10,Tanks,bo@merrowmere.example\nCC-20,Pumps,\n")
    table("tax-codes", "code,country,category,rate\nGB20,GB,S,20\n")
    return installation


def one(number, quantity=10):
    return replace(KRILL, number=number,
                   lines=(replace(KRILL.lines[0], quantity=Decimal(quantity)),))  # fmt: skip


def codes(document):
    document.refresh_from_db()
    return [
        {name: part[name]["code"] for name in part if name != "amount"}
        for line in document.coding for part in line["parts"]
    ]  # fmt: skip


def found(document):
    return {each["code"] for each in document.findings if each["weight"] == "block"}


def say(actor, document, lines):
    document.refresh_from_db()
    code_lines(actor, document.pk, document.version, lines)
    document.refresh_from_db()


def test_what_nobody_codes_stops_and_goes_on_once_a_person_has_said_it(coded, cleo):
    document = coded.checked(one("BF-1"))
    assert (document.state, found(document)) == (State.AT_DESK, {"coding.missing"})
    say(cleo, document, {"1": {"gl_account": "4310", "cost_centre": "CC-10"}})
    assert document.state == State.CLEARED
    assert document.posting.bill["lines"][0]["coding"] == [
        {"amount": "142.00", "gl_account": "4310", "cost_centre": "CC-10", "tax_code": "GB20"},
    ]
    carry_through(str(document.posting.pk))
    document.refresh_from_db()
    assert document.state == State.POSTED


def test_later_lines_are_coded_as_lines_like_them_were_posted(coded, cleo):
    first = coded.checked(one("BF-1"))
    say(cleo, first, {"1": {"gl_account": "4310", "cost_centre": "CC-10"}})
    assert CodedPart.objects.get().wording == "frozen krill kg block"
    second = coded.checked(one("BF-2", 9))
    assert codes(second) == [{"tax_code": "GB20"}]  # what is not posted teaches nothing
    carry_through(str(first.posting.pk))
    recheck_waiting("gl-accounts")
    go_on()
    second.refresh_from_db()
    assert codes(second) == [{"gl_account": "4310", "cost_centre": "CC-10", "tax_code": "GB20"}]
    said = second.coding[0]["parts"][0]["gl_account"]
    assert (said["source"], said["chance"], said["why"]) == ("history", 0.75, "1 line like it")
    assert second.state == State.AT_DESK  # it is a guess as yet: the risk is above the gate
    assert second.risk > Decimal("0.25")


def test_the_orders_codes_and_the_vendors_need_nobody(coded):
    head = ("number,entity,vendor,currency,line,item_code,description,quantity,unit,unit_price,"
            "gl_account,cost_centre\n")  # fmt: skip
    table("orders", head + 'PO-26-0101,aquarium-trust,V1001,GBP,1,BF-KRL,"Frozen krill, 2 kg block"'
                           ",40,block,14.20,4310,CC-20\n")  # fmt: skip
    document = coded.checked(one("BF-1"))
    assert document.state == State.CLEARED
    assert codes(document) == [{"gl_account": "4310", "cost_centre": "CC-20", "tax_code": "GB20"}]


def test_codes_that_are_wrong_are_told_with_the_nearest_and_nothing_is_kept(coded, cleo):
    document = coded.checked(one("BF-1"))
    with pytest.raises(BadInputError) as refused:
        say(cleo, document, {
            "1": {"gl_account": "431", "shares": [{"percent": Decimal(50), "cost_centre": "CC-1"},
                                                  {"percent": Decimal(40)}]},
            "7": {"gl_account": "4310"},
        })  # fmt: skip
    told = {each["path"]: each["message"] for each in refused.value.extra["errors"]}
    assert told["lines.1.gl_account"] == "the ledger has no GL account '431'; did you mean 4310?"
    assert told["lines.1.shares.0.cost_centre"].startswith("the ledger has no cost centre 'CC-1'")
    assert told["lines.1.shares"] == "the shares come to 127.80 GBP, 14.20 too little"
    assert told["lines.7"] == "is no line; there are 1"
    document.refresh_from_db()
    assert document.by_hand == {}
    with pytest.raises(BadInputError, match="Nothing is different"):
        say(cleo, document, {"1": None})


def test_a_split_is_posted_in_its_parts_and_taken_back_as_a_whole(coded, cleo):
    document = coded.checked(one("BF-1"))
    shares = [{"percent": Decimal(60), "cost_centre": "CC-10"}, {"cost_centre": "CC-20"}]
    say(cleo, document, {"1": {"gl_account": "6310", "shares": shares}})
    parts = document.posting.bill["lines"][0]["coding"]
    assert [(p["amount"], p["cost_centre"]) for p in parts] == [
        ("85.20", "CC-10"), ("56.80", "CC-20"),
    ]  # fmt: skip


def test_what_was_said_of_a_line_does_not_hold_for_another_one(coded, cleo):
    document = coded.checked(one("BF-1"))
    say(cleo, document, {"1": {"gl_account": "6410"}})
    assert found(document) == {"coding.closed"}
    with pytest.raises(WrongStateError):
        post(cleo, document.pk, document.version, "never mind")
    correct(cleo, document.pk, document.version,
            {"lines": [{"was": 1, "description": "Squid", "amount": "142.00"}]})  # fmt: skip
    assert codes(document) == [{"tax_code": "GB20"}]


def test_a_pipeline_without_coding_says_so(installation, cleo):
    document = installation.checked(one("BF-1", 41))
    assert document.state == State.AT_DESK
    with pytest.raises(WrongStateError, match="are not coded"):
        code_lines(cleo, document.pk, document.version, {"1": {"gl_account": "1"}})


def test_an_account_that_comes_helps_what_waits_for_it(coded, cleo):
    document = coded.checked(one("BF-1"))
    say(cleo, document, {"1": {"gl_account": "6410"}})
    table("gl-accounts", "code,closed\n6410,no\n")
    go_on()
    document.refresh_from_db()
    assert document.state == State.CLEARED


def test_codes_are_of_their_company_or_of_all(coded):
    table("gl-accounts", "code,entity\n7000,meerhaus\n7100,aquarium-trust\n")
    assert set(ledger_codes(("", "main-books"), "aquarium-trust").accounts) == {
        "4310", "6310", "6410", "7100",
    }  # fmt: skip
    with pytest.raises(BadInputError) as refused:
        table("gl-accounts", "code,entity\n7000,nowhere\n")
    assert "'nowhere' is not known here" in refused.value.extra["errors"][0]["message"]


@pytest.mark.parametrize(("what", "row", "message"), [
    ("gl-accounts", "code,closed\n1,perhaps\n", "'perhaps' is neither yes nor no"),
    ("cost-centres", "code,owner\n1,nobody\n", "'nobody' is no mail address"),
    ("projects", "code,owner\n1,nobody\n", "'nobody' is no mail address"),
    ("tax-codes", "code,rate\n1,120\n", "'120' is not a percentage"),
    ("tax-codes", "code,supply\n1,air\n", "is none of: goods, services"),
    ("gl-accounts", "code\n1\n1\n", "1 stands in row 2, too"),
])  # fmt: skip
def test_wrong_rows_of_codes_are_told(installation, what, row, message):
    with pytest.raises(BadInputError) as refused:
        table(what, row)
    assert message in refused.value.extra["errors"][0]["message"]
    models = {
        "gl-accounts": GlAccount,
        "cost-centres": CostCentre,
        "tax-codes": TaxCode,
        "projects": Project,
    }
    assert not models[what].objects.exists()


def test_codes_are_listed_and_said_over_the_api(coded, clerk):
    call = Caller(clerk, "read", "work")
    (row,) = call.get("/gl-accounts", search="fee").json()["results"]
    assert (row["code"], row["needs_cost_centre"]) == ("4310", True)
    assert [r["owner"] for r in call.get("/cost-centres").json()["results"]] == [
        "bo@merrowmere.example", "",
    ]  # fmt: skip
    assert call.get("/tax-codes").json()["results"][0]["rate"] == "20.000"

    def code(document, body):
        path, version = f"/documents/{document.pk}/coding", f'"{document.version}"'
        return call.send("post", path, body, If_Match=version)

    document = coded.checked(one("BF-1"))
    shown = call.get(f"/documents/{document.pk}").json()
    assert "code" in shown["may"]
    assert shown["coding"][0]["key"] == "1"
    assert shown["coding"][0]["parts"][0]["tax_code"]["source"] == "table"
    wrong = code(document, {"lines": {"1": {"gl_account": "1"}}})
    assert (wrong.status_code, wrong.json()["errors"][0]["path"]) == (400, "lines.1.gl_account")
    done = code(document, {"lines": {"1": {"gl_account": "6310"}}})
    assert done.json()["state"] == "cleared"
    assert done.json()["coding"][0]["parts"][0]["gl_account"]["source"] == "person"


def test_rate_cards_are_listed_by_day_and_hold_for_the_vendor(installation, clerk):
    head = "vendor,card,wording,currency,price,percent,from_quantity,first,last\n"
    table("cards", head + "V1001,A,Tour*,GBP,240,,,2026-01-01,2026-12-31\n"
                          "V1001,A,Fuel,GBP,,6,,,\n")  # fmt: skip
    call = Caller(clerk, "read")
    names = [row["wording"] for row in call.get("/cards", day="2027-03-01").json()["results"]]
    assert names == ["Fuel"]
    for row, message in (("V1001,A,,GBP,1,,,,", "has a code or a wording"),
                         ("V1001,A,x,GBP,1,2,,,", "and not both"),
                         ("V1001,A,x,GBP,1,,,2026-02-01,2026-01-01", "is before")):  # fmt: skip
        with pytest.raises(BadInputError) as refused:
            table("cards", head + row + "\n")
        assert message in refused.value.extra["errors"][0]["message"]


def test_a_file_does_not_open_an_account_that_the_ledger_has_closed(installation):
    table("gl-accounts", "code,closed\n7000,yes\n", ledger="main-books")
    table("gl-accounts", "code,closed\n7000,no\n")
    table("tax-codes", "code,rate\nGB20,20\n", ledger="main-books")
    table("tax-codes", "code,rate\nGB20,17.5\n")
    codes_ = ledger_codes(("", "main-books"), "aquarium-trust")
    assert codes_.accounts["7000"].closed
    assert [(each.code, each.rate) for each in codes_.tax_codes] == [("GB20", 20)]


def test_charges_at_the_foot_are_coded_by_hand_and_read_back(coded, cleo):
    fleece = replace(bills.FLEECE, number="RE-26-7", buyer=bills.FLEECE.buyer)
    document = coded.checked(fleece)
    assert [line["line"] for line in document.coding] == [1, -1]
    shown = Caller(cleo.person, "read").get(f"/documents/{document.pk}").json()
    assert [line["key"] for line in shown["coding"]] == ["1", "charges"]
    codes_ = {"gl_account": "4310", "cost_centre": "CC-10"}
    say(cleo, document, {"1": codes_, "charges": {"gl_account": "6310"}})
    assert (document.state, document.reasons) == (State.CLEARED, [])
    bill = document.posting.bill
    assert bill["charges_coding"] == [{"amount": "9.80", "gl_account": "6310"}]
    carry_through(str(document.posting.pk))
    document.refresh_from_db()
    assert (document.state, document.posting.differences) == (State.POSTED, [])
    # What was posted is the history of the next bill's charges, too.
    later = coded.checked(replace(fleece, number="RE-26-8"))
    assert later.coding[-1]["parts"][0]["gl_account"]["source"] == "history"


def test_what_has_no_such_place_is_told(coded, cleo):
    document = coded.checked(one("BF-1"))
    with pytest.raises(BadInputError) as refused:
        code_lines(cleo, document.pk, document.version, {"charges": {"gl_account": "4310"}})
    assert refused.value.extra["errors"] == [
        {"path": "lines.charges", "message": "is no line; there are 1"}
    ]
