"""Files that tell of a site from behind it, kept with the capture that was made of them."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('records', '0039_visits'),
    ]

    operations = [
        migrations.CreateModel(
            name='CaptureFile',
            fields=[
                ('capture', models.OneToOneField(on_delete=django.db.models.deletion.CASCADE, primary_key=True, related_name='file', serialize=False, to='records.capture')),
                ('name', models.CharField(max_length=255)),
                ('stored', models.TextField()),
                ('bytes', models.BigIntegerField()),
                ('sha256', models.CharField(max_length=64)),
                ('what', models.TextField()),
                ('summary', models.TextField()),
                ('ends_early', models.TextField(blank=True)),
                ('contents', models.JSONField()),
            ],
        ),
        migrations.AlterField(
            model_name='capture',
            name='kind',
            field=models.CharField(choices=[('crawl', 'crawl'), ('copy', 'copy'), ('asked', 'asked'), ('dump', 'dump'), ('export', 'export'), ('listing', 'listing')], default='crawl', max_length=10),
        ),
        migrations.AlterField(
            model_name='import',
            name='kind',
            field=models.CharField(choices=[('list', 'list of addresses'), ('warc', 'WARC file'), ('pages', 'archive of pages'), ('dump', 'dump'), ('export', 'export'), ('listing', 'list of files')], max_length=7),
        ),
    ]
