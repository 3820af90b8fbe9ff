"""Codes of what others say of a document: readers of its file, ledgers. Codes of checks stand with
their checks."""

from typing import Final

from veridox.core.findings.code import CODES_OF_LEDGER, Code

READERS: Final[dict[str, Code]] = {
    "file.empty": Code(
        title="The file has no content",
        why="A file of zero bytes was attached; ask the sender for it again.",
        do="Ask the sender for the file again, then discard this one.",
    ),
    "file.broken": Code(
        title="The file cannot be opened",
        why="It is cut off or damaged; the original is kept unchanged.",
        do="Ask the sender for the file again, or type in what can be seen elsewhere.",
    ),
    "file.password": Code(
        title="The file is protected by a password",
        why="Without the password nothing in it can be read.",
        do="Ask the sender for a file without a password.",
    ),
    "file.too_large": Code(
        title="The file is beyond the limits",
        why="Limits on size and pages keep one file from holding up all others.",
        do="Ask the sender for the bill alone, or split the file and upload its parts.",
    ),
    "file.limit": Code(
        title="Reading the file was stopped",
        why="It used more time or memory than any honest document needs, or crashed the reader.",
        do="Open the file yourself; upload a printed copy if it is an honest bill.",
    ),
    "page.no_text": Code(
        title="The pages show no text",
        why="They are blank, or show a picture in which no words can be read.",
        do="Look at the page; type in its values, or discard it if nothing is on it.",
    ),
    "page.text_differs": Code(
        title="A page's own text is not what it shows",
        why="Old or faked text lay under the page, or its font names no letters; what the page "
        "shows was read instead.",
        do="Compare the values with what the page shows; what it shows was read.",
        lowered=True,
    ),
    "einvoice.differs": Code(
        title="The structured invoice and its page differ",
        why="One file holds an invoice for machines and one for people; both must say the same.",
        do="Ask the vendor which is the bill; correct the value, or return it.",
        rule="EN 16931: the structured form is the invoice",
    ),
    "einvoice.invalid": Code(
        title="A structured invoice holds values that are none",
        why="It does not keep to its standard; nothing is guessed.",
        do="Return it: the vendor's software made a file against the rules.",
        rule="EN 16931-3",
    ),
    "einvoice.national": Code(
        title="A national form of e-invoice that is not read",
        why="It is kept and shown; its values have to be entered by a person.",
        do="Type in the values from the page.",
    ),
    "payment.code_differs": Code(
        title="The payment code asks for something else",
        why="Print and QR code of one bill must name the same account and amount.",
        do="Do not pay either; call the vendor at a number you know.",
        rule="EPC069-12; Swiss QR-bill",
        second=True,
    ),
}
"""Said by whoever opened and read the file."""

LEDGERS: Final[dict[str, Code]] = {
    "duplicate.in_ledger": Code(
        title="The ledger already holds a bill of this vendor and number",
        why="It was entered there by another way; posting again would pay twice.",
        do="Look at the ledger's bill; discard this one if it is the same.",
        accepted=False,
        alone=False,
    ),
    "ledger.refused": Code(
        title="The ledger refuses the bill",
        why="The ledger's own checks say no; its reason is quoted.",
        do="Put right what the ledger names, then post it again.",
        alone=False,
    ),
    "posting.unsure": Code(
        title="Whether the bill was booked is not known",
        why="The ledger did not answer and cannot rule out a late booking: look before retrying.",
        do="Look in the ledger whether the bill is there, and say so.",
        alone=False,
    ),
    "posting.differs": Code(
        title="The booked bill differs from what was sent",
        why="Read back from the ledger, total, lines or attachments are not the same.",
        do="Compare both; cancel and post again in the ledger if it is wrong.",
        lowered=True,
    ),
}
"""Said by the ledger. No check can find them anew: they stand until a person decides."""

RULES: Final[dict[str, Code]] = {
    "rule.told": Code(
        title="A rule of the pipeline says so",
        why="The developer of the pipeline wrote it; its sentence is theirs.",
        do="Do what the sentence asks for.",
        lowered=True,
    ),
    "rule.not_evaluated": Code(
        title="A rule of the pipeline could not be evaluated",
        why="A value that it needs is missing; whether it holds is not known, so a person looks.",
        do="Fill in the value that it names.",
    ),
}
"""Said by the rules that a pipeline brings; their weights stand with them."""

PLUGINS: Final[dict[str, Code]] = {
    "plugin.told": Code(
        title="A plug-in says so",
        why="The developer of the plug-in wrote it; its sentence is theirs.",
        do="Do what the sentence asks for.",
        lowered=True,
    ),
    "plugin.failed": Code(
        title="A plug-in failed",
        why="It raised, took too long, needed too much, or answered what is no answer; what it "
        "would have said is not known, so a person looks.",
        do="Tell whoever looks after the plug-in, then process the document again.",
    ),
}
"""Said by plug-ins, or of them; what they say weighs what they give it."""

CODING: Final[dict[str, Code]] = {
    "coding.missing": Code(
        title="A line is not coded whole",
        why="Nobody said under what it is booked: no rule, order, vendor or line like it.",
        do="Enter the code; a rule or the vendor's default spares it the next time.",
        helped_by=CODES_OF_LEDGER,
    ),
    "coding.unknown": Code(
        title="A code that the ledger does not have",
        why="It was mistyped, taken out, or the lists here are old: the ledger would refuse it.",
        do="Take another code; bring in the ledger's lists if they are old.",
        helped_by=CODES_OF_LEDGER,
        accepted=False,
    ),
    "coding.closed": Code(
        title="A code that is closed",
        why="Nothing more is booked under it.",
        do="Take the code that replaced it.",
        helped_by=CODES_OF_LEDGER,
        accepted=False,
    ),
    "coding.tax_rate": Code(
        title="The tax code is for another rate",
        why="The ledger would take another tax from it than the bill charges.",
        do="Take the tax code of the rate that the line states.",
        helped_by=CODES_OF_LEDGER,
    ),
    "coding.guessed": Code(
        title="A code is a guess from history",
        why="Few lines like it were posted, or they were booked differently. It counts in the "
        "risk.",
        do="Look whether it is right; type another code where it is not.",
    ),
    "coding.split": Code(
        title="A line is split into parts that are not the whole",
        why="The parts of a line are booked; together they must be its amount, to the cent.",
        do="Change the shares so that they come to the line's amount.",
        accepted=False,
    ),
}
