"""Shapes of goods receipts, items, rate cards and the ledgers' codes on the wire."""

from rest_framework import serializers

from veridox.service.masterdata.models import (
    CardRate,
    CostCentre,
    GlAccount,
    GoodsReceipt,
    Item,
    Project,
    TaxCode,
)


class GoodsReceiptSerializer(serializers.ModelSerializer):
    """What came in of one line of an order; below zero what went back."""

    entity = serializers.CharField(source="entity.code")

    class Meta:
        model = GoodsReceipt
        fields = [
            "number", "entity", "order_number", "line", "quantity", "unit", "received_on", "note",
            "ledger", "gone_at",
        ]  # fmt: skip
        read_only_fields = fields


class ItemSerializer(serializers.ModelSerializer):
    """A thing as a vendor calls it and as we do, and how it is packed."""

    vendor = serializers.CharField(source="vendor.code")
    vendor_name = serializers.CharField(source="vendor.name")
    packs = serializers.DictField(child=serializers.CharField())

    class Meta:
        model = Item
        fields = [
            "vendor", "vendor_name", "code", "vendor_code", "description", "unit", "packs",
            "ledger", "gone_at",
        ]  # fmt: skip
        read_only_fields = fields


class CardRateSerializer(serializers.ModelSerializer):
    """One charge of a vendor's rate card: a price, or a percentage of other charges."""

    vendor = serializers.CharField(source="vendor.code")
    vendor_name = serializers.CharField(source="vendor.name")

    class Meta:
        model = CardRate
        fields = [
            "vendor", "vendor_name", "card", "code", "wording", "currency", "unit", "price",
            "percent", "of", "from_quantity", "first", "last", "ledger", "gone_at",
        ]  # fmt: skip
        read_only_fields = fields


_LEDGER_CODE = ["code", "name", "entity", "closed", "ledger", "gone_at"]


class GlAccountSerializer(serializers.ModelSerializer):
    """An account of the general ledger."""

    class Meta:
        model = GlAccount
        fields = [*_LEDGER_CODE, "needs_cost_centre"]
        read_only_fields = fields


class CostCentreSerializer(serializers.ModelSerializer):
    """A cost centre, with the mail address of who answers for it."""

    class Meta:
        model = CostCentre
        fields = [*_LEDGER_CODE, "owner"]
        read_only_fields = fields


class ProjectSerializer(serializers.ModelSerializer):
    """A project, with the mail address of who leads it."""

    class Meta:
        model = Project
        fields = [*_LEDGER_CODE, "owner"]
        read_only_fields = fields


class TaxCodeSerializer(serializers.ModelSerializer):
    """A tax code, and what it is for; what is empty holds for all."""

    class Meta:
        model = TaxCode
        fields = [*_LEDGER_CODE, "country", "category", "rate", "supply"]
        read_only_fields = fields
