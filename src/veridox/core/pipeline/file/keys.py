"""The keys of a pipeline file: one table, from which its check, its JSON Schema and help come."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from veridox.core.checks import CODES
from veridox.core.coding import Dimension
from veridox.core.facts import PARTICULARS
from veridox.core.filetypes import NAMED
from veridox.core.findings import PLUGINS, RULES
from veridox.core.pipeline.definition import BODIES, WAITS
from veridox.core.pipeline.file.field_sets import FIELD_SETS
from veridox.core.pipeline.stages.road import NOT_YET
from veridox.core.pipeline.states import EVENTS, TEMPLATES
from veridox.core.reading import POSTED_KINDS, FieldType, Kind


@dataclass(frozen=True, kw_only=True, slots=True)
class Plain:
    """A value that is no mapping.

    Attributes:
        kind: `text`, `name` (small letters, digits, dashes), `truth`, `number` (with or without
            a unit), `condition`, `expression`, `template`.
        many: whether several may stand there, as a list.
        values: all that it may be, where that is a closed list.
        later: what it will be able to be.
        what: what each of the values is, as people say it; empty for the key's path.
    """

    kind: str = "text"
    many: bool = False
    values: tuple[str, ...] = ()
    later: tuple[str, ...] = ()
    what: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class Below:
    """A mapping with the keys of a part.

    Attributes:
        part: its name in `PARTS`.
        how: `one` mapping, a `list` of such, or `named` ones: a mapping of names to such.
        plain: what may stand there instead of the mapping; None for nothing.
    """

    part: str
    how: str = "one"
    plain: Plain | None = None


@dataclass(frozen=True, kw_only=True, slots=True)
class Key:
    """One key: what it is for, what stands there, whether it must be there.

    Attributes:
        ready: whether what it asks for can be done already; if not, whoever writes it is told.
    """

    help: str
    shape: Plain | Below = Plain()
    required: bool = False
    ready: bool = True


Keys = Mapping[str, Key]


def _not_yet(about: str) -> Key:
    return Key(help=about, ready=False)


_TEXTS: Final = Plain(many=True)
_NUMBER: Final = Plain(kind="number")
_WEIGHT: Final = Plain(values=("block", "warn", "note"))
_PARTICULARS: Final = Plain(values=PARTICULARS)
_CONDITION: Final = Plain(kind="condition")
_NEED: Final = Plain(many=True)
_DIMENSIONS: Final = tuple(each.value for each in Dimension)
_CODES_SAID: Final = {
    name: Key(help=f"its {name.replace('_', ' ')}, or =NAME of where that comes from")
    for name in _DIMENSIONS
}
_POSTED: Final = tuple(kind.value for kind in Kind if kind in POSTED_KINDS)

_STAGES: Final = {
    "back": "returned to the vendor without a person, where all that stops it is named here",
    "ask": "someone must answer before it is posted",
    "approve": "someone must take responsibility before it is posted",
    "keep": "delivered to a sheet, a list or a webhook instead of a ledger",
}

PARTS: Final[dict[str, Keys]] = {
    "": {
        "pipeline": Key(help="its name", shape=Plain(kind="name"), required=True),
        "title": Key(help="what people read in lists"),
        "shared": Key(help="names of shared parts: NAME.shared.yaml beside this file; what stands "
                      "here prevails, lists are joined", shape=Plain(kind="name", many=True)),
        "run": Key(help="when it looks for documents, and what is said when a run begins; all "
                   "the time when left out", shape=Below(part="run")),
        "entities": Key(help="codes of our companies that it works for; all when left out",
                        shape=_TEXTS),
        "collect": Key(help="where documents come from", required=True,
                       shape=Below(part="collect", how="list")),
        "read": Key(help="what is read from them", shape=Below(part="read")),
        "check": Key(help="what is checked, and how much it weighs", shape=Below(part="check")),
        **{name: _not_yet(about) for name, about in _STAGES.items() if name in NOT_YET},
        "wait": Key(help="what comes by itself is waited for, and nobody has to look meanwhile",
                    shape=Below(part="wait")),
        "desk": Key(help="a person looks when any of these holds",
                    shape=Below(part="desk", how="list")),
        "post": Key(help="where a bill is posted that all gates let through", required=True,
                    shape=Below(part="post")),
        "tell": Key(help="whom to tell of what", shape=Below(part="tell", how="list")),
        "through": Key(help="connections that mails and chat messages go through, where there "
                       "are several", shape=Below(part="through")),
    },
    "run": {
        "every": Key(help="how long after the last run began the next one does, as in 15 minutes, "
                     "2 hours, 1 day", shape=_NUMBER),
        "at": Key(help="days and hours at which one begins instead, as in weekdays 07:30, monday "
                  "06:00, day 15 08:00, last day 18:00", shape=_TEXTS),
        "zone": Key(help="time zone of days and hours, as in Europe/London; the service's when "
                    "left out"),
        "ends": Key(help="when a run ends that collects all the time: with the day, or when "
                    "nothing new has come for a while", shape=Plain(values=("day", "inbox empty"))),
        "at_once": Key(help="files of it that are read at once, 1 to 100; no limit of its own "
                       "when left out", shape=_NUMBER),
        "parameters": Key(help="what is said when a run begins, known as run.NAME",
                          shape=Below(part="run.parameter", how="named")),
    },
    "run.parameter": {
        "type": Key(help="of its value", required=True,
                    shape=Plain(values=("text", "number", "money", "date", "choice"))),
        "of": Key(help="what it may be, of a choice", shape=_TEXTS),
        "default": Key(help="what it is when nothing is said"),
        "help": Key(help="what it is for"),
    },
    "collect": {
        "mailbox": Key(help="name of a mailbox connection", shape=Plain(kind="name")),
        "folder": Key(help="of the mailbox, nested ones with /; INBOX when left out"),
        "watch": Key(help="a directory below the service's folder for drops"),
        "only": Key(help="which mails are taken; all that is given must hold",
                    shape=Below(part="only")),
        "files": Key(help="types of files that are read; all that can be when left out",
                     shape=Plain(many=True, values=tuple(NAMED),
                                what="a type of file that is known")),
        "body": Key(help="when the mail's own text is a document", shape=Plain(values=BODIES)),
        "afterwards": Key(help="folders where mails go", shape=Below(part="afterwards")),
    },
    "only": {
        "unread": Key(help="only mails without the read mark; true when left out",
                      shape=Plain(kind="truth")),
        "with_files": Key(help="only mails with files; true when left out",
                          shape=Plain(kind="truth")),
        "senders": Key(help="parts of names or addresses; with * or ? a pattern of the whole "
                       "address", shape=_TEXTS),
        "recipients": Key(help="the same of those whom it went to", shape=_TEXTS),
        "subject": Key(help="words of which one stands in the subject", shape=_TEXTS),
        "text": Key(help="words of which one stands in the text", shape=_TEXTS),
        "keyword": Key(help="a keyword that is set on the server"),
        "since": Key(help="a day, or how long ago at most, as in 90 days", shape=_NUMBER),
        "before": Key(help="received before this day"),
        "file_names": Key(help="patterns of which one file's name meets one", shape=_TEXTS),
        "at_most": Key(help="mails taken in one round", shape=_NUMBER),
    },
    "afterwards": {
        "done": Key(help="of mails all of whose documents have ended"),
        "people": Key(help="of mails with a document that waits for people"),
        "failed": Key(help="of mails with a document that stopped for a technical reason"),
        "keyword": Key(help="set on each mail as soon as it is stored"),
    },
    "read": {
        "kinds": Key(help="kinds of document that are posted",
                     shape=Plain(many=True, values=_POSTED,
                                 what="a kind that is ever posted")),
        "other_kinds": Key(help="aside (kept with its mail) or desk",
                           shape=Plain(values=("aside", "desk"))),
        "need": Key(help="fields that must be stated, beside those that every bill needs; "
                    "{only: [...]} replaces these", shape=Below(part="need", plain=_NEED)),
        "fields": Key(help="fields of your own; or fields of the standard that the mail tells",
                      shape=Below(part="field", how="named")),
        "field_sets": Key(help="sets of fields that ship",
                          shape=Plain(many=True, values=tuple(FIELD_SETS),
                                      what="a field set that ships")),
        "languages": _not_yet("languages of its documents"),
    },
    "need": {
        "only": Key(help="all that must be stated; number, seller, currency and total always are",
                    shape=_NEED, required=True),
    },
    "field": {
        "type": Key(help="of its value", shape=Plain(
            values=tuple(each.value for each in FieldType if each is not FieldType.CURRENCY))),
        "title": Key(help="what people read"),
        "labels": Key(help="words that stand before or above it on a page", shape=_TEXTS),
        "example": Key(help="a value as it is printed, of a text"),
        "of": Key(help="what it may be, of a choice", shape=_TEXTS),
        "from": Key(help="where it comes from when no page states it, as in =subject",
                    shape=Plain(kind="expression")),
        "default": Key(help="what it is when nothing states it"),
        "unit": Key(help="of a number, as in kWh"),
        "kinds": Key(help="kinds of document that have it; all when left out",
                     shape=Plain(many=True, what="a kind of document",
                                 values=tuple(kind.value for kind in Kind))),
    },
    "check": {
        "totals": Key(help="how sums must fit", shape=Below(part="check.totals")),
        "vendor": Key(help="who sells", shape=Below(part="check.vendor")),
        "order": Key(help="what was ordered", shape=Below(part="check.order")),
        "dates": Key(help="how old a bill may be", shape=Below(part="check.dates")),
        "weights": Key(help="other weights for findings, by their codes",
                       shape=Below(part="check.weights")),
        "rules": Key(help="checks of your own", shape=Below(part="check.rule", how="list")),
        "tax": Key(help="tax against the law and the vendor's usual bills",
                   shape=Below(part="check.tax")),
        "duplicates": Key(help="bills that are much alike; what came before always stops",
                          shape=Below(part="check.duplicates")),
        "bank": Key(help="accounts that are paid", shape=Below(part="check.bank")),
        "card": Key(help="by how much charges may be above the vendor's rate card; the narrower "
                    "limit counts", shape=Below(part="check.card")),
        "terms": Key(help="due dates and discounts against what was agreed",
                     shape=Below(part="check.terms")),
        "particulars": Key(help="whether the particulars that the law asks for must be stated "
                           "(EU VAT Directive art. 226): none when left out",
                           shape=Below(part="check.particulars", plain=_PARTICULARS)),
        "masterdata": Key(help="how old master data may be",
                          shape=Below(part="check.masterdata")),
        "order_dates": _not_yet("whether the order was raised before the bill"),
    },
    "check.totals": {
        "within": Key(help="by how much sums may be off, as in 1 minor unit", shape=_NUMBER),
        "lines": Key(help="by how much a line's amount may be off at least; 1 minor unit when "
                     "left out", shape=_NUMBER),
        "tax": Key(help="the same of a tax amount", shape=_NUMBER),
    },
    "check.tax": {
        "unexpected": Key(help="weight of tax that is not usual for the vendor", shape=_WEIGHT),
        "rate": Key(help="weight of a rate that does not hold on that day", shape=_WEIGHT),
        "reason": Key(help="weight of no tax and no reason", shape=_WEIGHT),
    },
    "check.duplicates": {
        "many": Key(help="weight of five bills of one total within ten days", shape=_WEIGHT),
    },
    "check.bank": {
        "recent": Key(help="for how long an account is a new one, as in 30 days", shape=_NUMBER),
        "first_seen": Key(help="weight of an account where the vendor's record has none",
                          shape=_WEIGHT),
    },
    "check.terms": {
        "shorter": Key(help="weight of a due date before the agreed one", shape=_WEIGHT),
        "discount": Key(help="how long before its end a discount is at risk, as in 7 days",
                        shape=_NUMBER),
    },
    "check.particulars": {
        "asked": Key(help="full (art. 226) or simplified (art. 226b up to an amount)",
                     shape=_PARTICULARS, required=True),
        "up_to": Key(help="total up to which a simplified bill is enough, in its currency; 100 "
                     "when left out", shape=_NUMBER),
    },
    "check.masterdata": {
        "stale": Key(help="after how long without an import or sync they are told, as in 30 days",
                     shape=_NUMBER),
    },
    "check.vendor": {
        "unknown": Key(help="weight of a vendor that is not known", shape=_WEIGHT),
    },
    "check.order": {
        "missing": Key(help="weight of an order that is missing", shape=_WEIGHT),
        "total": Key(help="by how much bills may exceed an order; the narrower limit counts",
                     shape=Below(part="check.order.total")),
        "freight": Key(help="charges beside the order", shape=Below(part="check.order.freight")),
        "match": Key(help="two-way: against the order; three-way: against its goods receipts, too; "
                     "left out: against goods receipts where any are booked. What the order says "
                     "of a line prevails", shape=Plain(values=("two-way", "three-way"))),
        "price": Key(help="by how much a unit price may be above the ordered one; the narrower "
                     "limit counts", shape=Below(part="check.order.price")),
        "quantity": Key(help="by how much more of a line may be billed than was ordered",
                        shape=Below(part="check.order.quantity")),
    },
    "check.card": {
        "percent": Key(help="of the agreed amount", shape=_NUMBER),
        "amount": Key(help="in the card's currency", shape=_NUMBER),
    },
    "check.order.total": {
        "percent": Key(help="of the order's net total", shape=_NUMBER),
        "amount": Key(help="in the order's currency", shape=_NUMBER),
    },
    "check.order.price": {
        "percent": Key(help="of the ordered price", shape=_NUMBER),
        "amount": Key(help="in the order's currency", shape=_NUMBER),
    },
    "check.order.quantity": {
        "percent": Key(help="of the ordered quantity", shape=_NUMBER),
    },
    "check.order.freight": {
        "amount": Key(help="most of it, in the order's currency", shape=_NUMBER),
    },
    "check.dates": {
        "oldest": Key(help="days from which a bill is an old one, as in 730 days", shape=_NUMBER),
    },
    "check.weights": {
        code: Key(help=about.title, shape=_WEIGHT)
        for code, about in CODES.items() if code not in {**RULES, **PLUGINS}
    },
    "check.rule": {
        "name": Key(help="what people call it", required=True),
        "when": Key(help="the condition under which it is told", shape=_CONDITION, required=True),
        "weight": Key(help="warn when left out", shape=_WEIGHT),
        "say": Key(help="the sentence for clerks; its names are filled in",
                   shape=Plain(kind="template"), required=True),
        "hint": Key(help="what they can do"),
    },
    "wait": {
        "for": Key(help="codes of findings; left out, all that can be waited for; [] for none",
                   shape=Plain(many=True, values=tuple(sorted(WAITS)),
                               what="a finding that can be waited for")),
        "tell_after": Key(help="days after which the event 'still waiting' tells people, as in "
                          "5 days", shape=_NUMBER),
        "at_most": Key(help="days after which it goes to the desk, as in 30 days", shape=_NUMBER),
    },
    "desk": {
        "when": Key(help="the condition", shape=_CONDITION, required=True),
        "queue": Key(help="in which it then waits; exceptions when left out",
                     shape=Plain(kind="name")),
        "because": Key(help="why, for clerks; the condition in words when left out"),
    },
    "post": {
        "ledger": Key(help="name of a ledger connection", shape=Plain(kind="name"), required=True),
        "as": Key(help="what it is posted as",
                  shape=Plain(values=("bill",), later=("expense", "release", "update"))),
        "coding": Key(help="accounts, cost centres and tax codes of its lines; they are not coded "
                      "when left out", shape=Below(part="post.coding")),
    },
    "post.coding": {
        "need": Key(help="what each line must have", shape=Plain(
            many=True, values=_DIMENSIONS, what="something that lines are coded with")),
        "rules": Key(help="codes of your own; the first that says one prevails, then the order, "
                     "the vendor's default, lines like it that were posted",
                     shape=Below(part="post.coding.rule", how="list")),
    },
    "post.coding.rule": {
        "when": Key(help="the condition, with line.description and the line's other cells; all "
                    "lines when left out", shape=_CONDITION),
        **_CODES_SAID,
        "split": Key(help="parts of such a line, with codes of their own",
                     shape=Below(part="post.coding.share", how="list")),
    },
    "post.coding.share": {
        "percent": Key(help="of the line", shape=_NUMBER),
        "amount": Key(help="in its currency; what is left when neither stands here",
                      shape=_NUMBER),
        **_CODES_SAID,
    },
    "tell": {
        "on": Key(help="the event", shape=Plain(values=tuple(EVENTS)), required=True),
        "when": Key(help="a condition that must hold, too", shape=_CONDITION),
        "mail": Key(help="a mail", shape=Below(part="tell.mail")),
        "chat": Key(help="a message in the chat", shape=Below(part="tell.chat")),
    },
    "tell.mail": {
        "to": Key(help="an address, or =NAME of one that people or master data decide",
                  required=True),
        "template": Key(help="a text that ships", shape=Plain(values=TEMPLATES)),
        "subject": Key(help="of a text of your own", shape=Plain(kind="template")),
        "text": Key(help="your own; names are filled in", shape=Plain(kind="template")),
        "attach": _not_yet("what goes with it"),
    },
    "tell.chat": {
        "channel": Key(help="of the chat", shape=Plain(kind="name"), required=True),
        "text": Key(help="of the message; names are filled in", shape=Plain(kind="template"),
                    required=True),
    },
    "through": {
        "mail": Key(help="name of an outbox connection", shape=Plain(kind="name")),
        "chat": Key(help="name of a chat connection", shape=Plain(kind="name")),
    },
}  # fmt: skip
"""Every part of a pipeline file by name, with its keys; the empty name is the file itself."""
