"""`veridox document`."""

import itertools
import sys
from pathlib import Path
from typing import Any

import click

from veridox.cli.output import (
    json_option,
    limit_option,
    moment,
    pairs,
    print_json,
    print_table,
    sure,
)
from veridox.cli.session import Session, pass_session
from veridox.cli.shown import show_coding
from veridox.client import Document, File, ProblemError


@click.group()
def document() -> None:
    """Documents: look, hand in, correct, follow their story."""


def _shortly(numbers: tuple[str, ...]) -> str:
    """The first of them, and how many there are besides."""
    more = f" +{len(numbers) - 1}" if len(numbers) > 1 else ""
    return f"{numbers[0]}{more}" if numbers else ""


def _rows(documents: list[Document]) -> Any:
    for each in documents:
        total = f"{each.gross_total:,} {each.currency}" if each.gross_total is not None else ""
        booked = (each.posting.number or each.posting.problem) if each.posting else ""
        waits = each.reasons[0] if each.reasons else ""
        yield (
            each.id,
            each.state,
            each.kind,
            each.number or f"({each.file_name})",
            each.raw["vendor_name"] or each.seller_name,
            total,
            _shortly(each.orders),
            waits if each.state == "at_desk" else booked or waits,
        )


def show_documents(documents: list[Document], as_json: bool) -> None:
    """A list of documents on the screen."""
    if as_json:
        print_json([each.raw for each in documents])
        return
    print_table(
        ("id", "state", "kind", "number", "seller", "total", "order", "booked as / why it waits"),
        _rows(documents),
        right=("id", "total"),
    )


@document.command("list")
@click.option("--state", help="posted, at_desk, failed, discarded, ...")
@click.option("--vendor", help="Vendor code.")
@click.option("--order", help="Order number.")
@click.option("--finding", help="Code of a finding, such as total.sum.")
@click.option(
    "--touched", type=click.Choice(["yes", "no"]), help="Whether a person had a hand in it."
)
@click.option("--amount-from", help="Total with tax, at least.")
@click.option("--amount-to", help="Total with tax, at most.")
@click.option("--search", help="Number, vendor, order, amount, file name or words on the pages.")
@limit_option
@json_option
@pass_session
def document_list(
    session: Session,
    /,
    limit: int,
    as_json: bool,
    **filters: str | None,
) -> None:
    """Documents, newest first.

    Example: veridox document list --state posted
    """
    rows = list(itertools.islice(session.client.documents.list(**filters), limit))
    show_documents(rows, as_json)


@document.command("export")
@click.argument("file", type=click.Path(dir_okay=False, writable=True))
@click.option("--state", help="posted, at_desk, ...; several with commas.")
@click.option("--vendor", help="Vendor code.")
@click.option("--search", help="As in `document list`.")
@click.option("--columns", help="Names with commas; all without it.")
@pass_session
def document_export(session: Session, /, file: str, **filters: str | None) -> None:
    """Documents as a table for spreadsheets; the ending .csv or .xlsx says which.

    Example: veridox document export posted.xlsx --state posted
    """
    form = Path(file).suffix.lstrip(".").lower()
    if form not in ("csv", "xlsx"):
        raise click.UsageError(f"{file}: the name ends in .csv or .xlsx")
    content = session.client.documents.export(form, **filters)
    Path(file).write_bytes(content)
    click.echo(f"{file}: {len(content):,} bytes")


def _shown(value: Any) -> str:
    return f"{value['amount']} {value['currency']}" if isinstance(value, dict) else str(value)


@document.command("show")
@click.argument("number", metavar="DOCUMENT", type=int)
@json_option
@pass_session
def document_show(session: Session, number: int, as_json: bool) -> None:
    """One document: where it stands, what was read, what was found."""
    found = session.client.documents.get(number)
    if as_json:
        print_json(found.raw)
        return
    raw, posting = found.raw, found.posting
    pairs(
        [
            ("document", f"{found.id}, version {found.version}"),
            ("state", found.state + (f" (queue {found.queue})" if found.queue else "")),
            ("kind", found.kind),
            ("file", f"{found.file_name} (file {found.file})"),
            ("mail", raw["message"]),
            ("pipeline", f"{found.pipeline}, version {found.pipeline_version}"),
            ("entity", raw["entity"]),
            ("vendor", f"{found.vendor} {raw['vendor_name']}" if found.vendor else ""),
            ("orders" if len(found.orders) > 1 else "order", ", ".join(found.orders)),
            ("received", moment(raw["received_at"])),
            ("booked as", posting.number if posting else ""),
            ("in the ledger", posting.link if posting else ""),
            ("held up by", posting.problem if posting else ""),
            ("reason", raw["end_reason"]),
        ]
    )
    for finding in found.findings:
        click.echo(f"\n{finding.weight}: {finding.message} [{finding.code}]")
        if finding.hint:
            click.echo(f"       {finding.hint}")
    if not found.findings and found.reasons:
        click.echo("\n" + "\n".join(found.reasons))
    click.echo()
    _print_reading(raw["reading"])
    if raw["coding"]:
        click.echo()
        show_coding(raw["coding"])


def _print_reading(reading: dict[str, Any]) -> None:
    print_table(
        ("field", "value", "page", "sure", "from", "as printed"),
        (
            (
                name,
                _shown(field["value"]),
                field["page"],
                sure(field["confidence"]),
                field["origin"],
                field["text"],
            )
            for name, field in reading.get("fields", {}).items()
        ),
        right=("page", "sure"),
    )
    rows = reading.get("lines") or []
    names = list(dict.fromkeys(name for row in rows for name in row))
    if rows:
        click.echo()
        print_table(
            ("line", *names),
            (
                (index, *(_shown(row[name]["value"]) if name in row else "" for name in names))
                for index, row in enumerate(rows, start=1)
            ),
            right=("quantity", "unit_price", "amount"),
        )


@document.command()
@click.argument("paths", nargs=-1, required=True, type=click.Path(exists=True, path_type=Path))
@click.option("--pipeline", required=True, help="Name of a published pipeline.")
@click.option("--wait", is_flag=True, help="Wait until they are posted or wait for people.")
@click.option(
    "--known", multiple=True, metavar="FIELD=VALUE", help="A value known beforehand; repeatable."
)
@json_option
@click.pass_context
@pass_session
def upload(
    session: Session,
    context: click.Context,
    paths: tuple[Path, ...],
    pipeline: str,
    wait: bool,
    known: tuple[str, ...],
    as_json: bool,
) -> None:
    """Hand in files, or folders with everything in them; mails (.eml, .msg) with their files.

    Example: veridox document upload invoice.pdf --pipeline supplier-invoices --wait
    """
    values = dict(_assignment(each) for each in known)
    files = [
        each
        for path in paths
        for each in (sorted(p for p in path.rglob("*") if p.is_file()) if path.is_dir() else [path])
    ]
    hidden = len(files) < 3 or not sys.stderr.isatty()
    with click.progressbar(files, label="uploading", file=sys.stderr, hidden=hidden) as watched:
        handed, refused = [], []
        for path in watched:
            # One file that is refused does not keep the others.
            try:
                if path.suffix.lower() in (".eml", ".msg"):
                    mail = session.client.hand_in_mail(path, pipeline=pipeline)
                    handed += [session.client.files.get(file["id"]) for file in mail["files"]]
                else:
                    upload_one = session.client.files.upload
                    handed.append(upload_one(path, pipeline=pipeline, known=values))
            except ProblemError as error:
                refused.append(path)
                click.echo(f"{path}: {error}", err=True)
    if wait:
        handed = [session.client.files.wait(file.id) for file in handed]
    if as_json:
        print_json([{**file.raw, "documents": list(file.document_ids)} for file in handed])
    else:
        _show_handed(handed, wait)
    if refused:
        context.exit(1)


def _assignment(text: str) -> tuple[str, str]:
    name, mark, value = text.partition("=")
    if not mark or not name:
        raise click.UsageError(f"{text!r}: write FIELD=VALUE")
    return name, value


def _show_handed(handed: list[File], wait: bool) -> None:
    documents = [each for file in handed for each in file.documents]
    others = [file for file in handed if not (wait and file.documents)]
    if wait and documents:
        show_documents(documents, as_json=False)
    if others:
        print_table(
            ("file", "name", "state", "reason"),
            ((file.id, file.name, file.state, file.reason) for file in others),
        )


@document.command("set")
@click.argument("number", metavar="DOCUMENT", type=int)
@click.argument("assignments", metavar="FIELD=VALUE...", nargs=-1, required=True)
@click.option("--note", default="", help="Why, for the trail.")
@click.option("--version", type=int, help="The version you looked at; usually the newest.")
@json_option
@pass_session
def set_(
    session: Session,
    number: int,
    assignments: tuple[str, ...],
    note: str,
    version: int | None,
    as_json: bool,
) -> None:
    """Correct values of a document at the desk; it is checked again at once.

    Amounts and dates are taken in the usual forms of the document's language: 1421.28,
    1.421,28, 2026-03-31, "31 March 2026". What can mean two things is refused. FIELD=
    without a value takes the field out; kind=invoice sets the kind; vendor=V1001 and
    entity=NAME say who the seller and the buyer are. A cell of a line is named by its
    number, as lines[2].order_number=PO-26-0116.

    Example: veridox document set 12 gross_total=1421.28 --note "slip of the pen"
    """
    from dataclasses import replace

    from veridox.cli.typed import typed_changes  # what it needs takes a while to import

    given = dict(_assignment(each) for each in assignments)
    seen = session.client.documents.get(number)
    changes = typed_changes(given, seen.raw["reading"])
    if version is not None:
        seen = replace(seen, version=version)
    after = session.client.documents.correct(seen, changes, note)
    if as_json:
        print_json(after.raw)
    else:
        tell(after)


def tell(after: Document) -> None:
    """Where a document stands after an act."""
    click.echo(f"document {after.id} is {after.state} (version {after.version})")
    for reason in after.reasons:
        click.echo(f"  {reason}")


@document.command()
@click.argument("number", metavar="DOCUMENT", type=int)
@click.option(
    "--from",
    "stage",
    type=click.Choice(["check", "read"]),
    default=None,
    help="From its newest reading, or from its file. Without it, what failed goes on.",
)
@click.option("--newest", is_flag=True, help="Under the newest version of its pipeline.")
@click.option("--reason", default="", help="Why, for the trail.")
@pass_session
def again(session: Session, number: int, stage: str | None, newest: bool, reason: str) -> None:
    """Process a document again; what it was before is kept in its story.

    What people accepted or decided before holds no more. Nothing is processed again that
    stands in the ledger, or may.

    Example: veridox document again 12 --from read --newest
    """
    seen = session.client.documents.get(number)
    start = stage or ("check" if newest else "")
    tell(session.client.documents.again(seen, start, newest_version=newest, reason=reason))


@document.command()
@click.argument("number", metavar="DOCUMENT", type=int)
@click.option("--all", "every", is_flag=True, help="Also what was looked at before the last check.")
@json_option
@pass_session
def why(session: Session, number: int, every: bool, as_json: bool) -> None:
    """Why a document stands where it stands: each stage, what it looked at, what followed.

    Example: veridox document why 12
    """
    walks = session.client.documents.why(number)
    if not every:
        checked = (at for at, walk in enumerate(walks) if _looked_at(walk, "check"))
        walks = walks[: next(checked, 0) + 1]
    if as_json:
        print_json(walks)
        return
    if not walks:
        click.echo(
            f"of document {number} nothing is kept: it was not looked at by this release yet"
        )
    for walk in walks:
        show_walk(walk)


def _looked_at(walk: dict[str, Any], stage: str) -> bool:
    return any(step["stage"] == stage for step in walk["steps"])


def show_walk(walk: dict[str, Any]) -> None:
    """A walk along the road, one line for each thing that was looked at."""
    pipeline = f"{walk['pipeline']} version {walk['pipeline_version']}"
    reading = f"version {walk['reading_version']} of the reading"
    click.echo(f"{moment(walk['at'])}  {pipeline}, {reading}, {walk['by']}")
    for step in walk["steps"]:
        if not step["looked"] and step["then"] == "on":
            continue
        click.echo(f"  {step['stage']}")
        for line in step["looked"]:
            click.echo(f"    {line}")
        click.echo(f"    -> {step['then']}")


@document.command()
@click.argument("number", metavar="DOCUMENT", type=int)
@json_option
@pass_session
def history(session: Session, number: int, as_json: bool) -> None:
    """The story of a document: every act with its time and actor."""
    story = session.client.documents.history(number)
    if as_json:
        print_json(story)
        return
    print_table(
        ("when", "who", "what", "details"),
        (
            (
                moment(event["at"]),
                event["actor"],
                event["act"],
                brief(event["details"]),
            )
            for event in story["events"]
        ),
    )


def brief(details: dict[str, Any]) -> str:
    """Details of an act in one line; empty ones are left out."""
    parts = []
    for name, value in sorted(details.items(), key=lambda item: _weight(item[0])):
        if value in (None, "", [], {}):
            continue
        if isinstance(value, list):
            value = ", ".join(map(str, value))
        elif isinstance(value, dict):
            value = "; ".join(f"{key} {_change(each)}" for key, each in value.items())
        parts.append(f"{name}: {value}")
    return "; ".join(parts)


FIRST = (
    "number", "outcome", "reason", "changes", "note", "subject", "sender", "to", "name", "kind",
    "files", "place", "folder", "reasons", "findings", "queue", "vendor", "order",
)  # fmt: skip
"""What people want to see first of an act's details."""


def _weight(name: str) -> int:
    return FIRST.index(name) if name in FIRST else len(FIRST)


def _change(value: Any) -> str:
    if isinstance(value, list) and len(value) == 2:
        old, new = (_shown(each) if each is not None else "nothing" for each in value)
        return f"{old} -> {new}"
    return _shown(value)
