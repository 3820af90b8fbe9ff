"""Master data by file: fates, mappings, what is held, and who lets it hold."""

import csv
import io

import openpyxl
import pytest

from tests.service.caller import Caller
from tests.service.conftest import SYSTEM, jobs, table
from veridox.service.accounts.actors import Actor
from veridox.service.errors import BadInputError, NotAllowedError, WrongStateError
from veridox.service.masterdata.actions.held import accept_held, propose, refuse_held
from veridox.service.masterdata.actions.load import file_of
from veridox.service.masterdata.actions.mappings import save_mapping
from veridox.service.masterdata.models import (
    BookedBill,
    DayRate,
    Entity,
    HeldChange,
    Load,
    Order,
    OrderLine,
    Vendor,
)
from veridox.service.people.actions.people import create_person
from veridox.service.trail.verify import verify

ACCOUNT = "GB71MRWK99000010201531"
OTHER = "GB51MRWK99000020304150"
HEAD = "code,name,accounts,domains,email,blocked\n"


@pytest.fixture
def ada(db):
    return Actor.of(create_person(SYSTEM, "ada", "a long enough word", "admin"))


@pytest.fixture
def bo(db):
    return Actor.of(create_person(SYSTEM, "bo", "a long enough word", "approver"))


@pytest.fixture
def vendors(db, ada):
    table("vendors", f"{HEAD}V1,Saltglass,{ACCOUNT},saltglass.example,a@saltglass.example,no\n"
          "V2,Ostrel,,,,no\n", by=ada)  # fmt: skip


def marks(code, kind):
    return list(
        Vendor.objects.get(code=code).marks.filter(kind=kind).values_list("value", flat=True)
    )


def waiting():
    return [(h.vendor.code, h.column, h.after) for h in HeldChange.objects.filter(state="waits")]


def test_the_first_list_is_taken_as_it_stands(vendors):
    assert marks("V1", "account") == [ACCOUNT]
    assert Vendor.objects.get(code="V1").marks.get(kind="account").since is None
    assert (waiting(), Load.objects.get().first) == ([], True)


@pytest.mark.parametrize(("row", "held"), [
    (f"V1,Saltglass,{ACCOUNT} | {OTHER},saltglass.example,a@saltglass.example,no",
     ("V1", "accounts", OTHER)),
    (f"V1,Saltglass,{ACCOUNT},saltglass.example | s-glass.example,a@saltglass.example,no",
     ("V1", "domains", "s-glass.example")),
    (f"V1,Saltglass,{ACCOUNT},saltglass.example,b@else.example,no",
     ("V1", "email", "b@else.example")),
    (f"V3,Stranger,{OTHER},,,no", ("V3", "accounts", OTHER)),
])  # fmt: skip
def test_what_money_depends_on_waits_for_a_second_person(vendors, ada, bo, row, held):
    done = table("vendors", f"{HEAD}{row}\n", by=ada)
    assert waiting() == [held]
    assert done.load.held == 1
    change = HeldChange.objects.get()
    assert change.load == done.load
    code, column, value = held
    before = [] if code == "V3" else marks("V1", "account")
    assert OTHER not in before
    with pytest.raises(NotAllowedError, match="a second person accepts it"):
        accept_held(ada, [change.pk])
    with pytest.raises(NotAllowedError, match="only a person"):
        accept_held(SYSTEM, [change.pk])
    count = len(jobs("recheck"))
    accept_held(bo, [change.pk], "called them")
    assert len(jobs("recheck")) == count + 1
    vendor = Vendor.objects.get(code=code)
    if column == "email":
        assert vendor.email == value
    else:
        assert vendor.marks.filter(value=value, since__isnull=False).exists()
    with pytest.raises(WrongStateError, match="accepted already"):
        accept_held(bo, [change.pk])
    assert verify().problems == ()


def test_a_block_is_put_on_at_once_and_lifted_by_two(vendors, ada, bo):
    table("vendors", "code,name,blocked\nV2,Ostrel,yes\n", by=ada)
    assert (Vendor.objects.get(code="V2").blocked, waiting()) == (True, [])
    table("vendors", "code,name,blocked\nV2,Ostrel,no\n", by=ada)
    assert (Vendor.objects.get(code="V2").blocked, waiting()) == (True, [("V2", "blocked", "no")])
    accept_held(bo, [HeldChange.objects.get().pk])
    assert not Vendor.objects.get(code="V2").blocked


def test_an_account_is_taken_away_at_once(vendors, ada):
    table("vendors", "code,name,accounts\nV1,Saltglass,\n", by=ada)
    assert (marks("V1", "account"), waiting()) == ([], [])


def test_what_waits_already_waits_once_and_what_is_not_said_any_more_no_longer(vendors, ada):
    new = f"code,name,accounts\nV1,Saltglass,{ACCOUNT} | {OTHER}\n"
    table("vendors", new, by=ada)
    table("vendors", new, by=ada)
    assert waiting() == [("V1", "accounts", OTHER)]
    table("vendors", f"code,name,accounts\nV1,Saltglass,{ACCOUNT}\n", by=ada)
    assert waiting() == []
    assert HeldChange.objects.get().state == "replaced"


def test_what_is_refused_never_holds_and_says_why(vendors, ada, bo):
    table("vendors", f"code,name,accounts\nV1,Saltglass,{OTHER}\n", by=ada)
    change = HeldChange.objects.get()
    with pytest.raises(BadInputError, match="why"):
        refuse_held(bo, [change.pk], " ")
    refuse_held(bo, [change.pk], "nobody there knows of it")
    change.refresh_from_db()
    assert (change.state, change.decided_by) == ("refused", "person:bo")
    assert OTHER not in marks("V1", "account")


def test_a_name_seen_on_a_bill_is_proposed_and_not_learned(vendors, ada, bo):
    row = propose(ada, Vendor.objects.get(code="V1"), "names", "Saltglass Marine")
    assert marks("V1", "name") == []
    accept_held(bo, [row.pk])
    assert marks("V1", "name") == ["Saltglass Marine"]
    assert propose(ada, Vendor.objects.get(code="V1"), "names", "SALTGLASS MARINE LTD") is None
    with pytest.raises(BadInputError, match="cannot be proposed"):
        propose(ada, Vendor.objects.get(code="V1"), "blocked", "no")


# -- tables


def test_a_preview_tells_the_fate_of_each_row_and_keeps_nothing(vendors, ada):
    content = (f"{HEAD}V1,Saltglass Systems,{OTHER},saltglass.example,a@saltglass.example,no\n"
               "V2,Ostrel,,,,no\nV9,Newcomer,,,,no\n")  # fmt: skip
    done = table("vendors", content, preview=True, by=ada).loading
    assert [(f.line, f.key, f.fate) for f in done.fates] == [(2, "V1", "held"), (4, "V9", "new")]
    assert {(c.column, c.told) for c in done.changes} == {
        ("name", ""), ("accounts", "held"), ("accounts", ""),
    }  # fmt: skip
    assert Vendor.objects.count() == 2
    assert (marks("V1", "account"), waiting()) == ([ACCOUNT], [])
    rows = list(csv.reader(io.StringIO(file_of(Load.objects.latest("pk")).read_text())))
    assert [row[2] for row in rows] == ["fate", "held", "same", "new"]


def test_a_file_is_brought_in_only_where_it_is_the_one_looked_at(vendors, ada):
    seen = table("vendors", "code,name\nV1,One\n", preview=True, by=ada).load.sha256
    with pytest.raises(BadInputError, match="not the file that was looked at"):
        table("vendors", "code,name\nV1,Two\n", expects=seen, by=ada)
    table("vendors", "code,name\nV1,One\n", expects=seen, by=ada)
    assert Vendor.objects.get(code="V1").name == "One"


def test_all_mistakes_of_a_file_are_told_and_kept_as_a_file(vendors, ada):
    rows = "".join(
        f"X{at},Name {at},{'maybe' if at % 10 == 0 else 'no'}\n" for at in range(1, 2001)
    )
    with pytest.raises(BadInputError) as refused:
        table("vendors", "code,name,blocked\n" + rows, by=ada)
    assert refused.value.extra["count"] == 200
    assert len(refused.value.extra["errors"]) == 100
    assert refused.value.extra["errors"][0]["path"] == "row 11, blocked"
    load = Load.objects.get(pk=refused.value.extra["load"])
    assert (load.state, load.wrong) == ("refused", 200)
    wrong = [row for row in csv.reader(io.StringIO(file_of(load).read_text())) if row[2] == "wrong"]
    assert (len(wrong), wrong[0][0]) == (200, "11")
    assert "neither yes nor no" in wrong[0][3]
    assert Vendor.objects.count() == 2


@pytest.mark.parametrize(("content", "said"), [
    ("code,name\nV5,a\nV5,b\n", "V5 stands in row 2, too"),
    ("code,name,merged_into\nV1,Saltglass,V1\n", "names the vendor itself"),
    ("code,name,merged_into\nV1,Saltglass,V77\n", "'V77' is not known here"),
    ("code,name,terms\nV1,Saltglass,soon\n", "are no terms such as"),
    ("code,name,rates\nV1,Saltglass,120\n", "percentage from 0 to 100"),
    ("code,name,treatment\nV1,Saltglass,tax free\n", "none of: domestic"),
    ("code,name,email\nV1,Saltglass,nobody\n", "is no mail address"),
    ("code,name,country\nV1,Saltglass,Britain\n", "longer than 2"),
    ("code,name\nV1,\n", "name is empty"),
    ('code,name\nV1,"=cmd()"\n', "is a formula"),
    ("code,name\nV1,Saltglass,more\n", "has 3 cells"),
])  # fmt: skip
def test_a_mistake_is_told_at_its_row(vendors, ada, content, said):
    with pytest.raises(BadInputError) as refused:
        table("vendors", content, by=ada)
    told = " ".join(f"{e['path']} {e['message']}" for e in refused.value.extra["errors"])
    assert said in told.replace("row 2, name", "name")
    assert Vendor.objects.get(code="V1").name == "Saltglass"


@pytest.mark.parametrize(("content", "said"), [
    ("code,name,code\n1,2,3\n", "stands twice"), ("code,,name\n1,2,3\n", "column 2 has no heading"),
    ("number,name\n1,2\n", "missing columns: code"), ("code\n1\n", "missing columns: name"),
    ("code,vendor,name\n1,2,3\n", "both"),
])  # fmt: skip
def test_headings_that_say_nothing_or_two_things_are_told(db, content, said):
    with pytest.raises(BadInputError, match=said):
        table("vendors", content)


def test_headings_of_others_are_mapped_and_saved(db, ada):
    save_mapping(ada, "house", "vendors", {"Kreditor": "code", "Name 1": "name", "Ort": ""},
                 {"country": "DE"})  # fmt: skip
    from veridox.service.masterdata.actions.mappings import mapping_named

    saved = mapping_named("house", "vendors")
    given = "Kreditor;Name 1;Ort\n70001;Nördliche Pumpen;Sielhorn\n".encode("cp1252")
    done = table("vendors", given, mapping=saved.columns, fixed=saved.fixed)
    assert (done.aside, done.form) == (("Ort",), "CSV, Windows-1252, parted by semicolons")
    vendor = Vendor.objects.get()
    assert (vendor.code, vendor.name, vendor.country) == ("70001", "Nördliche Pumpen", "DE")
    with pytest.raises(BadInputError, match="no column of vendors"):
        save_mapping(ada, "wrong", "vendors", {"x": "cod"}, {})


def sheet(rows, merge=""):
    book = openpyxl.Workbook()
    page = book.active
    for row in rows:
        page.append(row)
    if merge:
        page.merge_cells(merge)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def test_a_spreadsheet_is_brought_in_with_its_own_types(installation):
    from datetime import date

    content = sheet([
        ["number", "entity", "vendor", "currency", "ordered_on", "line", "quantity", "unit_price"],
        ["PO-9", "aquarium-trust", "V1001", "GBP", date(2026, 11, 2), 1, 10, 42.1],
        ["PO-9", "aquarium-trust", "V1001", "GBP", date(2026, 11, 2), 2, 1.5, 8],
    ])  # fmt: skip
    done = table("orders", content, name="orders.xlsx")
    assert "XLSX, sheet" in done.form
    order = Order.objects.get(number="PO-9")
    assert (order.ordered_on, str(order.net_total)) == (date(2026, 11, 2), "433.0000")


@pytest.mark.parametrize(("rows", "merge", "said"), [
    ([["code", "name"], ["V1", "=A2&B2"]], "", "never computed"),
    ([["code", "name"], ["V1", "a"], ["V2", "b"]], "B2:B3", "cells B2:B3 are merged"),
])  # fmt: skip
def test_what_a_spreadsheet_computes_or_merges_is_told(db, rows, merge, said):
    with pytest.raises(BadInputError) as refused:
        table("vendors", sheet(rows, merge), name="v.xlsx")
    assert said in str(refused.value.extra["errors"])


# -- orders, entities, rates, books


ORDER = "number,entity,vendor,currency,line,item_code,quantity,unit_price\n"


def test_lines_of_an_order_stay_the_rows_they_are(installation):
    table("orders", ORDER + "PO-9,aquarium-trust,V1001,GBP,1,A,1,10\n"
          "PO-9,aquarium-trust,V1001,GBP,2,B,2,5\n")  # fmt: skip
    order = Order.objects.get(number="PO-9")
    _, second = order.lines.values_list("pk", flat=True)
    done = table("orders", ORDER + "PO-9,aquarium-trust,V1001,GBP,2,B,3,5\n"
                 "PO-9,aquarium-trust,V1001,GBP,3,C,1,1\n").loading  # fmt: skip
    after = {line.position: line for line in OrderLine.objects.filter(order=order)}
    assert after.keys() == {2, 3}
    assert (after[2].pk, after[2].quantity) == (second, 3)
    assert {c.column for c in done.changes} == {"line 2 quantity", "line 3", "line 1"}


@pytest.mark.parametrize(("rows", "said"), [
    ("PO-9,aquarium-trust,V1001,GBP,1,A,1,10\nPO-8,aquarium-trust,V1001,GBP,1,A,1,10\n"
     "PO-9,aquarium-trust,V1001,GBP,2,B,1,10\n", "goes on here after row 2"),
    ("PO-9,aquarium-trust,V1001,GBP,1,A,1,10\nPO-9,aquarium-trust,V1002,GBP,2,A,1,10\n",
     "is not what row 2 says"),
])  # fmt: skip
def test_an_order_that_is_not_of_one_piece_is_told(installation, rows, said):
    with pytest.raises(BadInputError) as refused:
        table("orders", ORDER + rows)
    assert said in str(refused.value.extra["errors"])


def test_one_number_may_stand_in_two_of_our_companies(installation):
    table("orders", ORDER + "PO-9,aquarium-trust,V1001,GBP,1,A,1,10\n"
          "PO-9,meerhaus,V2001,EUR,1,A,1,20\n")  # fmt: skip
    assert Order.objects.filter(number="PO-9").count() == 2


def test_one_code_may_stand_in_two_ledgers(db):
    table("vendors", "code,name\nV1,Here\n", ledger="books-a")
    table("vendors", "code,name\nV1,There\n", ledger="books-b")
    assert sorted(Vendor.objects.values_list("ledger", "name")) == [
        ("books-a", "Here"), ("books-b", "There"),
    ]  # fmt: skip


def test_closed_periods_and_recipients_come_with_the_entities(db):
    table("entities", "code,name,country,currency,recipients,closed\n"
          "trust,The Trust,GB,GBP,ap@x.example | pay@x.example,"
          "2025-01-01 to 2025-12-31 | 2026-01-01 to 2026-03-31\n")  # fmt: skip
    entity = Entity.objects.get()
    assert entity.recipients == ["ap@x.example", "pay@x.example"]
    assert entity.closed == [["2025-01-01", "2025-12-31"], ["2026-01-01", "2026-03-31"]]
    with pytest.raises(BadInputError):
        table(
            "entities", "code,name,country,currency,closed\nt,T,GB,GBP,2026-03-31 to 2026-01-01\n"
        )


@pytest.mark.parametrize(("row", "said"), [
    ("EUR,GBP,2026-11-02,0,bank", "above zero"), ("EUR,GBP,2026-11-02,-1,bank", "above zero"),
    ("EUR,EUR,2026-11-02,1,bank", "into itself"), ("EUR,GBP,soon,1,bank", "is not a date"),
])  # fmt: skip
def test_a_rate_that_cannot_be_is_told(db, row, said):
    with pytest.raises(BadInputError) as refused:
        table("rates", f"currency,into,day,rate,source\n{row}\n")
    assert said in str(refused.value.extra["errors"])
    assert not DayRate.objects.exists()


def test_a_listing_of_the_books_is_brought_in_and_brought_up_to_date(installation):
    head = "booked_as,vendor,number,issue_date,currency,gross_total,open_amount\n"
    table("books", head + "BL-1,V1001,A-1,2026-01-05,GBP,120.00,120.00\n", ledger="main-books")
    table("books", head + "BL-1,V1001,A-1,2026-01-05,GBP,120.00,0.00\n", ledger="main-books")
    bill = BookedBill.objects.get()
    assert (bill.number_key, bill.open_amount, bill.kind) == ("A-1", 0, "invoice")


# -- through the door


def test_the_doors_of_master_data(installation, admin):
    rules = Caller(admin, "read", "admin", "accept")
    standing = {row["what"]: row for row in rules.get("/masterdata").json()}
    assert standing["vendors"]["count"] == 6
    assert standing["vendors"]["fresh"]
    assert standing["books"]["fresh"] is None
    columns = rules.get("/masterdata/columns", what="vendors").json()
    assert [c["name"] for c in columns if c["guarded"]] == [
        "email", "blocked", "accounts", "senders", "domains", "payees",
    ]  # fmt: skip
    given = f"code,name,accounts\nV1001,Brinefold Feeds Ltd,{OTHER}\n".encode()
    done = rules.upload("/vendors/import", given).json()
    assert (done["held"], done["form"]) == (1, "CSV, UTF-8, parted by commas")
    (held,) = rules.get("/masterdata/held", load=done["load"]).json()["results"]
    answer = rules.send("post", "/masterdata/held/accept", {"load": done["load"]})
    assert (answer.status_code, "second person" in answer.json()["detail"]) == (403, True)
    other = create_person(SYSTEM, "bo", "a long enough word", "approver")
    second = Caller(other, "read", "accept")
    accepted = second.send("post", "/masterdata/held/accept", {"ids": [held["id"]]}).json()
    assert [each["state"] for each in accepted] == ["accepted"]
    shown = rules.get("/vendors/V1001").json()
    assert ("account", OTHER) in [(mark["kind"], mark["value"]) for mark in shown["marks"]]
    rows = rules.get(f"/masterdata/loads/{done['load']}/rows")
    assert b"V1001,held" in b"".join(rows.streaming_content)
    assert rules.get("/vendors/V10001").status_code == 404
    assert "did you mean" in rules.get("/vendors/V10001").json()["detail"]


def test_whoever_may_not_accept_is_refused(installation, clerk):
    reads = Caller(clerk, "read", "work")
    assert reads.send("post", "/masterdata/held/accept", {"ids": [1]}).status_code == 403
