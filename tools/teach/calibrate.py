"""Makes what tagged words say chances.

Composed documents of the held side (productions and labels never trained on) are drawn, read by
the real readers, and what is filled from words is compared with what was composed. How often it
was right, by group, is stored beside the weights (`confidence.json`).
"""

import json
import multiprocessing
import os
from pathlib import Path

from tools.bench_reading import judge, plain, same
from tools.grammar.pages import compose
from tools.grammar.sheet import drawn
from tools.train import FEWEST, Said, rising
from veridox.core.extract import Hints, assemble
from veridox.core.extract.confidence import line_group
from veridox.core.extract.tagging.fill import filled
from veridox.core.extract.tagging.network import shipped
from veridox.core.extract.tagging.read import told
from veridox.core.readers import read_pages
from veridox.core.reading import Kind, Origin, Reading, Source


def said_of(seed: str) -> dict[str, list[Said]]:
    """What words said of a composed document where nothing else did, and whether it was right."""
    made = compose(seed, held=True)
    pages = read_pages(drawn(made.words, made.width, made.height)).pages
    if not any(page.words for page in pages):
        return {}
    ruled, _ = assemble.ruled(pages, Source(), Hints())
    found = told(pages, Hints(), shipped(), ruled)
    said: dict[str, list[Said]] = {}
    for name, field in found.fields.items():
        if name not in ruled.fields and field.origin is not Origin.DERIVED:
            value = plain(field.value)
            right = same(name, made.truth.get(name), value.lstrip("-") if value else value)
            said.setdefault(found.group(name), []).append((field.confidence, right))
    whole = filled(ruled, pages, Hints(), shipped())
    if whole.lines == ruled.lines:
        return said
    told_as = Reading(kind=Kind(made.kind), lines=found.lines)
    right_lines = judge(told_as, {"fields": {}, "lines": made.lines, "kind": made.kind}).right_lines
    for at, line in enumerate(found.lines):
        group = line_group(line, whole.currency, summed=found.lines_add_up)
        if "amount" in line:
            said.setdefault(group, []).append((line["amount"].confidence, at in right_lines))
    return said


def make(documents: int, into: Path) -> None:
    """Read composed documents and store how often what was said was right."""
    groups: dict[str, list[Said]] = {}
    seeds = [f"chances {at}" for at in range(documents)]
    with multiprocessing.get_context("spawn").Pool(os.cpu_count()) as pool:
        for said in pool.imap_unordered(said_of, seeds, chunksize=8):
            for name, values in said.items():
                groups.setdefault(name, []).extend(values)
    maps = {name: rising(said) for name, said in sorted(groups.items()) if len(said) >= FEWEST}
    into.write_text(json.dumps(maps, indent=1, sort_keys=True) + "\n")
    for name, values in sorted(groups.items()):
        right = sum(each[1] for each in values)
        print(f"{name:<36}{len(values):>6} said, {100 * right / len(values):5.1f} % right")
