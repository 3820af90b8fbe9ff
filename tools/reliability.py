"""How often words of a given confidence are right: `python -m tools.reliability PICTURE`."""

import sys
from itertools import pairwise
from pathlib import Path

from PIL import Image, ImageDraw, ImageFont

from tools.bench_pages import scans
from tools.corpus.camera import CONDITIONS

EDGES = (0.0, 0.5, 0.7, 0.8, 0.9, 0.95, 0.99, 0.999, 1.0000001)
LOWEST = 0.4
"""Confidence and share at which the drawing begins."""
PAGES = 6
FIRST = 100
"""Pages of the corpus that nobody looked at when thresholds were chosen."""
INK, PAPER, LINE, FAINT = "#1f3b57", "#fffef9", "#1b665c", "#cfc8ba"


def buckets(words: list[tuple[float, bool]]) -> list[tuple[float, float, int]]:
    """Mean confidence, share right, and number of words of each bucket that has some."""
    found = []
    for low, high in pairwise(EDGES):
        inside = [(sure, right) for sure, right in words if low <= sure < high]
        if inside:
            mean = sum(sure for sure, _ in inside) / len(inside)
            found.append((mean, sum(right for _, right in inside) / len(inside), len(inside)))
    return found


def plot(rows: list[tuple[float, float, int]], path: Path, what: str = "Recognised words") -> None:
    """Draw the buckets: confidence across, share right upwards, on a scale of doubt."""
    noun = what.split()[-1]
    picture = Image.new("RGB", (1280, 800), PAPER)
    pen = ImageDraw.Draw(picture)
    font = ImageFont.truetype("DejaVuSans", 20)
    small = ImageFont.truetype("DejaVuSans", 16)
    left, top, right, bottom = 130, 90, 1220, 690

    def at(sure: float, share: float) -> tuple[float, float]:
        return (
            left + (sure - LOWEST) / (1 - LOWEST) * (right - left),
            bottom - (share - LOWEST) / (1 - LOWEST) * (bottom - top),
        )

    pen.text((left, 30), f"{what}: confidence and how often they are right", INK, font)
    for tenth in range(round(LOWEST * 10), 11):
        x, y = at(tenth / 10, tenth / 10)
        pen.line((left, y, right, y), FAINT)
        pen.text((left - 60, y - 9), f"{tenth * 10} %", INK, small)
        pen.text((x - 18, bottom + 12), f"{tenth / 10:.1f}", INK, small)
    pen.line((*at(LOWEST, LOWEST), *at(1, 1)), FAINT, 3)
    pen.text((left + 380, bottom + 46), "confidence", INK, small)
    pen.text((left, top - 30), "right", INK, small)
    points = [at(sure, share) for sure, share, _ in rows]
    pen.line(points, LINE, 3)
    for (x, y), (_, share, count) in zip(points, rows, strict=True):
        size = 4 + min(14, count**0.5 / 4)
        pen.ellipse((x - size, y - size, x + size, y + size), LINE)
        label = f"{count} {noun}, {100 * share:.1f} %"
        if share < 0.93:  # the others stand in the table
            pen.text((x + 12, y + 10), label, INK, small)
    picture.save(path)


def main() -> None:
    """Entry point."""
    words = [
        word for score in scans(list(CONDITIONS), PAGES, FIRST).values() for word in score.judged
    ]
    rows = buckets(words)
    print(f"{'confidence':>12}{'words':>8}{'right %':>9}")
    for sure, share, count in rows:
        print(f"{sure:>12.4f}{count:>8}{100 * share:>9.2f}")
    total = len(words)
    gap = sum(abs(sure - share) * count for sure, share, count in rows) / total
    print(f"expected calibration error {gap:.4f} over {total} words")
    plot(rows, Path(sys.argv[1]))


if __name__ == "__main__":
    main()
