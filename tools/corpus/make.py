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

from tools.corpus import composed, families, held_back, held_back_more, made
from tools.corpus.bills import BUYERS, LANGUAGES, bill
from tools.corpus.printer import Printer

CHROMIUM = "/usr/bin/chromium"
LONG = ("carried", "placed", "drawn")
"""Families whose bills may go on over six pages."""
VENDORS = 4
"""Suppliers of each family, each with looks and words of its own."""
HTML = {**families.FAMILIES, **composed.FAMILIES, **held_back.HTML, **held_back_more.HTML}
MADE = {**made.FAMILIES, **held_back.MADE, **held_back_more.MADE}


def _split() -> dict[str, tuple[str, ...]]:
    text = (Path(__file__).parent / "split.txt").read_text(encoding="utf-8")
    lines = [line.partition(":") for line in text.splitlines() if not line.startswith("#")]
    return {name: tuple(rest.split()) for name, _, rest in lines}


TUNING = _split()["tuning"]
"""Families on which choices are checked and confidences made chances."""
HELD_BACK = _split()["held back"]
"""Families that are only measured on."""
TRAINING = tuple(name for name in (*HTML, *MADE) if name not in (*TUNING, *HELD_BACK))
"""Families that the weights are made of."""


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
    billed = bill(zlib.crc32(family.encode()) + seed, language, most=110 if family in LONG else 14)
    printer = Printer(billed, f"{family} {seed // len(LANGUAGES) % VENDORS}", held_back=held)
    if family in MADE:
        content = MADE[family](printer)
    else:
        content = press.pdf(HTML[family](printer))
    ending = ".pdf" if content.startswith(b"%PDF") else ".docx" if b"word/" in content else ".xlsx"
    ours = [name for name, *_ in BUYERS]
    return content, ending, {"family": family, "seed": seed, "buyers": ours, **printer.truth()}


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
