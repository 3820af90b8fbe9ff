from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("documents", "0008_statements")]

    operations = [
        migrations.RemoveField(model_name="document", name="accepted"),
        migrations.RemoveField(model_name="document", name="cleared_by"),
        migrations.RemoveField(model_name="document", name="stopped_for"),
    ]
