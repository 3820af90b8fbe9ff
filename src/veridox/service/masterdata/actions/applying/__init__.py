"""How rows of each kind become records: compared in chunks, written in bulk."""

from collections.abc import Callable, Iterator
from functools import partial
from typing import Final

from veridox.service.masterdata.actions.applying.entities import apply_entities
from veridox.service.masterdata.actions.applying.orders import apply_orders
from veridox.service.masterdata.actions.applying.plain import (
    BOOKS,
    CARDS,
    COST_CENTRES,
    GL_ACCOUNTS,
    ITEMS,
    PROJECTS,
    RECEIPTS,
    TAX_CODES,
    apply_plain,
)
from veridox.service.masterdata.actions.applying.rates import apply_rates
from veridox.service.masterdata.actions.applying.vendors import apply_vendors
from veridox.service.masterdata.loading import Incoming, Loading

APPLY: Final[dict[str, Callable[[Loading, Iterator[Incoming]], None]]] = {
    "entities": apply_entities,
    "vendors": apply_vendors,
    "orders": apply_orders,
    "rates": apply_rates,
    "receipts": partial(apply_plain, RECEIPTS),
    "items": partial(apply_plain, ITEMS),
    "gl-accounts": partial(apply_plain, GL_ACCOUNTS),
    "cost-centres": partial(apply_plain, COST_CENTRES),
    "tax-codes": partial(apply_plain, TAX_CODES),
    "projects": partial(apply_plain, PROJECTS),
    "cards": partial(apply_plain, CARDS),
    "books": partial(apply_plain, BOOKS),
}
"""By kind of master data."""

__all__ = ["APPLY"]
