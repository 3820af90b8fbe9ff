"""Look-ups asked for every document, each one statement.

The rest of the service asks through the ORM. These are asked for each document at each check,
and of a dozen small queries most of the time goes into writing them; the parts of a statement
stay apart (`union`), so that an index of its own gives the newest of each.
"""

from collections.abc import Collection, Mapping, Sequence
from decimal import Decimal
from typing import Any

from django.db import connection, transaction

from veridox.core.matching import number_bare, number_key
from veridox.service.documents.models import Document
from veridox.service.documents.queries import NOT_COUNTED
from veridox.service.masterdata.models import MarkKind

MOST_ALIKE = 60
"""Earlier bills of one total that are compared; older ones are regular, or long paid."""
MOST_NAMED = 20
MOST_MARKED = 100

NAME_FROM, LONG_NAME, LONG_NAME_FROM = 0.3, 12, 0.5
"""A letter more or less makes a short name rather another one. Long ones share words with
thousands of others, and looking at all of these takes its time."""
FIRST_WORD, WORD_FROM, FOUND = 4, 0.45, 0.5
"""So like it must be one of the words of a name that begins as the one looked for does. That is
found in a third of the time, since few names share their first word; where none of those is alike
as a whole, all words are gone by."""


def _asked(statement: str, parameters: Mapping[str, Any]) -> list[dict[str, Any]]:
    with connection.cursor() as cursor:
        cursor.execute(statement, dict(parameters))
        names = [column.name for column in cursor.description or ()]
        return [dict(zip(names, row, strict=True)) for row in cursor.fetchall()]


# -- bills

_COUNTED = "d.kind = %(kind)s and d.id <> %(own)s and d.state <> all(%(not_counted)s)"
_BEFORE = "{counted} and d.vendor_id = any(%(family)s) and d.id < %(own)s"
_LATER = """{counted} and d.vendor_id = any(%(family)s) and d.id > %(own)s
    and exists (select 1 from ledgers_billreservation r where r.document_id = d.id)"""
# In no order: few have a number, and its own index is to find them.
_NUMBERED = """(select id, false as same_file from documents_document d
    where {of} and (number_key = %(number_key)s or number_bare = %(number_bare)s)
    limit %(most)s)"""
_OF_TOTAL = """(select id, false as same_file from documents_document d
    where {of} and gross_total = %(total)s and currency = %(currency)s
    order by id {order} limit %(most)s)"""
_SAME_FILE = """(select d.id, true as same_file from documents_document d
    join documents_file f on f.id = d.file_id
    where {counted} and d.id < %(own)s and d.position = %(position)s
    and f.sha256 = %(sha256)s and f.id <> %(file)s order by d.id limit 10)"""
# Only the columns that are compared: findings and evidence of sixty bills are long.
_COMPARED = """select d.id, d.number, d.issue_date, d.received_at, d.state, d.kind, d.gross_total,
    d.currency, d.delivery_note, d.period, d.picture, bool_or(c.same_file) as same_file,
    p.number as posted_as, o.number as order_number, v.code as vendor, e.code as entity
    from ({candidates}) c join documents_document d on d.id = c.id
    left join ledgers_posting p on p.id = d.posting_id
    left join masterdata_order o on o.id = d.order_id
    left join masterdata_vendor v on v.id = d.vendor_id
    left join masterdata_entity e on e.id = d.entity_id
    group by d.id, p.id, o.id, v.id, e.id order by d.id"""


def bills_to_compare(
    document: Document, *, kind: str, family: Collection[int], number: str, total: Decimal | None,
    currency: str,
) -> list[dict[str, Any]]:  # fmt: skip
    """Bills that came before a document and have its number, its total or its file; and those
    that came later but hold the right to the number. By id, with `_COMPARED`'s columns."""
    parts = []
    for of, order in ((_BEFORE, "desc"), (_LATER, "asc")):
        if number:
            parts.append(_NUMBERED.format(of=of))
        if total is not None:
            parts.append(_OF_TOTAL.format(of=of, order=order))
    has_file = document.file_id is not None  # what is only tried has none
    if has_file:
        parts.append(_SAME_FILE)
    if not parts:
        return []
    return _asked(_COMPARED.format(candidates=" union all ".join(parts)).format(counted=_COUNTED), {
        "kind": kind, "own": document.pk, "not_counted": list(NOT_COUNTED),
        "family": list(family), "number_key": number_key(number),
        "number_bare": number_bare(number), "total": total, "currency": currency,
        "most": MOST_ALIKE, "position": document.position, "file": document.file_id,
        "sha256": document.file.sha256 if has_file else None,
    })  # fmt: skip


# -- vendors

_MARKED = """(select vendor_id as id, false as named from masterdata_vendormark
    where (kind, key) in (select * from unnest(%(kinds)s::text[], %(keys)s::text[]))
    limit %(most_marked)s)"""
_REGISTERED = """(select id, false as named from masterdata_vendor
    where ledger = any(%(ledgers)s) and tax_id = any(%(tax_ids)s))"""
_CALLED = """(select id, true as named from masterdata_vendor
    where ledger = any(%(ledgers)s) and name_key = %(name)s limit %(most)s)
    union all (select vendor_id as id, true as named from masterdata_vendormark
    where kind = %(name_kind)s and key = %(name)s limit %(most)s)"""


def vendors_known_by(
    *, ledgers: Sequence[str], marks: Mapping[MarkKind, str], tax_ids: Sequence[str], name: str
) -> set[int]:
    """Ids of the vendors that have one of these marks, a tax id, or are called just so; where
    nobody is called just so, also those of similar names. What is empty is not asked for."""
    wanted = {kind: key for kind, key in marks.items() if key}
    parts = [_MARKED] if wanted else []
    parts += [_REGISTERED] if tax_ids else []
    parts += [_CALLED] if name else []
    if not parts:
        return set()
    rows = _asked(" union all ".join(parts), {
        "kinds": [str(kind) for kind in wanted], "keys": list(wanted.values()),
        "ledgers": list(ledgers), "tax_ids": list(tax_ids), "name": name,
        "name_kind": MarkKind.NAME, "most": MOST_NAMED, "most_marked": MOST_MARKED,
    })  # fmt: skip
    ids = {row["id"] for row in rows}
    if name and not any(row["named"] for row in rows):
        ids |= _called_like(ledgers, name)
    return ids


_LIKE = """(select id, similarity(name_key, %(name)s) as alike from masterdata_vendor
    where ledger = any(%(ledgers)s) and name_key {like} order by 2 desc, 1 limit %(most)s)
    union all (select vendor_id as id, similarity(key, %(name)s) as alike from masterdata_vendormark
    where kind = %(name_kind)s and key {like} order by 2 desc, id limit %(most)s)"""
_FIRST = _LIKE.format(like="%%> %(first)s")
_WHOLE = _LIKE.format(like="%% %(name)s")


def look_from(similarity: float, word: float = WORD_FROM) -> None:
    """How alike a text must be, or one of its words, for an index to find it, in this
    transaction."""
    with connection.cursor() as cursor:
        cursor.execute(
            "select set_config('pg_trgm.similarity_threshold', %s, true),"
            " set_config('pg_trgm.word_similarity_threshold', %s, true)",
            [str(similarity), str(word)],
        )


# How alike is set for a transaction; outside of one it would be forgotten at once.
@transaction.atomic(savepoint=False)
def _called_like(ledgers: Sequence[str], name: str) -> set[int]:
    look_from(LONG_NAME_FROM if len(name) >= LONG_NAME else NAME_FROM)
    first = name.split(" ", 1)[0]
    parameters = {
        "ledgers": list(ledgers), "name": name, "first": first, "name_kind": MarkKind.NAME,
        "most": MOST_NAMED,
    }  # fmt: skip
    if len(first) >= FIRST_WORD:
        found = _asked(_FIRST, parameters)
        if any(row["alike"] >= FOUND for row in found):
            return {row["id"] for row in found}
    return {row["id"] for row in _asked(_WHOLE, parameters)}
