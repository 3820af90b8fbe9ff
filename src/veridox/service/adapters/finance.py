"""Adapter for the finance system's HTTP interface (the one that ships as a stand-in)."""

from dataclasses import dataclass
from typing import Any, Final

import httpx

from veridox.core.coding import FOOT
from veridox.core.posting import Bill, Booked, Refusal, Standing
from veridox.service.adapters.common import check_url
from veridox.service.errors import AdapterError, BadInputError, UnreachableError
from veridox.service.ports.driver import Access, Driver, Step
from veridox.service.ports.ledger import CursorGoneError, Ledger, ListPage, NoAnswerError
from veridox.service.tls import tls_context


@dataclass(frozen=True, kw_only=True, slots=True)
class LedgerSettings:
    """A finance system with an HTTP interface.

    Attributes:
        url: where its interface begins.
        timeout: seconds to wait for an answer.
        late_window: seconds within which it may still book what it did not answer.
        sync_every: minutes after which its lists are asked for what changed; 0 for never.
        page: records of one page of a list.
    """

    url: str
    timeout: float = 10.0
    late_window: float = 5.0
    sync_every: int = 0
    page: int = 500


class FinanceLedger(Ledger):
    """Speaks the finance system's `/v1` interface with a bearer token."""

    repeats_safely = True  # its manual promises one bill for each Idempotency-Key

    def __init__(
        self, settings: LedgerSettings, token: str, transport: httpx.BaseTransport | None = None
    ) -> None:
        self.late_window = settings.late_window
        self._page = settings.page
        self._client = httpx.Client(
            base_url=settings.url.rstrip("/") + "/v1",
            headers={"Authorization": f"Bearer {token}"},
            timeout=settings.timeout,
            verify=tls_context(""),
            transport=transport,
        )

    def _ask(self, method: str, path: str, **options: Any) -> httpx.Response:
        """A request that books nothing: any failure may simply be tried again."""
        try:
            response = self._client.request(method, path, **options)
        except httpx.HTTPError as error:
            raise UnreachableError(f"the ledger does not answer: {_said(error)}") from error
        return _checked(response)

    def rehearse(self, bill: Bill) -> Refusal | None:
        """See the port."""
        response = self._ask("POST", "/bills/rehearse", json=_body("", bill))
        return None if response.is_success else _refusal(response)

    def post(self, reference: str, bill: Bill) -> Booked | Refusal:
        """See the port."""
        try:
            response = self._client.post(
                "/bills", json=_body(reference, bill), headers={"Idempotency-Key": reference}
            )
        except (httpx.ConnectError, httpx.ConnectTimeout, httpx.PoolTimeout) as error:
            # No connection, so nothing was sent.
            raise UnreachableError(f"the ledger cannot be reached: {_said(error)}") from error
        except httpx.HTTPError as error:
            raise NoAnswerError(f"the ledger gave no answer: {_said(error)}") from error
        if response.status_code >= 500:
            # It may have failed before or after booking.
            raise NoAnswerError(f"the ledger answered {response.status_code}")
        response = _checked(response)
        if response.is_success:
            return _booked(response.json())
        existing = response.json().get("existing") if response.status_code == 409 else None
        if existing and existing.get("external_reference") == reference:
            return _booked(existing)
        return _refusal(response)

    def find(self, reference: str) -> Booked | None:
        """See the port."""
        response = self._ask("GET", "/bills", params={"external_reference": reference})
        rows = response.json()["bills"]
        return _booked(rows[0]) if rows else None

    def attach(self, ledger_id: str, name: str, content: bytes, sha256: str) -> None:
        """See the port."""
        response = self._ask(
            "PUT",
            f"/bills/{ledger_id}/attachments/{sha256}",
            params={"name": name},
            content=content,
            headers={"Content-Type": "application/octet-stream"},
        )
        if not response.is_success:
            raise AdapterError(f"the ledger refused the attachment: {_reasons(response)[0]}")

    def read_back(self, ledger_id: str) -> Standing:
        """See the port."""
        bill = self._ask("GET", f"/bills/{ledger_id}").json()
        return Standing(
            gross_total=bill["gross_total"],
            lines=tuple(line["amount"] for line in bill["lines"]),
            attachments=tuple(each["sha256"] for each in bill["attachments"]),
            coding={
                **{
                    f"line {at}": tuple(line.get("coding") or ())
                    for at, line in enumerate(bill["lines"], 1)
                },
                **{name: tuple(bill.get(f"{name}_coding") or ()) for name in FOOT.values()},
            },
        )

    def lists(self) -> tuple[str, ...]:
        """See the port."""
        return (
            "entities", "vendors", "orders", "receipts", "items", "gl-accounts", "cost-centres",
            "tax-codes", "projects", "cards", "rates", "books",
        )  # fmt: skip

    def list_page(self, what: str, *, since: str, after: str) -> ListPage:
        """See the port."""
        wanted = {"since": since, "after": after, "limit": str(self._page)}
        response = self._ask("GET", f"/lists/{what}", params=wanted)
        if response.status_code == 410:
            raise CursorGoneError(f"the ledger does not know {after or since!r} any more")
        if not response.is_success:
            raise AdapterError(f"the ledger has no list of {what}: {_reasons(response)[0]}")
        data = response.json()
        rows = tuple({name: _text(value) for name, value in row.items()} for row in data["rows"])
        return ListPage(
            rows=rows, gone=tuple(data["gone"]), next=data["next"], stamp=data["stamp"],
            total=data["total"],
        )  # fmt: skip

    def test(self) -> list[Step]:
        """See the port."""
        steps = []
        try:
            self._client.get("/health").raise_for_status()
            steps.append(Step(name="reach", good=True, detail=str(self._client.base_url)))
            response = self._client.get("/me")
            signed_in = response.is_success
            detail = (
                f"as {response.json()['name']}" if signed_in else f"HTTP {response.status_code}"
            )
            steps.append(Step(name="sign in", good=signed_in, detail=detail))
            if signed_in:
                may = "bills.write" in response.json()["rights"]
                steps.append(Step(name="right to book", good=may, detail="bills.write"))
        except (httpx.HTTPError, ValueError, KeyError) as error:
            steps.append(Step(name="reach", good=False, detail=_said(error)))
        return steps


def _text(value: Any) -> str:
    """A value of a list as our columns take it: several parted by bars, yes and no as words."""
    if isinstance(value, list):
        return " | ".join(_text(each) for each in value)
    if isinstance(value, bool):
        return "yes" if value else "no"
    return "" if value is None else str(value)


def _said(error: Exception) -> str:
    return str(error) or type(error).__name__


def _checked(response: httpx.Response) -> httpx.Response:
    """Errors that say nothing of the bill itself."""
    if response.status_code >= 500 or response.status_code == 429:
        raise UnreachableError(f"the ledger answered {response.status_code}; trying again later")
    if response.status_code in (401, 403):
        raise UnreachableError(
            f"the ledger does not accept our token (HTTP {response.status_code}); set a new one"
        )
    return response


def _body(reference: str, bill: Bill) -> dict[str, Any]:
    return {"external_reference": reference, **bill.to_json()}


def _booked(data: dict[str, Any]) -> Booked:
    return Booked(ledger_id=str(data["id"]), number=data["number"], link=data["link"])


def _reasons(response: httpx.Response) -> tuple[str, ...]:
    try:
        errors = response.json()["errors"]
        return tuple(f"{each['field']}: {each['message']}" for each in errors)
    except (ValueError, KeyError, TypeError):
        return (f"HTTP {response.status_code}",)


def _refusal(response: httpx.Response) -> Refusal:
    in_ledger = ""
    if response.status_code == 409:
        in_ledger = response.json().get("existing", {}).get("number", "")
    return Refusal(reasons=_reasons(response), in_ledger=in_ledger)


def _check(settings: LedgerSettings) -> None:
    check_url(settings.url)
    if not 1 <= settings.page <= 5_000:
        raise BadInputError(f"page is from 1 to 5,000 records, not {settings.page}")
    if settings.sync_every < 0:
        raise BadInputError(f"sync_every is a number of minutes, not {settings.sync_every}")


def _open(access: Access[LedgerSettings]) -> FinanceLedger:
    return FinanceLedger(access.settings, access.secret)


DRIVER: Final = Driver(
    kind="ledger",
    name="finance",
    settings=LedgerSettings,
    open=_open,
    test=lambda access, _: _open(access).test(),
    check=_check,
    usual=True,
    needs_secret=lambda _: True,
)
