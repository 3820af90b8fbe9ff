"""Trains the network that tags words, and makes its answers chances: `bin/train`."""

from pathlib import Path

import click

from tools.teach import calibrate
from veridox.core.extract.tagging.tags import TAGS

HERE = Path("src/veridox/core/extract/tagging")


@click.command()
@click.option("--work", type=click.Path(path_type=Path), default=Path("var/teach"))
@click.option("--documents", default=44_000, show_default=True, help="Composed, for training.")
@click.option("--pictures", default=250, show_default=True, help="Documents seen as pictures.")
@click.option("--passes", default=9.0, show_default=True, help="Through all of them, at most.")
@click.option("--minutes", default=43.0, show_default=True, help="Of training alone, at most.")
@click.option("--seed", default=1, show_default=True)
@click.option("--tried", default=20_000, show_default=True, help="Documents that make chances.")
@click.option("--on", is_flag=True, help="Train on from the weights that are there.")
@click.option("--chances", is_flag=True, help="Keep the weights, make their chances anew.")
def main(
    work: Path,
    documents: int,
    pictures: int,
    passes: float,
    minutes: float,
    seed: int,
    tried: int,
    *,
    on: bool,
    chances: bool,
) -> None:
    """Compose pages (kept below --work), train, calibrate, store both beside the code."""
    if not chances:
        from tools.teach import train

        out = HERE / "weights.npz"
        start = out if on else None
        train.save(out, train.train(work, documents, pictures, passes, minutes, seed, start))
        size = out.stat().st_size / 1e6
        print(f"train: {out}, {size:.1f} MB, {len(TAGS)} classes", flush=True)
    calibrate.make(tried, HERE / "confidence.json")


if __name__ == "__main__":
    main()
