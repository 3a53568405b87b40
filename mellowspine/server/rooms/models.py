"""The text of every report, as a log of updates of its shared document."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.utils import timezone


class Update(models.Model):
    """One stored change of a text, or what one person changed within an hour. Together they are the text, in any order."""

    report = models.ForeignKey("shelf.Report", models.CASCADE, related_name="updates")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    at = models.DateTimeField(default=timezone.now)
    data = models.BinaryField()
    removes = models.BooleanField(default=False)
    """Whether it takes out blocks, rows or cells, see ``carrying.py``."""

    class Meta:
        ordering = ["pk"]
