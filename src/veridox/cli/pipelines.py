"""`veridox pipeline`: check files here, publish and list on the service."""

import re
from pathlib import Path

import click

from veridox.cli.output import json_option, moment, print_json, print_table
from veridox.cli.session import Session, pass_session

FILE = click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))


@click.group()
def pipeline() -> None:
    """Pipelines: check a file, publish it, look at versions."""


@pipeline.command()
@FILE
@json_option
@click.pass_context
def check(context: click.Context, file: Path, as_json: bool) -> None:
    """Check a pipeline file on this machine; each problem with line and column.

    Example: veridox pipeline check supplier-invoices.pipeline.yaml
    """
    try:
        from veridox.core.findings.wording import counted
        from veridox.core.pipeline import PipelineError, load
        from veridox.core.pipeline.file.shown import underlined
    except ModuleNotFoundError as error:
        raise click.ClickException(
            f"checking offline needs more packages: pip install 'veridox[read]' ({error.name})"
        ) from error
    try:
        text = file.read_text("utf-8")
        definition = load(text)
    except UnicodeDecodeError as error:
        raise click.ClickException(f"{file}: not UTF-8 text (byte {error.start})") from error
    except PipelineError as error:
        if as_json:
            keys = ("line", "column", "message", "hint", "path")
            print_json([{key: getattr(each, key) for key in keys} for each in error.problems])
        else:
            for problem in error.problems:
                hint = f" ({problem.hint})" if problem.hint else ""
                click.echo(f"{file}:{problem.line}:{problem.column}: {problem.message}{hint}")
                for line in underlined(text, problem):
                    click.echo(line)
            click.echo(f"{counted(len(error.problems), 'problem')}", err=True)
        context.exit(1)
    if as_json:
        print_json([])
    else:
        click.echo(f"{file}: {definition.name} is good")


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
        raise click.ClickException(
            f"pipeline files need more packages: pip install 'veridox[read]' ({error.name})"
        ) from error
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
@FILE
@pass_session
def publish(session: Session, file: Path) -> None:
    """Publish a file as the next version of its pipeline."""
    version = session.client.pipelines.create({"text": file.read_text("utf-8")})
    click.echo(f"{version['pipeline']} is published as version {version['number']}")


@pipeline.command("list")
@json_option
@pass_session
def list_(session: Session, as_json: bool) -> None:
    """Pipelines with their newest versions."""
    rows = list(session.client.pipelines.list())
    if as_json:
        print_json(rows)
    else:
        print_table(
            ("name", "version", "state", "title"),
            (
                (
                    row["name"],
                    row["version"],
                    "paused" if row["paused"] else "running",
                    row["title"],
                )
                for row in rows
            ),
        )


@pipeline.command()
@click.argument("name")
@pass_session
def show(session: Session, name: str) -> None:
    """The text of a pipeline's newest version."""
    click.echo(session.client.pipelines.get(name)["text"], nl=False)


@pipeline.command()
@click.argument("name")
@json_option
@pass_session
def versions(session: Session, name: str, as_json: bool) -> None:
    """All published versions of a pipeline."""
    answer = session.client.pipelines.get(f"{name}/versions")["results"]
    if as_json:
        print_json(answer)
    else:
        print_table(
            ("version", "published", "by", "sha256"),
            (
                (
                    row["number"],
                    moment(row["published_at"]),
                    row["published_by"],
                    row["sha256"][:12],
                )
                for row in answer
            ),
        )
