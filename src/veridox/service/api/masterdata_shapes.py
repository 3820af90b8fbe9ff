"""Shapes of entities, vendors and orders on the wire."""

from rest_framework import serializers

from veridox.service.masterdata.models import Entity, Order, OrderLine, Vendor


class EntitySerializer(serializers.ModelSerializer):
    """One of our own companies."""

    class Meta:
        model = Entity
        fields = ["code", "name", "country", "currency", "tax_id"]
        read_only_fields = fields


class VendorSerializer(serializers.ModelSerializer):
    """A vendor."""

    class Meta:
        model = Vendor
        fields = [
            "code", "name", "tax_id", "country", "email", "needs_order", "blocked", "updated_at",
        ]  # fmt: skip
        read_only_fields = fields


class OrderLineSerializer(serializers.ModelSerializer):
    """A line of an order."""

    class Meta:
        model = OrderLine
        fields = ["position", "item_code", "description", "quantity", "unit", "unit_price"]
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
            "net_total", "lines", "updated_at",
        ]  # fmt: skip
        read_only_fields = fields


class ImportSerializer(serializers.Serializer):
    """A CSV table; with `preview` nothing is kept."""

    file = serializers.FileField()
    preview = serializers.BooleanField(default=False)


class ImportChangeSerializer(serializers.Serializer):
    """One value that differs; `told` says why somebody should look at it."""

    line = serializers.IntegerField(help_text="of the table, the header being line 1")
    key = serializers.CharField()
    column = serializers.CharField()
    before = serializers.CharField(allow_blank=True)
    after = serializers.CharField(allow_blank=True)
    told = serializers.CharField(allow_blank=True, help_text="unblocked, reopened, ... or empty")


class ImportedSerializer(serializers.Serializer):
    """What an import brought, or would bring."""

    imported = serializers.IntegerField(help_text="records kept; 0 for a preview")
    rows = serializers.IntegerField(help_text="records in the table")
    new = serializers.IntegerField()
    changed = serializers.IntegerField()
    same = serializers.IntegerField()
    changes = ImportChangeSerializer(many=True)
    preview = serializers.BooleanField()
