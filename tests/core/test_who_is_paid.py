"""Evidence for a vendor, its accounts, its senders; terms and credits."""

from dataclasses import replace
from datetime import date
from decimal import Decimal

import pytest
from hypothesis import given as drawn
from hypothesis import strategies as st

from tests.core.test_checks import ENTITY, VENDOR, codes, facts, gbp
from veridox.core.checks import run_checks
from veridox.core.facts import (
    CheckSettings,
    ClosedPeriod,
    EntityRecord,
    ExchangeRate,
    Lookalike,
    MailFact,
    MemoryKnown,
    PrecedingBill,
    choose_entity,
    gather,
    looks_like,
)
from veridox.core.matching import (
    SenderFact,
    Terms,
    VendorAccount,
    VendorRecord,
    choose_vendor,
    terms_of,
)
from veridox.core.posting import Bill, bill_of_facts
from veridox.core.readers.mail.authentication import authentication_of
from veridox.core.reading import Field, Kind, Reading

ACCOUNT = "GB71MRWK99000010201531"
OTHER = "GB51MRWK99000020304150"
SALT = VendorRecord(
    code="V1", name="Saltglass Systems Ltd", tax_id="GB220519011", country="GB",
    accounts=(VendorAccount(number=ACCOUNT),), senders=("accounts@saltglass.example",),
    domains=("saltglass.example",), addresses=("18 Foundry Lane, Orrowby OB2 6SG",),
)  # fmt: skip
PUMPS = VendorRecord(code="V2", name="Tidewell Pumps Ltd", accounts=(VendorAccount(number=OTHER),))
PROVEN = SenderFact(address="accounts@saltglass.example", passed=True)


def reading(**fields):
    return Reading(fields={n.replace("__", "."): Field(value=v) for n, v in fields.items() if v})


def told(given, code):
    return [f for f in run_checks(given) if f.code == code]


# -- who sells


@pytest.mark.parametrize(("stated", "sender", "text", "code"), [
    ({"seller__tax_id": "GB220519011"}, None, "", "V1"),
    ({"seller__name": "Saltglass Systems Limited"}, None, "", "V1"),
    ({"account": "GB71 MRWK 9900 0010 2015 31"}, None, "", "V1"),
    ({"seller__name": "Saltgl4ss Systemes"}, None, "", None),
    ({"seller__name": "Saltgl4ss Systemes"}, PROVEN, "", "V1"),
    ({"seller__name": "Saltgl4ss Systemes"}, replace(PROVEN, passed=False), "", None),
    ({"seller__name": "Saltgl4ss Systemes"}, replace(PROVEN, forwarded=True), "", None),
    ({}, PROVEN, "", None), ({}, PROVEN, "18 Foundry Lane\nOrrowby OB2 6SG", None),
    ({"seller__name": "Unheard Of plc"}, PROVEN, "", None),
])  # fmt: skip
def test_all_evidence_counts_and_a_sender_only_where_it_is_proven(stated, sender, text, code):
    choice = choose_vendor(reading(**stated), [SALT, PUMPS], sender, text)
    assert (choice.vendor.code if choice.vendor else None) == code


def test_evidence_is_told_piece_by_piece_with_what_it_weighs():
    given = reading(seller__name="Saltglass", seller__tax_id="GB220519011", account=ACCOUNT)
    (first, *_) = choose_vendor(
        given, [SALT, PUMPS], PROVEN, "18 Foundry Lane\nOrrowby OB2 6SG"
    ).near
    assert first.vendor is SALT
    assert first.score > 0.999
    assert {each.what for each in first.reasons if each.strength} == {
        "tax id", "account", "sender", "name", "address",
    }  # fmt: skip
    assert [each.strength for each in first.reasons] == sorted(
        (each.strength for each in first.reasons), reverse=True
    )


def test_what_speaks_against_a_vendor_is_told_too():
    given = reading(seller__name="Saltglass Systems Ltd", seller__tax_id="GB411056167")
    (first, *_) = choose_vendor(given, [SALT, PUMPS]).near
    assert [(e.what, e.against, e.ours) for e in first.reasons if e.against] == [
        ("tax id", True, "GB220519011")
    ]


def test_an_account_under_another_name_contradicts_it():
    choice = choose_vendor(reading(seller__name="Dry Dock Bakery", account=ACCOUNT), [SALT, PUMPS])
    assert choice.vendor is None
    assert "Saltglass Systems Ltd (V1)" in choice.contradiction
    assert "'Dry Dock Bakery'" in choice.contradiction


def test_a_factors_account_singles_out_nobody():
    both = [SALT, replace(PUMPS, tax_id="GB411056167", accounts=SALT.accounts)]
    choice = choose_vendor(reading(account=ACCOUNT), both)
    assert choice.vendor is None
    assert "singles out none" in str(choice.near[0].reasons[0])


def test_of_two_with_one_tax_id_the_account_tells_which():
    branch = replace(SALT, code="V9", name="Saltglass Marine Ltd", accounts=PUMPS.accounts)
    stated = reading(seller__tax_id="GB220519011", account=OTHER)
    assert choose_vendor(stated, [SALT, branch]).vendor is branch


def test_any_of_its_names_and_tax_ids_is_the_vendors():
    known = replace(SALT, names=("S-Glass Trading",), tax_ids=("DE247191465",))
    assert choose_vendor(reading(seller__name="S-GLASS TRADING"), [known]).vendor is known
    given = reading(seller__name="S-Glass Trading", seller__tax_id="DE247191465")
    assert choose_vendor(given, [known, PUMPS]).vendor is known


def test_a_vendor_that_was_merged_is_the_one_that_took_its_place():
    old = replace(SALT, code="V0", merged_into="V1", tax_id="GB411056167", name="Old Glass Ltd")
    there = MemoryKnown(every_vendor=(SALT, old), every_entity=(ENTITY,))
    found = gather(
        there, reading(seller__name="Old Glass Ltd"), settings=CheckSettings(), chosen={}
    )
    assert found.vendor is SALT
    loop = replace(SALT, merged_into="V0")
    there = MemoryKnown(every_vendor=(loop, old), every_entity=(ENTITY,))
    assert gather(there, reading(seller__name="Old Glass Ltd"), settings=CheckSettings(),
                  chosen={}).vendor in (loop, old)  # fmt: skip


@pytest.mark.parametrize(("first", "found"), [(True, 1), (False, 0), (None, 0)])
def test_the_first_bill_of_a_vendor_is_told_where_history_is_known(first, found):
    assert len(told(replace(facts(), first_bill=first), "vendor.first_bill")) == found


def test_a_vendor_that_the_ledger_lists_no_more_stops():
    (finding,) = told(replace(facts(), vendor=replace(VENDOR, gone=True)), "vendor.gone")
    assert finding.blocks


@pytest.mark.parametrize(("since", "found"), [
    (date(2026, 10, 10), 0), (date(2026, 10, 9), 1), (None, 0),
])  # fmt: skip
def test_master_data_that_nobody_brought_in_for_long_are_told(since, found):
    given = replace(facts(), arrived=date(2026, 11, 9),
                    fresh={"vendors": since} if since else {})  # fmt: skip
    assert len(told(given, "masterdata.stale")) == found


# -- who is billed


TRUST = EntityRecord(code="trust", name="Merrowmere Aquarium Trust", tax_id="GB740175356",
                     names=("The Aquarium Trust",),
                     recipients=("ap@merrowmere.example",))  # fmt: skip
HAUS = EntityRecord(code="meerhaus", name="Merrowmere Meerhaus GmbH", tax_id="DE862541651",
                    recipients=("rechnung@merrowmere.example",))  # fmt: skip
COAST = EntityRecord(code="coast", name="Merrowmere Coast Foundation")


@pytest.mark.parametrize(("stated", "to", "found", "other"), [
    ({}, ("rechnung@merrowmere.example",), "meerhaus", None),
    ({}, ("RECHNUNG@merrowmere.example", "ap@merrowmere.example"), None, None),
    ({}, (), None, None),
    ({"buyer__name": "The Aquarium Trust"}, (), "trust", None),
    ({"buyer__name": "Merrowmere Aquarium Trust"}, ("rechnung@merrowmere.example",), "trust", None),
    ({"buyer__name": "Merrowmere Coast Foundation"}, (), None, "coast"),
])  # fmt: skip
def test_an_alias_tells_where_the_bill_names_nobody(stated, to, found, other):
    choice = choose_entity(reading(**stated), [TRUST, HAUS], None, others=[COAST], recipients=to)
    assert (choice.entity.code if choice.entity else None) == found
    assert (choice.other.code if choice.other else None) == other


def test_another_of_ours_is_named():
    (finding,) = told(replace(facts(), entity=None, other_entity=COAST), "buyer.other_entity")
    assert (finding.found, finding.blocks) == ("coast", True)


# -- accounts and payees


@pytest.mark.parametrize(("stated", "accounts", "kept", "code"), [
    (ACCOUNT, ((ACCOUNT, None),), True, None),
    (OTHER, ((ACCOUNT, None),), True, "bank.changed"),
    ("GB71 MRWK 9900 0010 2015 31", ((ACCOUNT, None),), True, None),
    ("GB71MRWK99000010201532", ((ACCOUNT, None),), True, "bank.invalid"),
    (ACCOUNT, (), True, "bank.first_seen"), (ACCOUNT, (), False, None),
    (ACCOUNT, ((ACCOUNT, date(2026, 10, 11)),), True, "bank.recent"),
    (ACCOUNT, ((ACCOUNT, date(2026, 10, 10)),), True, None), (None, ((ACCOUNT, None),), True, None),
])  # fmt: skip
def test_money_goes_to_an_account_that_is_known(stated, accounts, kept, code):
    vendor = replace(VENDOR, accounts=tuple(
        VendorAccount(number=number, since=since) for number, since in accounts))  # fmt: skip
    given = facts(**({"account": stated} if stated else {}))
    given = replace(given, vendor=vendor, accounts_kept=kept, arrived=date(2026, 11, 9))
    assert [c for c in codes(given) if c.startswith("bank.")] == ([code] if code else [])


@pytest.mark.parametrize(("payee", "payees", "found"), [
    ("Saltglass Systems", (), 0), ("SALTGLASS SYSTEMS LTD", (), 0), ("Ebbgeld Factoring AG", (), 1),
    ("Ebbgeld Factoring AG", ("Ebbgeld Factoring",), 0), ("Quickpay", ("Ebbgeld Factoring",), 1),
])  # fmt: skip
def test_somebody_else_is_paid_only_where_the_record_names_them(payee, payees, found):
    given = facts(**{"payee.name": payee})
    given = replace(given, vendor=replace(VENDOR, payees=payees))
    assert len(told(given, "payee.other")) == found


def test_what_is_fetched_is_noted():
    (finding,) = told(facts(payment_means="direct debit"), "bank.direct_debit")
    assert not finding.blocks


# -- senders


HEADER = "mx.merrowmere.example; "


@pytest.mark.parametrize(("said", "passed", "failed"), [
    ("dmarc=pass header.from=saltglass.example", True, False),
    ("dmarc=pass header.from=else.example", False, False),
    ("dmarc=fail header.from=saltglass.example", False, True),
    ("dmarc=pass (p=none) header.from=saltglass.example; spf=fail", True, False),
    ("dkim=pass header.d=saltglass.example", True, False),
    ("dkim=pass header.d=example", False, False),
    ("dkim=pass header.d=mail.saltglass.example", False, False),
    ("dkim=pass header.d=evil.example", False, False),
    ("spf=pass smtp.mailfrom=bounce@saltglass.example", True, False),
    ("spf=fail smtp.mailfrom=saltglass.example", False, True),
    ("spf=softfail smtp.mailfrom=saltglass.example", False, False),
    ("dmarc=pass header.from=saltglass.example; dmarc=fail header.from=saltglass.example",
     False, False),
    ("dkim=fail header.d=x.example; dkim=pass header.d=saltglass.example", True, False),
    ("none", False, False), ("", False, False), ("dmarc", False, False),
])  # fmt: skip
def test_a_sender_is_proven_by_an_aligned_pass_alone(said, passed, failed):
    found = authentication_of({"authentication-results": HEADER + said}, "mx.merrowmere.example",
                              "accounts@saltglass.example")  # fmt: skip
    assert (found.passed, found.failed) == (passed, failed)


@pytest.mark.parametrize(("header", "server"), [
    ("mx.evil.example; dmarc=pass header.from=saltglass.example", "mx.merrowmere.example"),
    ("mx.merrowmere.example.evil.example; dmarc=pass header.from=saltglass.example",
     "mx.merrowmere.example"),
    ("mx.merrowmere.example; dmarc=pass header.from=saltglass.example", ""),
    ("(mx.merrowmere.example) x; dmarc=pass header.from=saltglass.example",
     "mx.merrowmere.example"),
])  # fmt: skip
def test_what_another_server_says_or_none_is_trusted_proves_nothing(header, server):
    found = authentication_of({"authentication-results": header}, server, "a@saltglass.example")
    assert (found.passed, found.failed, found.said) == (False, False, "")


@drawn(st.text(max_size=300))
def test_no_header_upsets_it(text):
    found = authentication_of({"authentication-results": text}, "mx.example", "a@b.example")
    assert not (found.passed and found.failed)


@pytest.mark.parametrize(("domain", "found"), [
    ("saltg1ass.example", True), ("saltgass.example", True), ("saltglasss.example", True),
    ("satlglass.example", True), ("salt-glass.example", True), ("saltglass-invoices.example", True),
    ("saltglass.exarnple", True), ("saltglass.example", False), ("tidewell.example", False),
    ("glass.example", False),
])  # fmt: skip
def test_a_domain_that_is_taken_for_a_vendors(domain, found):
    assert looks_like(domain, "saltglass.example") is found


@pytest.mark.parametrize(("domain", "own"), [
    ("tarnsey-vvater.example", "tarnsey-water.example"), ("clivers.example", "divers.example"),
])  # fmt: skip
def test_two_signs_are_taken_for_one(domain, own):
    assert looks_like(domain, own)
    assert looks_like(own, domain)


def test_a_lookalike_stops_and_the_vendors_own_domain_does_not():
    near = Lookalike(domain="saltglass.example", vendor="V1", name="Saltglass Systems Ltd")
    mail = MailFact(sender=SenderFact(address="accounts@saltg1ass.example", passed=True))
    (finding,) = told(replace(facts(), mail=mail, lookalikes=(near,)), "sender.lookalike")
    assert (finding.expected, finding.found) == ("saltglass.example", "saltg1ass.example")
    there = MemoryKnown(every_vendor=(SALT,), every_entity=(ENTITY,))
    for address, count in (("a@saltg1ass.example", 1), ("a@saltglass.example", 0),
                           ("saltglass@publicpost.example", 0)):  # fmt: skip
        mail = MailFact(sender=SenderFact(address=address))
        found = gather(there, reading(), settings=CheckSettings(), chosen={}, mail=mail)
        assert len(found.lookalikes) == count


@pytest.mark.parametrize(("sender", "found"), [
    (SenderFact(address="a@saltglass.example", failed=True, said="dmarc=fail"), 1),
    (SenderFact(address="a@saltglass.example"), 0),
    (SenderFact(address="a@saltglass.example", failed=True, forwarded=True), 0), (None, 0),
])  # fmt: skip
def test_a_forged_sender_stops(sender, found):
    given = replace(facts(), mail=MailFact(sender=sender))
    assert len(told(given, "sender.unproven")) == found


# -- dates and terms


@pytest.mark.parametrize(("text", "issued", "due", "discount"), [
    ("30 days net", "2026-11-05", "2026-12-05", None), ("14", "2026-11-05", "2026-11-19", None),
    ("end of month", "2026-11-05", "2026-11-30", None),
    ("end of month + 15 days", "2026-02-05", "2026-03-15", None),
    ("10 days 2 %, 30 days net", "2026-11-05", "2026-12-05", "2026-11-15"),
    ("8 days 2.5%, end of month + 30", "2026-11-05", "2026-12-30", "2026-11-13"),
])  # fmt: skip
def test_terms_as_people_write_them(text, issued, due, discount):
    terms = terms_of(text)
    day = date.fromisoformat(issued)
    assert terms.due(day) == date.fromisoformat(due)
    assert terms.discount_until(day) == (date.fromisoformat(discount) if discount else None)
    assert terms_of(str(terms)) == terms


@pytest.mark.parametrize("text", ["soon", "30 30", "2 % 10 days", "10 days 2 %", "-5"])
def test_what_are_no_terms_is_told(text):
    with pytest.raises(ValueError, match="no terms"):
        terms_of(text)


@pytest.mark.parametrize(("due", "found"), [
    (date(2026, 12, 5), 0), (date(2026, 12, 4), 0), (date(2026, 12, 3), 1), (date(2027, 1, 5), 0),
    (date(2026, 11, 15), 0),
])  # fmt: skip
def test_a_due_date_before_the_agreed_one_is_told(due, found):
    terms = Terms(days=30, discount_days=10, discount_percent=Decimal(2))
    given = replace(facts(due_date=due), vendor=replace(VENDOR, terms=terms))
    assert len(told(given, "terms.shorter")) == found


@pytest.mark.parametrize(("arrived", "said"), [
    (date(2026, 11, 7), None), (date(2026, 11, 8), "can be saved"),
    (date(2026, 11, 20), "cannot be saved any more"),
])  # fmt: skip
def test_a_discount_at_risk_is_told_with_what_it_saves(arrived, said):
    terms = Terms(days=30, discount_days=10, discount_percent=Decimal(2))
    given = replace(facts(), vendor=replace(VENDOR, terms=terms), arrived=arrived)
    found = told(given, "terms.discount")
    assert [said in f.message and "28.43 GBP" in f.message for f in found] == [True] * bool(said)


def test_a_bill_of_a_closed_period_is_posted_on_the_first_open_day():
    closed = (ClosedPeriod(first=date(2026, 10, 1), last=date(2026, 11, 15)),
              ClosedPeriod(first=date(2026, 11, 16), last=date(2026, 11, 30)))  # fmt: skip
    given = replace(facts(), entity=replace(ENTITY, closed=closed), arrived=date(2026, 12, 2))
    (finding,) = told(given, "date.closed")
    assert (finding.expected, finding.found, finding.blocks) == ("2026-12-01", "2026-11-05", False)
    assert given.posting_day == date(2026, 12, 1)
    bill = bill_of_facts(given)
    assert (bill.issue_date, bill.posting_date) == (date(2026, 11, 5), date(2026, 12, 1))
    assert Bill.from_json(bill.to_json()) == bill
    open_books = bill_of_facts(replace(given, entity=ENTITY))
    assert open_books.posting_date is None
    assert "posting_date" not in open_books.to_json()


@pytest.mark.parametrize(("due", "found"), [
    (date(2026, 11, 4), 1), (date(2026, 11, 5), 0), (None, 0),
])  # fmt: skip
def test_nothing_is_due_before_it_was_issued(due, found):
    assert len(told(facts(**({"due_date": due} if due else {})), "date.due_before")) == found


@pytest.mark.parametrize(("currency", "rate", "found"), [
    ("GBP", None, 0), ("EUR", None, 1),
    ("EUR", ExchangeRate(currency="GBP", into="EUR", rate=Decimal("1.17"), day=date(2026, 11, 5),
                         source="bank"), 0),
])  # fmt: skip
def test_without_a_rate_of_exchange_it_stops(currency, rate, found):
    given = replace(facts(), entity=replace(ENTITY, currency=currency), exchange=rate)
    assert len(told(given, "rate.missing")) == found


def test_the_tax_in_the_books_currency_follows_from_the_days_rate():
    from veridox.core.money import Money

    rate = ExchangeRate(currency="GBP", into="EUR", rate=Decimal("1.17"), day=date(2026, 11, 5),
                        source="bank")  # fmt: skip
    for stated, found in (("277.15", 0), ("271.80", 0), ("250.00", 1)):
        given = replace(facts(tax_total_accounting=Money.of(stated, "EUR")), exchange=rate)
        assert len(told(given, "tax.accounting")) == found


# -- credits


def credit(total, *, preceding=(), **fields):
    given = facts(gross_total=gbp(total), **fields)
    return replace(given, reading=replace(given.reading, kind=Kind.CREDIT_NOTE), order=None,
                   preceding=preceding)  # fmt: skip


BILL = PrecedingBill(reference="document 7", number="SG/10001", total=gbp("1000.00"),
                     credited=gbp("300.00"), posted=True, how="number")  # fmt: skip


@pytest.mark.parametrize(("total", "code"), [
    ("700.00", None), ("700.01", "credit.above"), ("1000.00", "credit.above"),
])  # fmt: skip
def test_a_credit_is_never_above_what_is_left(total, code):
    found = [c for c in codes(credit(total, preceding=(BILL,))) if c.startswith("credit.")]
    assert found == ([code] if code else [])


def test_the_tax_of_a_credit_may_be_rounded_otherwise():
    given = credit("700.01", preceding=(BILL,))
    loose = replace(given, settings=CheckSettings(totals_within=1))
    assert "credit.above" not in codes(loose)
    more = credit("700.02", preceding=(BILL,))
    assert "credit.above" in codes(replace(more, settings=CheckSettings(totals_within=1)))


def test_a_credit_above_is_told_with_all_figures():
    (finding,) = told(credit("800.00", preceding=(BILL,)), "credit.above")
    assert (finding.expected, finding.found, finding.difference) == ("700.00", "800.00", "+100.00")
    assert "300.00 GBP credited before" in finding.message


@pytest.mark.parametrize(("preceding", "found"), [((), 1), ((BILL,), 0), (None, 0)])
def test_a_credit_of_nothing_stops(preceding, found):
    assert len(told(credit("100.00", preceding=preceding), "credit.unknown")) == found


# -- particulars


@pytest.mark.parametrize(("mode", "total", "missing"), [
    ("none", "1421.28", set()),
    ("full", "1421.28", {"226 (5)", "226 (6)", "226 (7)", "226 (8)", "226 (9)"}),
    ("simplified", "1421.28", {"226 (5)", "226 (6)", "226 (7)", "226 (8)", "226 (9)"}),
    ("simplified", "99.00", {"226 (6)"}),
])  # fmt: skip
def test_what_the_law_asks_for_is_a_switch(mode, total, missing):
    given = facts(gross_total=gbp(total), settings=CheckSettings(particulars=mode))
    assert {f.about for f in told(given, "particular.missing")} == missing
