"""Projects, cases with all their revisions, runs with their fields, and one-time sign-in links.

One SQLite file is the whole truth: the fields of a run are stored in it as compressed arrays.
"""

from __future__ import annotations

from datetime import timedelta

from django.conf import settings
from django.db import models
from django.utils import timezone


class Project(models.Model):
    """A user's collection of cases."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="projects")
    name = models.CharField(max_length=200)
    note = models.TextField(blank=True)
    created = models.DateTimeField(auto_now_add=True)


class CaseRecord(models.Model):
    """A case as it stands, with a revision number that every save raises."""

    project = models.ForeignKey(Project, on_delete=models.CASCADE, related_name="cases")
    title = models.CharField(max_length=200)
    document = models.JSONField()
    revision = models.PositiveIntegerField(default=1)
    changed = models.DateTimeField(auto_now=True)
    # Deleted cases can be brought back for a while.
    deleted = models.DateTimeField(null=True)
    # What the home page shows of it, with what it was made from.
    card = models.JSONField(null=True)

    KEPT_AFTER_DELETION = timedelta(days=30)

    class Meta:
        ordering = ["id"]

    @classmethod
    def forget_deleted(cls) -> None:
        """Take out for good what was deleted so long ago that nobody is offered it any more."""
        cls.objects.filter(deleted__lt=timezone.now() - cls.KEPT_AFTER_DELETION).delete()


class CaseRevision(models.Model):
    """What a case was at an earlier save; nothing saved is ever lost."""

    case = models.ForeignKey(CaseRecord, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    saved = models.DateTimeField(auto_now_add=True)
    what = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["case", "number"], name="one_document_per_revision")]


class GridFile(models.Model):
    """A grid that was imported for a case; the case's document names it."""

    case = models.ForeignKey(CaseRecord, on_delete=models.CASCADE, related_name="grid_files")
    name = models.CharField(max_length=200)
    content = models.BinaryField()
    imported = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["case", "name"], name="one_grid_file_per_name")]


class Run(models.Model):
    """An immutable solution of a case as it stood, or a sizing; queued, then executed by a worker."""

    class State(models.TextChoices):
        """Where a run is in its life."""

        QUEUED = "queued"
        HELD = "held"
        RUNNING = "running"
        DONE = "done"
        STOPPED = "stopped"
        FAILED = "failed"

    class Kind(models.TextChoices):
        """What the worker does."""

        SOLVE = "solve"
        SIZING = "sizing"
        GRID_STUDY = "grid_study"
        POINT = "point"

    case = models.ForeignKey(CaseRecord, on_delete=models.CASCADE, related_name="runs")
    kind = models.CharField(max_length=10, choices=Kind.choices)
    state = models.CharField(max_length=10, choices=State.choices, default=State.QUEUED, db_index=True)
    document = models.JSONField()
    revision = models.PositiveIntegerField()
    warm_start = models.ForeignKey("self", null=True, on_delete=models.SET_NULL)
    # Where it begins from several runs led on to its inputs: their keys with their weights, `warm_start` first; else empty.
    led_from = models.JSONField(default=list)
    # A run in time that carries `warm_start` on, with the rows of its history.
    go_on = models.BooleanField(default=False)
    before = models.JSONField(default=list)
    stop_wanted = models.BooleanField(default=False)
    # The same for runs whose solutions are the same (see the core's `case.fingerprint`); empty where that cannot be told.
    meaning = models.CharField(max_length=64, blank=True, db_index=True)
    # What nobody waits for (the demo's own) comes after what a person asks for.
    background = models.BooleanField(default=False)
    # Of a sizing: what has been tried, known from an earlier one or told by this one.
    trials = models.JSONField(default=list)
    attempts = models.PositiveSmallIntegerField(default=0)
    progress = models.JSONField(default=dict)
    history = models.JSONField(default=list)
    ledger = models.JSONField(null=True)
    summary = models.JSONField(default=dict)
    failure = models.JSONField(null=True)
    checkpoint = models.BinaryField(null=True)
    queued = models.DateTimeField(auto_now_add=True)
    started = models.DateTimeField(null=True)
    finished = models.DateTimeField(null=True)
    heartbeat = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-id"]

    @property
    def over(self) -> bool:
        """Whether nothing will change any more."""
        return self.state in (self.State.DONE, self.State.STOPPED, self.State.FAILED)


class Series(models.Model):
    """A case at many values of some of its inputs, as it stood when it was begun; its points are solved one by one."""

    case = models.ForeignKey(CaseRecord, on_delete=models.CASCADE, related_name="series")
    name = models.CharField(max_length=200)
    document = models.JSONField()
    # By hand: quantities, and for each of them a value at every point.
    hand = models.JSONField(default=dict)
    begun = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]


class SeriesPoint(models.Model):
    """A point of a series: its values as they are entered, where it lies among the others, and its run."""

    series = models.ForeignKey(Series, on_delete=models.CASCADE, related_name="points")
    number = models.PositiveIntegerField()
    values = models.JSONField()
    place = models.JSONField()
    # Why it cannot be solved, where that is known before.
    problem = models.TextField(blank=True)
    run = models.ForeignKey(Run, null=True, on_delete=models.SET_NULL, related_name="points")

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["series", "number"], name="one_point_per_number")]


class Frame(models.Model):
    """The fields of one instant of a run, compressed (see the core's `read.frames`); `time` in s, none in steady state."""

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="frames")
    number = models.PositiveIntegerField()
    time = models.FloatField(null=True)
    data = models.BinaryField()

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["run", "number"], name="one_frame_per_number")]


class WorkerState(models.Model):
    """A worker and when it last said that it lives."""

    name = models.CharField(max_length=100, unique=True)
    beat = models.DateTimeField()


class SignedIn(models.Model):
    """A session of a user, so that it can be listed and ended."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="signed_in")
    session = models.CharField(max_length=40, unique=True)
    device = models.CharField(max_length=200, blank=True)
    since = models.DateTimeField(auto_now_add=True)
    seen = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["-seen"]


class ApiToken(models.Model):
    """What a program of a user shows instead of a session; only its digest is kept."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="api_tokens")
    name = models.CharField(max_length=80)
    digest = models.CharField(max_length=64, unique=True)
    made = models.DateTimeField(auto_now_add=True)
    used = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-id"]


class Letterhead(models.Model):
    """The company and logo that stand on a person's reports."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="letterhead")
    company = models.CharField(max_length=120, blank=True)
    logo = models.BinaryField(default=bytes)


class SignInLink(models.Model):
    """A link that signs its user in, once."""

    LIFETIME = timedelta(hours=12)

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    digest = models.CharField(max_length=64, unique=True)
    created = models.DateTimeField(auto_now_add=True)
    used = models.DateTimeField(null=True)

    @property
    def usable(self) -> bool:
        """Not used and not too old."""
        return self.used is None and timezone.now() - self.created < self.LIFETIME
