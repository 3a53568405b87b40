import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("shelf", "0011_what_is_no_longer_used")]
    operations = [
        migrations.AddField("report", "sheet_number", models.PositiveIntegerField(default=0)),
        migrations.CreateModel(
            name="PicturePart",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("source", models.CharField(max_length=40)),
                ("order", models.PositiveSmallIntegerField()),
                ("data", models.BinaryField()),
                ("at", models.DateTimeField(auto_now_add=True)),
                (
                    "report",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="picture_parts", to="shelf.report"
                    ),
                ),
            ],
            options={
                "constraints": [
                    models.UniqueConstraint(fields=("report", "source", "order"), name="one_part_of_a_picture_a_place")
                ]
            },
        ),
    ]
