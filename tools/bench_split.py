"""Where the time of reading a page goes: for `bin/bench reading`."""

import time
from collections.abc import Callable, Sequence
from typing import Any

from tools.bench_pages import list_words
from veridox.core.extract.hints import Hints
from veridox.core.extract.tagging.features import inputs
from veridox.core.extract.tagging.network import shipped
from veridox.core.extract.tagging.read import told
from veridox.core.extract.tagging.tagged import tag
from veridox.core.extract.tagging.tokens import document_of
from veridox.core.readers.files import read_pages

BARE = "bare listing of words"
TIMES = 2
"""How often each step is run; the faster run counts, so that nothing is cold."""


def split_of(files: Sequence[bytes]) -> dict[str, float]:
    """CPU milliseconds a page of each step, of PDF files with words of their own."""
    every = [read_pages(each).pages for each in files]
    kept = [at for at, pages in enumerate(every) if any(page.words for page in pages)]
    contents, documents = [files[at] for at in kept], [every[at] for at in kept]
    count = max(1, sum(len(pages) for pages in documents))

    def timed(step: Callable[[Any], Any], given: Sequence[Any]) -> float:
        best = float("inf")
        for _ in range(TIMES):
            began = time.process_time()
            for each in given:
                step(each)
            best = min(best, time.process_time() - began)
        return 1000 * best / count

    parsed = [document_of(pages) for pages in documents]
    listing = timed(list_words, contents)
    tokens, features = timed(document_of, documents), timed(inputs, parsed)
    network = timed(lambda each: tag(each, shipped()), parsed) - features
    whole = timed(lambda each: told(each, Hints(), shipped()), documents)
    return {
        BARE: listing,
        "pages of words": timed(read_pages, contents),
        "tokens": tokens,
        "features": features,
        "network": network,
        "decisions": whole - tokens - features - network,
    }


def print_split(steps: dict[str, float]) -> None:
    """A table: milliseconds a page, and how many bare listings that is."""
    bare = steps[BARE]
    print(f"\n{'step':<28}{'ms a page':>10}{'listings':>10}")
    for name, spent in steps.items():
        print(f"{name:<28}{spent:>10.1f}{spent / max(bare, 1e-9):>10.1f}")
    whole = sum(steps.values()) - bare
    print(f"{'all of reading':<28}{whole:>10.1f}{whole / max(bare, 1e-9):>10.1f}")
