"""Numbers of headings, which used to be settings of their styles, are a numbering of the report."""

from dataclasses import asdict
from typing import Any

from django.db import migrations, models

from mellowspine.core.report.numbering import SCHEMES


def move_numbers(apps: Any, schema_editor: Any) -> None:
    styles = apps.get_model("shelf", "ReportStyle")
    numbered = [row for row in styles.objects.all() if row.settings.get("marker") == "number"]
    for row in numbered:
        row.settings |= {"marker": None, "indent": 0.0, "first_line": 0.0}
    styles.objects.bulk_update(numbered, ["settings"], batch_size=500)
    reports = apps.get_model("shelf", "Report").objects.filter(pk__in={row.report_id for row in numbered})
    reports.update(numbering=asdict(SCHEMES["decimal"]))


class Migration(migrations.Migration):
    dependencies = [("shelf", "0002_roles_of_styles")]
    operations = [
        migrations.AddField("report", "numbering", models.JSONField(default=dict)),
        migrations.RunPython(move_numbers, migrations.RunPython.noop),
    ]
