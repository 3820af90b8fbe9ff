"""Keep what a bill takes of its order, line by line."""

from veridox.core.checks.order_lines import taken
from veridox.core.facts import Facts
from veridox.service.documents.models import Document, OrderUse


def keep_uses(document: Document, facts: Facts) -> None:
    """Within the caller's transaction, which has locked the order: what was kept before goes."""
    document.uses.all().delete()
    if document.order is None or facts.order is None:
        return
    OrderUse.objects.bulk_create(
        OrderUse(
            document=document, line=billed.at, order=document.order,
            position=billed.line.position, quantity=quantity, amount=billed.amount.amount,
        )
        for billed, quantity in taken(facts)
    )  # fmt: skip
