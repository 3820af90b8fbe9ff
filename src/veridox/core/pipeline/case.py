"""A case: all that is known of one document at one moment, as plain values."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from veridox.core.coding import ByHand, CodedLine
from veridox.core.facts import Facts
from veridox.core.findings import Finding
from veridox.core.language.functions import Calls
from veridox.core.language.syntax import Literal, Percent
from veridox.core.pipeline.statements import Said, Statement
from veridox.core.pipeline.states import State


@dataclass(frozen=True, kw_only=True, slots=True)
class PostingFact:
    """Where the posting of a document stands.

    Attributes:
        id: that it has for its whole life.
        state: `prepared`, `sending`, `unsure`, `posted`, `refused`.
        number: the ledger's, once booked.
        complete: booked, attached and read back.
        differences: between what was sent and what stands there, each as a sentence.
        problem: why it has not come further.
    """

    id: str
    state: str
    number: str = ""
    complete: bool = False
    differences: tuple[str, ...] = ()
    problem: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class LetterFact:
    """The newest letter to the vendor: `prepared`, `sent` or `failed` with the problem."""

    to: str
    state: str
    problem: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class Checked:
    """What the checks said.

    Attributes:
        findings: theirs, and what others told and nobody answered.
        open: those of them that stop the document: blocking, and accepted by nobody.
        risk: the chance that any value about to be posted is wrong, codes of lines among them.
        coding: of each line; empty where lines are not coded.
    """

    findings: tuple[Finding, ...]
    open: tuple[Finding, ...]
    risk: Percent
    coding: tuple[CodedLine, ...] = ()


@dataclass(frozen=True, kw_only=True, slots=True)
class PluginFacts:
    """What plug-ins said of this version of the reading.

    Attributes:
        findings: of their checks, and of what failed.
        calls: what their functions gave.
        asked: which plug-ins of which versions were asked, for the trace.
    """

    findings: tuple[Finding, ...] = ()
    calls: Calls | None = None
    asked: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class Case:
    """What stages look at. No record, no clock, nothing that could answer otherwise tomorrow.

    Attributes:
        facts: what checks know, the reading among it.
        state, queue: where the document stood before.
        reading: number of the version of the reading.
        statements: what people and others said and what still holds, oldest first.
        mail: names of mail and file for expressions.
        files: names of each file of the mail.
        around: values of names that the service alone knows, as its mailbox.
        posting: the newest posting that was not cancelled.
        letter: the newest letter to the vendor.
        checked: what the checks said; None before the stage `check`.
        plugins: what plug-ins said; None where there are none.
        plugins_missing: whether they are still to be asked.
        by_hand: codes of lines that people said.
        entered_by: people who entered a value of the bill, as the trail names them.
    """

    facts: Facts
    state: State = State.READ
    queue: str = ""
    reading: int = 1
    statements: tuple[Statement, ...] = ()
    mail: Mapping[str, Literal] = field(default_factory=dict)
    files: tuple[Mapping[str, Literal], ...] = ()
    around: Mapping[str, Literal] = field(default_factory=dict)
    posting: PostingFact | None = None
    letter: LetterFact | None = None
    checked: Checked | None = None
    plugins: PluginFacts | None = None
    plugins_missing: bool = False
    entered_by: frozenset[str] = frozenset()
    by_hand: tuple[ByHand, ...] = ()

    def last(self, what: Said) -> Statement | None:
        """The newest statement of a sort that holds."""
        return next((each for each in reversed(self.statements) if each.what is what), None)
