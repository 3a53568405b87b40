"""Parts of reports; and where page numbers stand is said as any other words at the head or foot of pages."""

from typing import Any

from django.db import migrations, models

_OLD = {"number_at": "foot", "number_align": "center", "number_says": "figure", "number_first": True}
_SAYS = {"figure": "{page}", "page": "Page {page}", "of": "Page {page} of {last}"}
_ALIGNED = {"left": "left", "center": "middle", "right": "right"}


def with_words(page: dict[str, Any]) -> dict[str, Any]:
    """A page set-up as it is kept from here on. ``page`` may say but some of what there was."""
    said = {**_OLD, **page}
    kept = {name: value for name, value in page.items() if name not in _OLD}
    if said["number_at"] != "none":
        kept["foot_middle"] = ""
        kept[f"{said['number_at']}_{_ALIGNED[said['number_align']]}"] = _SAYS[said["number_says"]]
    else:
        kept["foot_middle"] = ""
    if not said["number_first"]:
        kept["first_page"] = "none"
    return kept


def to_words(apps: Any, _: Any) -> None:
    for report in apps.get_model("shelf", "Report").objects.exclude(page={}).iterator():
        report.page = with_words(report.page)
        report.save(update_fields=["page"])
    for sheet in apps.get_model("shelf", "HouseSheet").objects.iterator():
        page = {path[1]: value for path, value in sheet.settings if path[0] == "page"}
        if page:
            rest = [one for one in sheet.settings if one[0][0] != "page"]
            sheet.settings = [*rest, *([["page", name], value] for name, value in with_words(page).items())]
            sheet.save(update_fields=["settings"])
    for change in apps.get_model("shelf", "SheetChange").objects.iterator():
        # Where numbers stood cannot be taken back any more; what was changed with it can.
        kept = [one for one in change.changes if not (one[0][0] == "page" and one[0][1] in _OLD)]
        if kept != change.changes:
            change.changes = kept
            change.save(update_fields=["changes"]) if kept or change.tables else change.delete()


class Migration(migrations.Migration):
    dependencies = [("shelf", "0014_who_was_here")]

    operations = [
        migrations.AddField("report", "parts", models.JSONField(default=dict)),
        migrations.RunPython(to_words, migrations.RunPython.noop),
    ]
