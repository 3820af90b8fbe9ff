"""Master data from a ledger: page by page, resumed, with what was taken out."""

import pytest

from tests.service.conftest import SYSTEM, jobs, table
from veridox.service.accounts.actors import Actor
from veridox.service.connections.actions.manage import put_connection
from veridox.service.connections.models import Connection
from veridox.service.errors import BadInputError, NotThereError, UnreachableError, WrongStateError
from veridox.service.masterdata.actions.held import accept_held, propose
from veridox.service.masterdata.actions.items import learn_code
from veridox.service.masterdata.actions.sync import ask_for_sync, store_page
from veridox.service.masterdata.models import (
    BookedBill,
    CardRate,
    CostCentre,
    GlAccount,
    GoodsReceipt,
    HeldChange,
    Item,
    Load,
    Order,
    Project,
    TaxCode,
    Vendor,
)
from veridox.service.masterdata.syncing import sync
from veridox.service.people.actions.people import create_person
from veridox.service.trail.models import Entry
from veridox.service.upkeep.syncs import ask_for_due_syncs

ACCOUNT = "GB51MRWK99000020304150"


def row(at, **more):
    return {"code": f"L{at:03}", "name": f"Lister {at}", **more}


def synced(what="vendors", **more):
    load = ask_for_sync(SYSTEM, what, "main-books", **more)
    sync(load.pk)
    load.refresh_from_db()
    return load


@pytest.fixture
def ledger(installation):
    installation.ledger.listed = {"vendors": [row(at) for at in range(1, 6)], "entities": [],
                                  "orders": [], "books": []}  # fmt: skip
    return installation.ledger


def test_a_list_comes_in_page_by_page(ledger):
    load = synced()
    assert (load.state, load.rows, load.new, load.expected) == ("done", 5, 5, 5)
    assert load.stamp
    assert [call for call in ledger.calls if call.startswith("list")] == [
        "list vendors ", "list vendors 2", "list vendors 4",
    ]  # fmt: skip
    vendor = Vendor.objects.get(code="L001")
    assert (vendor.ledger, vendor.synced) == ("main-books", ["name"])
    assert jobs("recheck")[-1] == {"what": "vendors"}


def test_a_sync_that_breaks_half_way_goes_on_where_it_stopped(ledger):
    ledger.breaks_after = 1
    load = ask_for_sync(SYSTEM, "vendors", "main-books")
    with pytest.raises(UnreachableError):
        sync(load.pk)
    load.refresh_from_db()
    assert (load.state, load.cursor, load.new) == ("broken", "2", 2)
    assert "the line broke" in load.problem
    assert Vendor.objects.filter(ledger="main-books").count() == 2
    assert ask_for_sync(SYSTEM, "vendors", "main-books").pk == load.pk  # the same goes on
    sync(load.pk)
    load.refresh_from_db()
    assert (load.state, load.rows, load.new) == ("done", 5, 5)


def test_a_ledger_that_forgot_where_it_was_is_asked_from_the_first_page(ledger):
    ledger.forgets = True
    load = synced()
    assert (load.state, load.rows, Vendor.objects.filter(ledger="main-books").count()) == (
        "done", 5, 5,
    )  # fmt: skip


def test_a_page_that_came_in_already_changes_nothing(ledger):
    load = ask_for_sync(SYSTEM, "vendors", "main-books")
    page = ledger.list_page("vendors", since="", after="")
    assert store_page(load.pk, "", page) == "2"
    assert store_page(load.pk, "", page) == "2"
    load.refresh_from_db()
    assert (load.rows, load.new) == (2, 2)


def test_the_next_sync_asks_for_what_changed_and_hears_what_is_gone(ledger):
    first = synced()
    ledger.listed["vendors"] = [row(1, name="Renamed Ltd")]
    ledger.gone["vendors"] = ["L005"]
    load = synced()
    assert (load.whole, load.since, load.changed, load.gone) == (False, first.stamp, 1, 1)
    assert Vendor.objects.get(code="L001").name == "Renamed Ltd"
    assert Vendor.objects.get(code="L005").gone_at is not None
    assert Vendor.objects.get(code="L004").gone_at is None


def test_a_whole_list_takes_out_what_it_lacks_and_brings_back_what_it_has(ledger):
    synced()
    every = ledger.listed["vendors"]
    ledger.listed["vendors"] = every[:4]
    assert synced(whole=True).gone == 1
    assert Vendor.objects.get(code="L005").gone_at is not None
    ledger.listed["vendors"] = every
    assert synced(whole=True).changed == 1
    assert Vendor.objects.get(code="L005").gone_at is None
    # What only a file brought in is not the ledger's to take out.
    assert Vendor.objects.get(code="V1002").gone_at is None


def test_a_list_that_lacks_most_is_not_believed(ledger):
    ledger.page = 50
    ledger.listed["vendors"] = [row(at) for at in range(1, 41)]
    synced()
    ledger.listed["vendors"] = [row(1)]
    load = synced(whole=True)
    assert load.state == "refused"
    assert "1 of 40 vendors" in load.problem
    assert not Vendor.objects.filter(ledger="main-books").exclude(gone_at=None).exists()


def test_what_is_guarded_waits_and_is_never_overwritten_by_a_file(ledger):
    ledger.listed["vendors"] = [row(1, accounts=ACCOUNT, country="GB")]
    synced()
    assert [(h.column, h.after) for h in HeldChange.objects.all()] == [("accounts", ACCOUNT)]
    with pytest.raises(BadInputError) as refused:
        table("vendors", "code,name,country\nL001,Another Name,DE\n")
    told = {error["path"] for error in refused.value.extra["errors"]}
    assert told == {"row 2, name", "row 2, country"}
    assert "comes from main-books by sync" in str(refused.value.extra["errors"])
    table("vendors", "code,name,group\nL001,Lister 1,pumps\n")  # a column that no sync brings
    assert Vendor.objects.get(code="L001").group == "pumps"


def test_a_vendor_that_came_by_file_becomes_the_ledgers(ledger):
    ledger.listed["vendors"] = [{"code": "V1002", "name": "Saltglass Systems Ltd"}]
    load = synced()
    vendor = Vendor.objects.get(code="V1002")
    assert (load.new, vendor.ledger, vendor.tax_id) == (0, "main-books", "GB220519011")


def test_a_row_that_cannot_be_used_holds_up_nobody(ledger):
    ledger.listed["vendors"] = [row(1), {"code": "L002"}, row(3, country="Britain"), row(4)]
    load = synced()
    assert (load.state, load.new, load.wrong) == ("done", 2, 2)
    assert "name is missing" in load.problem


def test_an_order_that_vanishes_stops_the_bill_that_waits_on_it(ledger, installation):
    from demo import bills

    order = {"number": "PO-26-0101", "entity": "aquarium-trust", "vendor": "V1001",
             "currency": "GBP", "line": "1", "quantity": "100", "unit_price": "50"}  # fmt: skip
    ledger.listed["orders"] = [order]
    assert synced("orders").changed == 1
    ledger.listed["orders"] = []
    assert synced("orders", whole=True).gone == 1
    document = installation.checked(bills.KRILL)
    (finding,) = [f for f in document.findings if f["code"] == "order.closed"]
    assert "not in the finance system any more" in finding["message"]
    ledger.listed["orders"] = [order]
    synced("orders", whole=True)
    assert Order.objects.get(number="PO-26-0101").gone_at is None


def test_each_page_has_its_own_entry_in_the_trail_and_calls_for_its_checks(ledger):
    ledger.breaks_after = 1
    load = ask_for_sync(SYSTEM, "vendors", "main-books")
    before = len(jobs("recheck"))
    with pytest.raises(UnreachableError):
        sync(load.pk)
    (entry,) = Entry.objects.filter(act="vendors.synced")
    assert (entry.details["new"], entry.details["rows"], entry.details["load"]) == (2, 2, load.pk)
    assert len(jobs("recheck")) == before + 1
    sync(load.pk)
    told = [each.details["new"] for each in Entry.objects.filter(act="vendors.synced")]
    assert told == [2, 2, 1]
    assert len(jobs("recheck")) == before + 3


def listed_order(number, entity, vendor):
    currency = "GBP" if entity == "aquarium-trust" else "EUR"
    return {"number": number, "entity": entity, "vendor": vendor, "currency": currency,
            "line": "1", "quantity": "1", "unit_price": "5"}  # fmt: skip


def test_an_order_is_taken_out_of_its_company_alone(ledger):
    ledger.listed["orders"] = [listed_order("PO-7", "aquarium-trust", "V1001"),
                               listed_order("PO-7", "meerhaus", "V2001")]  # fmt: skip
    ledger.listed["vendors"] = [{"code": "V1001", "name": "Brinefold Feeds Ltd"},
                                {"code": "V2001", "name": "Korallan Technik GmbH"}]  # fmt: skip
    synced()
    synced("orders")
    ledger.listed["orders"], ledger.gone["orders"] = [], ["meerhaus/PO-7", "PO-7", "nobody/PO-7"]
    assert synced("orders").gone == 1
    gone = {order.entity.code: order.gone_at is not None for order in Order.objects.filter(
        number="PO-7")}  # fmt: skip
    assert gone == {"aquarium-trust": False, "meerhaus": True}


def test_a_whole_list_of_one_ledger_leaves_the_orders_of_another(ledger):
    put_connection(SYSTEM, "other-books", "ledger", {"url": "http://127.0.0.1:1"}, "token")
    ledger.listed["vendors"] = [{"code": "V1001", "name": "Brinefold Feeds Ltd"}]
    ledger.listed["orders"] = [listed_order("PO-8", "aquarium-trust", "V1001")]
    synced()
    synced("orders")
    ledger.listed["orders"] = []
    load = ask_for_sync(SYSTEM, "orders", "other-books", whole=True)
    sync(load.pk)
    load.refresh_from_db()
    assert (load.state, load.gone) == ("done", 0)
    assert Order.objects.get(number="PO-8").gone_at is None
    assert synced("orders", whole=True).gone == 1


def test_what_people_here_added_no_list_takes_away_until_it_has_named_it(ledger):
    ledger.listed["vendors"] = [row(1, names="Lister | Lister One")]
    synced()
    vendor = Vendor.objects.get(code="L001")
    waiting = propose(Actor.system("desk"), vendor, "names", "Lister & Sons")
    synced(whole=True)
    waiting.refresh_from_db()
    assert waiting.state == "waits"  # a list that does not have it replaces nobody's proposal
    accept_held(Actor.of(create_person(SYSTEM, "eva", "a long enough word", "admin")),
                [waiting.pk])  # fmt: skip

    def names():
        return set(vendor.marks.filter(kind="name").values_list("value", flat=True))

    ledger.listed["vendors"] = [row(1, names="Lister")]
    synced(whole=True)
    assert names() == {"Lister", "Lister & Sons"}
    ledger.listed["vendors"] = [row(1, names="Lister | Lister & Sons")]
    synced(whole=True)
    ledger.listed["vendors"] = [row(1, names="Lister")]
    synced(whole=True)
    assert names() == {"Lister"}


def test_the_books_are_listed_with_what_we_posted(ledger):
    ledger.listed["books"] = [
        {"booked_as": "BL-1", "vendor": "V1001", "number": "A-1", "currency": "GBP",
         "gross_total": "120.00", "reference": "our-id"},
    ]  # fmt: skip
    synced("books")
    assert BookedBill.objects.get().reference == "our-id"


def test_a_sync_needs_a_ledger_and_what_it_builds_on(db, installation):
    with pytest.raises(NotThereError):
        ask_for_sync(SYSTEM, "vendors", "no-such-books")
    Order.objects.all().delete()
    Vendor.objects.all().delete()
    with pytest.raises(WrongStateError, match="vendors first"):
        ask_for_sync(SYSTEM, "orders", "main-books")


def test_ledgers_are_asked_as_often_as_their_connections_say(ledger):
    ask_for_due_syncs()
    assert not Load.objects.filter(how="sync").exists()
    connection = Connection.objects.get(name="main-books")
    connection.settings["sync_every"] = 15
    connection.save()
    ask_for_due_syncs()
    assert {load.what for load in Load.objects.filter(how="sync")} == {
        "entities", "vendors", "orders", "receipts", "items", "gl-accounts",
        "cost-centres", "tax-codes", "projects", "cards", "rates", "books",
    }  # fmt: skip
    ask_for_due_syncs()
    assert Load.objects.filter(how="sync", what="vendors").count() == 1


RECEIPT = {"number": "GR/1", "entity": "aquarium-trust", "order_number": "PO-26-0101", "line": "1",
           "quantity": "5"}  # fmt: skip
RATE = {"vendor": "V1001", "card": "A", "wording": "Tour*", "currency": "GBP", "price": "240"}


@pytest.mark.parametrize(("what", "model", "rows", "gone"), [
    ("receipts", GoodsReceipt, [RECEIPT, {**RECEIPT, "line": "2"}],
     "aquarium-trust/GR/1/PO-26-0101/2"),
    ("items", Item, [{"vendor": "V1001", "code": "A"}, {"vendor": "V1001", "code": "B"}],
     "V1001/B/"),
    ("gl-accounts", GlAccount, [{"code": "1"}, {"code": "2", "entity": "meerhaus"}], "meerhaus/2"),
    ("cost-centres", CostCentre, [{"code": "1"}, {"code": "2"}], "/2"),
    ("projects", Project, [{"code": "P-1", "owner": "a@b.example"}, {"code": "P-2"}], "/P-2"),
    ("tax-codes", TaxCode, [{"code": "1"}, {"code": "2"}], "/2"),
    ("cards", CardRate, [RATE, {**RATE, "from_quantity": "10"}], "V1001/A//Tour*/10/"),
    ("cards", CardRate, [{**RATE, "from_quantity": "10"}, RATE], "V1001/A//Tour*//"),
    ("cards", CardRate, [{**RATE, "first": "2025-01-01"}, {**RATE, "first": "2026-01-01"}],
     "V1001/A//Tour*/0/2026-01-01"),
])  # fmt: skip
def test_what_the_ledger_takes_out_of_a_list_is_gone_here(ledger, what, model, rows, gone):
    ledger.listed[what] = rows
    assert synced(what).new == 2
    ledger.listed[what], ledger.gone[what] = [], [gone, "nobody/knows/this"]
    assert synced(what).gone == 1
    stays, left = model.objects.order_by("pk")
    assert (stays.gone_at, left.gone_at is not None) == (None, True)


@pytest.mark.parametrize(("what", "listed", "other"), [
    ("receipts", RECEIPT, {"quantity": "6"}), ("cards", RATE, {"price": "300"}),
    ("items", {"vendor": "V1001", "code": "A", "unit": "bag"}, {"unit": "box"}),
])  # fmt: skip
def test_a_file_never_overwrites_what_a_sync_listed(ledger, what, listed, other):
    ledger.listed[what] = [listed]
    synced(what)

    def by_file(row):
        return table(what, ",".join(row) + "\n" + ",".join(row.values()) + "\n")

    assert by_file(listed).loading.same == 1
    with pytest.raises(BadInputError) as refused:
        by_file({**listed, **other})
    (told,) = refused.value.extra["errors"]
    assert told["path"] == f"row 2, {next(iter(other))}"
    assert told["message"] == "comes from main-books by sync: a file cannot change it"
    ledger.listed[what] = [{**listed, **other}]
    assert synced(what).changed == 1


def test_what_people_taught_of_an_item_stays_when_the_ledger_lists_others(ledger, clerk):
    vendor = Vendor.objects.get(code="V1001")
    assert learn_code(Actor.of(clerk), vendor, "BF-KRL", "X-77")
    assert not learn_code(Actor.of(clerk), vendor, "BF-SPR", "X-77")  # it is another item's
    ledger.listed["items"] = [{"vendor": "V1001", "code": "BF-KRL", "packs": "case = 20"}]
    synced("items", whole=True)
    learned = Item.objects.get(vendor_code="X-77")
    assert (learned.code, learned.gone_at) == ("BF-KRL", None)
