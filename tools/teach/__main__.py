"""Trains the network that tags words, and makes its answers chances: `bin/train words`."""

from pathlib import Path

import click

from tools.teach import calibrate, train
from veridox.core.extract.tagging.tags import TAGS

HERE = Path("src/veridox/core/extract/tagging")


@click.command()
@click.option("--work", type=click.Path(path_type=Path), default=Path("var/teach"))
@click.option("--documents", default=40_000, show_default=True, help="Composed, for training.")
@click.option("--passes", default=3.0, show_default=True, help="Through all of them, at most.")
@click.option("--minutes", default=30.0, show_default=True, help="Of training alone, at most.")
@click.option("--seed", default=1, show_default=True)
@click.option("--tried", default=1400, show_default=True, help="Documents that make chances.")
def main(
    work: Path, documents: int, passes: float, minutes: float, seed: int, tried: int
) -> None:  # fmt: skip
    """Compose pages (kept below --work), train, calibrate, store both beside the code."""
    out = HERE / "weights.npz"
    train.save(out, train.train(work, documents, passes, minutes, seed))
    print(f"train: {out}, {out.stat().st_size / 1e6:.1f} MB, {len(TAGS)} classes", flush=True)
    calibrate.make(tried, HERE / "confidence.json")


if __name__ == "__main__":
    main()
