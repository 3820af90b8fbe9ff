"""Entities, vendors, orders, rates, what stands in the books, and how all of it came here."""

from enum import StrEnum

from django.contrib.postgres.indexes import GinIndex
from django.db import models

from veridox.service.choices import choices


class Entity(models.Model):
    """One of our own companies.

    `names`, `tax_ids`, `recipients` are what else bills call it, other tax ids, and mail
    addresses that its bills are sent to; `closed` are periods `[first, last]` of its books.
    """

    code = models.SlugField(max_length=63, unique=True)
    name = models.CharField(max_length=200)
    country = models.CharField(max_length=2)
    currency = models.CharField(max_length=3)
    tax_id = models.CharField(max_length=40, blank=True)
    names = models.JSONField(default=list)
    tax_ids = models.JSONField(default=list)
    recipients = models.JSONField(default=list)
    closed = models.JSONField(default=list)
    synced = models.JSONField(default=list, help_text="columns that a sync owns")
    updated_at = models.DateTimeField(auto_now=True)


class Vendor(models.Model):
    """A supplier of the master data. Its code is unique within its ledger.

    `ledger` is the connection that it is set up in, empty where nobody said. What a vendor has
    several of (names, accounts, ...) are its marks. `synced` are the columns that a sync owns:
    no file changes them. `gone_at` is when the ledger did not list it any more.
    """

    ledger = models.CharField(max_length=63, blank=True, default="")
    code = models.CharField(max_length=40)
    name = models.CharField(max_length=200)
    name_key = models.CharField(max_length=200)
    tax_id = models.CharField(max_length=40, blank=True, db_index=True)
    country = models.CharField(max_length=2, blank=True)
    email = models.CharField(max_length=254, blank=True)
    needs_order = models.BooleanField(default=True)
    blocked = models.BooleanField(default=False)
    terms = models.CharField(max_length=80, blank=True)
    treatment = models.CharField(max_length=20, blank=True)
    rates = models.JSONField(default=list, help_text="usual rates of tax, as text")
    group = models.CharField(max_length=80, blank=True)
    language = models.CharField(max_length=2, blank=True)
    merged_into = models.CharField(max_length=40, blank=True)
    gl_account = models.CharField(max_length=40, blank=True)
    cost_centre = models.CharField(max_length=40, blank=True)
    supply = models.CharField(max_length=10, blank=True)
    synced = models.JSONField(default=list)
    seen = models.BigIntegerField(default=0, help_text="load that listed it last")
    gone_at = models.DateTimeField(null=True)
    updated_at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["ledger", "code"], name="vendor_once_in_ledger")
        ]
        indexes = [
            GinIndex(fields=["name_key"], name="vendor_name_words", opclasses=["gin_trgm_ops"]),
            models.Index(fields=["code"]),
            models.Index(fields=["name_key"]),
        ]


class MarkKind(StrEnum):
    """What a vendor may have several of."""

    NAME = "name"
    TAX_ID = "tax id"
    ACCOUNT = "account"
    SENDER = "sender"
    DOMAIN = "domain"
    ADDRESS = "address"
    PAYEE = "payee"


class VendorMark(models.Model):
    """One name, account, domain, ... of a vendor. `key` is its form for comparison.

    `since` is the day on which an account came in; null where it was there from the first list.
    `ours` says that people here added it, and no list has named it: then no list takes it away.
    """

    vendor = models.ForeignKey(Vendor, on_delete=models.CASCADE, related_name="marks")
    kind = models.CharField(max_length=10, choices=choices(MarkKind))
    value = models.CharField(max_length=300)
    key = models.CharField(max_length=300)
    since = models.DateField(null=True)
    ours = models.BooleanField(default=False)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["vendor", "kind", "key"], name="vendor_mark_once")
        ]
        indexes = [
            models.Index(fields=["kind", "key"]),
            # One for each: a name shares parts of words with the domains of thousands.
            *(
                GinIndex(
                    fields=["key"],
                    name=name,
                    opclasses=["gin_trgm_ops"],
                    condition=models.Q(kind=kind),
                )
                for kind, name in (("name", "vendor_other_names"), ("domain", "vendor_domains"))
            ),
        ]


class Order(models.Model):
    """A purchase order; its lines carry what was ordered. Its number is unique in its entity.

    `ledger` is the one that listed it; empty for an order that only a file brought in.
    """

    ledger = models.CharField(max_length=63, blank=True, default="")
    number = models.CharField(max_length=60)
    key = models.CharField(max_length=60, db_index=True)
    entity = models.ForeignKey(Entity, on_delete=models.PROTECT)
    vendor = models.ForeignKey(Vendor, on_delete=models.PROTECT)
    currency = models.CharField(max_length=3)
    ordered_on = models.DateField(null=True)
    closed = models.BooleanField(default=False)
    approved = models.BooleanField(default=True)
    net_total = models.DecimalField(max_digits=18, decimal_places=4)
    synced = models.JSONField(default=list)
    seen = models.BigIntegerField(default=0)
    gone_at = models.DateTimeField(null=True)
    updated_at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["entity", "number"], name="order_once_in_entity")
        ]
        indexes = [models.Index(fields=["number", "id"])]


class OrderLine(models.Model):
    """One line of an order. It stays the same row when the order comes in anew."""

    order = models.ForeignKey(Order, on_delete=models.CASCADE, related_name="lines")
    position = models.PositiveIntegerField()
    item_code = models.CharField(max_length=80, blank=True)
    description = models.CharField(max_length=500)
    quantity = models.DecimalField(max_digits=18, decimal_places=6)
    unit = models.CharField(max_length=40, blank=True)
    unit_price = models.DecimalField(max_digits=18, decimal_places=6)
    needs_receipt = models.BooleanField(null=True, help_text="null where the order does not say")
    gl_account = models.CharField(max_length=40, blank=True)
    cost_centre = models.CharField(max_length=40, blank=True)
    project = models.CharField(max_length=40, blank=True)

    class Meta:
        ordering = ["position"]
        constraints = [
            models.UniqueConstraint(fields=["order", "position"], name="order_line_once")
        ]


class GoodsReceipt(models.Model):
    """What came in of one line of an order, as it was booked; below zero what went back.

    It names its order by number: goods may be booked in before the order comes here.
    """

    ledger = models.CharField(max_length=63, blank=True, default="")
    number = models.CharField(max_length=60)
    entity = models.ForeignKey(Entity, on_delete=models.PROTECT)
    order_number = models.CharField(max_length=60)
    line = models.PositiveIntegerField(help_text="of the order")
    quantity = models.DecimalField(max_digits=18, decimal_places=6)
    unit = models.CharField(max_length=40, blank=True)
    received_on = models.DateField(null=True)
    note = models.CharField(max_length=200, blank=True)
    seen = models.BigIntegerField(default=0)
    gone_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["entity", "number", "order_number", "line"], name="goods_receipt_once"
            )
        ]
        indexes = [
            models.Index(fields=["entity", "order_number", "line"]),
            models.Index(fields=["number"]),
        ]


class Item(models.Model):
    """A thing as a vendor calls it and as we do, and how it is packed.

    `packs` says how many of `unit` are in one of each pack, as text: `{"box": "12"}`.
    """

    ledger = models.CharField(max_length=63, blank=True, default="")
    vendor = models.ForeignKey(Vendor, on_delete=models.CASCADE, related_name="items")
    code = models.CharField(max_length=80)
    vendor_code = models.CharField(max_length=80, blank=True)
    description = models.CharField(max_length=500, blank=True)
    unit = models.CharField(max_length=40, blank=True)
    packs = models.JSONField(default=dict)
    seen = models.BigIntegerField(default=0)
    gone_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["vendor", "code", "vendor_code"], name="item_once_of_vendor"
            )
        ]
        indexes = [models.Index(fields=["code"])]


class _Code(models.Model):
    """A code of a ledger; `entity` is the code of the company that it is of, empty for all."""

    ledger = models.CharField(max_length=63, blank=True, default="")
    entity = models.CharField(max_length=63, blank=True)
    code = models.CharField(max_length=40)
    name = models.CharField(max_length=200, blank=True)
    closed = models.BooleanField(default=False)
    seen = models.BigIntegerField(default=0)
    gone_at = models.DateTimeField(null=True)

    class Meta:
        abstract = True
        constraints = [
            models.UniqueConstraint(
                fields=["ledger", "entity", "code"], name="%(class)s_once_in_ledger"
            )
        ]
        indexes = [models.Index(fields=["code"])]


class GlAccount(_Code):
    """An account of the general ledger."""

    needs_cost_centre = models.BooleanField(default=False)


class CostCentre(_Code):
    """A cost centre; `owner` is the mail address of who answers for it."""

    owner = models.CharField(max_length=254, blank=True)


class Project(_Code):
    """A project; `owner` is the mail address of who leads it."""

    owner = models.CharField(max_length=254, blank=True)


class TaxCode(_Code):
    """A tax code, and what it is for; what is empty holds for all."""

    country = models.CharField(max_length=2, blank=True)
    category = models.CharField(max_length=3, blank=True)
    rate = models.DecimalField(max_digits=6, decimal_places=3, null=True)
    supply = models.CharField(max_length=10, blank=True)


class CardRate(models.Model):
    """One charge of a vendor's rate card; see `core.matching.AgreedRate`."""

    ledger = models.CharField(max_length=63, blank=True, default="")
    vendor = models.ForeignKey(Vendor, on_delete=models.CASCADE, related_name="card_rates")
    card = models.CharField(max_length=80)
    code = models.CharField(max_length=80, blank=True)
    wording = models.CharField(max_length=200, blank=True)
    currency = models.CharField(max_length=3)
    unit = models.CharField(max_length=40, blank=True)
    price = models.DecimalField(max_digits=18, decimal_places=6, null=True)
    percent = models.DecimalField(max_digits=9, decimal_places=4, null=True)
    of = models.CharField(max_length=200, blank=True)
    from_quantity = models.DecimalField(max_digits=18, decimal_places=6, default=0)
    first = models.DateField(null=True)
    last = models.DateField(null=True)
    seen = models.BigIntegerField(default=0)
    gone_at = models.DateTimeField(null=True)

    class Meta:
        indexes = [
            models.Index(fields=["vendor", "card"]), models.Index(fields=["card"]),
        ]  # fmt: skip
        constraints = [
            models.UniqueConstraint(
                fields=["vendor", "card", "code", "wording", "from_quantity", "first"],
                name="card_rate_once",
                nulls_distinct=False,
            )
        ]


class DayRate(models.Model):
    """How many units of `into` one unit of `currency` is worth on a day, as somebody published."""

    currency = models.CharField(max_length=3)
    into = models.CharField(max_length=3)
    day = models.DateField()
    rate = models.DecimalField(max_digits=20, decimal_places=10)
    source = models.CharField(max_length=80)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["currency", "into", "day"], name="rate_once_a_day")
        ]


class BookedBill(models.Model):
    """A bill or credit as the ledger's listing has it, however it came there.

    `reference` is our own posting's id, where the ledger tells that we posted it.
    """

    ledger = models.CharField(max_length=63, blank=True, default="")
    booked_as = models.CharField(max_length=100)
    vendor = models.ForeignKey(Vendor, on_delete=models.PROTECT)
    entity = models.CharField(max_length=63, blank=True)
    kind = models.CharField(max_length=30)
    number = models.CharField(max_length=200)
    number_key = models.CharField(max_length=200)
    number_bare = models.CharField(max_length=200)
    issue_date = models.DateField(null=True)
    currency = models.CharField(max_length=3)
    gross_total = models.DecimalField(max_digits=18, decimal_places=4)
    open_amount = models.DecimalField(max_digits=18, decimal_places=4, null=True)
    order_number = models.CharField(max_length=60, blank=True)
    reference = models.CharField(max_length=100, blank=True)
    seen = models.BigIntegerField(default=0)
    gone_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["ledger", "booked_as"], name="booked_once_in_ledger")
        ]
        indexes = [
            models.Index(fields=["vendor", "number_key"]),
            models.Index(fields=["vendor", "number_bare"]),
            models.Index(fields=["vendor", "gross_total"]),
        ]


class LoadState(StrEnum):
    """How far bringing in has come."""

    RUNNING = "running"  # page by page; a broken one goes on where it stopped
    DONE = "done"
    REFUSED = "refused"  # something in it is wrong: nothing was kept
    PREVIEW = "preview"  # looked at only: nothing was kept
    BROKEN = "broken"  # the other side does not answer any more; asked again later


class Load(models.Model):
    """One time that master data were brought in, by file or by sync.

    `cursor` is where the next page begins, `stamp` what the other side says that it is from;
    the next sync asks for what changed since. `first` says that there was nothing before it: then
    nobody can compare, and what is guarded is taken as it stands.
    """

    what = models.CharField(max_length=20)
    how = models.CharField(max_length=10, choices=[("file", "file"), ("sync", "sync")])
    ledger = models.CharField(max_length=63, blank=True, default="")
    by = models.CharField(max_length=200)
    state = models.CharField(max_length=10, choices=choices(LoadState))
    file_name = models.CharField(max_length=255, blank=True)
    sha256 = models.CharField(max_length=64, blank=True)
    first = models.BooleanField(default=False)
    whole = models.BooleanField(default=True, help_text="it lists everything that there is")
    cursor = models.CharField(max_length=300, blank=True)
    since = models.CharField(max_length=100, blank=True)
    stamp = models.CharField(max_length=100, blank=True)
    rows = models.PositiveIntegerField(default=0)
    new = models.PositiveIntegerField(default=0)
    changed = models.PositiveIntegerField(default=0)
    same = models.PositiveIntegerField(default=0)
    gone = models.PositiveIntegerField(default=0)
    held = models.PositiveIntegerField(default=0)
    wrong = models.PositiveIntegerField(default=0)
    expected = models.PositiveIntegerField(null=True, help_text="rows that the other side has")
    problem = models.TextField(blank=True)
    begun_at = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True)

    class Meta:
        indexes = [models.Index(fields=["what", "state", "ended_at"])]


class HeldState(StrEnum):
    """What became of a change that waits for a second person."""

    WAITS = "waits"
    ACCEPTED = "accepted"
    REFUSED = "refused"
    REPLACED = "replaced"  # a newer one says something else


class HeldChange(models.Model):
    """A change of what money or letters depend on. It holds once a second person accepts it.

    `act` is `add` (of a mark) or `set` (of a column); `by` brought it in and cannot accept it.
    """

    load = models.ForeignKey(Load, null=True, on_delete=models.PROTECT, related_name="held_changes")
    vendor = models.ForeignKey(Vendor, on_delete=models.CASCADE, related_name="held")
    column = models.CharField(max_length=20)
    act = models.CharField(max_length=5)
    before = models.CharField(max_length=300, blank=True)
    after = models.CharField(max_length=300)
    by = models.CharField(max_length=200)
    at = models.DateTimeField(auto_now_add=True)
    state = models.CharField(max_length=10, choices=choices(HeldState), default=HeldState.WAITS)
    decided_by = models.CharField(max_length=200, blank=True)
    decided_at = models.DateTimeField(null=True)
    reason = models.TextField(blank=True)

    class Meta:
        ordering = ["id"]
        indexes = [models.Index(fields=["state", "id"])]
        constraints = [
            models.UniqueConstraint(
                fields=["vendor", "column", "after"],
                condition=models.Q(state="waits"),
                name="held_once",
            )
        ]


class Mapping(models.Model):
    """How the columns of a file are called, saved under a name.

    `columns` has our name for each of theirs; `fixed` are values for columns that the file lacks.
    """

    name = models.SlugField(max_length=63, unique=True)
    what = models.CharField(max_length=20)
    columns = models.JSONField(default=dict)
    fixed = models.JSONField(default=dict)
    saved_by = models.CharField(max_length=200)
    saved_at = models.DateTimeField(auto_now=True)
