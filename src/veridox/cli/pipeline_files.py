"""Pipeline files on this machine: with their shared parts, values and commit."""

import re
import subprocess
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

if TYPE_CHECKING:
    from veridox.core.pipeline import Examined, Problem
    from veridox.pluginhost import PluginHost

LARGEST = 1_000_000
"""Bytes of a file that is looked at at all."""
FILE = click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
VALUE = click.option(
    "--value", "values", multiple=True, metavar="NAME=VALUE",
    help="A value of the environment, for =environment.NAME; the service has its own.",
)  # fmt: skip


PLUGIN = click.option(
    "--plugin", "plugins", multiple=True, metavar="PACKAGE",
    help="Use the plug-ins of this installed package, as the service's settings list them.",
)  # fmt: skip


@contextmanager
def plugged(packages: tuple[str, ...]) -> "Iterator[PluginHost | None]":
    """Plug-ins for the time of a command. Raises ClickException for one that cannot be used."""
    if not packages:
        yield None
        return
    try:
        from veridox.pluginhost import PluginHost
    except ModuleNotFoundError as error:
        raise needs_more(error) from error
    host = PluginHost(packages, size=1)
    try:
        wrong = [f"plug-in {each.name}: {each.problem}" for each in host.plugins if each.problem]
        if wrong:
            raise click.ClickException("; ".join(wrong))
        host.add_functions()
        yield host
    finally:
        host.close()


@dataclass(frozen=True)
class PipelineFile:
    """A file as it is handed in: its text, and the shared parts that lie beside it."""

    path: Path
    text: str
    parts: dict[str, str]

    @property
    def commit(self) -> str:
        """Commit of the repository that it lies in; empty where it lies in none."""
        return commit_of(self.path)


def pipeline_file(path: Path) -> PipelineFile:
    """Read a file with its parts. Raises ClickException when it is no text."""
    text = _text(path)
    names = _shared(text)
    parts = {
        name: _text(part)
        for name in names
        if (part := path.parent / f"{name}.shared.yaml").is_file()
    }
    return PipelineFile(path, text, parts)


def _text(path: Path) -> str:
    if path.stat().st_size > LARGEST:
        raise click.ClickException(f"{path}: {path.stat().st_size:,} bytes; no pipeline is so long")
    try:
        return path.read_text("utf-8")
    except UnicodeDecodeError as error:
        raise click.ClickException(f"{path}: not UTF-8 text (byte {error.start})") from error


def _shared(text: str) -> list[str]:
    """Names that the key `shared` may mean; what is wrong with them its check says."""
    match = re.search(r"(?m)^shared:([^\n]*(?:\n[ \t]*-[^\n]*)*)", text)
    return re.findall(r"[a-z0-9][a-z0-9-]*", match[1]) if match else []


def commit_of(path: Path) -> str:
    """`1a2b3c4`, with `and changes` when the file is not as it was committed."""
    folder = str(path.resolve().parent)
    try:
        found = subprocess.run(
            ["git", "-C", folder, "rev-parse", "--short=12", "HEAD"],
            capture_output=True, text=True, timeout=10, check=True,
        ).stdout.strip()  # fmt: skip
        changed = subprocess.run(
            ["git", "-C", folder, "status", "--porcelain", "--", str(path.resolve())],
            capture_output=True, text=True, timeout=10, check=True,
        ).stdout.strip()  # fmt: skip
    except (OSError, subprocess.SubprocessError):
        return ""
    return f"{found} and changes" if changed else found


def given_values(values: Iterable[str]) -> dict[str, str]:
    """`NAME=VALUE` as pairs. Raises UsageError."""
    found = {}
    for each in values:
        name, sign, value = each.partition("=")
        if not sign or not name:
            raise click.UsageError(f"{each!r}: write it as NAME=VALUE")
        found[name] = value
    return found


def examined(file: PipelineFile, values: dict[str, str]) -> "Examined":
    """Check it here. Raises ClickException without the packages for it."""
    try:
        from veridox.core.pipeline import examine
    except ModuleNotFoundError as error:
        raise needs_more(error) from error
    return examine(file.text, file.parts, values)


def needs_more(error: ModuleNotFoundError) -> click.ClickException:
    """What to install."""
    return click.ClickException(
        f"pipeline files need more packages: pip install 'veridox[read]' ({error.name})"
    )


def print_problems(file: PipelineFile, problems: "Iterable[Problem]", what: str = "") -> None:
    """Each with its place, the line, and what is meant underlined."""
    from veridox.core.pipeline.file.shown import underlined

    for problem in problems:
        path = file.path.parent / f"{problem.part}.shared.yaml" if problem.part else file.path
        text = file.parts.get(problem.part, "") if problem.part else file.text
        hint = f" ({problem.hint})" if problem.hint else ""
        click.echo(f"{path}:{problem.line}:{problem.column}: {what}{problem.message}{hint}")
        for line in underlined(text, problem):
            click.echo(line)


def shown(problems: "Iterable[Problem]") -> list[dict[str, Any]]:
    """For programs."""
    keys = ("line", "column", "message", "hint", "path", "part")
    return [{key: getattr(each, key) for key in keys} for each in problems]
