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
    """Whether it takes out blocks, rows or cells, see ``ghost.py``."""
    lost = models.JSONField(default=list)
    """Which of its words came to stand nowhere: client, clock and length of each."""

    class Meta:
        ordering = ["pk"]


class Touch(models.Model):
    """Who wrote in which block, and when last, to within a minute: says whose words a section has."""

    report = models.ForeignKey("shelf.Report", models.CASCADE, related_name="touches")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    block = models.CharField(max_length=80)
    at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["report", "block", "person"], name="one_touch_a_person")]


class KeptWords(models.Model):
    """What somebody wrote in a block that another had taken out: kept until somebody deals with it."""

    report = models.ForeignKey("shelf.Report", models.CASCADE, related_name="kept_words")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    removed_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    at = models.DateTimeField(default=timezone.now)
    block = models.CharField(max_length=80)
    style = models.CharField(max_length=80)
    after = models.CharField(max_length=80, default="", blank=True)
    """For a paragraph that was begun there: the block that it was begun behind."""
    section = models.CharField(max_length=80, default="", blank=True)
    """The heading that it stood under; empty in front of all of them."""
    heading = models.CharField(max_length=300, default="", blank=True)
    """How that read."""
    section_gone = models.BooleanField(default=False)
    """Whether that was taken out with it."""
    place = models.CharField(max_length=80, default="", blank=True)
    """The last block in front of it that was still in the text."""
    before = models.TextField(default="", blank=True)
    """How the block read."""
    puts = models.JSONField(default=list)
    """What was put in: at which character, in the place of how many, and pairs of words and their formatting."""
    settled_at = models.DateTimeField(null=True)
    """When somebody dealt with it, or it came back into the text; null until then."""

    class Meta:
        ordering = ["pk"]
