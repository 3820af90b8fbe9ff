"""Vendors and our own companies as the checks know them: plain values of the master data."""

import re
from calendar import monthrange
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from importlib.resources import files

from veridox.core.tax import Treatment


@dataclass(frozen=True, kw_only=True, slots=True)
class Terms:
    """When a vendor's bills are to be paid.

    Attributes:
        days: after the issue date, or after the end of its month.
        end_of_month: whether the days run from the end of the month of issue.
        discount_days, discount_percent: taken off when paid within so many days of issue;
            None for no discount.
    """

    days: int
    end_of_month: bool = False
    discount_days: int | None = None
    discount_percent: Decimal | None = None

    def due(self, issued: date) -> date:
        """The day on which a bill of a day is due."""
        begin = issued
        if self.end_of_month:
            begin = issued.replace(day=monthrange(issued.year, issued.month)[1])
        return begin + timedelta(days=self.days)

    def discount_until(self, issued: date) -> date | None:
        """The last day on which the discount may be taken; None for no discount."""
        if self.discount_days is None or not self.discount_percent:
            return None
        return issued + timedelta(days=self.discount_days)

    def __str__(self) -> str:
        """As people write it: `10 days 2 %, 30 days net`, `end of month + 15 days`."""
        parts = []
        if self.discount_days is not None and self.discount_percent:
            parts.append(f"{self.discount_days} days {self.discount_percent.normalize():f} %")
        if self.end_of_month:
            parts.append(f"end of month + {self.days} days" if self.days else "end of month")
        else:
            parts.append(f"{self.days} days net")
        return ", ".join(parts)


_DISCOUNT = re.compile(r"(\d{1,3}) days? (\d{1,2}(?:\.\d{1,2})?) ?%")
_NET = re.compile(r"(\d{1,3})(?: days?)?(?: net)?")
_MONTH = re.compile(r"end of month(?: ?\+ ?(\d{1,3})(?: days?)?)?")


def terms_of(text: str) -> Terms | None:
    """Terms as `str` writes them; None for an empty text. Raises ValueError on any other."""
    words = " ".join(text.lower().split())
    if not words:
        return None
    discount, _, rest = words.rpartition(",")
    taken = _DISCOUNT.fullmatch(discount.strip()) if discount else None
    month, net = _MONTH.fullmatch(rest.strip()), _NET.fullmatch(rest.strip())
    if (discount and taken is None) or (month is None and net is None):
        raise ValueError(
            f"{text!r} are no terms such as '30 days net', 'end of month + 15 days' or "
            "'10 days 2 %, 30 days net'"
        )
    days = int((month[1] or 0) if month else net[1] if net else 0)
    return Terms(
        days=days,
        end_of_month=month is not None,
        discount_days=int(taken[1]) if taken else None,
        discount_percent=Decimal(taken[2]) if taken else None,
    )


def account_key(account: str) -> str:
    """A bank account without blanks and punctuation, upper case: for comparison."""
    return re.sub(r"[^A-Z0-9]", "", account.upper())


@dataclass(frozen=True, kw_only=True, slots=True)
class VendorAccount:
    """A bank account of a vendor in the master data.

    Attributes:
        number: `account_key` of it.
        since: the day on which it came into the master data; None when it is not known.
    """

    number: str
    since: date | None = None


@dataclass(frozen=True, kw_only=True, slots=True)
class VendorRecord:
    """A vendor of the master data, as far as the checks need it.

    Attributes:
        code: in its ledger.
        name, names: as it is called, and what else it is called on bills.
        tax_id, tax_ids: its tax id, and others of it (abroad, of a branch).
        country: ISO 3166 code, empty when not known.
        accounts: where it is paid.
        senders: mail addresses that its bills come from.
        domains: mail domains that are its own.
        addresses: street and town, as printed.
        contact: mail address that letters go to.
        needs_order: delivers on orders only.
        blocked: bills of it are not booked at present.
        gone: the ledger does not list it any more.
        merged_into: code of the vendor that it was merged into; empty for none.
        terms: agreed; None when none are known.
        treatment: how its sales to us are usually taxed; None when not known.
        rates: of tax that it usually charges, in percent; empty for not known.
        group: that it belongs to (`laboratory`), for rules.
        language: ISO 639-1 code of letters to it.
        gl_account, cost_centre: under which its lines are usually booked; empty for not said.
        supply: `goods` or `services`; empty for not said.
        payees: names of others who may be paid for it (a factor).
    """

    code: str
    name: str
    tax_id: str = ""
    needs_order: bool = True
    blocked: bool = False
    contact: str = ""
    names: tuple[str, ...] = ()
    tax_ids: tuple[str, ...] = ()
    country: str = ""
    accounts: tuple[VendorAccount, ...] = ()
    senders: tuple[str, ...] = ()
    domains: tuple[str, ...] = ()
    addresses: tuple[str, ...] = ()
    gone: bool = False
    merged_into: str = ""
    terms: Terms | None = None
    treatment: Treatment | None = None
    rates: tuple[Decimal, ...] = ()
    group: str = ""
    language: str = ""
    payees: tuple[str, ...] = ()
    gl_account: str = ""
    cost_centre: str = ""
    supply: str = ""

    @property
    def called(self) -> tuple[str, ...]:
        """All names, the first one first."""
        return (self.name, *self.names)

    @property
    def registered(self) -> tuple[str, ...]:
        """All tax ids."""
        return tuple(each for each in (self.tax_id, *self.tax_ids) if each)

    def account(self, number: str) -> VendorAccount | None:
        """The account of a number in its record."""
        key = account_key(number)
        return next((each for each in self.accounts if each.number == key), None)


@dataclass(frozen=True, kw_only=True, slots=True)
class SenderFact:
    """Who sent the mail that brought a document, and whether that is proven.

    Attributes:
        address: that the mail, or the mail inside a forwarded one, says it is from.
        forwarded: whether it is the inner mail's: that is never proven.
        passed: the receiving server found the sender's domain proven (an aligned pass).
        failed: it found that the mail does not come from where it says.
        said: what it said, for people; empty when it said nothing.
    """

    address: str
    forwarded: bool = False
    passed: bool = False
    failed: bool = False
    said: str = ""

    @property
    def domain(self) -> str:
        """Of the address, lower case; empty without one."""
        return self.address.rpartition("@")[2].lower()

    @property
    def proves(self) -> bool:
        """Whether it may speak for a vendor."""
        return self.passed and not self.forwarded and not self.failed


PUBLIC_DOMAINS = frozenset(
    (files("veridox.core.matching") / "public_domains.txt").read_text("utf-8").split()
)
"""Mail domains that anybody may have an address of: they prove nothing."""
