"""Composed pages kept as arrays: made once, by seed, taken up where it ended."""

import multiprocessing
import os
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from tools.grammar.pages import compose
from tools.teach.samples import Sample, samples
from tools.teach.seen import seen

SHARD = 500
"""Documents in a file."""
NOISY = 4
"""Every so many-th document is garbled as recognition would."""
SEEN_SHARD = 25
WIDEST = 850.0
"""Points of a page that is photographed at most."""


def write_shard(job: tuple[Path, str, int, bool]) -> Path:
    """Compose one file of documents, unless it is there."""
    folder, name, number, held = job
    path = folder / f"{name}-{number:04d}.npz"
    if path.exists():
        return path
    found = []
    for at in range(number * SHARD, (number + 1) * SHARD):
        made = compose(f"{name} {at}", held=held)
        found += [each for each in samples(made, noise=at % NOISY == 0) if len(each.tags) > 2]
    _keep(path, found)
    return path


def write_seen_shard(job: tuple[Path, str, int, bool]) -> Path:
    """Compose a few documents and recognise pictures of them, unless that is done."""
    folder, name, number, held = job
    path = folder / f"{name}-{number:04d}.npz"
    if path.exists():
        return path
    # Recognition would take every processor for each of the processes.
    os.environ["OMP_NUM_THREADS"] = "1"
    cv2.setNumThreads(1)
    found = []
    for at in range(number * SEEN_SHARD, (number + 1) * SEEN_SHARD):
        made = compose(f"{name} {at}", held=held, longest=14)
        if made.width < WIDEST and made.words:
            found += [
                s for s in samples(seen(made, f"{name} {at}"), noise=False) if len(s.tags) > 2
            ]
    _keep(path, found)
    return path


def _keep(path: Path, found: list[Sample]) -> None:
    parts = {
        "figures": np.concatenate([each.page.figures for each in found]).astype(np.float16),
        "pieces": np.concatenate([each.page.pieces for each in found]).astype(np.int16),
        "place": np.concatenate([each.page.place for each in found]).astype(np.float32),
        "near": np.concatenate([each.page.near for each in found]).astype(np.int16),
        "row": np.concatenate([each.page.row for each in found]).astype(np.int16),
        "tags": np.concatenate([each.tags for each in found]).astype(np.int16),
        "lengths": np.array([len(each.tags) for each in found], dtype=np.int32),
        "kinds": np.array([each.kind for each in found], dtype=np.int8),
    }
    with path.with_suffix(".part").open("wb") as file:
        np.savez(file, **parts)  # type: ignore[arg-type]
    path.with_suffix(".part").rename(path)


def write(
    folder: Path, name: str, documents: int, *, held: bool = False, pictures: bool = False
) -> list[Path]:
    """Compose as many documents as asked, on all processors; or see `pictures` of them."""
    folder.mkdir(parents=True, exist_ok=True)
    make, size = (write_seen_shard, SEEN_SHARD) if pictures else (write_shard, SHARD)
    told = "recognised" if pictures else "composed"
    jobs = [(folder, name, number, held) for number in range(-(-documents // size))]
    with multiprocessing.get_context("spawn").Pool(os.cpu_count()) as pool:
        paths = []
        for at, path in enumerate(pool.imap(make, jobs), start=1):
            paths.append(path)
            print(f"train: {told} {at * size} of {len(jobs) * size} documents", flush=True)
    return paths


def load(paths: list[Path]) -> dict[str, NDArray[np.generic]]:
    """Several files as one."""
    parts = [dict(np.load(path, allow_pickle=False)) for path in paths]
    return {name: np.concatenate([part[name] for part in parts]) for name in parts[0]}
