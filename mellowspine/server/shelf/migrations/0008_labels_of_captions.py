from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("shelf", "0007_schema_of_texts")]

    operations = [migrations.AddField("report", "labels", models.JSONField(default=list))]
