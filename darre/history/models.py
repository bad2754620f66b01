"""The entries of the history."""

from django.db import models
from django.utils import timezone


class HistoryEntry(models.Model):
    """One change: what was done, when and by whom, and each record before and after. `undone_at` is set when it was
    undone. `by`: the name that the person gave themselves, empty where they gave none.
    """

    at = models.DateTimeField(default=timezone.now)
    kind = models.CharField(max_length=60)
    summary = models.CharField(max_length=200)
    by = models.CharField(max_length=60, blank=True, default="")
    # [{"model": "runs.weighing", "pk": 4, "before": {…} or null, "after": {…} or null}, …] in the order of writing
    changes = models.JSONField()
    undone_at = models.DateTimeField(null=True, blank=True)
    # Of the request that asked for it, where that bore one: sent again, it is answered and not done twice.
    act_key = models.UUIDField(null=True, blank=True, unique=True)

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return f"{self.at:%Y-%m-%d %H:%M} {self.summary}"
