"""What is to be done outside, as values; the service has one applier for each."""

from collections.abc import Sequence
from dataclasses import dataclass

from veridox.core.coding import CodedLine
from veridox.core.findings import Finding


@dataclass(frozen=True, kw_only=True, slots=True)
class Remember:
    """Keep that it was stopped for these, so that only a person lets it go on."""

    findings: tuple[Finding, ...]


@dataclass(frozen=True, kw_only=True, slots=True)
class PreparePosting:
    """Reserve the number, store the bill as it is to be sent, and have it sent."""

    ledger: str
    kind: str = "bill"
    coding: tuple[CodedLine, ...] = ()


@dataclass(frozen=True, kw_only=True, slots=True)
class GiveFree:
    """Nothing of it will be posted: others may have its number."""


@dataclass(frozen=True, kw_only=True, slots=True)
class AskPlugins:
    """Ask plug-ins outside of any transaction, then let it go on."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Notify:
    """Tell whom the pipeline names of an event."""

    event: str


@dataclass(frozen=True, kw_only=True, slots=True)
class SettleMail:
    """Have its mail moved where its files' states say."""


@dataclass(frozen=True, kw_only=True, slots=True)
class SendBack:
    """Send a letter to the vendor (`back`): which template, for which findings."""

    letter: str
    findings: tuple[Finding, ...]


@dataclass(frozen=True, kw_only=True, slots=True)
class Ask:
    """Put a question to people (`ask`): who, which answers, within how many days."""

    who: str
    answers: Sequence[str]
    within: int


@dataclass(frozen=True, kw_only=True, slots=True)
class RequestApproval:
    """Have somebody take responsibility (`approve`)."""

    by: str


@dataclass(frozen=True, kw_only=True, slots=True)
class WaitFor:
    """Wait for a receipt, an order, a vendor or a day."""

    what: str
    until: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class KeepRows:
    """Deliver rows of chosen fields instead of posting (`keep`)."""

    to: str
    fields: Sequence[str]


Effect = (
    Remember | PreparePosting | GiveFree | AskPlugins | Notify | SettleMail
    | SendBack | Ask | RequestApproval | WaitFor | KeepRows
)  # fmt: skip
