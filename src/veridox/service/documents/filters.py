"""What a list of documents can be narrowed down by."""

from collections.abc import Mapping
from decimal import Decimal
from typing import Any

from django.contrib.postgres.search import SearchQuery
from django.db.models import Q, QuerySet
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter

from veridox.core.locales.numbers import COMMA, POINT, read_number
from veridox.service.documents.models import Document, OrderShare, State
from veridox.service.errors import BadInputError
from veridox.service.masterdata.models import Order
from veridox.service.web.parameters import amount_of, day_of, moment_of, yes_of

PLAIN = {
    "queue": ("queue", "queue at the desk"),
    "kind": ("kind", "kind of document"),
    "vendor": ("vendor__code", "vendor code"),
    "entity": ("entity__code", "code of our entity"),
    "pipeline": ("pipeline_version__pipeline__name", "name of the pipeline"),
    "currency": ("currency", "ISO 4217 code"),
    "message": ("file__message_id", "id of its mail"),
    "file": ("file_id", "id of its file"),
    "run": ("file__run_id", "number of the run that it came in with"),
}
AMOUNTS = {"amount_from": "gross_total__gte", "amount_to": "gross_total__lte"}
DAYS = {"issued_from": "issue_date__gte", "issued_to": "issue_date__lte"}
MOMENTS = {
    "received_from": "received_at__gte",
    "received_to": "received_at__lt",
    "ended_from": "ended_at__gte",
    "ended_to": "ended_at__lt",
}
NOBODY = "nobody"


def parameters() -> list[OpenApiParameter]:
    """All filters for the API's description."""
    texts = {
        "state": "states, with commas",
        "order": "order number, one of those that it names",
        **{name: text for name, (_, text) in PLAIN.items()},
        "finding": "code of a finding",
        "taken_by": f"user name, or `{NOBODY}`",
        "held": "`yes`: on hold today; `no`: not",
        "touched": "`yes`: a person had a hand in it; `no`: nobody had",
        "amount_from": "total with tax, at least",
        "amount_to": "total with tax, at most",
        **dict.fromkeys(DAYS, "day of issue (2026-03-31)"),
        **dict.fromkeys(MOMENTS, "moment (RFC 3339) or day in UTC; the end is not included"),
        "search": "number, vendor, order, file name, ledger number, amount, or words on the pages",
    }
    return [OpenApiParameter(name, str, description=text) for name, text in texts.items()]


def filtered(rows: QuerySet[Document], wanted: Mapping[str, Any]) -> QuerySet[Document]:
    """Documents that meet all wishes. Raises BadInputError on a wish that cannot be read."""
    for name, (column, _) in PLAIN.items():
        if wanted.get(name):
            rows = rows.filter(**{column: wanted[name]})
    for names, parse in ((AMOUNTS, amount_of), (DAYS, day_of), (MOMENTS, moment_of)):
        for name, lookup in names.items():
            if wanted.get(name):
                rows = rows.filter(**{lookup: parse(name, str(wanted[name]))})
    if wanted.get("order"):
        rows = rows.filter(_on_order(number=wanted["order"]))
    if wanted.get("state"):
        rows = rows.filter(state__in=_states(str(wanted["state"])))
    if wanted.get("finding"):
        rows = rows.filter(findings__contains=[{"code": wanted["finding"]}])
    if wanted.get("taken_by"):
        name = wanted["taken_by"]
        rows = rows.filter(taken_by=None) if name == NOBODY else rows.filter(
            taken_by__username=name
        )  # fmt: skip
    if wanted.get("held"):
        on_hold = Q(held_until__gt=timezone.localdate())
        rows = rows.filter(on_hold) if yes_of("held", wanted["held"]) else rows.exclude(on_hold)
    if wanted.get("touched"):
        rows = rows.filter(touched=yes_of("touched", wanted["touched"]))
    words = str(wanted.get("search") or "").strip()
    return rows.filter(_about(words)) if words else rows


def _on_order(**of: Any) -> Q:
    """Whether the first order that a bill names, or a further one, is such a one."""
    first = Q(**{f"order__{lookup}": value for lookup, value in of.items()})
    further = OrderShare.objects.filter(order__in=Order.objects.filter(**of), place__gt=0)
    return first | Q(pk__in=further.values("document"))


def _about(words: str) -> Q:
    found = (
        Q(number__icontains=words)
        | Q(seller_name__icontains=words)
        | Q(vendor__name__icontains=words)
        | Q(vendor__code__iexact=words)
        | _on_order(number__icontains=words)
        | Q(file__name__icontains=words)
        | Q(posting__number__iexact=words)
        | Q(file__words=SearchQuery(words, config="simple", search_type="websearch"))
    )
    for style in (POINT, COMMA):
        amount = read_number(words, style)
        if amount is not None and abs(amount) < Decimal(10) ** 14:
            found |= Q(gross_total=amount) | Q(net_total=amount)
    return found


def _states(text: str) -> list[str]:
    wanted = [part.strip() for part in text.split(",") if part.strip()]
    unknown = [part for part in wanted if part not in list(State)]
    if unknown:
        raise BadInputError(f"state is one of {', '.join(State)}, not {', '.join(unknown)}")
    return wanted
