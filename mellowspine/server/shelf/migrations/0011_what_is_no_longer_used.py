from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("shelf", "0010_house_sheets_checks")]
    operations = [
        migrations.AddField(name, "unused_since", models.DateTimeField(null=True)) for name in ("picture", "issuedtable")
    ]
