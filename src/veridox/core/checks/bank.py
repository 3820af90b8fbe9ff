"""Who is to be paid, where, and who asks for it?"""

from collections.abc import Iterator

from veridox.core.checks.evidence import at_field
from veridox.core.checks.table import check
from veridox.core.extract.checksums import iban_holds
from veridox.core.facts import Facts
from veridox.core.findings import VENDORS, Code, Finding, Weight
from veridox.core.findings.wording import counted
from veridox.core.matching import VendorAccount, account_key, called_like
from veridox.core.matching.vendors import ALIKE, NAME_THRESHOLD, names_alike

SHOWN_ACCOUNTS = 3


@check(
    place=220,
    needs=("vendor", "accounts_kept"),
    codes={
        "bank.invalid": Code(
            title="The account does not pass its checksum",
            why="A digit was misread or mistyped; money sent there comes back, or does not.",
            do="Compare it with the page, digit by digit.",
            accepted=False,
        ),
        "bank.changed": Code(
            title="The bill asks to be paid to another account",
            why="The commonest fraud: a bill like all others with an account of somebody else. "
            "Call the vendor under a number from the master data, never from the bill.",
            do="Call the vendor under a number from the master data and ask; then "
            "one of you says how it was proven, and another one accepts it.",
            second=True,
            alone=False,
            helped_by=VENDORS,
        ),
        "bank.first_seen": Code(
            title="The vendor's record has no account yet",
            why="Nobody has made sure that the printed account is the vendor's.",
            do="Have the account confirmed and entered in the finance system.",
            lowered=True,
            helped_by=VENDORS,
            second=True,
        ),
        "bank.recent": Code(
            title="The account came into the master data a short while ago",
            why="A changed account and a bill soon after belong together in many frauds.",
            do="Make sure that the change was confirmed by a call to the vendor.",
            helped_by=VENDORS,
            second=True,
        ),
    },
)
def account_known(facts: Facts) -> Iterator[Finding]:
    """`bank.invalid`, `bank.changed`, `bank.first_seen`, `bank.recent`."""
    stated, vendor = facts.reading.text("account"), facts.vendor
    if not stated:
        return
    key = account_key(stated)
    if key[:2].isalpha() and key[2:4].isdigit() and not iban_holds(key):
        yield at_field(
            facts.reading,
            "account",
            code="bank.invalid",
            message=f"The account {stated} does not pass the checksum of its kind.",
            found=stated,
            letter=f"The account {stated} that it names is not valid.",
        )
        return
    if vendor is None:
        return
    known = vendor.account(key)
    if known is not None:
        yield from _recent(facts, known, stated)
    elif vendor.accounts:
        every = ", ".join(each.number for each in vendor.accounts[:SHOWN_ACCOUNTS])
        yield at_field(
            facts.reading,
            "account",
            code="bank.changed",
            message=f"The bill asks to be paid to {stated}; {vendor.name} ({vendor.code}) is paid "
            f"to {every}.",
            expected=every,
            found=stated,
        )
    elif facts.accounts_kept:
        yield at_field(
            facts.reading,
            "account",
            code="bank.first_seen",
            message=f"The bill asks to be paid to {stated}; the record of {vendor.name} "
            f"({vendor.code}) has no account.",
            found=stated,
        )


def _recent(facts: Facts, account: VendorAccount, stated: str) -> Iterator[Finding]:
    if account.since is None or facts.arrived is None or facts.vendor is None:
        return
    days = (facts.arrived - account.since).days
    if not 0 <= days < facts.settings.recent_days:
        return
    yield at_field(
        facts.reading,
        "account",
        code="bank.recent",
        message=f"The account {stated} of {facts.vendor.name} came into the master data on "
        f"{account.since}, {_before(days)} this bill; changes of the last "
        f"{facts.settings.recent_days} days are looked at.",
        found=account.since.isoformat(),
        difference=f"{days} days",
    )


def _before(days: int) -> str:
    return f"{counted(days, 'day')} before" if days else "the day of"


@check(
    place=222,
    needs=("vendor",),
    codes={
        "payee.other": Code(
            title="Somebody else than the seller is to be paid",
            why="A bill may be sold to a factor; then the vendor's record names it. Else it is a "
            "way to have money sent elsewhere.",
            do="Ask the vendor under a number from the master data; then one of you "
            "says how it was proven, and another one accepts it.",
            second=True,
            alone=False,
            helped_by=VENDORS,
        ),
        "bank.direct_debit": Code(
            title="The vendor fetches the amount itself",
            why="What is paid by direct debit must not be paid again.",
            do="Have the ledger keep it out of the payment run.",
            lowered=True,
        ),
    },
)
def payee_known(facts: Facts) -> Iterator[Finding]:
    """`payee.other`, `bank.direct_debit`."""
    payee, vendor = facts.reading.text("payee.name"), facts.vendor
    seller = facts.reading.text("seller.name") or ""
    own = payee and (
        names_alike(payee, seller) >= ALIKE
        or (vendor is not None and called_like(payee, vendor) >= ALIKE)
        or (vendor is not None and any(
            names_alike(payee, each) >= NAME_THRESHOLD for each in vendor.payees))
    )  # fmt: skip
    if payee and not own:
        known = ", ".join(vendor.payees) if vendor is not None else ""
        usual = f"known for it is {known}" if known else "its record names nobody else"
        yield at_field(
            facts.reading,
            "payee.name",
            code="payee.other",
            message=f"{payee} is to be paid instead of {seller or 'the seller'}; {usual}.",
            expected=known or seller,
            found=payee,
        )
    if facts.reading.text("payment_means") == "direct debit":
        yield at_field(
            facts.reading,
            "payment_means",
            code="bank.direct_debit",
            weight=Weight.NOTE,
            message="The vendor fetches the amount by direct debit: it is not paid by us.",
            found="direct debit",
        )


@check(
    place=224,
    needs=("mail", "lookalikes", "vendor"),
    codes={
        "sender.lookalike": Code(
            title="The sender's domain looks like a vendor's, and is not",
            why="Such domains are registered to be taken for the real one.",
            do="Do not answer it. Ask the vendor under a number from the master data.",
            alone=False,
            helped_by=VENDORS,
            second=True,
        ),
        "sender.unproven": Code(
            title="The mail does not come from where it says",
            why="The receiving mail server found that the sender's domain did not send it.",
            do="Do not answer it. Ask the vendor under a number from the master data.",
            lowered=True,
            alone=False,
            second=True,
        ),
    },
)
def sender_proven(facts: Facts) -> Iterator[Finding]:
    """`sender.lookalike`, `sender.unproven`."""
    sender = facts.mail.sender
    if sender is None or not sender.domain:
        return
    if facts.lookalikes:
        first = facts.lookalikes[0]
        yield Finding(
            code="sender.lookalike",
            weight=Weight.BLOCK,
            message=f"The mail is from {sender.address}; {first.name} ({first.vendor}) writes "
            f"from {first.domain}.",
            expected=first.domain,
            found=sender.domain,
        )
    if sender.failed and not sender.forwarded:
        yield Finding(
            code="sender.unproven",
            weight=Weight.BLOCK,
            message=f"The mail says that it is from {sender.address}, and our mail server found "
            f"otherwise ({sender.said}).",
            found=sender.said,
        )
