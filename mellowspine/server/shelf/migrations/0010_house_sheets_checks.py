from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("shelf", "0009_authorities_and_index")]

    operations = [
        migrations.AddField("housesheet", "checked_as", models.CharField(blank=True, default="", max_length=24)),
    ]
