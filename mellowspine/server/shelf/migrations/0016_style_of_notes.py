"""Notes are set in a style of their own, which reports from before do not have."""

from typing import Any

from django.db import migrations

_STYLE = {"name": "Note", "role": "note", "next": "note", "size": 9, "space_after": 2, "line_spacing": 1.25}


def add_style(apps: Any, _: Any) -> None:
    for report in apps.get_model("shelf", "Report").objects.iterator():
        styles = [*report.styles.all()]
        body = next((one.settings["id"] for one in styles if one.settings.get("role") == "body"), None)
        if body is None or any(one.settings.get("role") == "note" or one.settings["id"] == "note" for one in styles):
            continue
        last = max(one.order for one in styles)
        report.styles.create(order=last + 1, settings={"id": "note", "based_on": body, **_STYLE})


class Migration(migrations.Migration):
    dependencies = [("shelf", "0015_parts")]

    operations = [migrations.RunPython(add_style, migrations.RunPython.noop)]
