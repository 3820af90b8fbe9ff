"""Master data and checks at the size of a large house: `bin/bench scale`.

In a database of its own on the demo's PostgreSQL: tables of 200,000 vendors and order lines are
brought in, then a million documents are put beside each other by SQL (copies of one that came
the usual way, with vendors, numbers, totals and dates of their own), and the checks of a few
hundred of them are timed. Copies have no readings but for those that are looked at: checks read
the columns of what came before, and only their own document's reading.
"""

import os
import random
import resource
import statistics
import subprocess
import sys
import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from typing import Any

from demo import bills
from demo import merrowmere as m
from demo.drawing import LAYOUTS
from demo.stack import Stack

NAME = "veridox_scale"
ROWS = 200_000
LINES_OF_AN_ORDER = 10
SENDERS = 2_000
"""Vendors that the documents are of; the first has one in fifty of all."""
LOOKED_AT = 400
PIPELINE = Path("demo/pipelines/supplier-invoices.pipeline.yaml")


def figures(stack: Stack, count: int) -> None:
    """Measure in a process of its own, since Django knows one database; drop that afterwards."""
    stack.postgres.create_database(NAME)
    environment = {
        **os.environ, **stack.environment(), "VERIDOX_DATABASE": stack.postgres.url(NAME),
        "DJANGO_SETTINGS_MODULE": "veridox.service.settings",
    }  # fmt: skip
    try:
        subprocess.run([sys.executable, "-m", __name__, str(count)], env=environment, check=True)
    finally:
        stack.postgres.drop_database(NAME)


def _peak() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


@contextmanager
def _timed(what: str) -> Iterator[None]:
    before, began = _peak(), time.perf_counter()
    yield
    took = time.perf_counter() - began
    print(f"{what:<52}{took:>8.1f} s   peak {before:.0f} -> {_peak():.0f} MB", flush=True)


_SYLLABLES = (
    "bar", "bel", "bran", "cor", "dal", "dun", "el", "fen", "gar", "hal", "har", "ing", "kel",
    "lan", "lor", "mar", "mer", "nor", "or", "pel", "quin", "ral", "ren", "sal", "sel", "tar",
    "tor", "ul", "ven", "wal", "wen", "yar", "zel",
)  # fmt: skip
_TRADES = (
    "Glass", "Print", "Foods", "Cleaning", "Energy", "Logistics", "Pumps", "Signs", "Feeds",
    "Laboratories", "Software", "Paper", "Timber", "Steel", "Textiles", "Catering", "Security",
    "Electrical", "Plumbing", "Roofing", "Tools", "Optics",
)  # fmt: skip
_FORMS = ("Ltd", "Ltd", "Ltd", "PLC", "GmbH", "B.V.", "SARL")


def _names(count: int) -> list[str]:
    """Made-up names, as near to each other as those of a real list: many share words."""
    chance = random.Random(1)
    return [
        f"{''.join(chance.choices(_SYLLABLES, k=3)).title()} {chance.choice(_TRADES)} "
        f"{chance.choice(_FORMS)}"
        for _ in range(count)
    ]


def _domain(n: int, name: str) -> str:
    return f"{name.rpartition(' ')[0].lower().replace(' ', '-')}{n % 7}.example"


def _vendors(count: int) -> bytes:
    rows = ["code,name,tax_id,country,email,accounts,domains,terms"]
    rows += [
        f"S{n:06},{name},,GB,bills@{_domain(n, name)},,{_domain(n, name)},30 days net"
        for n, name in enumerate(_names(count))
    ]
    return "\n".join(rows).encode()


def _orders(count: int) -> bytes:
    rows = [
        "number,entity,vendor,currency,ordered_on,status,line,item_code,description,quantity,"
        "unit,unit_price"
    ]
    rows += [
        f"SO-{n // LINES_OF_AN_ORDER:06},aquarium-trust,S{n // LINES_OF_AN_ORDER:06},GBP,"
        f"2026-10-02,open,{n % LINES_OF_AN_ORDER + 1},I-{n},Part {n},{n % 40 + 1},each,"
        f"{n % 90 + 1}.20"
        for n in range(count)
    ]
    return "\n".join(rows).encode()


def _every_tenth_wrong(content: bytes) -> bytes:
    head, *rows = content.decode().split("\n")
    wrong = [row.replace(",GB,", ",Atlantis,") if n % 10 == 0 else row
             for n, row in enumerate(rows)]  # fmt: skip
    return "\n".join([head, *wrong]).encode()


_FILL = """
with numbered as (
    select n,
           (case when n % 50 = 0 then 0 else (n::bigint * 7919) % {senders} end)::int as who,
           date '2024-12-01' + (n % 720) as day
    from generate_series(1, {count}) n
)
insert into documents_document ({columns})
select {values} from numbered
join senders on senders.who = numbered.who
cross join (select * from documents_document where id = {model}) model
"""


def _fill(count: int, model: int) -> None:
    """Documents as copies of one, each at a place of its own in that one's file."""
    from django.db import connection

    from veridox.service.documents.models import Document

    own = {
        "position": "n + 1",
        "state": "'posted'",
        "number": "'S-' || n",
        "number_key": "'S-' || n",
        "number_bare": "'S' || n",
        "issue_date": "day",
        "received_at": "day + time '09:00' at time zone 'UTC'",
        "state_at": "day + time '09:05' at time zone 'UTC'",
        "ended_at": "day + time '09:05' at time zone 'UTC'",
        "net_total": "(n::bigint * 104729) % 400000 / 100.0 + 20",
        "gross_total": "case when n % 3 = 0 then 120 "
        "else ((n::bigint * 104729) % 400000 / 100.0 + 20) * 1.2 end",
        "vendor_id": "senders.vendor",
        "seller_name": "senders.name",
        "posting_id": "null",
    }
    columns = [field.column for field in Document._meta.concrete_fields if field.column != "id"]
    values = [own.get(column, f"model.{column}") for column in columns]
    with connection.cursor() as cursor:
        cursor.execute(
            "create temporary table senders as select (substr(code, 2))::int as who, "
            "id as vendor, name from masterdata_vendor where code < %s",
            [f"S{SENDERS:06}"],
        )
        # All placeholders are ours: numbers, and names of columns of our own model.
        statement = _FILL.format(
            senders=SENDERS, count=count, model=model,
            columns=", ".join(columns), values=", ".join(values),
        )  # fmt: skip
        cursor.execute(statement)
        cursor.execute("analyze")


_MORE_ORDERS = """
insert into masterdata_order ({orders})
select {copied} from masterdata_order o cross join generate_series(2, {times}) k;
insert into masterdata_orderline ({lines})
select {of_line} from masterdata_orderline l join masterdata_order o on o.id = l.order_id
cross join generate_series(2, {times}) k
join masterdata_order n on n.entity_id = o.entity_id and n.number = o.number || '/' || k;
insert into masterdata_goodsreceipt (ledger, number, entity_id, order_number, line, quantity, unit,
    received_on, note, seen)
select '', 'GR-' || l.id, o.entity_id, o.number, l.position, l.quantity, '', '2026-11-02', '', 0
from masterdata_orderline l join masterdata_order o on o.id = l.order_id where l.id % 4 = 0;
with used as (
    select l.order_id, l.position, l.quantity, l.unit_price, d.id as document
    from (select *, row_number() over (order by id) as n from masterdata_orderline
          where id % 3 = 0) l
    join (select id, row_number() over (order by id) as n from documents_document
          where state = 'posted') d on d.n = l.n
), named as (
    update documents_document d set order_id = used.order_id from used where d.id = used.document
), shared as (
    insert into documents_ordershare (document_id, order_id, place, amount, currency)
    select d.id, used.order_id, 0, d.net_total, d.currency
    from used join documents_document d on d.id = used.document
)
insert into documents_orderuse (document_id, line, order_id, position, quantity, amount)
select document, 1, order_id, position, quantity / 2, quantity / 2 * unit_price from used;
"""
TIMES = 10
"""So often each imported order is there in the end."""


def _more_orders() -> None:
    """Ten times as many orders by SQL, a quarter of their lines received, a third half billed."""
    from django.db import connection

    from veridox.service.masterdata.models import Order, OrderLine

    own = {"number": "o.number || '/' || k", "key": "o.key || k"}
    orders = [f.column for f in Order._meta.concrete_fields if f.column != "id"]
    lines = [f.column for f in OrderLine._meta.concrete_fields if f.column != "id"]
    with connection.cursor() as cursor:
        cursor.execute(_MORE_ORDERS.format(
            times=TIMES, orders=", ".join(f'"{each}"' for each in orders),
            copied=", ".join(own.get(each, f'o."{each}"') for each in orders),
            lines=", ".join(f'"{each}"' for each in lines),
            of_line=", ".join("n.id" if each == "order_id" else f'l."{each}"' for each in lines),
        ))  # fmt: skip
        # What was written all at once is settled first, as it is in a house where it came by day.
        cursor.execute("vacuum analyze")
        cursor.execute("checkpoint")
        cursor.execute("select count(*) from masterdata_orderline")
        print(f"order lines in the end: {cursor.fetchone()[0]:,}")


def _readings(ids: Sequence[int], model: int) -> None:
    """What would have been read of those that are looked at."""
    from veridox.service.documents.models import Document, ReadingVersion

    shape = ReadingVersion.objects.filter(document_id=model).latest("number").reading
    for document in Document.objects.filter(pk__in=ids):
        fields = {name: dict(value) for name, value in shape["fields"].items()}
        fields["number"]["value"] = document.number
        fields["issue_date"]["value"] = str(document.issue_date)
        for name in ("order_number", "seller.tax_id", "account"):
            fields.pop(name, None)
        name = document.seller_name
        if document.pk % 3:  # two of three name an order of their vendor
            number = document.vendor.code.replace("S", "SO-", 1)
            named = f"{number}/{document.pk % 9 + 2}"
            fields["order_number"] = {**fields["number"], "value": named}
        # Every second name has a misread letter: then no index finds it as it stands.
        fields["seller.name"]["value"] = f"{name[:3]}x{name[4:]}" if document.pk % 2 else name
        total = {"amount": f"{document.gross_total:.2f}", "currency": document.currency}
        fields["gross_total"]["value"] = total
        ReadingVersion.objects.create(
            document=document,
            number=1,
            made_by="system:read",
            reading={**shape, "fields": fields, "lines": shape["lines"] * 8},
        )


def _spread(times: list[float]) -> str:
    ordered = sorted(1000 * each for each in times)
    p95 = ordered[int(len(ordered) * 0.95)]
    return (
        f"median {statistics.median(ordered):6.1f} ms   p95 {p95:6.1f} ms   "
        f"worst {ordered[-1]:6.1f} ms"
    )


def _look(ids: Sequence[int]) -> None:
    from django.db import connection

    from veridox.core.checks import run_checks
    from veridox.core.matching import pair_with_orders
    from veridox.service.documents.columns import current_reading
    from veridox.service.documents.queries import documents_to_check
    from veridox.service.flow.gathering import ground_of
    from veridox.service.flow.known import KnownHere
    from veridox.service.pipelines.queries import definition_of

    whole: list[float] = []
    database: list[float] = []
    earlier: list[float] = []
    codes: dict[str, int] = {}
    inner: Callable[..., Any] = KnownHere.earlier

    def timed(self: KnownHere, *arguments: Any) -> Any:
        began = time.perf_counter()
        found = inner(self, *arguments)
        earlier.append(time.perf_counter() - began)
        return found

    matched: list[float] = []
    orders_of: Callable[..., Any] = KnownHere.orders

    def matching(self: KnownHere, *arguments: Any) -> Any:
        began = time.perf_counter()
        orders = orders_of(self, *arguments)
        if orders:
            pair_with_orders(reading_of[0].lines, list(orders.values()))
            matched.append(time.perf_counter() - began)
        return orders

    KnownHere.earlier = timed  # type: ignore[method-assign]
    KnownHere.orders = matching  # type: ignore[method-assign]
    reading_of = [current_reading(documents_to_check().get(pk=ids[0]))]
    spent = [0.0]

    def asked(execute: Any, sql: Any, parameters: Any, many: Any, context: Any) -> Any:
        began = time.perf_counter()
        try:
            return execute(sql, parameters, many, context)
        finally:
            spent[0] += time.perf_counter() - began

    connection.execute_wrappers.append(asked)
    for at, pk in enumerate(ids):
        spent[0] = 0.0
        began = time.perf_counter()
        document = documents_to_check().get(pk=pk)
        document.state = "received"
        definition = definition_of(document.pipeline_version)
        ground = ground_of(document, definition, locking=False)
        found = run_checks(ground.case.facts)
        if at >= 20:  # the first ones warm up
            whole.append(time.perf_counter() - began)
            database.append(spent[0])
        for each in found:
            codes[each.code] = codes.get(each.code, 0) + 1
    print(f"all checks of a document   {_spread(whole)}")
    print(f"of it in the database      {_spread(database)}")
    print(f"what came before it        {_spread(earlier[20:])}")
    print(f"its order, line by line    {_spread(matched[10:])}   ({len(matched)} named one)")
    print("said: " + ", ".join(f"{code} {n}" for code, n in sorted(codes.items())))


def _measure(count: int) -> None:
    import django

    django.setup()
    from django.core.management import call_command

    from veridox.service import wiring
    from veridox.service.accounts.actors import Actor
    from veridox.service.connections.actions.manage import put_connection
    from veridox.service.documents.actions.store_reading import store_reading
    from veridox.service.documents.models import Document
    from veridox.service.errors import BadInputError
    from veridox.service.intake.actions.receive import upload
    from veridox.service.masterdata.importing import import_table
    from veridox.service.pipelines.actions.publish import publish
    from veridox.service.storage import originals

    system = Actor.system("bench")
    call_command("migrate", verbosity=0)
    for name, kind, settings, secret in (
        ("ap-inbox", "mailbox", {"host": "127.0.0.1", "user": "ap"}, "word"),
        ("mail-out", "outbox", {"host": "127.0.0.1", "sender": "v@merrowmere.example",
                                "security": "none"}, None),
        ("main-books", "ledger", {"url": "http://127.0.0.1:1"}, "token"),
    ):  # fmt: skip
        put_connection(system, name, kind, settings, secret)
    import_table(system, "entities", "entities.csv", m.entities_csv().encode())
    vendors, orders = _vendors(ROWS), _orders(ROWS)
    with _timed(f"{ROWS:,} vendors, every tenth wrong: refused"):
        try:
            import_table(system, "vendors", "vendors.csv", _every_tenth_wrong(vendors))
        except BadInputError as error:
            print(f"  {error}")
    with _timed(f"{ROWS:,} vendors"):
        import_table(system, "vendors", "vendors.csv", vendors)
    with _timed(f"{ROWS:,} vendors once more, nothing changed"):
        import_table(system, "vendors", "vendors.csv", vendors)
    with _timed(f"{ROWS:,} order lines"):
        import_table(system, "orders", "orders.csv", orders)
    version = publish(system, PIPELINE.read_text(encoding="utf-8"))
    content = LAYOUTS["letterhead"](replace(bills.VET_VISIT, vendor=m.VENDORS[0]))
    file = upload(
        system, version, name="x.pdf", declared_type="application/pdf",
        media_type="application/pdf", sha256=originals().put(content), size=len(content),
    )  # fmt: skip
    store_reading(system, file.pk, wiring.reader_pool().read(content, name="x.pdf"))
    model = Document.objects.get(file=file).pk
    with _timed(f"{count:,} documents, by SQL"):
        _fill(count, model)
    with _timed("ten times as many orders, by SQL"):
        _more_orders()
    chance = random.Random(15)
    last = Document.objects.latest("pk").pk
    ids = chance.sample(range(last - count // 10, last), LOOKED_AT - 50)
    busiest = Document.objects.filter(vendor__code="S000000").order_by("-pk")
    ids += list(busiest.values_list("pk", flat=True)[:50])  # of the vendor that sends most
    _readings(ids, model)
    _look(ids)


if __name__ == "__main__":
    _measure(int(sys.argv[1]))
