"""Read a table in a reader process, then bring it in."""

import hashlib
from collections.abc import Mapping

from veridox.readerpool import ReaderStoppedError, TableAnswer
from veridox.service import wiring
from veridox.service.accounts.actors import Actor
from veridox.service.errors import BadInputError
from veridox.service.masterdata.actions.load import Given, Loaded, bring_in


def import_table(
    actor: Actor,
    what: str,
    name: str,
    content: bytes,
    *,
    preview: bool = False,
    expects: str = "",
    ledger: str = "",
    mapping: Mapping[str, str] | None = None,
    fixed: Mapping[str, str] | None = None,
    sheet: str = "",
) -> Loaded:
    """Bring in a CSV table or a spreadsheet; see `Given` for the arguments.

    Raises:
        BadInputError: it is no table, or something in it is wrong: nothing is kept then.
    """
    given = Given(
        name=name, sha256=hashlib.sha256(content).hexdigest(), ledger=ledger, expects=expects,
        mapping=mapping or {}, fixed=fixed or {}, sheet=sheet,
    )  # fmt: skip
    return bring_in(actor, what, given, _read(name, content, sheet), preview=preview)


def _read(name: str, content: bytes, sheet: str) -> TableAnswer:
    try:
        table = wiring.reader_pool().table(content, sheet)
    except LookupError as error:
        raise BadInputError(str(error)) from error
    except ReaderStoppedError as error:
        raise BadInputError(f"{name} could not be read: {error}") from error
    if not table.lines:
        raise BadInputError("the table has a header but no rows")
    return table
