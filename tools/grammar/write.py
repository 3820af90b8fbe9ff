"""Composed documents as files with a manifest: `bin/bench reading --composed N`."""

import json
from pathlib import Path

from tools.grammar.blocks import FACTS, HELD_FACTS
from tools.grammar.notes import NOTES
from tools.grammar.pages import compose
from tools.grammar.sheet import drawn
from tools.grammar.sums import HELD_SUMS, SUMS
from tools.grammar.untabled import HELD_TABLES, TABLES

FORMS = frozenset(
    form.__name__
    for forms in (FACTS, HELD_FACTS, TABLES, HELD_TABLES, SUMS, HELD_SUMS, NOTES)
    for form in forms
) | {"till"}


def write(folder: Path, count: int, seed: str = "measured") -> int:
    """Draw documents of the held side, with one line of truth each. Returns how many.

    The family of a document is how its facts, lines and sums are arranged.
    """
    folder.mkdir(parents=True, exist_ok=True)
    with (folder / "manifest.jsonl").open("w", encoding="utf-8") as manifest:
        for at in range(count):
            made = compose(f"{seed} {at}", held=True)
            path = f"{at:05d}.pdf"
            (folder / path).write_bytes(drawn(made.words, made.width, made.height))
            forms = [word for word in made.production.split() if word in FORMS]
            told = {
                "path": path, "kind": made.kind, "language": made.language, "seed": at,
                "family": " ".join(forms) or "words", "fields": made.truth, "lines": made.lines,
            }  # fmt: skip
            manifest.write(json.dumps(told, ensure_ascii=False) + "\n")
    return count
