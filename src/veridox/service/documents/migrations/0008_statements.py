from decimal import Decimal

import django.db.models.deletion
from django.db import migrations, models
from django.db.models import OuterRef, Subquery

LEDGERS = ("duplicate.in_ledger", "ledger.refused", "posting.unsure")


def fill(apps, schema_editor):
    """What was accepted, cleared, told and stopped for becomes a statement each.

    A document that was cleared and has no posting goes to the desk once more: what its person saw
    then was not kept.
    """
    document_rows = apps.get_model("documents", "Document").objects
    make = apps.get_model("documents", "Statement").objects.create
    postings = apps.get_model("ledgers", "Posting").objects.filter(document=OuterRef("pk"))
    document_rows.update(posting=Subquery(postings.values("pk")[:1]))
    for row in document_rows.order_by("pk").iterator(chunk_size=500):
        newest = row.readings.order_by("-number").first()
        reading = newest.reading if newest else {}
        number = newest.number if newest else 0
        found = {each["code"]: each for each in row.findings}
        for each in row.accepted:
            finding = found.get(each["code"])
            make(
                document=row, what="accepted", by=each["by"], reading=number,
                identity=_identity(finding or {"code": each["code"]}, reading),
                finding=finding, reason=each["reason"],
            )  # fmt: skip
        if row.cleared_by_id is not None:
            by = f"person:{row.cleared_by.username}"
            make(document=row, what="cleared", by=by, reading=number)
        if row.state != "at_desk":
            continue
        for code in row.stopped_for:
            make(
                document=row, what="stopped", by="system:check", reading=number,
                identity=_identity(found.get(code, {"code": code}), reading),
            )  # fmt: skip
        for each in row.findings:
            if each["code"] in LEDGERS:
                make(
                    document=row, what="told", by="system:post", reading=number,
                    identity=_identity(each, reading), finding=each,
                )  # fmt: skip
        if row.letter_out:
            make(document=row, what="sent back", by="system:check", reading=number)


def _identity(finding, reading):
    fields = finding.get("fields") or []
    figures = [finding.get(name) or "" for name in ("expected", "found", "difference")]
    values = [_shown((reading.get("fields", {}).get(name) or {}).get("value")) for name in fields]
    return {
        "code": finding["code"], "fields": fields, "figures": figures, "values": values,
        "about": "",
    }  # fmt: skip


def _shown(value):
    if isinstance(value, dict):
        return f"{Decimal(value['amount']):,f} {value['currency']}"
    return "" if value is None else str(value)


class Migration(migrations.Migration):
    dependencies = [
        ("documents", "0007_orders_of_lists"),
        ("ledgers", "0003_several_postings"),
    ]

    operations = [
        migrations.CreateModel(
            name="Statement",
            fields=[
                ("id", models.BigAutoField(
                    auto_created=True, primary_key=True, serialize=False, verbose_name="ID",
                )),
                ("what", models.CharField(choices=[
                    ("accepted", "accepted"), ("cleared", "cleared"), ("told", "told"),
                    ("stopped", "stopped"), ("discarded", "discarded"),
                    ("sent back", "sent back"),
                ], max_length=20)),
                ("by", models.CharField(max_length=200)),
                ("reading", models.PositiveIntegerField(
                    help_text="number of the version it was said on"
                )),
                ("identity", models.JSONField(null=True)),
                ("finding", models.JSONField(null=True)),
                ("looked", models.JSONField(default=list)),
                ("reason", models.TextField(blank=True)),
                ("said_at", models.DateTimeField(auto_now_add=True)),
                ("ended_at", models.DateTimeField(null=True)),
                ("ended_by", models.CharField(blank=True, max_length=200)),
                ("document", models.ForeignKey(
                    on_delete=django.db.models.deletion.CASCADE, related_name="statements",
                    to="documents.document",
                )),
            ],
            options={
                "ordering": ["id"],
                "indexes": [models.Index(
                    fields=["document", "ended_at"], name="documents_s_documen_9e2da2_idx",
                )],
            },
        ),
        migrations.AddField(
            model_name="document",
            name="posting",
            field=models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.PROTECT, related_name="+",
                to="ledgers.posting",
            ),
        ),
        migrations.RunPython(fill, migrations.RunPython.noop),
    ]  # fmt: skip
