"""What housekeeping keeps in mind: rescued jobs, and which database this is."""

from django.db import models


class Rescue(models.Model):
    """How often a job was taken from a dead worker; ordinary retries do not count."""

    job_id = models.BigIntegerField(unique=True)
    count = models.PositiveIntegerField(default=0)
    last_at = models.DateTimeField(auto_now=True)


class Installation(models.Model):
    """The one row that says which PostgreSQL this database belongs to.

    A copy that is restored elsewhere still carries the row of its origin: it is held
    (`held_at`), and collects, posts and tells nothing until somebody lets it go on.
    """

    system = models.CharField(max_length=40)
    timeline = models.BigIntegerField()
    held_at = models.DateTimeField(null=True)
    held_reason = models.TextField(blank=True)
