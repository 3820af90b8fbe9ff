"""Records on the screen: a table when a terminal looks, plain tab-separated text when piped."""

import json
import sys
from collections.abc import Callable, Iterable, Sequence
from datetime import datetime
from typing import Any, TypeVar

import click
from rich.console import Console
from rich.table import Table
from rich.text import Text

F = TypeVar("F", bound=Callable[..., Any])
json_option = click.option("--json", "as_json", is_flag=True, help="Print JSON.")
limit_option = click.option("--limit", default=50, show_default=True, help="Rows at most.")

STATE_STYLE = {
    "posted": "green",
    "at_desk": "yellow",
    "failed": "red",
    "refused": "red",
    "unsure": "red",
    "block": "red",
    "warn": "yellow",
}


def console() -> Console:
    """Standard output; wide when piped, so that nothing is cut."""
    return Console(highlight=False, width=None if sys.stdout.isatty() else 200)


def print_json(data: Any) -> None:
    """JSON as the service sent it."""
    click.echo(json.dumps(data, indent=2, ensure_ascii=False, default=str))


def print_table(
    columns: Sequence[str], rows: Iterable[Sequence[Any]], *, right: Sequence[str] = ()
) -> int:
    """Print rows; returns how many. Columns named in `right` are aligned to the right."""
    count = 0
    if not sys.stdout.isatty():
        click.echo("\t".join(columns))
        for row in rows:
            click.echo("\t".join(_plain(cell) for cell in row))
            count += 1
        return count
    table = Table(box=None, pad_edge=False, header_style="dim")
    for column in columns:
        table.add_column(column, justify="right" if column in right else "left")
    for row in rows:
        table.add_row(
            *(Text(_plain(cell), style=STATE_STYLE.get(_plain(cell), "")) for cell in row)
        )
        count += 1
    console().print(table)
    return count


def _plain(cell: Any) -> str:
    if cell is None:
        return ""
    text = str(cell)
    # Foreign text must not steer the terminal.
    return "".join(char if char.isprintable() else " " for char in text)


def sure(confidence: float) -> str:
    """A confidence as a percentage, rounded down: nothing looks surer than it is."""
    return f"{int(confidence * 1000) / 10:.1f} %"


def moment(text: str | None) -> str:
    """A time of the service in local time, to the second."""
    if not text:
        return ""
    return datetime.fromisoformat(text).astimezone().strftime("%Y-%m-%d %H:%M:%S")


def pairs(rows: Iterable[tuple[str, Any]]) -> None:
    """Names and values, one a line; empty ones are left out."""
    shown = [(name, _plain(value)) for name, value in rows if value not in (None, "", [])]
    width = max((len(name) for name, _ in shown), default=0)
    for name, value in shown:
        click.echo(f"{name.ljust(width)}  {value}")
