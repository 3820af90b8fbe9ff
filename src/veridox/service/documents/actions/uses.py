"""Keep what a bill takes of its orders, line by line and in all."""

from collections.abc import Mapping

from veridox.core.checks.order_lines import taken
from veridox.core.checks.shares import shares
from veridox.core.facts import Facts
from veridox.service.documents.models import Document, OrderShare, OrderUse
from veridox.service.masterdata.models import Order


def keep_uses(document: Document, facts: Facts, orders: Mapping[tuple[str, str], Order]) -> None:
    """Within the caller's transaction, which has locked the orders: what was kept before goes.

    Args:
        document: the bill.
        facts: of it, with its orders and how its lines are paired.
        orders: the rows by entity and number, at least of all that it names.
    """
    document.uses.all().delete()
    document.order_shares.all().delete()
    named = {each.number: orders[each.entity, each.number] for each in facts.orders}
    if not named:
        return
    found = shares(facts)
    OrderShare.objects.bulk_create(
        OrderShare(
            document=document, order=order, place=place,
            amount=found.of[number].amount if found is not None else None,
            currency=found.of[number].currency if found is not None else "",
        )
        for place, (number, order) in enumerate(named.items())
    )  # fmt: skip
    OrderUse.objects.bulk_create(
        OrderUse(
            document=document, line=billed.at, order=named[billed.order.number],
            position=billed.line.position, quantity=quantity, amount=billed.amount.amount,
        )
        for billed, quantity in taken(facts)
    )  # fmt: skip
