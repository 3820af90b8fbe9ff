"""`veridox pipeline try`: a mail, a file or a document through a pipeline, with nothing done."""

from collections.abc import Iterable
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from veridox.cli.output import json_option, print_json, print_table, sure
from veridox.cli.pipeline_files import (
    PLUGIN,
    VALUE,
    PipelineFile,
    examined,
    given_values,
    needs_more,
    pipeline_file,
    plugged,
    print_problems,
)
from veridox.cli.pipelines import pipeline
from veridox.cli.session import Session, pass_session

if TYPE_CHECKING:
    from veridox.pluginhost import PluginHost

PATH = click.Path(exists=True, dir_okay=False, path_type=Path)


@pipeline.command("try")
@click.argument("file", type=PATH)
@click.option("--mail", type=PATH, help="A mail (.eml, .msg) with its files.")
@click.option("--file", "single", type=PATH, help="A file, as if it was dropped.")
@click.option("--document", type=int, help="A document of the service, by its number.")
@click.option("--from-mailbox", help="A mail that lies in this mailbox; it is only looked at.")
@click.option("--folder", default="INBOX", show_default=True, help="Of the mailbox.")
@click.option("--pick", is_flag=True, help="List its newest mails and ask for one.")
@click.option("--uid", type=int, help="Which mail, where it is known.")
@click.option("--until", help="End after this stage: read, check, desk, post.")
@click.option("--facts", type=PATH, help="Vendors, entities and orders (YAML), offline.")
@click.option("--with-service", is_flag=True, help="With the facts of the service.")
@click.option("--rehearse", is_flag=True, help="Ask the ledger whether it would book.")
@click.option("--parameter", "said", multiple=True, metavar="NAME=VALUE", help="Of the run.")
@VALUE
@PLUGIN
@json_option
@pass_session
def try_(session: Session, /, file: Path, **asked: Any) -> None:
    """Walk one mail or file through a pipeline, stage by stage. Nothing is sent, moved or posted.

    Offline unless a document, a mailbox, --with-service or --rehearse asks for the service.

    Example: veridox pipeline try ap.pipeline.yaml --mail sample.eml --facts facts.yaml
    """
    given = pipeline_file(file)
    kinds = [key for key in ("mail", "single", "document", "from_mailbox") if asked[key]]
    if len(kinds) != 1:
        raise click.UsageError("try it on one of --mail, --file, --document, --from-mailbox")
    online = asked["with_service"] or asked["rehearse"] or asked["document"]
    if online or asked["from_mailbox"]:
        if asked["facts"]:
            raise click.UsageError("--facts is for trying offline; the service has its own")
        found = _by_service(session, given, asked)
    else:
        with plugged(asked["plugins"]) as host:
            found = _offline(given, asked, host)
    if asked["as_json"]:
        print_json(found)
    else:
        _print(found)


def _by_service(session: Session, given: PipelineFile, asked: dict[str, Any]) -> dict[str, Any]:
    where: dict[str, Any] = {"document": asked["document"]}
    if asked["from_mailbox"]:
        where |= {"mailbox": asked["from_mailbox"], "folder": asked["folder"]}
        where["uid"] = asked["uid"] or _picked(session, asked)
    return session.client.pipelines.try_on(
        text=given.text, parts=given.parts, file=asked["mail"] or asked["single"],
        until=asked["until"] or "", rehearse=asked["rehearse"],
        parameters=given_values(asked["said"]), **where,
    )  # fmt: skip


def _picked(session: Session, asked: dict[str, Any]) -> int:
    if not asked["pick"]:
        raise click.UsageError("say which mail: --pick lists them, --uid names one")
    answer = session.client.peek(asked["from_mailbox"], folder=asked["folder"], limit=20)
    mails = answer["mails"]
    if not mails:
        raise click.ClickException(f"no mail lies in {asked['folder']} of {asked['from_mailbox']}")
    print_table(
        ("uid", "from", "subject", "stands"),
        ((each["uid"], each["sender"], each["subject"], each["stands"]) for each in mails),
    )
    known = {str(each["uid"]) for each in mails}
    return int(click.prompt("Which uid", type=click.Choice(sorted(known)), show_choices=False))


def _offline(
    given: PipelineFile, asked: dict[str, Any], host: "PluginHost | None"
) -> dict[str, Any]:
    found = examined(given, given_values(asked["values"]))
    if found.definition is None:
        print_problems(given, found.problems)
        click.get_current_context().exit(1)
    try:
        from veridox.core.facts import MemoryKnown
        from veridox.core.pipeline.parameters import ParameterError
        from veridox.core.pipeline.trying import UNTIL
        from veridox.readerpool import ReaderPool
        from veridox.trials import FactsError, Trial, known_from
    except ModuleNotFoundError as error:
        raise needs_more(error) from error
    if asked["until"] and asked["until"] not in UNTIL:
        raise click.UsageError(f"--until is one of {', '.join(UNTIL)}")
    known = MemoryKnown()
    if asked["facts"]:
        try:
            known = known_from(asked["facts"].read_text("utf-8"))
        except (FactsError, UnicodeDecodeError) as error:
            raise click.ClickException(f"{asked['facts']}: {error}") from error
    path = asked["mail"] or asked["single"]
    assert found.definition is not None  # noqa: S101 - left above
    with ReaderPool(size=1) as pool:
        trial = Trial(
            pool=pool, definition=found.definition, known=lambda _: known,
            entities=tuple((each.name, each.tax_id) for each in known.every_entity),
            until=asked["until"] or "", parameters=given_values(asked["said"]),
            host=host,
        )  # fmt: skip
        try:
            answer = trial.of(path.name, path.read_bytes())
        except ParameterError as error:
            raise click.UsageError(f"--parameter: {error}") from error
    return {"pipeline": found.definition.name, **answer}


def _print(found: dict[str, Any]) -> None:
    mail = found["mail"]
    if mail:
        click.secho("mail", bold=True)
        click.echo(f"  {mail['sender_name']} <{mail['sender']}>: {mail['subject']}")
    for source in found["collect"]:
        click.secho(f"collect {source['source']}", bold=True)
        for each in source["conditions"]:
            click.echo(f"  {'yes' if each['met'] else 'NO '}  {each['name']}: {each['said']}")
        click.echo(f"  -> {'taken' if source['taken'] else 'left where it lies'}")
    if mail or len(found["files"]) > 1:
        click.secho("files", bold=True)
        for file in found["files"]:
            click.echo(f"  {file['name']}: {'read' if file['read'] else file['reason']}")
    for document in found["documents"]:
        _print_document(document)
    if not found["documents"]:
        click.echo("Nothing of it is read.")


def _print_document(found: dict[str, Any]) -> None:
    reading = found["reading"]
    about = reading["document"]
    click.secho(f"read {found['file']}", bold=True)
    click.echo(
        f"  {about['kind']}, {sure(about['confidence'])} sure of all of it, pages {_pages(about)}"
    )
    rows = [
        (f"  {name}", _value(field["value"]), _place(field), sure(field["confidence"]),
         field["origin"], field["text"])
        for name, field in reading["fields"].items()
    ]  # fmt: skip
    print_table(("  field", "value", "place", "sure", "from", "printed"), rows)
    if reading["lines"]:
        click.echo(f"  {len(reading['lines'])} lines: veridox read shows them")
    for step in found["steps"]:
        if step["looked"] or step["then"] != "on":
            click.secho(step["stage"], bold=True)
            _print_lines(step["looked"])
            click.echo(f"  -> {step['then']}")
    if found["state"]:
        queue = f", queue {found['queue']}" if found["queue"] else ""
        click.secho(f"It would be: {found['state'].replace('_', ' ')}{queue}", bold=True)
        _print_lines(found["reasons"])
    if found["bill"]:
        click.secho("the bill as it would be posted", bold=True)
        for name, value in found["bill"].items():
            if value not in (None, []) and name != "lines":
                click.echo(f"  {name}: {value}")
        for line in found["bill"]["lines"]:
            parts = line.pop("coding", [])
            click.echo("  line: " + ", ".join(f"{key} {value}" for key, value in line.items()))
            for part in parts:
                codes = ", ".join(f"{k} {v}" for k, v in part.items() if k != "amount")
                click.echo(f"    {part['amount']} on {codes}")
    if found["rehearsal"]:
        click.echo(f"  {found['rehearsal']}")
    for sent in found["sent"]:
        _print_sent(sent)


def _print_lines(lines: Iterable[str]) -> None:
    for line in lines:
        click.echo(f"  {line}")


def _print_sent(sent: dict[str, Any]) -> None:
    if not sent["goes"] and not sent["problem"]:
        click.echo(f"not told when {sent['event']}: {sent['when']}")
        return
    to = f"#{sent['channel']}" if sent["channel"] else sent["to"] or "nobody"
    click.secho(f"told when {sent['event']}: {to}", bold=True)
    if sent["when"]:
        click.echo(f"  when {sent['when']}")
    if sent["problem"]:
        click.echo(f"  it does not go: {sent['problem']}")
    if sent["subject"]:
        click.echo(f"  Subject: {sent['subject']}")
    _print_lines(sent["text"].splitlines())


def _value(value: Any) -> str:
    if isinstance(value, dict):
        return f"{value['amount']} {value['currency']}"
    return str(value)


def _place(field: dict[str, Any]) -> str:
    if field.get("page") is None:
        return ""
    box = field.get("box")
    where = f" at {box[0]:.0f}, {box[1]:.0f}" if box else ""
    return f"page {field['page']}{where}"


def _pages(about: dict[str, Any]) -> str:
    return ", ".join(str(each) for each in about["pages"]) or "none"
