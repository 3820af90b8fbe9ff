"""Reads the decision set and appends what came of it to a log: `bin/bench decision`.

Nothing is trained on these documents and nothing tuned to them: they decide between ways to read.
The log is committed, so that every reading of them can be seen.
"""

import json
import subprocess
import tempfile
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from tools.bench_reading import Judged, by_field, judged_of, print_fields
from tools.decision.make import write

LOG = Path(__file__).parent.parent / "docs" / "figures" / "decision.jsonl"


@dataclass(frozen=True)
class Figures:
    """What came of one way to look at the set."""

    documents: int
    header: float
    lines: float
    kind: float
    perfect: int

    def as_text(self, name: str) -> str:
        """A row of the table."""
        shares = f"{self.header:>10.1f}{self.lines:>9.1f}{self.kind:>8.1f}"
        return f"{name:<32}{self.documents:>10}{shares}{self.perfect:>10}"


def of(judged: Sequence[Judged]) -> Figures:
    """Figures of some documents."""
    lines = sum(each.lines for each in judged)
    perfect = sum(
        all(right for _, told, _, right, _ in each.fields if told is not None) for each in judged
    )
    return Figures(
        len(judged), by_field(judged)["header"].share,
        100 * sum(each.lines_right for each in judged) / max(1, lines),
        100 * sum(each.kind_right for each in judged) / max(1, len(judged)), perfect,
    )  # fmt: skip


def _truths(folder: Path) -> list[dict[str, Any]]:
    with (folder / "manifest.jsonl").open(encoding="utf-8") as manifest:
        return [json.loads(line) for line in manifest]


def figures(note: str, photos: bool, detail: bool) -> None:
    """Read the set, with the buyers unknown and known, and print what came of it."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        print(f"{write(folder)} documents, written by hand", flush=True)
        truths = _truths(folder)
        strangers = [{**truth, "buyers": []} for truth in truths]
        ways = {
            "digital, buyers unknown": [(folder, truth, "digital") for truth in strangers],
            "digital, buyers known": [(folder, truth, "digital") for truth in truths],
        }
        if photos:
            ways["photos, buyers unknown"] = [(folder, t, "photo") for t in strangers if t["photo"]]
        found = {way: list(judged_of(jobs)) for way, jobs in ways.items()}
    print(f"\n{'':<32}{'documents':>10}{'header %':>10}{'lines %':>9}{'kind %':>8}{'perfect':>10}")
    for way, judged in found.items():
        print(of(judged).as_text(way))
    digital = found["digital, buyers unknown"]
    for title, kinds in (("till receipts", True), ("office, text and mail", False)):
        own = [
            each for each in digital
            if (each.family.endswith("slip") if kinds else not each.path.endswith(".pdf"))
        ]  # fmt: skip
        print(of(own).as_text("  " + title))
    print_fields(digital)
    if detail:
        _misses(digital)
    entry = {
        "at": datetime.now(UTC).strftime("%Y-%m-%d %H:%M"), "commit": _commit(), "note": note,
        **{way: vars(of(judged)) for way, judged in found.items()},
        "fields": {
            name: round(count.share, 1)
            for name, count in by_field(digital).items() if count.stated
        },
    }  # fmt: skip
    with LOG.open("a", encoding="utf-8") as log:
        log.write(json.dumps(entry) + "\n")
    print(
        f"\nappended to {LOG.relative_to(Path.cwd())}"
        if LOG.is_relative_to(Path.cwd())
        else f"\nappended to {LOG}"
    )


def _commit() -> str:
    done = subprocess.run(
        ["git", "rev-parse", "--short", "HEAD"], capture_output=True, text=True, check=False
    )
    return done.stdout.strip()


def _misses(judged: Iterable[Judged]) -> None:
    """What was not right, by structure: to see causes, never to tune to."""
    amiss: dict[str, Counter[str]] = {}
    for each in judged:
        own = amiss.setdefault(each.family, Counter())
        own.update(
            name for name, told, _, right, _ in each.fields if told is not None and not right
        )
        own["lines"] += each.lines - each.lines_right
    print()
    for family, own in sorted(amiss.items(), key=lambda each: -each[1].total()):
        told = ", ".join(f"{name} {count}" for name, count in own.most_common(6) if count)
        print(f"{family:<24}{told or 'nothing'}")
