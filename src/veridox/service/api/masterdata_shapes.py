"""Shapes of master data on the wire."""

from typing import Any
from uuid import UUID

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from veridox.core.checks.order_lines import quantity_text
from veridox.core.matching import OrderLineRecord
from veridox.service.documents.actions.recount import Recounted
from veridox.service.documents.models import Document
from veridox.service.documents.orders import order_lines
from veridox.service.documents.timeline import EVENTS, timeline
from veridox.service.masterdata.models import (
    BookedBill,
    DayRate,
    Entity,
    HeldChange,
    Load,
    Mapping,
    Order,
    OrderLine,
    Vendor,
    VendorMark,
)


class EntitySerializer(serializers.ModelSerializer):
    """One of our own companies."""

    closed = serializers.SerializerMethodField()

    class Meta:
        model = Entity
        fields = ["code", "name", "names", "country", "currency", "tax_id", "tax_ids",
                  "recipients", "closed", "updated_at"]  # fmt: skip
        read_only_fields = fields

    def get_closed(self, row: Entity) -> list[str]:
        """Closed periods of its books, each as `2026-01-01 to 2026-03-31`."""
        return [f"{first} to {last}" for first, last in row.closed]


class HeldChangeSerializer(serializers.ModelSerializer):
    """A change of a vendor that waits for a second person, or did."""

    vendor = serializers.CharField(source="vendor.code")
    vendor_name = serializers.CharField(source="vendor.name")
    ledger = serializers.CharField(source="vendor.ledger", allow_blank=True)

    class Meta:
        model = HeldChange
        fields = [
            "id", "vendor", "vendor_name", "ledger", "column", "act", "before", "after", "by",
            "at", "load", "state", "decided_by", "decided_at", "reason",
        ]  # fmt: skip
        read_only_fields = fields


class VendorMarkSerializer(serializers.ModelSerializer):
    """A name, account, domain, ... of a vendor; `since` is when an account came in."""

    class Meta:
        model = VendorMark
        fields = ["kind", "value", "since"]
        read_only_fields = fields


class VendorSerializer(serializers.ModelSerializer):
    """A vendor."""

    class Meta:
        model = Vendor
        fields = [
            "ledger", "code", "name", "tax_id", "country", "email", "needs_order", "blocked",
            "terms", "treatment", "rates", "group", "language", "merged_into", "gl_account",
            "cost_centre", "supply", "gone_at", "synced", "updated_at",
        ]  # fmt: skip
        read_only_fields = fields


class VendorDetailSerializer(VendorSerializer):
    """A vendor with all that it has several of, and what waits for a second person."""

    marks = VendorMarkSerializer(many=True)
    held = serializers.SerializerMethodField()

    class Meta(VendorSerializer.Meta):
        fields = [*VendorSerializer.Meta.fields, "marks", "held"]
        read_only_fields = fields

    def get_held(self, row: Vendor) -> list[dict[str, Any]]:
        """Changes that wait."""
        waiting = [each for each in row.held.all() if each.state == "waits"]
        return HeldChangeSerializer(waiting, many=True).data


class OrderLineSerializer(serializers.ModelSerializer):
    """A line of an order."""

    class Meta:
        model = OrderLine
        fields = [
            "position", "item_code", "description", "quantity", "unit", "unit_price",
            "needs_receipt", "gl_account", "cost_centre", "project",
        ]  # fmt: skip
        read_only_fields = fields


class OrderSerializer(serializers.ModelSerializer):
    """An order with its lines."""

    entity = serializers.CharField(source="entity.code")
    vendor = serializers.CharField(source="vendor.code")
    vendor_name = serializers.CharField(source="vendor.name")
    lines = OrderLineSerializer(many=True)

    class Meta:
        model = Order
        fields = [
            "number", "entity", "vendor", "vendor_name", "currency", "ordered_on", "closed",
            "approved", "gone_at", "net_total", "lines", "updated_at",
        ]  # fmt: skip
        read_only_fields = fields


class OrderLineTakenSerializer(OrderLineSerializer):
    """A line of an order with what bills have taken of it, cleared or posted ones."""

    quantity = serializers.DecimalField(max_digits=18, decimal_places=6)
    unit_price = serializers.DecimalField(max_digits=18, decimal_places=6)
    invoiced = serializers.DecimalField(
        max_digits=18, decimal_places=6, help_text="how much of it, in its unit"
    )
    open = serializers.DecimalField(
        max_digits=18, decimal_places=6, help_text="ordered and not invoiced"
    )
    billed = serializers.DecimalField(
        max_digits=18, decimal_places=4, help_text="what was asked for it, without tax"
    )

    received = serializers.DecimalField(
        max_digits=18, decimal_places=6, allow_null=True,
        help_text="what came in of it, in its unit; null where nothing was ever booked in",
    )  # fmt: skip
    returned = serializers.DecimalField(
        max_digits=18, decimal_places=6, help_text="what of that went back"
    )
    receivable = serializers.DecimalField(
        max_digits=18, decimal_places=6, allow_null=True,
        help_text="what came in, did not go back, and is not invoiced",
    )  # fmt: skip
    unclear = serializers.SerializerMethodField()

    class Meta(OrderLineSerializer.Meta):
        fields = [
            *OrderLineSerializer.Meta.fields, "invoiced", "open", "billed", "received",
            "returned", "receivable", "unclear",
        ]  # fmt: skip
        read_only_fields = fields

    def get_unclear(self, row: OrderLineRecord) -> list[str]:
        """What came in or went back in units that nobody knows, each with its unit."""
        return [f"{quantity_text(count)} {unit}" for count, unit in row.unclear]


class OrderDetailSerializer(OrderSerializer):
    """An order with its lines and what is open of each. Of a document beside its order: with what
    others have taken."""

    lines = serializers.SerializerMethodField()

    @extend_schema_field(OrderLineTakenSerializer(many=True))
    def get_lines(self, row: Order) -> Any:
        """Summed anew from all bills."""
        taken = order_lines(row, self.context.get("without"))
        return OrderLineTakenSerializer(taken, many=True).data


class OrderEventSerializer(serializers.Serializer):
    """Something that happened to an order, on its day."""

    day = serializers.DateField(allow_null=True)
    what = serializers.ChoiceField(choices=EVENTS)
    number = serializers.CharField(allow_blank=True, help_text="of the goods receipt or the bill")
    text = serializers.CharField(help_text="how much of which line, or over how much")
    document = serializers.IntegerField(allow_null=True, help_text="of a bill")
    state = serializers.CharField(allow_blank=True, help_text="of a bill")


class OrderStorySerializer(OrderDetailSerializer):
    """The same with all that happened to it, the oldest first."""

    timeline = serializers.SerializerMethodField()

    class Meta(OrderDetailSerializer.Meta):
        fields = [*OrderDetailSerializer.Meta.fields, "timeline"]
        read_only_fields = fields

    @extend_schema_field(OrderEventSerializer(many=True))
    def get_timeline(self, row: Order) -> Any:
        """Raised, goods in and back, bills and credits."""
        return OrderEventSerializer(timeline(row), many=True).data


class RecountSerializer(serializers.Serializer):
    """Whether what differs is to be kept as it was counted."""

    mend = serializers.BooleanField(default=False)


class UseSerializer(serializers.Serializer):
    """What a line of a bill takes of a line of the order."""

    line = serializers.IntegerField()
    position = serializers.IntegerField()
    quantity = serializers.DecimalField(max_digits=18, decimal_places=6, allow_null=True)
    amount = serializers.DecimalField(max_digits=18, decimal_places=4)


class RecountedSerializer(serializers.Serializer):
    """A bill of an order: what is kept, and what was counted anew."""

    document = serializers.IntegerField()
    number = serializers.CharField(allow_blank=True)
    equal = serializers.BooleanField()
    kept = serializers.SerializerMethodField()
    counted = serializers.SerializerMethodField()

    @extend_schema_field(UseSerializer(many=True))
    def get_kept(self, row: Recounted) -> Any:
        """As it was at the bill's last check."""
        return [_use(each) for each in row.kept]

    @extend_schema_field(UseSerializer(many=True))
    def get_counted(self, row: Recounted) -> Any:
        """Paired anew."""
        return [_use(each) for each in row.counted]


def _use(use: Any) -> dict[str, Any]:
    line, position, quantity, amount = use
    return {"line": line, "position": position, "amount": f"{amount:f}",
            "quantity": None if quantity is None else f"{quantity:f}"}  # fmt: skip


class DayRateSerializer(serializers.ModelSerializer):
    """A rate of exchange of a day."""

    class Meta:
        model = DayRate
        fields = ["currency", "into", "day", "rate", "source"]
        read_only_fields = fields


class BookedBillSerializer(serializers.ModelSerializer):
    """What stands in the ledger's books; `reference` is our own posting's id."""

    vendor = serializers.CharField(source="vendor.code")
    vendor_name = serializers.CharField(source="vendor.name")

    class Meta:
        model = BookedBill
        fields = [
            "ledger", "booked_as", "vendor", "vendor_name", "entity", "kind", "number",
            "issue_date", "currency", "gross_total", "open_amount", "order_number", "reference",
            "gone_at",
        ]  # fmt: skip
        read_only_fields = fields


class BookedBillDetailSerializer(BookedBillSerializer):
    """The same with our own document, where it was posted from here."""

    document = serializers.SerializerMethodField()

    class Meta(BookedBillSerializer.Meta):
        fields = [*BookedBillSerializer.Meta.fields, "document"]
        read_only_fields = fields

    def get_document(self, row: BookedBill) -> int | None:
        """Its number; null where it was not posted from here."""
        try:
            reference = UUID(row.reference)
        except ValueError:
            return None
        found = Document.objects.filter(posting=reference).values_list("pk", flat=True)
        return found.first()


class WorthSerializer(serializers.Serializer):
    """What one unit of a currency is worth; `day` and `source` are of the rate."""

    currency = serializers.CharField()
    into = serializers.CharField()
    rate = serializers.CharField(help_text="units of `into` for one of `currency`")
    day = serializers.DateField()
    source = serializers.CharField()


class ImportSerializer(serializers.Serializer):
    """A table (CSV or XLSX); with `preview` nothing is kept."""

    file = serializers.FileField()
    preview = serializers.BooleanField(default=False)
    expects = serializers.RegexField(
        r"^[0-9a-f]{64}$", default="", allow_blank=True,
        help_text="SHA-256 of the file that was looked at: another one is refused",
    )  # fmt: skip
    ledger = serializers.CharField(
        default="", allow_blank=True, max_length=63, help_text="that its records belong to"
    )
    mapping = serializers.CharField(
        default="", allow_blank=True, max_length=20_000,
        help_text="name of a saved mapping, or a JSON object of headings to our columns",
    )  # fmt: skip
    sheet = serializers.CharField(default="", allow_blank=True, max_length=100)


class ImportChangeSerializer(serializers.Serializer):
    """One value that differs; `told` says why somebody should look at it."""

    line = serializers.IntegerField(help_text="of the table, the header being line 1")
    key = serializers.CharField()
    column = serializers.CharField()
    before = serializers.CharField(allow_blank=True)
    after = serializers.CharField(allow_blank=True)
    told = serializers.CharField(allow_blank=True, help_text="held, reopened, or empty")


class FateSerializer(serializers.Serializer):
    """What becomes of a row that is not as before."""

    line = serializers.IntegerField()
    key = serializers.CharField(allow_blank=True)
    fate = serializers.CharField(help_text="new, changed, same, held or wrong")
    why = serializers.CharField(allow_blank=True)


class LoadSerializer(serializers.ModelSerializer):
    """One time that master data were brought in, by file or by sync."""

    class Meta:
        model = Load
        fields = [
            "id", "what", "how", "ledger", "by", "state", "file_name", "sha256", "first", "whole",
            "rows", "new", "changed", "same", "gone", "held", "wrong", "expected", "problem",
            "begun_at", "ended_at",
        ]  # fmt: skip
        read_only_fields = fields


class ImportedSerializer(serializers.Serializer):
    """What an import brought, or would bring."""

    imported = serializers.IntegerField(help_text="records kept; 0 for a preview")
    rows = serializers.IntegerField(help_text="records in the table")
    new = serializers.IntegerField()
    changed = serializers.IntegerField()
    same = serializers.IntegerField()
    held = serializers.IntegerField(help_text="of them: a part waits for a second person")
    changes = ImportChangeSerializer(many=True)
    more_changes = serializers.IntegerField(help_text="beside those that are listed")
    fates = FateSerializer(many=True)
    preview = serializers.BooleanField()
    sha256 = serializers.CharField(help_text="of the file")
    form = serializers.CharField(help_text="how it was read")
    aside = serializers.ListField(child=serializers.CharField(), help_text="columns left aside")
    load = serializers.IntegerField(help_text="number of the load; its rows are a file")


class MappingSerializer(serializers.ModelSerializer):
    """How the columns of a file are called."""

    class Meta:
        model = Mapping
        fields = ["name", "what", "columns", "fixed", "saved_by", "saved_at"]
        read_only_fields = ["saved_by", "saved_at"]

    columns = serializers.DictField(child=serializers.CharField(allow_blank=True), default=dict)
    fixed = serializers.DictField(child=serializers.CharField(), default=dict)


class ColumnSerializer(serializers.Serializer):
    """One column of a kind of master data."""

    name = serializers.CharField()
    help = serializers.CharField()
    needed = serializers.BooleanField()
    several = serializers.BooleanField(help_text="several values in one cell, parted by |")
    guarded = serializers.BooleanField(help_text="a change waits for a second person")
    aliases = serializers.ListField(child=serializers.CharField())


class StandingSerializer(serializers.Serializer):
    """How one kind of master data stands."""

    what = serializers.CharField()
    count = serializers.IntegerField()
    fresh = serializers.DateTimeField(allow_null=True, help_text="when it was last brought in")
    held = serializers.IntegerField(help_text="changes that wait for a second person")
    running = LoadSerializer(allow_null=True)


class DecideSerializer(serializers.Serializer):
    """Which held changes are decided: by their ids, or all of a load or a vendor."""

    ids = serializers.ListField(child=serializers.IntegerField(), default=list)
    load = serializers.IntegerField(required=False)
    vendor = serializers.CharField(required=False, max_length=40)
    reason = serializers.CharField(default="", allow_blank=True, max_length=500)


class ProposeSerializer(serializers.Serializer):
    """A value of a vendor that has several of them."""

    column = serializers.CharField(max_length=20)
    value = serializers.CharField(max_length=300)


class SyncSerializer(serializers.Serializer):
    """From which ledger; `whole` asks for everything, not only for what changed."""

    ledger = serializers.CharField(max_length=63)
    whole = serializers.BooleanField(default=False)
