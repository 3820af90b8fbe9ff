"""Shapes of pipelines on the wire."""

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from veridox.service.api.reports import StateCountSerializer
from veridox.service.documents.runs import counts_of
from veridox.service.pipelines.checking import PipelineText
from veridox.service.pipelines.models import PipelineRun, PipelineVersion
from veridox.service.reports.pipelines import Faring

LONGEST = 200_000


class ChangeSerializer(serializers.Serializer):
    """A difference by meaning."""

    place = serializers.CharField()
    before = serializers.CharField()
    after = serializers.CharField()
    loosens = serializers.CharField(help_text="why a second person looks at it; empty for not")


class VersionRowSerializer(serializers.ModelSerializer):
    """A version, without its text."""

    pipeline = serializers.CharField(source="pipeline.name")
    changes = ChangeSerializer(many=True)

    class Meta:
        model = PipelineVersion
        fields = [
            "pipeline", "number", "state", "sha256", "commit", "as_version", "changes",
            "published_at", "published_by", "decided_at", "decided_by", "decided_reason",
        ]  # fmt: skip
        read_only_fields = fields


class VersionSerializer(VersionRowSerializer):
    """A version with its text, and all that it was joined with."""

    parts = serializers.DictField(child=serializers.CharField())
    values = serializers.DictField(child=serializers.CharField())

    class Meta(VersionRowSerializer.Meta):
        fields = [*VersionRowSerializer.Meta.fields, "text", "parts", "values"]
        read_only_fields = fields


class PipelineSerializer(serializers.Serializer):
    """A pipeline: which version runs, what it did today, what stopped it last."""

    name = serializers.CharField(source="pipeline.name")
    title = serializers.CharField(source="pipeline.title")
    paused = serializers.BooleanField(source="pipeline.paused")
    pause_reason = serializers.CharField(source="pipeline.pause_reason")
    version = serializers.SerializerMethodField()
    waiting = serializers.SerializerMethodField()
    published_at = serializers.SerializerMethodField()
    published_by = serializers.SerializerMethodField()
    today = serializers.SerializerMethodField()
    last_error = serializers.CharField()

    def get_version(self, row: Faring) -> int | None:
        """Number of the version that runs."""
        return row.version.number if row.version else None

    def get_waiting(self, row: Faring) -> int | None:
        """Number of the version that waits for a second person."""
        return row.waiting.number if row.waiting else None

    def get_published_at(self, row: Faring) -> str | None:
        """When that was published."""
        return row.version.published_at.isoformat() if row.version else None

    def get_published_by(self, row: Faring) -> str:
        """By whom."""
        return row.version.published_by if row.version else ""

    @extend_schema_field(StateCountSerializer(many=True))
    def get_today(self, row: Faring) -> list[dict[str, Any]]:
        """Documents that came in today, by where they stand."""
        return [{"state": state, "count": count} for state, count in row.states.items()]


class PipelineTextSerializer(serializers.Serializer):
    """A pipeline file with the shared parts that it names."""

    text = serializers.CharField(max_length=LONGEST, trim_whitespace=False)
    parts = serializers.DictField(
        child=serializers.CharField(max_length=LONGEST, trim_whitespace=False), required=False
    )
    commit = serializers.CharField(required=False, allow_blank=True, max_length=100)

    def file(self) -> PipelineText:
        """As it is checked and published."""
        data = self.validated_data
        return PipelineText(
            text=data["text"], parts=data.get("parts") or {}, commit=data.get("commit", "")
        )


class WarningSerializer(serializers.Serializer):
    """Something in a file that is allowed, and hardly meant."""

    line = serializers.IntegerField()
    column = serializers.IntegerField()
    path = serializers.CharField()
    message = serializers.CharField()
    hint = serializers.CharField()
    part = serializers.CharField(help_text="shared part that it stands in; empty for the file")


class CheckedSerializer(serializers.Serializer):
    """A file without problems: what is hardly meant, what is not set up, what would change."""

    pipeline = serializers.CharField()
    title = serializers.CharField()
    absent = serializers.ListField(child=serializers.CharField())
    warnings = WarningSerializer(many=True)
    around = serializers.ListField(
        child=serializers.CharField(), help_text="other pipelines that take the same"
    )
    changes = ChangeSerializer(many=True, help_text="to the version that runs")


class PipelineReasonSerializer(serializers.Serializer):
    """Why."""

    reason = serializers.CharField(required=False, allow_blank=True, max_length=1_000)


class RefusalReasonSerializer(serializers.Serializer):
    """Why; something must be said."""

    reason = serializers.CharField(max_length=1_000)


class NewNameSerializer(serializers.Serializer):
    """The name of the copy."""

    name = serializers.CharField(max_length=63)


class ComparedSerializer(serializers.Serializer):
    """Two versions compared by meaning, and line by line."""

    pipeline = serializers.CharField()
    before = serializers.IntegerField()
    after = serializers.IntegerField()
    changes = ChangeSerializer(many=True)
    lines = serializers.ListField(
        child=serializers.CharField(), help_text="of the texts, as `diff -u` writes them"
    )


class PipelineRunInputSerializer(serializers.Serializer):
    """What is said for a run."""

    parameters = serializers.DictField(child=serializers.CharField(max_length=200), required=False)


class PipelineRunSerializer(serializers.ModelSerializer):
    """A run: what came in, until all of it has settled."""

    pipeline = serializers.CharField(source="pipeline.name")
    version = serializers.IntegerField(source="version.number")
    parameters = serializers.DictField(child=serializers.CharField())
    pending = serializers.SerializerMethodField()
    problems = serializers.ListField(child=serializers.CharField())
    counts = serializers.SerializerMethodField()

    class Meta:
        model = PipelineRun
        fields = [
            "id", "pipeline", "version", "parameters", "how", "begun_by", "begun_at", "closed_at",
            "ended_at", "end_reason", "pending", "problems", "counts",
        ]  # fmt: skip
        read_only_fields = fields

    @extend_schema_field(serializers.ListField(child=serializers.CharField()))
    def get_pending(self, run: PipelineRun) -> list[str]:
        """Places that are still to be looked through."""
        return [" ".join(part for part in place[1:] if part) for place in run.pending]

    @extend_schema_field(serializers.DictField(child=serializers.IntegerField()))
    def get_counts(self, run: PipelineRun) -> dict[str, int]:
        """At its end, or as they are now."""
        return dict(run.counts) if run.ended_at else counts_of(run)
