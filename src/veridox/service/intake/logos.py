"""Pictures that come again and again dress a sender's mails; nobody bills with the same one."""

from datetime import timedelta

from django.db.models import Count
from django.utils import timezone

from veridox.service.intake.models import File

OFTEN = 3
"""Mails in which the same picture came, after which it counts as a dress."""
WITHIN = timedelta(days=400)


def known_dress(hashes: tuple[str, ...]) -> dict[str, str]:
    """Hashes of inline pictures that came in at least `OFTEN` mails, with the reason in words."""
    rows = (
        File.objects.filter(
            sha256__in=hashes,
            media_type__startswith="image/",
            inline=True,
            received_at__gte=timezone.now() - WITHIN,
        )
        .exclude(documents__isnull=False)
        .values("sha256")
        .annotate(mails=Count("message", distinct=True))
        .filter(mails__gte=OFTEN)
    )
    return {
        row["sha256"]: f"the same picture came within the text of {row['mails']} mails"
        for row in rows
    }
