from django.db import migrations, models

DRIVERS = {"mailbox": "imap", "outbox": "smtp", "ledger": "finance", "chat": "webhook"}


def fill(apps, schema_editor):
    """Until now each kind had one driver."""
    for kind, driver in DRIVERS.items():
        apps.get_model("connections", "Connection").objects.filter(kind=kind).update(driver=driver)


class Migration(migrations.Migration):
    dependencies = [("connections", "0003_trouble")]

    operations = [
        migrations.AddField(
            model_name="connection",
            name="driver",
            field=models.CharField(
                default="", help_text="which adapter speaks with it", max_length=30
            ),
            preserve_default=False,
        ),
        migrations.RunPython(fill, migrations.RunPython.noop),
    ]
