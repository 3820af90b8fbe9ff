"""The client library: typed results, exact decimals, errors as exceptions.

from veridox.client import Veridox

with Veridox("http://127.0.0.1:8440", token=token) as vx:
    file = vx.files.upload("invoice.pdf", pipeline="supplier-invoices")
    for document in vx.files.wait(file.id).documents:
        print(document.reading.number.value, document.reading.gross_total.value)
"""

from veridox.client.errors import (
    ChangedMeanwhileError,
    NotReachableError,
    ProblemError,
    VeridoxClientError,
    WaitedTooLongError,
)
from veridox.client.readings import Field, Money, Reading
from veridox.client.records import Document, File, Finding, Posting
from veridox.client.veridox import Veridox

__all__ = [
    "ChangedMeanwhileError",
    "Document",
    "Field",
    "File",
    "Finding",
    "Money",
    "NotReachableError",
    "Posting",
    "ProblemError",
    "Reading",
    "Veridox",
    "VeridoxClientError",
    "WaitedTooLongError",
]
