"""Writes the decision set: its files, its photos, and a manifest as `bin/bench reading` takes."""

import json
from pathlib import Path

from tools.corpus.make import Press
from tools.decision import drawn, more_trades, office, trades, typed
from tools.decision.paper import OURS, OURS_DE, Paper

PAPERS: list[Paper] = [
    *trades.PAPERS, *more_trades.PAPERS, *office.PAPERS, *drawn.PAPERS, *typed.PAPERS,
]  # fmt: skip


def write(folder: Path) -> int:
    """All documents into a folder. Returns how many."""
    folder.mkdir(parents=True, exist_ok=True)
    with Press() as press, (folder / "manifest.jsonl").open("w", encoding="utf-8") as manifest:
        for at, paper in enumerate(PAPERS):
            content = paper.content() if paper.content is not None else press.pdf(paper.html)
            path = f"{at:02d}-{paper.structure.replace(' ', '-')}{paper.ending}"
            (folder / path).write_bytes(content)
            truth = {
                "path": path, "kind": paper.kind, "language": paper.language,
                "family": paper.structure, "seed": at, "photo": paper.photo,
                "buyers": [OURS, OURS_DE], "fields": paper.fields, "lines": paper.lines,
            }  # fmt: skip
            manifest.write(json.dumps(truth, ensure_ascii=False) + "\n")
    return len(PAPERS)
