"""The finance system's interface (`/v1`, OpenAPI at `/v1/openapi.json`) and screens (`/`)."""

import asyncio
import hashlib
import secrets
from decimal import Decimal
from pathlib import Path
from typing import Annotated, Any, cast

from fastapi import APIRouter, Depends, FastAPI, Header, HTTPException, Request, Response
from fastapi.responses import HTMLResponse, JSONResponse
from pydantic import BaseModel
from starlette.types import Receive, Scope, Send

from veridox.standins.finance.faults import Fault, Faults
from veridox.standins.finance.lists import KEYS, ForgottenError, Lists
from veridox.standins.finance.screens import bill_screen, bills_screen
from veridox.standins.finance.store import Books

MAX_ATTACHMENT = 70 * 2**20


class Line(BaseModel):
    """A line of a bill; amounts as text with a decimal point."""

    description: str = ""
    amount: str
    item_code: str | None = None
    quantity: str | None = None
    unit: str | None = None
    unit_price: str | None = None
    tax_rate: str | None = None
    order_number: str | None = None
    order_line: str | None = None
    coding: list[dict[str, str]] = []


class Bill(BaseModel):
    """A bill, or a credit when `kind` is `credit`."""

    external_reference: str | None = None
    entity: str | None = None
    vendor: str | None = None
    kind: str = "bill"
    number: str | None = None
    issue_date: str | None = None
    due_date: str | None = None
    posting_date: str | None = None
    order_number: str | None = None
    currency: str | None = None
    net_total: str | None = None
    tax_total: str | None = None
    gross_total: str | None = None
    charges: str | None = None
    allowances: str | None = None
    charges_coding: list[dict[str, str]] = []
    allowances_coding: list[dict[str, str]] = []
    lines: list[Line] = []


class Switch(BaseModel):
    """A fault to switch on."""

    fault: Fault
    times: int = -1
    seconds: float = 3.0


class MasterData(BaseModel):
    """Records to load: entities (code, name, currency), vendors, orders; `lists` of any kind in
    full, and keys of records to take out."""

    entities: list[tuple[str, str, str]] = []
    vendors: list[tuple[str, str, str, bool]] = []
    orders: list[tuple[str, str, str, str, str]] = []
    lists: dict[str, list[dict[str, Any]]] = {}
    gone: dict[str, list[str]] = {}


class BrokenLine(Response):
    """Promises a body and ends the connection before sending it: the client gets no answer."""

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Send the head only; the server then closes the connection."""
        del scope, receive
        headers = [(b"content-length", b"1000")]
        await send({"type": "http.response.start", "status": 200, "headers": headers})


def _signed_in(request: Request, authorization: Annotated[str, Header()] = "") -> None:
    wanted = f"Bearer {request.app.state.token}"
    if not secrets.compare_digest(authorization.encode(), wanted.encode()):
        raise HTTPException(401, "a bearer token is needed")


def _books(request: Request) -> Books:
    return cast(Books, request.app.state.books)


AllBooks = Annotated[Books, Depends(_books)]


def _lists(request: Request) -> Lists:
    return cast(Lists, request.app.state.lists)


AllLists = Annotated[Lists, Depends(_lists)]
interface = APIRouter(prefix="/v1", dependencies=[Depends(_signed_in)])
screens = APIRouter(include_in_schema=False)


@interface.get("/me")
def me() -> dict[str, Any]:
    """Who the token belongs to and what it may do."""
    return {"name": "accounts payable interface", "rights": ["bills.read", "bills.write"]}


@interface.post("/masterdata")
def masterdata(data: MasterData, books: AllBooks, lists: AllLists) -> dict[str, int]:
    """Load master data; a record replaces one of the same key."""
    books.load(data.entities, data.vendors, data.orders)
    unknown = {*data.lists, *data.gone} - set(KEYS)
    if unknown:
        raise HTTPException(422, f"no such lists: {', '.join(sorted(unknown))}")
    for kind, records in data.lists.items():
        lists.put(kind, records)
    for kind, keys in data.gone.items():
        lists.take_out(kind, keys)
    _known_to_the_books(books, data)
    return {"vendors": len(data.vendors), "orders": len(data.orders)}


def _known_to_the_books(books: Books, data: MasterData) -> None:
    """What bills are checked against follows the lists."""
    books.load(
        [(e["code"], e["name"], e["currency"]) for e in data.lists.get("entities", ())],
        [
            (v["code"], v["name"], v.get("tax_id", ""), bool(v.get("blocked")))
            for v in data.lists.get("vendors", ())
        ],
        [
            (o["number"], o["entity"], o["vendor"], o["currency"],
             str(sum(Decimal(line["quantity"]) * Decimal(line["unit_price"])
                     for line in o["lines"])))
            for o in data.lists.get("orders", ())
        ],
    )  # fmt: skip


@interface.get("/lists/{kind}")
def listed(
    kind: str, books: AllBooks, lists: AllLists, since: str = "", after: str = "",
    limit: int = 500,
) -> dict[str, Any]:  # fmt: skip
    """Records of a kind, page by page: all of them, or what changed since a stamp."""
    if kind not in KEYS:
        raise HTTPException(404, f"there is no list of {kind}; there are {', '.join(KEYS)}")
    if kind == "books":
        lists.put("books", _booked(books))
    try:
        return lists.page(kind, since, after, max(1, limit))
    except ForgottenError as error:
        raise HTTPException(410, str(error)) from error


def _booked(books: Books) -> list[dict[str, Any]]:
    """What stands in the books, as a list has it."""
    rows = books.rows("select * from bills order by id")
    return [
        {
            "booked_as": row["number"], "vendor": row["vendor"], "entity": row["entity"],
            "kind": "credit note" if row["kind"] == "credit" else "invoice",
            "number": row["vendor_number"], "issue_date": row["issue_date"],
            "currency": row["currency"], "gross_total": row["gross_total"],
            "open_amount": row["gross_total"], "order_number": row["order_number"] or "",
            "reference": row["external_reference"] or "",
        }
        for row in rows
    ]  # fmt: skip


@interface.get("/vendors")
def vendors(books: AllBooks) -> dict[str, Any]:
    """All vendors."""
    return {"vendors": books.rows("select * from vendors order by code")}


@interface.get("/orders")
def orders(books: AllBooks) -> dict[str, Any]:
    """All orders."""
    return {"orders": books.rows("select * from orders order by number")}


@interface.post("/bills/rehearse")
def rehearse(bill: Bill, books: AllBooks, lists: AllLists) -> JSONResponse:
    """All checks, nothing written."""
    refused = _refused(books, lists, bill.model_dump())
    return refused or JSONResponse({"would": "book"})


@interface.post("/bills", status_code=201)
async def book(
    bill: Bill, request: Request, books: AllBooks, lists: AllLists,
    idempotency_key: Annotated[str, Header()] = "",
) -> Response:  # fmt: skip
    """Book a bill. The same Idempotency-Key books once, whatever happens to answers."""
    faults: Faults = request.app.state.faults
    fault = faults.take()
    if fault is Fault.SLOW:
        await faults.pause()
    if fault is Fault.ERROR:
        return JSONResponse({"errors": [{"field": "", "message": "broken"}]}, 500)
    if fault is Fault.LATE:
        tasks: set[asyncio.Task[None]] = request.app.state.late
        later = _later(books, lists, faults, bill.model_dump(), idempotency_key)
        task = asyncio.create_task(later)
        tasks.add(task)
        task.add_done_callback(tasks.discard)
        return BrokenLine()
    answer = _book(books, lists, bill.model_dump(), idempotency_key)
    return BrokenLine() if fault is Fault.DROP else answer


async def _later(
    books: Books, lists: Lists, faults: Faults, bill: dict[str, Any], key: str
) -> None:  # fmt: skip
    await faults.pause()
    _book(books, lists, bill, key)


@interface.get("/bills")
def bills(books: AllBooks, external_reference: str = "") -> dict[str, Any]:
    """Bills, newest first; one only by its external reference."""
    query = "select id from bills where ?1 = '' or external_reference = ?1 order by id desc"
    rows = books.rows(query, external_reference)
    return {"bills": [_shown(books, row["id"]) for row in rows[:500]]}


@interface.get("/bills/{bill_id}")
def bill_by_id(bill_id: int, books: AllBooks) -> dict[str, Any]:
    """One bill with lines and the list of its attachments."""
    return _shown(books, bill_id)


@interface.put("/bills/{bill_id}/attachments/{sha256}")
async def attach(
    bill_id: int, sha256: str, name: str, request: Request, books: AllBooks
) -> JSONResponse:
    """Attach a file under its hash."""
    _shown(books, bill_id)
    content = await request.body()
    if len(content) > MAX_ATTACHMENT or hashlib.sha256(content).hexdigest() != sha256:
        error = {"field": "sha256", "message": "does not fit the content"}
        return JSONResponse({"errors": [error]}, 422)
    books.attach(bill_id, sha256, name, content)
    return JSONResponse({"sha256": sha256}, 201)


@screens.get("/", response_class=HTMLResponse)
def screen(books: AllBooks) -> str:
    """The list of bills."""
    rows = books.rows("select id from bills order by id desc limit 200")
    return bills_screen([_shown(books, row["id"]) for row in rows])


@screens.get("/bills/{bill_id}", response_class=HTMLResponse)
def screen_of_one(bill_id: int, books: AllBooks) -> str:
    """One bill."""
    return bill_screen(_shown(books, bill_id))


@screens.get("/bills/{bill_id}/attachments/{sha256}")
def download(bill_id: int, sha256: str, books: AllBooks) -> Response:
    """An attachment, always as a download."""
    found = books.attachment(bill_id, sha256)
    if found is None:
        raise HTTPException(404)
    headers = {"Content-Disposition": "attachment", "X-Content-Type-Options": "nosniff"}
    return Response(found[1], media_type="application/octet-stream", headers=headers)


def create_app(store: Path, token: str, *, accepts_doubles: bool = False) -> FastAPI:
    """The whole system over one store.

    Args:
        store: file of its books; a new one, where doubles are accepted.
        token: the only bearer token it takes.
        accepts_doubles: neither keys nor numbers keep it from booking again.
    """
    app = FastAPI(
        title="Merrowmere finance",
        version="1",
        docs_url=None,
        redoc_url=None,
        openapi_url="/v1/openapi.json",
    )
    app.state.books, app.state.faults, app.state.late = (
        Books(store, accepts_doubles),
        Faults(),
        set(),
    )
    app.state.token = token
    app.state.lists = Lists(app.state.books)

    @app.middleware("http")
    async def down(request: Request, call_next: Any) -> Response:
        if app.state.faults.fault is Fault.DOWN and request.url.path != "/faults":
            return BrokenLine()
        return cast(Response, await call_next(request))

    @app.get("/v1/health")
    def health() -> dict[str, bool]:
        """Open to everybody."""
        return {"good": True}

    @app.put("/faults")
    def switch(wanted: Switch) -> Switch:
        """Misbehave on purpose; open to everybody on this machine."""
        faults: Faults = app.state.faults
        faults.fault, faults.left, faults.seconds = wanted.fault, wanted.times, wanted.seconds
        return wanted

    app.include_router(interface)
    app.include_router(screens)
    return app


def _shown(books: Books, bill_id: int) -> dict[str, Any]:
    bill = books.bill(bill_id)
    if bill is None:
        raise HTTPException(404, f"there is no bill {bill_id}")
    return {**bill, "link": f"{LINKS['base']}/bills/{bill_id}"}


LINKS = {"base": "http://127.0.0.1:8441"}
"""Where people reach the screens; set when the server starts."""


def _refused(books: Books, lists: Lists, bill: dict[str, Any]) -> JSONResponse | None:
    problems = books.problems(bill)
    day = bill.get("posting_date") or bill.get("issue_date")
    if day and (period := lists.closed(bill.get("entity") or "", day)):
        problems.append({"field": "posting_date", "message": f"the books are closed: {period}"})
    if problems:
        return JSONResponse({"errors": problems}, 422)
    standing = books.standing(bill)
    if standing is None or books.accepts_doubles:
        return None
    error = {"field": "number", "message": f"stands in the books as {standing['number']}"}
    existing = _shown(books, standing["id"])
    return JSONResponse({"errors": [error], "existing": existing}, 409)


def _book(books: Books, lists: Lists, bill: dict[str, Any], key: str) -> JSONResponse:
    answered = books.answered(key) if key and not books.accepts_doubles else None
    if answered is not None:
        return JSONResponse(_shown(books, answered["id"]), 200)
    refused = _refused(books, lists, bill)
    if refused is not None:
        return refused
    return JSONResponse(_shown(books, books.book(bill, key)["id"]), 201)
