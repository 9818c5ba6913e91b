"""Site files are verified like WARC files."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('records', '0040_capture_files'),
    ]

    operations = [
        migrations.AddField(
            model_name='capturefile',
            name='fault',
            field=models.TextField(blank=True, db_default='', default=''),
        ),
        migrations.AddField(
            model_name='capturefile',
            name='verified_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.AlterField(
            model_name='capture',
            name='kind',
            field=models.CharField(choices=[('crawl', 'crawl'), ('copy', 'copy'), ('asked', 'asked'), ('dump', 'dump'), ('export', 'export'), ('listing', 'list of files')], default='crawl', max_length=10),
        ),
    ]
