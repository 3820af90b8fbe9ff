"""Whether the figures of a line hold together."""

from decimal import Decimal

from veridox.core.money import Money, minor_unit
from veridox.core.reading import Row


def line_holds(row: Row, currency: str | None) -> bool | None:
    """Whether quantity x price / base - discount is the amount; None when not all are there."""
    parts = [row[name].value for name in ("quantity", "unit_price") if name in row]
    amount = row["amount"].value if "amount" in row else None
    if len(parts) != 2 or not isinstance(amount, Money) or currency is None:
        return None
    quantity, price = parts
    base = row["price_base"].value if "price_base" in row else Decimal(1)
    discount = row["discount"].value if "discount" in row else None
    if not isinstance(quantity, Decimal) or not isinstance(price, Decimal):
        return None
    if not isinstance(base, Decimal) or base == 0:
        return None
    expected = quantity * price / base
    if isinstance(discount, Money):
        expected -= discount.amount
    # A credit note may print amounts with a minus and quantities without.
    return abs(abs(expected) - abs(amount.amount)) <= minor_unit(currency)
