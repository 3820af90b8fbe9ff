"""Posting: the bill as it is sent, and what to do next with it, without any I/O."""

from veridox.core.posting.answers import Booked, Refusal, Standing, differences
from veridox.core.posting.bill import Bill, BillLine, bill_of, bill_of_facts
from veridox.core.posting.machine import (
    AskPerson,
    Attach,
    Done,
    LookUp,
    PostingState,
    Promises,
    ReadBack,
    Rehearse,
    Send,
    Step,
    Wait,
    Where,
    next_step,
)

__all__ = [
    "AskPerson",
    "Attach",
    "Bill",
    "BillLine",
    "Booked",
    "Done",
    "LookUp",
    "PostingState",
    "Promises",
    "ReadBack",
    "Refusal",
    "Rehearse",
    "Send",
    "Standing",
    "Step",
    "Wait",
    "Where",
    "bill_of",
    "bill_of_facts",
    "differences",
    "next_step",
]
