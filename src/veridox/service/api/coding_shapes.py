"""Shapes of what a bill is booked under, and of what the ledger lists of it."""

from rest_framework import serializers

from veridox.core.coding import Source


class CodedSerializer(serializers.Serializer):
    """A code, who says it, and how likely it is right."""

    code = serializers.CharField()
    source = serializers.ChoiceField(choices=[each.value for each in Source])
    chance = serializers.FloatField(help_text="from 0 to 1")
    why = serializers.CharField(allow_blank=True)


class CodedPartSerializer(serializers.Serializer):
    """A part of a line with its codes; the whole line where it is not split."""

    amount = serializers.CharField()
    gl_account = CodedSerializer(required=False)
    cost_centre = CodedSerializer(required=False)
    tax_code = CodedSerializer(required=False)
    project = CodedSerializer(required=False)


class CodedLineSerializer(serializers.Serializer):
    """A line with what it is booked under; line 0 is the net total of a bill without lines, -1 are
    charges and -2 allowances that are stated at its foot."""

    line = serializers.IntegerField()
    key = serializers.CharField(
        help_text="how it is named when codes are said: a number, `charges` or `allowances`"
    )
    description = serializers.CharField(allow_blank=True)
    amount = serializers.CharField()
    chance = serializers.FloatField(help_text="how likely all its codes are right")
    problem = serializers.CharField(allow_blank=True)
    parts = CodedPartSerializer(many=True)


class InLedgerSerializer(serializers.Serializer):
    """What the ledger lists for a document, beside what the bill asks for."""

    booked_as = serializers.CharField(source="record.booked_as")
    number = serializers.CharField(source="record.number")
    order_number = serializers.CharField(source="record.order", allow_blank=True)
    how = serializers.CharField(source="record.how", help_text="number, or order and vendor")
    own = serializers.BooleanField(source="record.own", help_text="posted from this document")
    total = serializers.CharField(source="record.total")
    open = serializers.CharField(source="record.open", allow_null=True)
    asked = serializers.CharField(allow_null=True)
    equal = serializers.BooleanField(allow_null=True)
    said = serializers.CharField(help_text="both figures in a sentence")
