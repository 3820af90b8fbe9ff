import django.db.models.deletion
from django.db import migrations, models
from django.db.models import F


def fill(apps, schema_editor):
    """What is posted was read back; when, the trail says: the day of booking is near enough."""
    postings = apps.get_model("ledgers", "Posting").objects
    done = postings.filter(document__state="posted")
    done.update(completed_at=F("posted_at"))


class Migration(migrations.Migration):
    dependencies = [
        ("documents", "0007_orders_of_lists"),
        ("ledgers", "0002_family"),
    ]

    operations = [
        migrations.AddField(
            model_name="posting",
            name="completed_at",
            field=models.DateTimeField(null=True),
        ),
        migrations.AddField(
            model_name="posting",
            name="differences",
            field=models.JSONField(default=list),
        ),
        migrations.AlterField(
            model_name="posting",
            name="document",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.PROTECT,
                related_name="postings",
                to="documents.document",
            ),
        ),
        migrations.AddConstraint(
            model_name="posting",
            constraint=models.UniqueConstraint(
                condition=models.Q(("state", "cancelled"), _negated=True),
                fields=("document",),
                name="one_open_posting",
            ),
        ),
        migrations.RunPython(fill, migrations.RunPython.noop),
    ]
