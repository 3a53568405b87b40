"""Reports, and what belongs to them apart from the text."""

from __future__ import annotations

import secrets

from django.conf import settings
from django.db import models
from django.utils import timezone


def new_key() -> str:
    """An unguessable name for addresses; on a command line it is not taken for an option."""
    while (key := secrets.token_urlsafe(9)).startswith("-"):
        pass
    return key


class Role(models.TextChoices):
    OWNER = "owner"
    EDITOR = "editor"
    READER = "reader"


class Report(models.Model):
    key = models.CharField(max_length=24, unique=True, default=new_key)
    title = models.CharField(max_length=300)
    page = models.JSONField(default=dict)
    """Paper, margins, head and foot, as the fields of core's PageSetup."""
    parts = models.JSONField(default=dict)
    """In what its parts differ from that, and how their pages are numbered: as the fields of core's Part, by id."""
    numbering = models.JSONField(default=dict)
    """How headings are numbered, as the fields of core's Numbering."""
    labels = models.JSONField(default=list)
    """What captions are called, each as the fields of core's Label; none for the usual ones."""
    authorities = models.JSONField(default=list)
    """What is cited in it, each as the fields of core's Authority."""
    categories = models.JSONField(default=list)
    """Categories of authorities, each as the fields of core's Category; none for the usual ones."""
    citation_rules = models.JSONField(default=list)
    """Ways to cite by which the text is looked through, each as the fields of core's ``citations.Rule``."""
    sees = models.JSONField(default=list)
    """Where its index says to look instead, or as well, each as the fields of core's See."""
    sheet_number = models.PositiveIntegerField(default=0)
    """How often its sheet (styles, numbering, page, parts, labels, house sheet) has been changed."""
    house_sheet = models.CharField(max_length=24, default="", blank=True)
    """The house sheet that it was given: the key of one that ships, or of a row of HouseSheet."""
    look_rules = models.JSONField(default=list)
    """Rules by which paragraphs are found to be marked, in the form of core's ``read_rule``."""
    made_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)
    pages = models.PositiveIntegerField(default=1)
    headings = models.PositiveIntegerField(default=0)
    findings = models.PositiveIntegerField(default=0)
    """How many the check-up had when it was last looked at, but for those set aside; shown on the shelf."""
    schema = models.PositiveSmallIntegerField(default=0)
    """The schema of texts by which its text was last gone through; the gate lets in nothing else since."""


class Membership(models.Model):
    report = models.ForeignKey(Report, models.CASCADE, related_name="members")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=8, choices=Role)
    here_at = models.DateTimeField(null=True)
    """When they were last in the report, to within a minute."""
    left_at = models.DateTimeField(null=True)
    """When they left it at the end of the visit before that."""

    class Meta:
        constraints = [models.UniqueConstraint(fields=["report", "person"], name="one_role_a_person")]


class ReportStyle(models.Model):
    """One style of a report's style sheet; ``settings`` holds the fields of core's Style."""

    report = models.ForeignKey(Report, models.CASCADE, related_name="styles")
    order = models.PositiveSmallIntegerField()
    settings = models.JSONField()

    class Meta:
        ordering = ["order"]


class SheetChange(models.Model):
    """What somebody changed about a report's sheet, so that they can take it back. ``changes``: see core's ``sheet.py``."""

    report = models.ForeignKey(Report, models.CASCADE, related_name="sheet_changes")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE)
    at = models.DateTimeField(auto_now_add=True)
    what = models.CharField(max_length=200)
    changes = models.JSONField()
    tables = models.JSONField(default=list)
    """What was done to tables with it: pairs of a table's key and the number of its ``TableChange``."""

    class Meta:
        ordering = ["pk"]


class HouseSheet(models.Model):
    """A sheet that somebody keeps under a name. ``settings``: pairs of path and value, see core's ``sheet.py``."""

    key = models.CharField(max_length=24, unique=True, default=new_key)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="house_sheets")
    name = models.CharField(max_length=80)
    settings = models.JSONField()
    checked_as = models.CharField(max_length=24, default="", blank=True)
    """The house sheet that ships whose rules it goes by."""

    class Meta:
        constraints = [models.UniqueConstraint(fields=["person", "name"], name="one_house_sheet_a_name")]
        ordering = ["name"]


class IssuedTable(models.Model):
    """A table's recipe, and its lines as they were last brought up to date."""

    report = models.ForeignKey(Report, models.CASCADE, related_name="tables")
    key = models.CharField(max_length=64)
    recipe = models.JSONField()
    lines = models.JSONField(default=list)
    own = models.JSONField(default=dict)
    """Own words by source of the line: the words, null for a line that is left out; and the heading's words at the time."""
    keeps_level = models.BooleanField(default=False)
    """Whether it is brought up to date by itself after each edit."""
    issued_at = models.DateTimeField(null=True)
    issued_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    placed = models.BooleanField(default=True)
    behind = models.PositiveIntegerField(default=0)
    """How many lines differed from the text when it was last looked at; shown on the shelf."""
    unused_since = models.DateTimeField(null=True)
    """Since when it is known not to be in the text; null while it is."""

    class Meta:
        constraints = [models.UniqueConstraint(fields=["report", "key"], name="one_table_a_key")]
        ordering = ["pk"]


class TableChange(models.Model):
    """What somebody changed about a table: explains how it came to be so, and can be taken back."""

    table = models.ForeignKey(IssuedTable, models.CASCADE, related_name="changes")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    at = models.DateTimeField(default=timezone.now)
    what = models.CharField(max_length=200)
    lines = models.JSONField(default=list)
    """The lines that it changed: the kinds of difference, the words before and after."""
    before = models.JSONField(null=True)
    """Recipe, lines and own words of before; null once that is too long ago to be taken back."""
    taken_back = models.BooleanField(default=False)

    class Meta:
        ordering = ["pk"]


class TableForm(models.Model):
    """A recipe that somebody keeps as a form, for one report or for all of theirs. ``settings``: see core's ``forms.py``."""

    key = models.CharField(max_length=24, unique=True, default=new_key)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="table_forms")
    report = models.ForeignKey(Report, models.CASCADE, null=True, related_name="table_forms")
    name = models.CharField(max_length=80)
    settings = models.JSONField()

    class Meta:
        ordering = ["name"]


class Picture(models.Model):
    report = models.ForeignKey(Report, models.CASCADE, related_name="pictures")
    source = models.CharField(max_length=40)
    data = models.BinaryField()
    """Its file, or the beginning of it: what follows is in its parts."""
    unused_since = models.DateTimeField(null=True)
    """Since when it is known not to be in the text; null while it is."""

    class Meta:
        constraints = [models.UniqueConstraint(fields=["report", "source"], name="one_picture_a_source")]


class PicturePart(models.Model):
    """A piece of a large picture's file, behind what is in its own row; written before that is."""

    report = models.ForeignKey(Report, models.CASCADE, related_name="picture_parts")
    source = models.CharField(max_length=40)
    order = models.PositiveSmallIntegerField()
    data = models.BinaryField()
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["report", "source", "order"], name="one_part_of_a_picture_a_place")
        ]


class Typeface(models.Model):
    """A face that a report has of its own: the fields of core's FaceFile."""

    report = models.ForeignKey(Report, models.CASCADE, related_name="typefaces")
    key = models.CharField(max_length=24, unique=True, default=new_key)
    family = models.CharField(max_length=60)
    bold = models.BooleanField()
    italic = models.BooleanField()
    whole = models.BooleanField()
    data = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["report", "family", "bold", "italic"], name="one_file_a_face")]
        ordering = ["family", "bold", "italic"]


class SetAside(models.Model):
    """A finding of the check-up that is to stay, and why. ``finding``: its id, see core's ``findings.py``."""

    report = models.ForeignKey(Report, models.CASCADE, related_name="set_aside")
    finding = models.CharField(max_length=120)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)
    reason = models.CharField(max_length=300)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["report", "finding"], name="set_aside_once")]
        ordering = ["pk"]


class HeadingChange(models.Model):
    """What somebody did to a heading, newest state of each kind: explains why a table is behind."""

    report = models.ForeignKey(Report, models.CASCADE, related_name="heading_changes")
    heading = models.CharField(max_length=80)
    kind = models.CharField(max_length=8)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True)
    at = models.DateTimeField()
    text = models.CharField(max_length=300)
    is_heading = models.BooleanField(default=True)
    """Or another place: a caption, a bookmark."""

    class Meta:
        constraints = [models.UniqueConstraint(fields=["report", "heading", "kind"], name="newest_change_of_a_kind")]
