"""What the public API of a platform said, and numbers typed by hand, are captures."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('records', '0041_file_verification'),
    ]

    operations = [
        migrations.AlterField(
            model_name='capture',
            name='kind',
            field=models.CharField(choices=[('crawl', 'crawl'), ('copy', 'copy'), ('asked', 'asked'), ('dump', 'dump'), ('export', 'export'), ('api', 'public API'), ('numbers', 'numbers typed by hand'), ('listing', 'list of files')], default='crawl', max_length=10),
        ),
        migrations.AlterField(
            model_name='import',
            name='kind',
            field=models.CharField(choices=[('list', 'list of addresses'), ('warc', 'WARC file'), ('pages', 'archive of pages'), ('dump', 'dump'), ('export', 'export'), ('api', 'public API'), ('numbers', 'numbers typed by hand'), ('listing', 'list of files')], max_length=7),
        ),
    ]
