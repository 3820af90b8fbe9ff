"""`veridox read`: offline, without any service."""

import csv
import hashlib
import io
import os
import sys
from collections.abc import Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from veridox.cli.output import json_option, print_json, print_table, sure

if TYPE_CHECKING:
    from veridox.core.language.syntax import Literal
    from veridox.core.pipeline.definition import Declared
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


@dataclass(frozen=True)
class _Told:
    """A file, or one that lay in a mail, with what came of it.

    Attributes:
        name: the path; for a file of a mail with its name behind it.
        content: bytes, kept only where a picture is asked for.
        answer: what reading it gave; None for what is left out.
        why: the reason then.
        stuck: whether it may be a bill all the same, and could not be opened.
    """

    name: str
    content: bytes
    answer: "ReadAnswer | None"
    why: str = ""
    stuck: bool = False


@dataclass(frozen=True)
class _Reader:
    """Reads the files of one call."""

    pool: "ReaderPool"
    words: bool
    keep: bool
    declared: "tuple[Declared, ...]"
    entities: tuple[tuple[str, str], ...]

    def path(self, path: Path) -> list[_Told]:
        """What came of a file: a mail brings all of its own."""
        from veridox.core.filetypes import MAILS
        from veridox.core.readers.sniff import sniff

        content = path.read_bytes()
        if sniff(content) in MAILS:
            return self._mail(path, content)
        return [self._file(str(path), path.name, content, {})]

    def _mail(self, path: Path, content: bytes) -> list[_Told]:
        from veridox.core.pipeline.naming import names_of_content
        from veridox.core.readers.mail.documents import STUCK, documents_of
        from veridox.readerpool import ReaderStoppedError

        try:
            mail = self.pool.mail(content)
        except ReaderStoppedError as error:
            why = f"the mail cannot be taken apart: {error}"
            return [_Told(str(path), b"", None, why, stuck=True)]
        read = documents_of(mail)
        told = [
            self._file(
                f"{path}: {file.name}", file.name, file.content, names_of_content(mail, file)
            )
            for file in read
        ]
        told += [
            _Told(
                f"{path}: {file.name}",
                b"",
                None,
                f"not read: {file.reason or file.left_out}",
                stuck=file.left_out in STUCK,
            )
            for file in mail.files
            if file.left_out
        ]
        return told or [_Told(str(path), b"", None, f"nothing to read in it ({mail.kind})")]

    def _file(self, shown: str, name: str, content: bytes, names: "dict[str, Literal]") -> _Told:
        """What came of a file; `names`: those of the mail that it lay in."""
        from veridox.core.pipeline import as_wanted
        from veridox.core.pipeline.naming import names_of_bytes
        from veridox.core.reading import FIELDS

        answer = self.pool.read(
            content, sha256=hashlib.sha256(content).hexdigest(), name=name, path=shown,
            words=self.words, buyers=self.entities,
            extra=[each.field for each in self.declared if each.field.name not in FIELDS],
        )  # fmt: skip
        names = names or names_of_bytes(name, answer.media_type, len(content), 1)
        found = tuple(as_wanted(each, self.declared, names, {}) for each in answer.readings)
        return _Told(shown, content if self.keep else b"", replace(answer, readings=found))


def _entities(path: Path | None) -> tuple[tuple[str, str], ...]:
    """Names and tax ids of our own companies, from a CSV file as it is imported."""
    if path is None:
        return ()
    with path.open(newline="", encoding="utf-8-sig") as file:
        reader = csv.DictReader(file)
        if "name" not in (reader.fieldnames or ()):
            given = ", ".join(reader.fieldnames or ()) or "none"
            raise click.ClickException(
                f"{path}: the columns name and tax_id are needed; found: {given}"
            )
        found = [(row["name"].strip(), (row.get("tax_id") or "").strip()) for row in reader]
    if not any(name for name, _ in found):
        raise click.ClickException(f"{path}: no entity stands in it")
    return tuple(each for each in found if each[0])


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
    help="A pipeline file, whose own fields are read too: on the page, in the mail, by default.",
)
@click.option(
    "--entities",
    type=click.Path(exists=True, dir_okay=False, path_type=Path),
    help="CSV of our own companies (name, tax_id): they are the buyer, never the seller.",
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
    entities: Path | None,
    processes: int | None,
) -> None:
    """Read invoices on this machine; no service is needed.

    A folder is read with everything in it, a mail (.eml, .msg) with all its files, or by its
    own words where it has none. Exits with 1 when a file could not be read or does not add up.

    Example: veridox read demo-invoice.pdf --picture seen.png
    """
    files = list(_files(paths))
    if not files:
        raise click.UsageError("there are no files in there")
    if picture is not None and len(files) != 1:
        raise click.UsageError("--picture goes with exactly one file")
    declared = _declared(pipeline) if pipeline is not None else ()
    ours = _entities(entities)
    at_once = min(len(files), processes or os.cpu_count() or 1)
    with _pool(at_once) as pool:
        reader = _Reader(
            pool,
            words=as_text or as_words,
            keep=picture is not None,
            declared=declared,
            entities=ours,
        )
        with (
            ThreadPoolExecutor(at_once) as threads,
            _progress(threads.map(reader.path, files), len(files)) as watched,
        ):
            told = [each for found in watched for each in found]
        if picture is not None:
            _draw(pool, told, picture)
    for each in told:
        if each.answer is None:
            click.echo(f"{each.name}: {each.why}", err=True)
    answers = [(each.name, each.answer) for each in told if each.answer is not None]
    if as_json:
        print_json([document for _, answer in answers for document in _json(answer)])
    elif as_csv:
        _print_csv(answers)
    elif as_text or as_words:
        for _, answer in answers:
            _print_pages(answer, words=as_words)
    else:
        for name, answer in answers:
            _print_answer(name, answer, several=len(told) > 1 or name != str(files[0]))
    unopened = not answers or any(each.stuck for each in told)
    if unopened or any(_blocked(document) for _, answer in answers for document in _json(answer)):
        context.exit(1)


def _draw(pool: "ReaderPool", told: list[_Told], picture: Path) -> None:
    """The first page of the only document, with what was read, as a picture."""
    from veridox.cli.picture import draw

    shown = [each for each in told if each.answer is not None]
    if len(shown) != 1 or shown[0].answer is None:
        raise click.UsageError(
            f"--picture goes with exactly one document, and there are {len(shown)} in it"
        )
    answer, content = shown[0].answer, shown[0].content
    upright = answer.pictures.get(1)
    page = pool.shown(upright, 110) if upright else pool.picture(content, 1, 110)
    picture.write_bytes(draw(page, 110, answer))
    click.echo(f"wrote {picture}", err=True)


def _progress(done: Iterable[Any], count: int) -> Any:
    hidden = count < 3 or not sys.stderr.isatty()
    return click.progressbar(done, length=count, label="reading", file=sys.stderr, hidden=hidden)


def _declared(pipeline: Path) -> "tuple[Declared, ...]":
    """The fields that a pipeline file declares."""
    from veridox.core.pipeline import PipelineError, load

    try:
        definition = load(pipeline.read_text(encoding="utf-8"))
    except PipelineError as error:
        raise click.ClickException(f"{pipeline}:{error}") from error
    return definition.completing


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


def _print_csv(answers: list[tuple[str, "ReadAnswer"]]) -> None:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["file", "document", "field", "value", "page", "confidence", "origin"])
    for path, answer in answers:
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


def _print_answer(path: str, answer: "ReadAnswer", *, several: bool) -> None:
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
