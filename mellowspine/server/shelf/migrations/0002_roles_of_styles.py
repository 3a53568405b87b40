"""Styles that were kept before a style said what it is for: until then its id did."""

from typing import Any

from django.db import migrations

ROLES = ("body", "title", "subtitle", "table-title", "caption", "quotation", "cell", "code")


def name_roles(apps: Any, schema_editor: Any) -> None:
    styles = apps.get_model("shelf", "ReportStyle")
    changed = []
    for row in styles.objects.all():
        id = row.settings.get("id", "")
        if id in ROLES:
            row.settings["role"] = id
        elif row.settings.get("marker") in ("bullet", "decimal"):
            row.settings["list_level"] = int(id[-1]) if id[-1:].isdigit() and id[-1] != "0" else 1
        else:
            continue
        changed.append(row)
    styles.objects.bulk_update(changed, ["settings"], batch_size=500)


class Migration(migrations.Migration):
    dependencies = [("shelf", "0001_initial")]
    operations = [migrations.RunPython(name_roles, migrations.RunPython.noop)]
