"""Writes made-up documents with their truth: `python -m tools.corpus.make FOLDER`.

The folder gets the files and `manifest.jsonl`, one document a line (docs/reading.md).
"""

import json
import zlib
from collections.abc import Iterator
from contextlib import AbstractContextManager
from pathlib import Path
from types import TracebackType
from typing import Any, Self

import click
from playwright.sync_api import sync_playwright

from tools.corpus import families, held_back
from tools.corpus.bills import BUYERS, LANGUAGES, bill
from tools.corpus.printer import Printer

CHROMIUM = "/usr/bin/chromium"
VENDORS = 4
"""Suppliers of each family, each with looks and words of its own."""
TRAINING = tuple(families.FAMILIES)
HELD_BACK = (*held_back.HTML, *held_back.MADE)
TUNING = ("boxes", "two_storeys", "leaders")
"""Of the families for training: those on which choices are checked, not the weights made."""


class Press(AbstractContextManager["Press"]):
    """Prints HTML as PDF by one Chromium."""

    def __enter__(self) -> Self:
        self._playwright = sync_playwright().start()
        self._browser = self._playwright.chromium.launch(
            executable_path=CHROMIUM, args=["--no-sandbox", "--disable-gpu"]
        )
        self._page = self._browser.new_page()
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None,
        trace: TracebackType | None,
    ) -> None:  # fmt: skip
        self._browser.close()
        self._playwright.stop()

    def pdf(self, html: str) -> bytes:
        """The printed pages."""
        self._page.set_content(html, wait_until="load")
        return self._page.pdf(prefer_css_page_size=True, print_background=True)


def document(press: Press, family: str, seed: int) -> tuple[bytes, str, dict[str, Any]]:
    """A file, the ending of its name, and its truth."""
    language = LANGUAGES[seed % len(LANGUAGES)]
    held = family in HELD_BACK
    content = bill(
        zlib.crc32(family.encode()) + seed, language, most=30 if family == "carried" else 14
    )
    printer = Printer(content, f"{family} {seed // len(LANGUAGES) % VENDORS}", held_back=held)
    if family in held_back.MADE:
        made = held_back.MADE[family](printer)
    else:
        made = press.pdf((held_back.HTML if held else families.FAMILIES)[family](printer))
    ending = ".docx" if made.startswith(b"PK") else ".pdf"
    ours = [name for name, *_ in BUYERS]
    return made, ending, {"family": family, "seed": seed, "buyers": ours, **printer.truth()}


def documents(
    names: tuple[str, ...], count: int, first: int = 0
) -> Iterator[tuple[bytes, str, dict[str, Any]]]:
    """`count` documents of each family."""
    with Press() as press:
        for family in names:
            for seed in range(first, first + count):
                yield document(press, family, seed)


def write(folder: Path, names: tuple[str, ...], count: int, first: int = 0) -> int:
    """Write documents and their manifest into a folder. Returns how many."""
    folder.mkdir(parents=True, exist_ok=True)
    with (folder / "manifest.jsonl").open("w", encoding="utf-8") as manifest:
        for content, ending, truth in documents(names, count, first):
            path = f"{truth['family']}-{truth['seed']:04d}{ending}"
            (folder / path).write_bytes(content)
            manifest.write(json.dumps({"path": path, **truth}, ensure_ascii=False) + "\n")
    return len(names) * count


@click.command()
@click.argument("folder", type=click.Path(path_type=Path))
@click.option("--which", type=click.Choice(["training", "tuning", "held-back"]), default="training")
@click.option("--count", default=9, show_default=True, help="Documents of each family.")
@click.option("--first", default=0, help="First seed.")
def main(folder: Path, which: str, count: int, first: int) -> None:
    """Write documents and their truth into FOLDER."""
    names = {"training": TRAINING, "tuning": TUNING, "held-back": HELD_BACK}[which]
    click.echo(f"{write(folder, names, count, first)} documents in {folder}")


if __name__ == "__main__":
    main()
