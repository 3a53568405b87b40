from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("shelf", "0008_labels_of_captions")]

    operations = [
        migrations.AddField("report", name, models.JSONField(default=list))
        for name in ("authorities", "categories", "citation_rules", "sees")
    ]
