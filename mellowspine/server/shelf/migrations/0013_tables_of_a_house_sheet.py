from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("shelf", "0012_written_in_pieces")]
    operations = [migrations.AddField("sheetchange", "tables", models.JSONField(default=list))]
