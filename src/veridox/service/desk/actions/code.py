"""A person says under what lines are booked: kept beside the reading, then the checks again."""

from collections.abc import Mapping
from typing import Any

from django.db import transaction

from veridox.core.coding import (
    CALLED,
    DIMENSIONS,
    LedgerCodes,
    Proposal,
    Source,
    code_line,
    key_of,
    lines_to_code,
    place_of,
)
from veridox.core.language.typing import nearest
from veridox.core.money import Money
from veridox.core.pipeline import PipelineError
from veridox.service.accounts.actors import Actor
from veridox.service.desk.actions.correct import recheck
from veridox.service.documents.actions.common import locked_for_edit
from veridox.service.documents.coding import shares_of
from veridox.service.documents.columns import current_reading
from veridox.service.documents.models import Document, State
from veridox.service.errors import BadInputError, WrongStateError
from veridox.service.masterdata.codes import ledger_codes
from veridox.service.pipelines.queries import definition_of

Problems = list[dict[str, str]]


@transaction.atomic
def code_lines(
    actor: Actor, document_id: int, version: int, lines: Mapping[str, Mapping[str, Any] | None]
) -> Document:
    """Say the codes of lines of a document at the desk.

    Args:
        actor: who says it.
        document_id: which document.
        version: the version that was looked at.
        lines: by the line's number (`0` for a bill without lines), `charges` or `allowances`, its
            `gl_account`, `cost_centre`, `tax_code`, `project`, and `shares`, each with `percent` or
            `amount` and codes of its own; null takes back what was said. What is empty is left to
            others.

    Raises:
        BadInputError: with the path of each code that the ledger does not have, and of shares that
            are not the whole line.
        WrongStateError: its pipeline codes no lines; and see `locked_for_edit`.
    """
    document = locked_for_edit(actor, document_id, version, State.AT_DESK)
    codes = _codes_of(document)
    known = {at: (text, amount) for at, text, amount in lines_to_code(current_reading(document))}
    problems: Problems = []
    before, after = document.by_hand, dict(document.by_hand)
    for key, said in lines.items():
        at = place_of(key)
        if at is None or at not in known:
            there = ", ".join(key_of(each) for each in known) or "none"
            problems.append({"path": f"lines.{key}", "message": f"is no line; there are {there}"})
        elif said is None:
            after.pop(key, None)
        else:
            text, amount = known[at]
            value = _said(codes, said, f"lines.{key}", text, amount, problems)
            after[key] = {"description": text, "amount": amount.plain(), "by": actor.name, **value}
    if problems:
        raise BadInputError("It cannot be coded like this.", errors=problems)
    if after == before:
        raise BadInputError("Nothing is different: every code is as it was.")
    document.by_hand = after
    changed = {
        (f"line {key}" if key.isdecimal() else key): _told(after.get(key))
        for key in lines if after.get(key) != before.get(key)
    }  # fmt: skip
    return recheck(actor, document, {"lines": changed}, "document.coded")


def _told(said: Mapping[str, Any] | None) -> str:
    """What was said of a line, for the trail."""
    if said is None:
        return "what was said is taken back"
    shares = []
    for each in said["shares"]:
        percent = f"{each['percent']} %" if "percent" in each else each.get("amount", "the rest")
        codes = [f"{name} {each[name]}" for name in DIMENSIONS if name in each]
        shares.append(" ".join([percent, *codes]))
    return "; ".join([*(f"{name} {code}" for name, code in said["codes"].items()), *shares])


def _codes_of(document: Document) -> LedgerCodes:
    try:
        post = definition_of(document.pipeline_version).post
    except PipelineError as error:
        raise WrongStateError(f"Its pipeline does not pass its check any more: {error}") from error
    if post is None or post.coding is None:
        raise WrongStateError(
            "The lines of this pipeline are not coded; its file says so with post.coding.",
            state=document.state,
        )
    return ledger_codes(("", post.ledger), document.entity.code if document.entity else "")


def _said(
    codes: LedgerCodes, said: Mapping[str, Any], path: str, text: str, amount: Money,
    problems: Problems,
) -> dict[str, Any]:  # fmt: skip
    """One line as it is stored."""
    own = _known_codes(codes, said, path, problems)
    shares = []
    for at, share in enumerate(said.get("shares") or ()):
        found = _known_codes(codes, share, f"{path}.shares.{at}", problems)
        for name in ("percent", "amount"):
            if share.get(name) is not None:
                found[name] = f"{share[name].normalize():f}"
        shares.append(found)
    coded = code_line(0, text, amount, [Proposal(source=Source.PERSON, shares=shares_of(shares))])
    if coded.problem:
        problems.append({"path": f"{path}.shares", "message": coded.problem})
    return {"codes": own, "shares": shares}


def _known_codes(
    codes: LedgerCodes, said: Mapping[str, Any], path: str, problems: Problems
) -> dict[str, str]:
    found = {}
    for dimension in DIMENSIONS:
        code = str(said.get(dimension.value) or "").strip()
        if not code:
            continue
        found[dimension.value] = code
        listed = codes.listed(dimension)
        if listed is not None and code not in listed:
            hint = nearest(code, list(listed))
            message = f"the ledger has no {CALLED[dimension]} {code!r}"
            problems.append({
                "path": f"{path}.{dimension.value}", "message": f"{message}; {hint}" if hint
                else message,
            })  # fmt: skip
    return found
