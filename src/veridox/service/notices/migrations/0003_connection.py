import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("connections", "0004_driver"),
        ("notices", "0002_collect"),
    ]

    operations = [
        migrations.AddField(
            model_name="notice",
            name="connection",
            field=models.ForeignKey(
                help_text="that it goes through",
                null=True,
                on_delete=django.db.models.deletion.SET_NULL,
                to="connections.connection",
            ),
        ),
    ]
