"""`veridox pipeline`: write, check and try files here; publish and list on the service."""

import re
from itertools import islice
from pathlib import Path
from typing import Any

import click

from veridox.cli.output import (
    json_option,
    limit_option,
    moment,
    print_json,
    print_table,
)
from veridox.cli.pipeline_files import (
    FILE,
    PLUGIN,
    VALUE,
    examined,
    given_values,
    needs_more,
    pipeline_file,
    plugged,
    print_problems,
    shown,
)
from veridox.cli.session import Session, pass_session


@click.group()
def pipeline() -> None:
    """Pipelines: write a file, check it, try it, publish it, look at versions."""


@pipeline.command()
@FILE
@VALUE
@PLUGIN
@json_option
@click.option("--here", "around", is_flag=True, help="Also ask the service what is set up there.")
@click.pass_context
@pass_session
def check(
    session: Session, context: click.Context, file: Path, values: tuple[str, ...],
    plugins: tuple[str, ...], as_json: bool, around: bool,
) -> None:  # fmt: skip
    """Check a pipeline file on this machine; each problem with line and column.

    Warnings tell what is allowed and hardly meant; they do not fail.

    Example: veridox pipeline check supplier-invoices.pipeline.yaml
    """
    from veridox.core.findings.wording import counted

    given = pipeline_file(file)
    with plugged(plugins):
        found = examined(given, given_values(values))
    if as_json:
        print_json({"problems": shown(found.problems), "warnings": shown(found.warnings)})
    else:
        print_problems(given, found.problems)
        print_problems(given, found.warnings, "warning: ")
    if found.definition is None:
        if not as_json:
            click.echo(counted(len(found.problems), "problem"), err=True)
        context.exit(1)
    if around:
        _print_around(session, given.text, given.parts)
    if not as_json:
        told = f", {counted(len(found.warnings), 'warning')}" if found.warnings else ""
        click.echo(f"{file}: {found.definition.name} is good{told}")


def _print_around(session: Session, text: str, parts: dict[str, str]) -> None:
    answer = session.client.pipelines.check(text, parts)
    for said in answer["absent"]:
        click.echo(f"not set up: {said}")
    for said in answer["around"]:
        click.echo(f"warning: {said}")
    _print_changes(answer["changes"])


def _print_changes(changes: list[dict[str, str]]) -> None:
    for each in changes:
        click.echo(f"{each['place']}: {each['before']} -> {each['after']}")
        if each["loosens"]:
            click.echo(f"    loosens: {each['loosens']}")


@pipeline.command("new")
@click.argument("name")
@click.option(
    "--out",
    type=click.Path(dir_okay=False, path_type=Path),
    help="Where to; NAME.pipeline.yaml here when not given.",
)
def new(name: str, out: Path | None) -> None:
    """Write a commented pipeline file to begin with. Nothing is written over.

    Example: veridox pipeline new supplier-invoices
    """
    if not re.fullmatch(r"[a-z0-9][a-z0-9-]{0,62}", name):
        raise click.UsageError(f"{name!r}: small letters, digits and dashes, 63 at most")
    try:
        from veridox.core.pipeline.file.start import starting_text
    except ModuleNotFoundError as error:
        raise needs_more(error) from error
    path = out or Path(f"{name}.pipeline.yaml")
    try:
        with path.open("x", encoding="utf-8") as file:
            file.write(starting_text(name))
    except FileExistsError:
        raise click.ClickException(f"{path} is there already; nothing was written") from None
    except OSError as error:
        raise click.ClickException(f"{path} cannot be written: {error.strerror}") from error
    click.echo(f"{path}: change it, then: veridox pipeline check {path}")


@pipeline.command()
def schema() -> None:
    """JSON Schema of the pipeline file, for editors.

    Example: veridox pipeline schema > pipeline.schema.json
    """
    try:
        from veridox.core.pipeline.file.schema import schema as made
    except ModuleNotFoundError as error:
        raise needs_more(error) from error
    print_json(made())


@pipeline.command()
@FILE
@json_option
@pass_session
def publish(session: Session, file: Path, as_json: bool) -> None:
    """Publish a file as the next version of its pipeline.

    A version that loosens what the one before stopped waits for a second person.
    """
    given = pipeline_file(file)
    version = session.client.pipelines.publish(given.text, given.parts, given.commit)
    if as_json:
        print_json(version)
        return
    name, number = version["pipeline"], version["number"]
    _print_changes(version["changes"])
    if version["state"] == "waiting":
        click.echo(f"{name} version {number} loosens something: it waits for a second person")
        click.echo(f"Somebody else lets it run: veridox pipeline accept {name} {number}")
    else:
        click.echo(f"{name} is published as version {number}")


@pipeline.command("list")
@json_option
@pass_session
def list_(session: Session, as_json: bool) -> None:
    """Pipelines with the versions that run, and what they did today."""
    rows = list(session.client.pipelines.list())
    if as_json:
        print_json(rows)
        return
    print_table(
        ("name", "version", "state", "today", "title", "last error"),
        (
            (
                row["name"],
                row["version"] or "",
                "paused" if row["paused"] else "running",
                ", ".join(f"{each['count']} {each['state']}" for each in row["today"]) or "nothing",
                row["title"],
                row["last_error"]
                or (
                    f"version {row['waiting']} waits for a second person" if row["waiting"] else ""
                ),
            )
            for row in rows
        ),
    )


@pipeline.command()
@click.argument("name")
@click.option("--version", "number", type=int, help="Another than the one that runs.")
@pass_session
def show(session: Session, name: str, number: int | None) -> None:
    """The text of a pipeline."""
    pipelines = session.client.pipelines
    found = pipelines.get(name) if number is None else pipelines.version(name, number)
    click.echo(found["text"], nl=False)


@pipeline.command()
@click.argument("name")
@json_option
@pass_session
def versions(session: Session, name: str, as_json: bool) -> None:
    """All versions of a pipeline, newest first."""
    rows = list(session.client.pipelines.versions(name))
    if as_json:
        print_json(rows)
        return
    print_table(
        ("version", "state", "published", "by", "commit", "changes", "decided by"),
        (
            (
                row["number"],
                row["state"] + (f" (as {row['as_version']})" if row["as_version"] else ""),
                moment(row["published_at"]),
                row["published_by"],
                row["commit"],
                "; ".join(f"{c['place']}: {c['before']} -> {c['after']}" for c in row["changes"]),
                row["decided_by"],
            )
            for row in rows
        ),
    )


@pipeline.command()
@click.argument("name")
@click.argument("before", type=int, required=False)
@click.argument("after", type=int, required=False)
@click.option("--lines", is_flag=True, help="The texts line by line instead.")
@json_option
@pass_session
def compare(
    session: Session, name: str, before: int | None, after: int | None, lines: bool, as_json: bool
) -> None:
    """What two versions do differently; the newest two when none are named.

    Example: veridox pipeline compare supplier-invoices 3 5
    """
    found = session.client.pipelines.compare(name, before, after)
    if as_json:
        print_json(found)
    elif lines:
        for line in found["lines"]:
            click.echo(line)
    else:
        click.echo(f"{name}, version {found['before']} -> {found['after']}")
        _print_changes(found["changes"])
        if not found["changes"]:
            click.echo("They mean the same.")


@pipeline.command()
@click.argument("name")
@click.option("--reason", default="", help="Why, for the trail.")
@pass_session
def pause(session: Session, name: str, reason: str) -> None:
    """Collect nothing until it is resumed; what came in goes on."""
    session.client.pipelines.pause(name, reason)
    click.echo(f"{name} is paused")


@pipeline.command()
@click.argument("name")
@pass_session
def resume(session: Session, name: str) -> None:
    """Collect again."""
    session.client.pipelines.resume(name)
    click.echo(f"{name} runs")


@pipeline.command()
@click.argument("name")
@click.argument("new")
@pass_session
def copy(session: Session, name: str, new: str) -> None:
    """Publish the version that runs under another name; it begins paused."""
    session.client.pipelines.copy(name, new)
    click.echo(f"{new} is a copy of {name}, paused: veridox pipeline resume {new}")


@pipeline.command()
@click.argument("name")
@click.option("--reason", default="", help="Why, for the trail.")
@click.option("--yes", is_flag=True, help="Do not ask.")
@pass_session
def remove(session: Session, name: str, reason: str, yes: bool) -> None:
    """Take a pipeline out of use; its versions stay with their documents."""
    if not yes:
        click.confirm(f"{name} collects nothing any more. Remove it?", abort=True)
    session.client.pipelines.remove(name, reason)
    click.echo(f"{name} is removed")


@pipeline.command("bring-back")
@click.argument("name")
@click.argument("number", type=int)
@pass_session
def bring_back(session: Session, name: str, number: int) -> None:
    """Publish an older version again, as the newest."""
    version = session.client.pipelines.bring_back(name, number)
    waits = ": it loosens something and waits for a second person"
    click.echo(
        f"{name} version {version['number']} is as version {number}"
        + (waits if version["state"] == "waiting" else "")
    )


@pipeline.command()
@click.argument("name")
@click.argument("number", type=int)
@click.option("--reason", default="", help="Why, for the trail.")
@pass_session
def accept(session: Session, name: str, number: int, reason: str) -> None:
    """Let a version run that somebody else published and that loosens something."""
    version = session.client.pipelines.accept(name, number, reason)
    _print_changes(version["changes"])
    click.echo(f"{name} runs version {number}")


@pipeline.command()
@click.argument("name")
@click.argument("number", type=int)
@click.option("--reason", required=True, help="Why.")
@pass_session
def refuse(session: Session, name: str, number: int, reason: str) -> None:
    """Say no to a version that waits for a second person."""
    session.client.pipelines.refuse(name, number, reason)
    click.echo(f"{name} version {number} is refused")


@pipeline.command()
@click.argument("name")
@click.option("--parameter", "said", multiple=True, metavar="NAME=VALUE", help="Of the run.")
@click.option("--wait", "seconds", type=float, default=0, help="Seconds to wait for its end.")
@json_option
@pass_session
def run(session: Session, name: str, said: tuple[str, ...], seconds: float, as_json: bool) -> None:
    """Look through all places of a pipeline now.

    Example: veridox pipeline run month-end --parameter period=2026-11 --wait 60
    """
    found = session.client.pipelines.run(name, given_values(said), seconds=seconds)
    if as_json:
        print_json(found)
    elif found["ended_at"]:
        click.echo(f"run {found['id']} of {name} has ended: {_counted(found)}")
    else:
        click.echo(f"run {found['id']} of {name} has begun: veridox pipeline runs {name}")
    for problem in [] if as_json else found["problems"]:
        click.echo(f"    {problem}")


@pipeline.command()
@click.argument("name")
@limit_option
@json_option
@pass_session
def runs(session: Session, name: str, limit: int, as_json: bool) -> None:
    """Runs of a pipeline, newest first."""
    rows = list(islice(session.client.pipelines.runs(name), limit))
    if as_json:
        print_json(rows)
        return
    print_table(
        ("run", "version", "how", "begun", "ended", "parameters", "counts", "problems"),
        (
            (
                row["id"],
                row["version"],
                row["how"],
                moment(row["begun_at"]),
                moment(row["ended_at"]) or ("closed" if row["closed_at"] else "open"),
                ", ".join(f"{key} {value}" for key, value in row["parameters"].items()),
                _counted(row),
                "; ".join(row["problems"]),
            )
            for row in rows
        ),
    )


def _counted(run: dict[str, Any]) -> str:
    shown = ((name.replace("_", " "), count) for name, count in run["counts"].items())
    return ", ".join(f"{count} {name}" for name, count in shown if count) or "nothing came in"
