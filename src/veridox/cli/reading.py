"""`veridox read`: offline, without any service."""

import csv
import hashlib
import io
import os
import sys
from collections.abc import Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from veridox.cli.output import json_option, print_json, print_table, sure

if TYPE_CHECKING:
    from veridox.core.reading import ExtraField
    from veridox.readerpool import ReadAnswer, ReaderPool

NEEDS_EXTRA = "reading offline needs more packages: pip install 'veridox[read]'"


def _pool(size: int) -> "ReaderPool":
    try:
        import pypdfium2  # noqa: F401

        from veridox.readerpool import ReaderPool
    except ModuleNotFoundError as error:
        raise click.ClickException(f"{NEEDS_EXTRA} ({error.name} is missing)") from error
    return ReaderPool(size=size)


def _files(paths: tuple[Path, ...]) -> Iterator[Path]:
    for path in paths:
        if path.is_dir():
            yield from sorted(each for each in path.rglob("*") if each.is_file())
        else:
            yield path


@click.command()
@click.argument("paths", nargs=-1, required=True, type=click.Path(exists=True, path_type=Path))
@json_option
@click.option("--csv", "as_csv", is_flag=True, help="Print CSV: a row for each header field.")
@click.option("--text", "as_text", is_flag=True, help="Print the plain text of the pages.")
@click.option("--words", "as_words", is_flag=True, help="Print each word with its box.")
@click.option(
    "--picture",
    type=click.Path(dir_okay=False, path_type=Path),
    help="Draw the first page with what was read into this PNG file.",
)
@click.option(
    "--pipeline",
    type=click.Path(exists=True, dir_okay=False, path_type=Path),
    help="A pipeline file, whose own fields are read too.",
)
@click.option(
    "--processes",
    type=click.IntRange(1, 64),
    help="How many files are read at once.",
    show_default="one for each processor",
)
@click.pass_context
def read(
    context: click.Context,
    paths: tuple[Path, ...],
    *,
    as_json: bool,
    as_csv: bool,
    as_text: bool,
    as_words: bool,
    picture: Path | None,
    pipeline: Path | None,
    processes: int | None,
) -> None:
    """Read invoices on this machine; no service is needed.

    A folder is read with everything in it. Exits with 1 when a file could not be read
    or does not add up.

    Example: veridox read demo-invoice.pdf --picture seen.png
    """
    files = list(_files(paths))
    if not files:
        raise click.UsageError("there are no files in there")
    if picture is not None and len(files) != 1:
        raise click.UsageError("--picture goes with exactly one file")
    extra = _declared(pipeline) if pipeline is not None else ()
    at_once = min(len(files), processes or os.cpu_count() or 1)
    with _pool(at_once) as pool:

        def one(path: Path) -> "tuple[Path, bytes, ReadAnswer]":
            content = path.read_bytes()
            sha256 = hashlib.sha256(content).hexdigest()
            answer = pool.read(
                content, sha256=sha256, name=path.name, path=str(path),
                words=as_text or as_words, extra=extra,
            )  # fmt: skip
            # One picture needs its file again; a folder's are not kept in memory.
            return path, content if len(files) == 1 else b"", answer

        with (
            ThreadPoolExecutor(at_once) as threads,
            _progress(threads.map(one, files), len(files)) as watched,
        ):
            answers = list(watched)
        if picture is not None:
            from veridox.cli.picture import draw

            path, content, answer = answers[0]
            upright = answer.pictures.get(1)
            page = pool.shown(upright, 110) if upright else pool.picture(content, 1, 110)
            picture.write_bytes(draw(page, 110, answer))
            click.echo(f"wrote {picture}", err=True)
    if as_json:
        print_json([each for _, _, answer in answers for each in _json(answer)])
    elif as_csv:
        _print_csv(answers)
    elif as_text or as_words:
        for _, _, answer in answers:
            _print_pages(answer, words=as_words)
    else:
        for path, _, answer in answers:
            _print_answer(path, answer, several=len(answers) > 1)
    if any(_blocked(document) for _, _, answer in answers for document in _json(answer)):
        context.exit(1)


def _progress(done: Iterable[Any], count: int) -> Any:
    hidden = count < 3 or not sys.stderr.isatty()
    return click.progressbar(done, length=count, label="reading", file=sys.stderr, hidden=hidden)


def _declared(pipeline: Path) -> "tuple[ExtraField, ...]":
    """The fields that a pipeline file declares."""
    from veridox.core.pipeline import PipelineError, load

    try:
        definition = load(pipeline.read_text(encoding="utf-8"))
    except PipelineError as error:
        raise click.ClickException(f"{pipeline}:{error}") from error
    return tuple(each.field for each in definition.declared)


def _blocked(document: dict[str, Any]) -> bool:
    return any(finding["weight"] == "block" for finding in document["findings"])


def _json(answer: "ReadAnswer") -> list[dict[str, Any]]:
    from veridox.core.checks import run_arithmetic
    from veridox.core.reading import Reading, reading_to_json

    readings = answer.readings or (Reading(),)
    return [
        reading_to_json(
            reading,
            (
                *(
                    each
                    for each in answer.findings
                    if len(readings) == 1 or each.page in (None, *reading.source.pages)
                ),
                *run_arithmetic(reading),
            ),
        )
        for reading in readings
    ]


def _print_csv(answers: list[tuple[Path, bytes, "ReadAnswer"]]) -> None:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["file", "document", "field", "value", "page", "confidence", "origin"])
    for path, _, answer in answers:
        for number, document in enumerate(_json(answer), start=1):
            for name, field in document["fields"].items():
                value = _shown(field["value"])
                # A cell that begins like a formula must not become one.
                safe = "'" + value if value[:1] in ("=", "+", "-", "@") else value
                writer.writerow(
                    [path, number, name, safe, field["page"], field["confidence"], field["origin"]]
                )
    click.echo(out.getvalue(), nl=False)


def _print_pages(answer: "ReadAnswer", *, words: bool) -> None:
    for page in answer.pages:
        if words:
            for word in page["words"]:
                box = " ".join(f"{part:.1f}" for part in word["box"])
                click.echo(f"{page['number']}\t{box}\t{word['text']}")
        else:
            click.echo(page["text"])
            click.echo("\f", nl=False)


def _shown(value: Any) -> str:
    if isinstance(value, dict):
        return f"{value['amount']} {value['currency']}"
    return str(value)


def _print_answer(path: Path, answer: "ReadAnswer", *, several: bool) -> None:
    from veridox.core.findings.wording import counted

    for document in _json(answer):
        if several:
            click.echo(f"== {path}")
        pages = document["document"]["pages"]
        if pages:
            kind = document["document"]["kind"]
            language = document["document"]["language"] or "language unknown"
            click.echo(f"{kind}, {counted(len(pages), 'page')}, {language}\n")
        _print_fields(document)
        for finding in document["findings"]:
            click.echo(f"{finding['weight']}: {finding['message']} [{finding['code']}]")
            if finding["hint"]:
                click.echo(f"       {finding['hint']}")


def _print_fields(document: dict[str, Any]) -> None:
    if document["fields"]:
        print_table(
            ("field", "value", "page", "sure", "as printed"),
            (
                (
                    name,
                    _shown(field["value"]),
                    field["page"],
                    sure(field["confidence"]),
                    field["text"],
                )
                for name, field in document["fields"].items()
            ),
            right=("page", "sure"),
        )
        click.echo()
    for title, rows in (("line", document["lines"]), ("tax", document["tax_lines"])):
        names = list(dict.fromkeys(name for row in rows for name in row))
        if rows:
            print_table(
                (title, *names),
                (
                    (index, *(_shown(row[name]["value"]) if name in row else "" for name in names))
                    for index, row in enumerate(rows, start=1)
                ),
                right=("quantity", "unit_price", "amount", "base", "rate", "tax_rate", "discount"),
            )
            click.echo()
