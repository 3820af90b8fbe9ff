"""Shapes of the desk's requests and answers on the wire."""

from decimal import Decimal

from rest_framework import serializers

from veridox.service.desk.actions.again import STAGES


class ProveSerializer(serializers.Serializer):
    """How a finding was proven to be harmless, for a second person to accept."""

    code = serializers.CharField(max_length=60)
    how = serializers.CharField(max_length=1_000)


class ReasonSerializer(serializers.Serializer):
    """Why somebody acts."""

    reason = serializers.CharField(required=False, allow_blank=True, max_length=2000, default="")


class TakeSerializer(serializers.Serializer):
    """For whom, and whether from somebody who has it."""

    person = serializers.CharField(required=False, allow_blank=True, default="")
    over = serializers.BooleanField(required=False, default=False)


class HoldSerializer(serializers.Serializer):
    """Until which day and why; `until` null ends a hold."""

    until = serializers.DateField(allow_null=True)
    reason = serializers.CharField(required=False, allow_blank=True, max_length=2000, default="")


class CommentSerializer(serializers.Serializer):
    """What somebody has to say."""

    text = serializers.CharField(max_length=4000)


class LetterSerializer(serializers.Serializer):
    """A letter to the vendor."""

    to = serializers.CharField(allow_blank=True, max_length=320)
    subject = serializers.CharField(allow_blank=True, max_length=2000)
    text = serializers.CharField(allow_blank=True, max_length=100_000, trim_whitespace=False)


class QueueSerializer(serializers.Serializer):
    """A queue with what waits in it."""

    queue = serializers.CharField()
    count = serializers.IntegerField()
    taken = serializers.IntegerField()
    oldest_at = serializers.DateTimeField()


class ReasonCountSerializer(serializers.Serializer):
    """A blocking finding and how many wait because of it."""

    code = serializers.CharField()
    title = serializers.CharField()
    count = serializers.IntegerField()


class HolderSerializer(serializers.Serializer):
    """A person with what they have taken."""

    person = serializers.CharField()
    count = serializers.IntegerField()
    oldest_at = serializers.DateTimeField()


class AmountWaitingSerializer(serializers.Serializer):
    """Totals with tax of what waits, by currency."""

    currency = serializers.CharField()
    amount = serializers.DecimalField(max_digits=30, decimal_places=2)
    count = serializers.IntegerField()


class HeldSerializer(serializers.Serializer):
    """What is on hold, and when the first and the last come back."""

    count = serializers.IntegerField()
    next_on = serializers.DateField(allow_null=True)
    last_on = serializers.DateField(allow_null=True)


class ShareSerializer(serializers.Serializer):
    """A part of a line: so much percent, an amount, or what is left; with codes of its own."""

    percent = serializers.DecimalField(
        max_digits=9, decimal_places=4, min_value=Decimal("0.0001"), max_value=100, required=False,
        allow_null=True,
    )  # fmt: skip
    amount = serializers.DecimalField(
        max_digits=18, decimal_places=4, required=False, allow_null=True
    )
    gl_account = serializers.CharField(max_length=40, required=False, allow_blank=True)
    cost_centre = serializers.CharField(max_length=40, required=False, allow_blank=True)
    tax_code = serializers.CharField(max_length=40, required=False, allow_blank=True)
    project = serializers.CharField(max_length=40, required=False, allow_blank=True)


class LineCodesSerializer(ShareSerializer):
    """Codes of a line, and how it is split; what is empty is left to rules and history."""

    percent = None
    amount = None
    shares = ShareSerializer(many=True, required=False)


class CodeSerializer(serializers.Serializer):
    """By the line's number, `charges` or `allowances`, its codes; null takes back what was said."""

    lines = serializers.DictField(child=LineCodesSerializer(allow_null=True), allow_empty=False)


class ByItselfSerializer(serializers.Serializer):
    """What waits for something that comes by itself, as goods receipts."""

    count = serializers.IntegerField()
    oldest_at = serializers.DateTimeField(allow_null=True)
    reasons = ReasonCountSerializer(many=True)


class WaitingSerializer(serializers.Serializer):
    """What waits at the desk now; holds, and what waits by itself, are counted apart."""

    count = serializers.IntegerField()
    queues = QueueSerializer(many=True)
    reasons = ReasonCountSerializer(many=True)
    holders = HolderSerializer(many=True)
    amounts = AmountWaitingSerializer(many=True)
    held = HeldSerializer()
    by_itself = ByItselfSerializer()


class AgainSerializer(serializers.Serializer):
    """From where a document is processed again."""

    stage = serializers.ChoiceField(
        choices=STAGES, default="", allow_blank=True,
        help_text="`check`, or `read` to have its file read anew; empty for where it failed",
    )  # fmt: skip
    newest_version = serializers.BooleanField(
        default=False, help_text="under the newest version of its pipeline"
    )
    reason = serializers.CharField(default="", allow_blank=True, max_length=2_000)
