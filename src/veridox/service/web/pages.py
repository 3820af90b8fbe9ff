"""Lists by keyset: an opaque cursor instead of page numbers.

DRF's own cursor pagination loses and doubles rows where the ordering key is
null; ours orders by key, where it may be null with nulls last, then by id.
"""

import base64
import json
from typing import Any

from django.core.exceptions import FieldDoesNotExist
from django.db.models import F, Q, QuerySet
from django.utils.dateparse import parse_datetime
from rest_framework.pagination import BasePagination
from rest_framework.request import Request
from rest_framework.response import Response

from veridox.service.errors import BadInputError


class KeysetPages(BasePagination):
    """Reads `cursor`, `limit` and `ordering`; views name what may order (`orderings`)."""

    usual = 50
    most = 500

    def paginate_queryset(
        self, queryset: QuerySet[Any], request: Request, view: Any = None
    ) -> list[Any]:
        """One page of the list, remembering where the next begins."""
        self.limit = self._limit(request.query_params.get("limit"))
        self.ordering = self._ordering(request.query_params.get("ordering"), view)
        name = self.ordering.lstrip("-")
        down = self.ordering.startswith("-")
        rows = queryset
        cursor = request.query_params.get("cursor")
        if cursor:
            after = self._after(name, down, *self._decode(cursor), _may_be_null(rows, name))
            rows = rows.filter(after)
        if name == "id":
            rows = rows.order_by("-id" if down else "id")
        else:
            rows = rows.order_by(_key(rows, name, down), "-id" if down else "id")
        found = list(rows[: self.limit + 1])
        self.more = len(found) > self.limit
        self.page = found[: self.limit]
        return self.page

    def _limit(self, text: str | None) -> int:
        if text is None:
            return self.usual
        if not text.isdigit() or not 1 <= int(text) <= self.most:
            raise BadInputError(f"limit is a whole number from 1 to {self.most}, not {text!r}")
        return int(text)

    def _ordering(self, text: str | None, view: Any) -> str:
        allowed = getattr(view, "orderings", ("id",))
        if text is None:
            return str(getattr(view, "usual_ordering", "-id"))
        if text.lstrip("-") not in allowed:
            raise BadInputError(f"ordering is one of {', '.join(allowed)}, not {text!r}")
        return text

    def _decode(self, cursor: str) -> tuple[Any, int]:
        try:
            ordering, value, pk = json.loads(base64.urlsafe_b64decode(cursor.encode()))
            if ordering != self.ordering:
                raise BadInputError("the cursor belongs to another ordering")
            return value, int(pk)
        except (ValueError, TypeError) as error:
            raise BadInputError("the cursor is not one of ours") from error

    @staticmethod
    def _after(name: str, down: bool, value: Any, pk: int, nullable: bool) -> Q:
        by_id = Q(id__lt=pk) if down else Q(id__gt=pk)
        if name == "id":
            return by_id
        if value is None:
            return Q(**{f"{name}__isnull": True}) & by_id
        if isinstance(value, str) and (moment := _moment(value)) is not None:
            value = moment
        # The first condition lets the index of the key begin where the page does.
        beyond = Q(**{f"{name}__{'lt' if down else 'gt'}": value})
        here = Q(**{f"{name}__{'lte' if down else 'gte'}": value})
        here &= beyond | Q(**{name: value}) & by_id
        return here | Q(**{f"{name}__isnull": True}) if nullable else here

    def _cursor(self) -> str | None:
        if not self.more:
            return None
        last = self.page[-1]
        name = self.ordering.lstrip("-")
        value = last.pk if name == "id" else getattr(last, name)
        text = json.dumps([self.ordering, value, last.pk], default=_plain)
        return base64.urlsafe_b64encode(text.encode()).decode()

    def get_paginated_response(self, data: Any) -> Response:
        """The page with the cursor of the next one."""
        return Response({"results": data, "next": self._cursor()})

    def get_paginated_response_schema(self, schema: dict[str, Any]) -> dict[str, Any]:
        """OpenAPI 3.1 shape of a page."""
        return {
            "type": "object",
            "required": ["results", "next"],
            "properties": {
                "results": schema,
                "next": {"type": ["string", "null"], "description": "cursor of the next page"},
            },
        }

    def get_schema_operation_parameters(self, view: Any) -> list[dict[str, Any]]:
        """OpenAPI parameters of a list."""
        orderings = getattr(view, "orderings", ("id",))
        values = [sign + name for name in orderings for sign in ("", "-")]

        def parameter(name: str, schema: dict[str, Any], text: str) -> dict[str, Any]:
            return {
                "name": name,
                "in": "query",
                "required": False,
                "schema": schema,
                "description": text,
            }

        return [
            parameter("cursor", {"type": "string"}, "`next` of the page before"),
            parameter(
                "limit", {"type": "integer", "minimum": 1, "maximum": self.most}, "rows a page"
            ),
            parameter("ordering", {"type": "string", "enum": values}, "a dash for descending"),
        ]


def _may_be_null(rows: QuerySet[Any], name: str) -> bool:
    try:
        field = rows.model._meta.get_field(name)
    except FieldDoesNotExist:
        return True  # computed by the query
    return bool(field.null)


def _key(rows: QuerySet[Any], name: str, down: bool) -> Any:
    """What to order by. "Nulls last" where there are none would keep indexes from being used."""
    key = F(name)
    if _may_be_null(rows, name):
        return key.desc(nulls_last=True) if down else key.asc(nulls_last=True)
    return key.desc() if down else key.asc()


def _moment(value: str) -> Any:
    try:
        return parse_datetime(value)
    except ValueError:
        return None


def _plain(value: Any) -> str:
    return value.isoformat() if hasattr(value, "isoformat") else str(value)
