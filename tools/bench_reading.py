"""How well documents are read: for `bin/bench reading`, on any folder with a manifest."""

import io
import json
import multiprocessing
import os
import re
import resource
import tempfile
import time
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal, InvalidOperation
from pathlib import Path
from typing import Any

import cv2
import pypdfium2 as pdfium
from PIL import Image

from tools.bench_pages import list_words
from tools.bench_split import print_split, split_of
from tools.corpus.camera import shot
from tools.reliability import buckets, plot
from veridox.core.extract.assemble import extract
from veridox.core.extract.hints import Hints, KnownParty
from veridox.core.filetypes import MAILS
from veridox.core.money import Money
from veridox.core.pages import Page
from veridox.core.pipeline.stages.check import risk
from veridox.core.readers.files import read_pages
from veridox.core.readers.mail.documents import documents_of
from veridox.core.readers.mail.read import read_mail
from veridox.core.readers.sniff import sniff
from veridox.core.reading import FIELDS, POSTED_KINDS, Origin, Reading, Source, Value

LINE = ("quantity", "unit_price", "amount")
"""Cells that make a line right."""
SURE = 0.995
KINDS_POSTED = frozenset(map(str, POSTED_KINDS))


@dataclass
class Counted:
    """Of one field: how often it was stated, and what was read."""

    stated: int = 0
    right: int = 0
    wrong: int = 0
    missing: int = 0
    invented: int = 0

    def add(self, truth: str | None, read: str | None, same: bool) -> None:
        """Count one document."""
        self.stated += truth is not None
        self.right += same
        self.wrong += truth is not None and read is not None and not same
        self.missing += truth is not None and read is None
        self.invented += truth is None and read is not None

    @property
    def share(self) -> float:
        """Percent right of those stated."""
        return 100 * self.right / self.stated if self.stated else 100.0


@dataclass
class Judged:
    """What came of one document."""

    family: str
    language: str
    condition: str
    kind: str = ""
    """As the truth has it."""
    fields: list[tuple[str, str | None, str | None, bool, float]] = field(default_factory=list)
    """Name, truth, read, whether they are the same, confidence."""
    lines: int = 0
    lines_right: int = 0
    true_lines: set[int] = field(default_factory=set)
    """Positions of lines of which nothing that was read is wrong, though cells may be missing."""
    lines_read: int = 0
    kind_right: bool = True
    seconds: float = 0.0
    bare: float = 0.0
    path: str = ""
    risk: float | None = None
    """Of a bill that nobody would have to look at for what is missing or derived; else None."""
    posted_wrong: bool = False
    """Whether any value that would be posted is wrong."""


def plain(value: Value | None) -> str | None:
    """A value as manifests write it."""
    if value is None:
        return None
    if isinstance(value, Money):
        return str(value.amount)
    return value.isoformat() if isinstance(value, date) else str(value)


def same(name: str, one: str | None, other: str | None) -> bool:
    """Whether two values are equal: numbers as numbers, text without regard to case and gaps."""
    if one is None or other is None:
        return False
    if name == "account":
        return one.replace(" ", "") == other.replace(" ", "")
    if name.endswith(".tax_id"):
        return _bare(one) == _bare(other)
    try:
        return Decimal(one) == Decimal(other)
    except InvalidOperation:
        return " ".join(one.casefold().split()) == " ".join(other.casefold().split())


def _bare(tax_id: str) -> str:
    """A tax id without its country, what groups it, and what says of which tax it is."""
    text = re.sub(r"[\s.\-/]", "", tax_id).upper()
    return re.sub(r"^[A-Z]{2}(?=[A-Z]?\d)|^CHE|(MWST|TVA|IVA|MVA)$", "", text)


def judge(reading: Reading, truth: dict[str, Any]) -> Judged:
    """Compare a reading with a line of a manifest."""
    judged = Judged(truth.get("family", ""), truth.get("language", ""), "", kind=truth["kind"])
    for name in sorted({*truth["fields"], *reading.fields}):
        told = truth["fields"].get(name)
        found = reading.fields.get(name)
        if told is None and found is not None and found.origin is Origin.DERIVED:
            continue  # worked out of what is printed, and said to be
        read = plain(found.value) if found is not None else None
        judged.fields.append(
            (name, told, read, same(name, told, read), found.confidence if found else 0.0)
        )
    left = {
        at: {name: plain(cell.value) for name, cell in line.items()}
        for at, line in enumerate(reading.lines)
    }
    judged.lines, judged.lines_read = len(truth["lines"]), len(left)
    for line in truth["lines"]:
        cells = [name for name in LINE if name in line]
        hit = next(
            (at for at, each in left.items() if all(same(n, line[n], each.get(n)) for n in cells)),
            None,
        )
        if hit is not None:
            del left[hit]
            judged.lines_right += 1
    judged.true_lines = _without_mistake(reading, truth["lines"])
    judged.kind_right = str(reading.kind) == truth["kind"]
    _weigh(judged, reading)
    return judged


def _without_mistake(reading: Reading, stated: Sequence[dict[str, str]]) -> set[int]:
    """Positions of lines whose every figure is that of a line of the document, each used once."""
    left, found = list(stated), set()
    for at, line in enumerate(reading.lines):
        read = {name: plain(line[name].value) for name in LINE if name in line}
        hit = next(
            (each for each in left if all(same(n, each.get(n), read[n]) for n in read)), None
        )
        if hit is not None:
            left.remove(hit)
            found.add(at)
    return found


NEEDED = ("number", "seller.name", "currency", "gross_total")
"""Fields without which nothing is posted."""


def _weigh(judged: Judged, reading: Reading) -> None:
    """Note the risk of a bill, and whether anything of it would be posted wrongly."""
    judged.posted_wrong = not judged.kind_right or judged.lines_read != len(judged.true_lines)
    for name, _, read, right, _ in judged.fields:
        judged.posted_wrong |= read is not None and not right and FIELDS[name].posted
    derived = any(field.origin is Origin.DERIVED for field in reading.fields.values())
    whole = all(name in reading.fields for name in NEEDED)
    if reading.kind in POSTED_KINDS and whole and not derived:
        judged.risk = float(risk(reading).share)


def print_curve(judged: Sequence[Judged]) -> None:
    """How many bills would go through at which risk, and how many of those wrongly."""
    bills = [each for each in judged if each.path and each.kind in KINDS_POSTED]
    print(f"\n{'risk at most':<18}{'bills':>8}{'through %':>11}{'of them wrong %':>17}")
    for limit in (0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1):
        through = [each for each in bills if each.risk is not None and each.risk <= limit]
        wrong = sum(each.posted_wrong for each in through)
        print(f"{100 * limit:<18.1f}{len(bills):>8}{100 * len(through) / max(1, len(bills)):>11.1f}"
              f"{100 * wrong / max(1, len(through)):>17.2f}")  # fmt: skip


def pictured(content: bytes, condition: str, seed: int) -> list[bytes]:
    """The pages of a PDF as pictures under a condition."""
    count = len(pdfium.PdfDocument(content))
    pages = []
    for page in range(count):
        seen = shot(content, page, condition, seed + page)
        picture = (
            seen.picture
            if seen.picture.ndim == 2
            else cv2.cvtColor(seen.picture, cv2.COLOR_BGR2RGB)
        )
        out = io.BytesIO()
        dpi = {"dpi": (seen.dpi, seen.dpi)} if seen.dpi else {}
        Image.fromarray(picture).save(out, "PNG", **dpi)  # type: ignore[arg-type]
        pages.append(out.getvalue())
    return pages


def pages_of(content: bytes) -> tuple[Page, ...]:
    """The pages of a file; of a mail those of its first document, as it is read anywhere."""
    if sniff(content) in MAILS:
        documents = documents_of(read_mail(content))
        content = documents[0].content if documents else b""
    return read_pages(content).pages


def read_one(job: tuple[Path, dict[str, Any], str]) -> Judged:
    """Read one document of a folder and judge it."""
    folder, truth, condition = job
    content = (folder / truth["path"]).read_bytes()
    bare = 0.0
    if condition != "digital":
        pictures = pictured(content, condition, int(truth.get("seed", 0)))
        began = time.process_time()
        pages = tuple(page for picture in pictures for page in read_pages(picture).pages)
        bare = time.process_time() - began
        pages = tuple(
            type(page)(**{**{n: getattr(page, n) for n in page.__slots__}, "number": at})
            for at, page in enumerate(pages, start=1)
        )
        began = time.process_time()
    else:
        if sniff(content) == "application/pdf":
            began = time.process_time()
            list_words(content)
            bare = time.process_time() - began
        began = time.process_time()
        pages = pages_of(content)
    ours = tuple(KnownParty(name=name) for name in truth.get("buyers", ()))
    readings = extract(pages, Source(), Hints(buyers=ours))
    seconds = time.process_time() - began
    judged = judge(readings[0], truth)
    judged.seconds, judged.bare = seconds, bare
    judged.condition, judged.path = condition, truth["path"]
    return judged


def results(folder: Path, conditions: Sequence[str], most: int = 0) -> Iterator[Judged]:
    """Judge all documents of a folder, on all processors."""
    with (folder / "manifest.jsonl").open(encoding="utf-8") as manifest:
        truths = [json.loads(line) for line in manifest if line.strip()]
    jobs = []
    for condition in conditions:
        chosen = truths if condition == "digital" else [
            truth for truth in truths if truth["path"].endswith(".pdf")
        ]  # fmt: skip
        if most and condition != "digital":
            chosen = chosen[:: max(1, len(chosen) // most)][:most]
        jobs += [(folder, truth, condition) for truth in chosen]
    yield from judged_of(jobs)


def judged_of(jobs: Sequence[tuple[Path, dict[str, Any], str]]) -> Iterator[Judged]:
    """Judge documents (folder, truth, condition) on all processors."""
    with multiprocessing.get_context("spawn").Pool(os.cpu_count()) as pool:
        yield from pool.imap(read_one, jobs, chunksize=2)


def by_field(judged: Iterable[Judged]) -> dict[str, Counted]:
    """Counts of each field, the header's together as `header`."""
    counts: dict[str, Counted] = defaultdict(Counted)
    for each in judged:
        for name, told, read, right, _ in each.fields:
            counts[name].add(told, read, right)
            counts["header"].add(told, read, right)
    return counts


def figures(
    folder: Path | None, count: int, scans: int, picture: Path | None = None, composed: int = 0
) -> None:
    """Print all figures for a folder, or for held-back families that are drawn now, or for composed
    documents of productions and labels that nothing was trained on."""
    conditions = ["digital", *(["300 dpi", "200 dpi", "150 dpi", "photo"] if scans else [])]
    with tempfile.TemporaryDirectory() as name:
        if composed:
            from tools.grammar.write import write as compose

            folder = Path(name)
            print(f"{compose(folder, composed)} composed documents, held back", flush=True)
        elif folder is None:
            from tools.corpus.make import HELD_BACK, write

            folder = Path(name)
            print(f"{write(folder, HELD_BACK, count)} documents of held-back families", flush=True)
        judged = list(results(folder, conditions, scans))
        folder_files = [each.read_bytes() for each in sorted(folder.glob("*.pdf"))[:SPLIT]]
    digital = [each for each in judged if each.condition == "digital"]
    print_fields(digital)
    for title, key in (("condition", "condition"), ("language", "language"), ("family", "family")):
        _groups(title, key, judged if key == "condition" else digital)
    _calibration(judged)
    print_curve(digital)
    if picture is not None:
        plot(buckets(_values(judged)), picture, "Read values")
        print(f"drawn: {picture}")
    _worst(digital)
    timed = [each for each in digital if each.bare]
    ratio = sum(each.seconds for each in timed) / max(1e-9, sum(each.bare for each in timed))
    print(f"\nread in {ratio:.1f} x pdfium's bare listing of the same words, joined from letters")
    print_split(split_of(folder_files))
    scanned = [each for each in judged if each.condition != "digital"]
    if scanned:
        networks = sum(each.bare for each in scanned)
        ratio = (networks + sum(each.seconds for each in scanned)) / max(1e-9, networks)
        print(f"scans: {ratio:.3f} x making their pages alone")
    memory = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024
    print(f"memory of a reader, peak {memory:.0f} MB")


def print_fields(judged: list[Judged]) -> None:
    """A table of the header's fields: stated, right, wrong, missing, invented."""
    head = f"{'field':<18}{'stated':>8}{'right':>8}{'wrong':>8}{'missing':>9}"
    print(f"\n{head}{'invented':>10}{'right %':>9}")
    counts = by_field(judged)
    for name in sorted(counts, key=lambda name: (name == "header", -counts[name].stated)):
        each = counts[name]
        print(f"{name:<18}{each.stated:>8}{each.right:>8}{each.wrong:>8}{each.missing:>9}"
              f"{each.invented:>10}{each.share:>9.1f}")  # fmt: skip


MOST = 16
"""Groups that are listed; of more only the worst are, further below."""


def _groups(title: str, key: str, judged: list[Judged]) -> None:
    if len({getattr(each, key) for each in judged}) > MOST:
        return
    print(f"\n{title:<18}{'documents':>10}{'header %':>10}{'lines':>8}{'lines %':>9}{'kind %':>8}")
    groups: dict[str, list[Judged]] = defaultdict(list)
    for each in judged:
        groups[getattr(each, key)].append(each)
    for name, group in groups.items():
        lines = sum(each.lines for each in group)
        right = sum(each.lines_right for each in group)
        kinds = 100 * sum(each.kind_right for each in group) / len(group)
        print(f"{name:<18}{len(group):>10}{by_field(group)['header'].share:>10.1f}{lines:>8}"
              f"{100 * right / max(1, lines):>9.1f}{kinds:>8.1f}")  # fmt: skip


def _values(judged: list[Judged]) -> list[tuple[float, bool]]:
    """Confidence of each value that was read, and whether it was right."""
    return [
        (confidence, right)
        for each in judged
        for _, _, read, right, confidence in each.fields
        if read is not None
    ]


SPLIT = 60
"""Files whose reading is timed step by step."""
WORST = 10
"""Families that are listed with what went wrong most often."""


def _worst(judged: list[Judged]) -> None:
    groups: dict[str, list[Judged]] = defaultdict(list)
    for each in judged:
        groups[each.family].append(each)
    ordered = sorted(groups.items(), key=lambda group: by_field(group[1])["header"].share)
    wide = max((len(name) for name in groups), default=0) + 2
    print(f"\n{'worst families':<{max(18, wide)}}{'header %':>10}  most often not right")
    for name, group in ordered[:WORST]:
        amiss = Counter(
            field
            for each in group
            for field, told, _, right, _ in each.fields
            if told is not None and not right
        )
        amiss["lines"] = sum(each.lines - each.lines_right for each in group)
        told = ", ".join(f"{field} {count}" for field, count in amiss.most_common(4) if count)
        print(
            f"{name:<{max(18, wide)}}{by_field(group)['header'].share:>10.1f}  {told or 'nothing'}"
        )


def _calibration(judged: list[Judged]) -> None:
    bins: dict[float, Counter[str]] = defaultdict(Counter)
    every = _values(judged)
    edges = (0.0, 0.5, 0.8, 0.9, 0.95, 0.98, SURE, 1.01)
    for confidence, right in every:
        edge = max(each for each in edges if each <= confidence)
        bins[edge]["all"] += 1
        bins[edge]["right"] += right
        bins[edge]["sum"] += confidence  # type: ignore[assignment]
    print(f"\n{'confidence from':<18}{'values':>8}{'mean %':>9}{'right %':>9}")
    error = 0.0
    for edge in sorted(bins):
        count, right, total = bins[edge]["all"], bins[edge]["right"], bins[edge]["sum"]
        error += abs(total - right) / max(1, len(every))
        print(f"{edge:<18}{count:>8}{100 * total / count:>9.1f}{100 * right / count:>9.1f}")
    print(f"expected calibration error {error:.3f}")
