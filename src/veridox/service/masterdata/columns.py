"""The columns of master data: one table, from which files, syncs, help and shapes come."""

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal, InvalidOperation
from typing import Any, Final

from veridox.core.locales.labels import LANGUAGES
from veridox.core.matching import terms_of
from veridox.core.money import is_currency
from veridox.core.tax import Treatment
from veridox.service.masterdata.models import MarkKind


class CellError(ValueError):
    """A cell does not have the form that its column asks for."""


Read = Callable[[str], Any]


@dataclass(frozen=True, kw_only=True, slots=True)
class Column:
    """One column.

    Attributes:
        name: ours.
        help: what it is.
        read: its typed value from a text; raises CellError.
        needed: whether every row must have it.
        most: characters of the longest text.
        many: whether several stand in one cell, parted by `|`.
        mark: what kind of a vendor's marks it is.
        guarded: whether a change is held until a second person accepts it.
        aliases: other headings that are taken for it, in small letters.
    """

    name: str
    help: str
    read: Read
    needed: bool = False
    most: int = 200
    many: bool = False
    mark: MarkKind | None = None
    guarded: bool = False
    aliases: tuple[str, ...] = ()


def _text(text: str) -> str:
    return text


def _upper(text: str) -> str:
    return text.replace(" ", "").upper()


def _country(text: str) -> str:
    found = text.upper()
    if not re.fullmatch(r"[A-Z]{2}", found):
        raise CellError(f"{text!r} is not an ISO 3166 code such as GB")
    return found


def _currency(text: str) -> str:
    if not is_currency(text):
        raise CellError(f"{text!r} is not an ISO 4217 code")
    return text


def _yes(text: str) -> bool:
    said = text.lower()
    if said in ("yes", "y", "true", "1"):
        return True
    if said in ("no", "n", "false", "0"):
        return False
    raise CellError(f"{text!r} is neither yes nor no")


def _number(text: str) -> Decimal:
    try:
        number = Decimal(text)
    except InvalidOperation:
        number = Decimal("NaN")
    if not number.is_finite() or abs(number) >= Decimal(10) ** 11:
        raise CellError(f"{text!r} is not a number such as 1421.28")
    return number


def _above_zero(text: str) -> Decimal:
    number = _number(text)
    if number <= 0:
        raise CellError(f"a rate of {text} cannot be: it is above zero")
    return number


def _percent(text: str) -> Decimal:
    number = _number(text.removesuffix("%").strip())
    if not 0 <= number <= 100:
        raise CellError(f"{text!r} is not a percentage from 0 to 100")
    return number


def _not_nothing(text: str) -> Decimal:
    number = _number(text)
    if not number:
        raise CellError("nothing that came in is nothing to book")
    return number


def _pack(text: str) -> tuple[str, str]:
    name, equals, count = (part.strip() for part in text.partition("="))
    if not name or not equals or len(name) > 40:
        raise CellError(f"{text!r} is no pack such as box = 12")
    number = _number(count)
    if number <= 0:
        raise CellError(f"a {name} of {count} cannot be: it holds more than nothing")
    return name, f"{number.normalize():f}"


def _position(text: str) -> int:
    number = _number(text)
    if number != int(number) or not 0 < number < 1_000_000:
        raise CellError(f"{text!r} is not the number of a line")
    return int(number)


def _day(text: str) -> date:
    try:
        # A spreadsheet's day comes with its midnight.
        return date.fromisoformat(text.removesuffix(" 00:00:00").removesuffix("T00:00:00"))
    except ValueError:
        raise CellError(f"{text!r} is not a date such as 2026-03-31") from None


def _mail(text: str) -> str:
    if not re.fullmatch(r"[^@\s]+@[^@\s]+\.[^@\s.]+", text):
        raise CellError(f"{text!r} is no mail address")
    return text


def _domain(text: str) -> str:
    found = text.lower().removeprefix("@")
    if not re.fullmatch(r"[a-z0-9-]+(\.[a-z0-9-]+)+", found):
        raise CellError(f"{text!r} is no domain such as brinefold.example")
    return found


def _terms(text: str) -> str:
    try:
        return str(terms_of(text) or "")
    except ValueError as error:
        raise CellError(str(error)) from error


def _one_of(*words: str) -> Read:
    def read(text: str) -> str:
        if text.lower() not in words:
            raise CellError(f"{text!r} is none of: {', '.join(words)}")
        return text.lower()

    return read


def _language(text: str) -> str:
    return str(_one_of(*LANGUAGES)(text))


def _period(text: str) -> list[str]:
    first, _, last = text.partition(" to ")
    begin, end = _day(first.strip()), _day((last or first).strip())
    if end < begin:
        raise CellError(f"{text!r} ends before it begins; write it as 2026-01-01 to 2026-03-31")
    return [begin.isoformat(), end.isoformat()]


def _code(text: str) -> str:
    if not re.fullmatch(r"[\w./ -]{1,63}", text):
        raise CellError(f"{text!r} is no code: letters, digits, dashes, dots")
    return text


ENTITY: Final = (
    Column(name="code", help="in its ledger", read=_code, needed=True, most=63),
    Column(name="name", help="as bills call it", read=_text, needed=True),
    Column(name="country", help="ISO 3166", read=_country, needed=True, most=2),
    Column(name="currency", help="of its books, ISO 4217", read=_currency, needed=True, most=3),
    Column(name="tax_id", help="its tax id", read=_upper, most=40, aliases=("vat no", "vat id")),
    Column(name="names", help="what else bills call it", read=_text, many=True),
    Column(name="tax_ids", help="other tax ids", read=_upper, most=40, many=True),
    Column(name="recipients", help="mail addresses that its bills are sent to", read=_mail,
           most=254, many=True),
    Column(name="closed", help="closed periods of its books: 2026-01-01 to 2026-03-31",
           read=_period, many=True),
)  # fmt: skip

VENDOR: Final = (
    Column(name="code", help="in its ledger", read=_code, needed=True, most=40,
           aliases=("vendor", "vendor no", "vendor number", "supplier", "supplier no")),
    Column(name="name", help="as it is called", read=_text, needed=True,
           aliases=("vendor name", "supplier name")),
    Column(name="tax_id", help="its tax id", read=_upper, most=40,
           aliases=("vat no", "vat id", "vat number", "ust-id")),
    Column(name="country", help="ISO 3166", read=_country, most=2),
    Column(name="email", help="contact that letters go to", read=_mail, most=254, guarded=True,
           aliases=("contact", "e-mail", "mail")),
    Column(name="needs_order", help="whether it delivers on orders only", read=_yes),
    Column(name="blocked", help="whether its bills are not booked at present", read=_yes,
           guarded=True),
    Column(name="terms", help="30 days net; end of month + 15 days; 10 days 2 %, 30 days net",
           read=_terms, most=80, aliases=("payment terms",)),
    Column(name="treatment", help="how it is usually taxed: " + ", ".join(Treatment),
           read=_one_of(*(each.value for each in Treatment)), most=20),
    Column(name="rates", help="rates of tax that it usually charges, in percent", read=_percent,
           many=True, aliases=("tax rates",)),
    Column(name="group", help="that it belongs to, for rules", read=_text, most=80,
           aliases=("category",)),
    Column(name="language", help="of letters to it, ISO 639-1", read=_language, most=2),
    Column(name="gl_account", help="GL account that its lines are usually booked on", read=_text,
           most=40),
    Column(name="cost_centre", help="cost centre that usually bears them", read=_text, most=40),
    Column(name="supply", help="goods or services", read=_one_of("goods", "services"), most=10),
    Column(name="merged_into", help="code of the vendor that took its place", read=_code, most=40),
    Column(name="names", help="what else bills call it", read=_text, many=True,
           mark=MarkKind.NAME),
    Column(name="tax_ids", help="other tax ids", read=_upper, most=40, many=True,
           mark=MarkKind.TAX_ID),
    Column(name="accounts", help="bank accounts that it is paid to", read=_upper, most=60,
           many=True, mark=MarkKind.ACCOUNT, guarded=True, aliases=("account", "iban", "bank")),
    Column(name="senders", help="mail addresses that its bills come from", read=_mail, most=254,
           many=True, mark=MarkKind.SENDER, guarded=True),
    Column(name="domains", help="mail domains that are its own", read=_domain, most=253,
           many=True, mark=MarkKind.DOMAIN, guarded=True, aliases=("domain",)),
    Column(name="addresses", help="street and town, as printed", read=_text, most=300,
           many=True, mark=MarkKind.ADDRESS, aliases=("address",)),
    Column(name="payees", help="names of others who may be paid for it, as a factor",
           read=_text, many=True, mark=MarkKind.PAYEE, guarded=True),
)  # fmt: skip

ORDER: Final = (
    Column(name="number", help="of the order", read=_text, needed=True, most=60,
           aliases=("order", "order no", "po", "po number")),
    Column(name="entity", help="code of our company that ordered", read=_code, needed=True),
    Column(name="vendor", help="code of the vendor", read=_code, needed=True, most=40),
    Column(name="currency", help="ISO 4217", read=_currency, needed=True, most=3),
    Column(name="ordered_on", help="day of the order", read=_day, aliases=("order date",)),
    Column(name="status", help="open, closed, or not approved (yet)",
           read=_one_of("open", "closed", "not approved"), most=15),
    Column(name="line", help="number of the line", read=_position, needed=True,
           aliases=("position", "line no")),
    Column(name="item_code", help="ours or the vendor's", read=_text, most=80,
           aliases=("item", "article")),
    Column(name="description", help="what was ordered", read=_text, most=500),
    Column(name="quantity", help="how much of it", read=_number, needed=True, aliases=("qty",)),
    Column(name="unit", help="of the quantity", read=_text, most=40),
    Column(name="unit_price", help="without tax", read=_number, needed=True, aliases=("price",)),
    Column(name="needs_receipt", help="whether the line is paid only once its goods are booked in",
           read=_yes),
    Column(name="gl_account", help="that the line is booked on", read=_text, most=40),
    Column(name="cost_centre", help="that bears the line", read=_text, most=40),
    Column(name="project", help="that the line belongs to", read=_text, most=40),
)  # fmt: skip

RECEIPT: Final = (
    Column(name="number", help="of the goods receipt", read=_text, needed=True, most=60,
           aliases=("goods receipt", "receipt no")),
    Column(name="entity", help="code of our company that ordered", read=_code, needed=True),
    Column(name="order_number", help="of the order", read=_text, needed=True, most=60,
           aliases=("order", "order no", "po", "po number")),
    Column(name="line", help="number of the order's line", read=_position, needed=True,
           aliases=("position", "line no", "order line")),
    Column(name="quantity", help="that came in; below zero what went back", read=_not_nothing,
           needed=True, aliases=("qty",)),
    Column(name="unit", help="of the quantity; the order's when left out", read=_text, most=40),
    Column(name="received_on", help="day on which it was booked", read=_day,
           aliases=("date", "day")),
    Column(name="note", help="what people wrote beside it, as why it went back", read=_text),
)  # fmt: skip

ITEM: Final = (
    Column(name="vendor", help="code of the vendor", read=_code, needed=True, most=40),
    Column(name="code", help="ours", read=_text, needed=True, most=80,
           aliases=("item", "item_code", "article")),
    Column(name="vendor_code", help="the vendor's", read=_text, most=80,
           aliases=("vendor item", "vendor's code")),
    Column(name="description", help="what it is", read=_text, most=500),
    Column(name="unit", help="that packs are counted in", read=_text, most=40),
    Column(name="packs", help="how many of the unit are in one of each: box = 12", read=_pack,
           many=True, aliases=("pack", "pack size")),
)  # fmt: skip

_LEDGER_CODE: Final = (
    Column(name="code", help="in the ledger", read=_text, needed=True, most=40),
    Column(name="name", help="as people call it", read=_text),
    Column(name="entity", help="code of the company that it is of; of all when left out",
           read=_code, most=63),
    Column(name="closed", help="whether nothing more is booked under it", read=_yes),
)  # fmt: skip
GL_ACCOUNT: Final = (
    *_LEDGER_CODE,
    Column(name="needs_cost_centre", help="whether what is booked on it names a cost centre",
           read=_yes),
)  # fmt: skip
COST_CENTRE: Final = (
    *_LEDGER_CODE,
    Column(name="owner", help="mail address of who answers for it", read=_mail, most=254),
)
PROJECT: Final = (
    *_LEDGER_CODE,
    Column(name="owner", help="mail address of who leads it", read=_mail, most=254),
)
TAX_CODE: Final = (
    *_LEDGER_CODE,
    Column(name="country", help="of the vendor, ISO 3166; of all when left out", read=_country,
           most=2),
    Column(name="category", help="of the tax (BT-151), as S, Z, E, AE, K, G", read=_upper, most=3),
    Column(name="rate", help="of the tax, in percent", read=_percent),
    Column(name="supply", help="goods or services; both when left out",
           read=_one_of("goods", "services"), most=10),
)  # fmt: skip

CARD: Final = (
    Column(name="vendor", help="code of the vendor", read=_code, needed=True, most=40),
    Column(name="card", help="name of the card", read=_text, needed=True, most=80,
           aliases=("rate card", "tariff")),
    Column(name="code", help="of the charge", read=_text, most=80, aliases=("charge code",)),
    Column(name="wording", help="of the charge where it has no code; * stands for anything",
           read=_text, aliases=("charge", "description")),
    Column(name="currency", help="ISO 4217", read=_currency, needed=True),
    Column(name="unit", help="that the price is for", read=_text, most=40),
    Column(name="price", help="for one, without tax", read=_number, aliases=("rate",)),
    Column(name="percent", help="of other charges, instead of a price", read=_percent),
    Column(name="of", help="code or wording of the charges that it is a percentage of; all others "
           "on the card when left out", read=_text),
    Column(name="from_quantity", help="from so many on; 0 when left out", read=_number,
           aliases=("from",)),
    Column(name="first", help="day from which it holds", read=_day, aliases=("valid from",)),
    Column(name="last", help="last day on which it holds", read=_day,
           aliases=("valid to", "valid until")),
)  # fmt: skip

RATE: Final = (
    Column(name="currency", help="of which one unit is worth", read=_currency, needed=True),
    Column(name="into", help="so many units of this", read=_currency, needed=True),
    Column(name="day", help="of the rate", read=_day, needed=True, aliases=("date",)),
    Column(name="rate", help="above zero", read=_above_zero, needed=True),
    Column(name="source", help="who published it", read=_text, needed=True, most=80),
)  # fmt: skip

BOOK: Final = (
    Column(name="booked_as", help="number in the ledger", read=_text, needed=True, most=100),
    Column(name="vendor", help="code of the vendor", read=_code, needed=True, most=40),
    Column(name="entity", help="code of our company", read=_code, most=63),
    Column(name="kind", help="invoice or credit note",
           read=_one_of("invoice", "credit note"), most=30),
    Column(name="number", help="the vendor's", read=_text, needed=True),
    Column(name="issue_date", help="the vendor's", read=_day),
    Column(name="currency", help="ISO 4217", read=_currency, needed=True),
    Column(name="gross_total", help="with tax", read=_number, needed=True, aliases=("total",)),
    Column(name="open_amount", help="not paid yet", read=_number, aliases=("open",)),
    Column(name="order_number", help="that it names", read=_text, most=60),
    Column(name="reference", help="our own posting's id", read=_text, most=100),
)  # fmt: skip


@dataclass(frozen=True, kw_only=True, slots=True)
class Kind:
    """One kind of master data.

    Attributes:
        name: in paths and commands.
        one: what a single record is called.
        columns: of its tables.
        key: columns that tell its records apart; rows of an order share its key.
        needs: kinds that must be there before.
        by_name: columns by name.
    """

    name: str
    one: str
    columns: tuple[Column, ...]
    key: tuple[str, ...]
    needs: tuple[str, ...] = ()
    by_name: Mapping[str, Column] = field(default_factory=dict)


def _kind(name: str, one: str, columns: tuple[Column, ...], *key: str, needs: str = "") -> Kind:
    by_name = {column.name: column for column in columns}
    return Kind(name=name, one=one, columns=columns, key=key, needs=tuple(needs.split()),
                by_name=by_name)  # fmt: skip


KINDS: Final[dict[str, Kind]] = {
    kind.name: kind for kind in (
        _kind("entities", "entity", ENTITY, "code"),
        _kind("vendors", "vendor", VENDOR, "code"),
        _kind("orders", "order", ORDER, "entity", "number", needs="entities vendors"),
        _kind("receipts", "goods receipt", RECEIPT, "entity", "number", "order_number", "line",
              needs="entities"),
        _kind("items", "item", ITEM, "vendor", "code", "vendor_code", needs="vendors"),
        _kind("gl-accounts", "GL account", GL_ACCOUNT, "entity", "code"),
        _kind("cost-centres", "cost centre", COST_CENTRE, "entity", "code"),
        _kind("tax-codes", "tax code", TAX_CODE, "entity", "code"),
        _kind("projects", "project", PROJECT, "entity", "code"),
        _kind("cards", "agreed rate", CARD, "vendor", "card", "code", "wording", "from_quantity",
              "first", needs="vendors"),
        _kind("rates", "rate", RATE, "currency", "into", "day"),
        _kind("books", "bill in the books", BOOK, "booked_as", needs="vendors"),
    )
}  # fmt: skip
"""Every kind of master data that is brought in, by name."""


def kind_named(name: str) -> Kind:
    """A kind by its name. Raises KeyError."""
    return KINDS[name]
