import django.db.models.deletion
from django.db import migrations, models

FILL = """insert into documents_ordershare (document_id, order_id, place, amount, currency)
    select id, order_id, 0, net_total - coalesce(charges, 0), currency
    from documents_document where order_id is not null"""


class Migration(migrations.Migration):

    dependencies = [
        ('documents', '0015_coding'),
        ('masterdata', '0008_codes'),
    ]

    operations = [
        migrations.AlterField(
            model_name='document',
            name='order',
            field=models.ForeignKey(help_text='of several the one named first', null=True, on_delete=django.db.models.deletion.PROTECT, to='masterdata.order'),
        ),
        migrations.CreateModel(
            name='OrderShare',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('place', models.PositiveIntegerField(help_text='among those that it names, from 0')),
                ('amount', models.DecimalField(decimal_places=4, max_digits=18, null=True)),
                ('currency', models.CharField(blank=True, max_length=3)),
                ('document', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='order_shares', to='documents.document')),
                ('order', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='shares', to='masterdata.order')),
            ],
            options={
                'ordering': ['document', 'place'],
                'indexes': [models.Index(condition=models.Q(('place__gt', 0)), fields=['order'], name='order_share_further')],
                'constraints': [models.UniqueConstraint(fields=('document', 'order'), name='order_share_once')],
            },
        ),
        migrations.RunSQL(FILL, migrations.RunSQL.noop),
    ]
