"""The network: attention over the words of a page, with a bias from where they lie to each other.

One code for both sides: `answers` works on numpy arrays (here) and on arrays of the library that
trains (`tools/teach`), which is handed in as `xp`.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

import numpy as np
from numpy.typing import NDArray

from veridox.core.extract.tagging.features import PageInput, fingerprint
from veridox.core.extract.tagging.tags import KINDS, TAGS

WIDE = 96
HEADS = 4
LAYERS = 3
INNER = 192
PIECE = 48
PAIRS = 24
"""Figures of a pair of words, see `pairs`."""
LONGEST = 900
"""Tokens of a page that are looked at together; a longer page is cut at rows."""
Weights = Mapping[str, Any]


def pairs(xp: Any, place: Any, near: Any, row: Any) -> Any:
    """How words lie to each other: (b, n, 4), (b, n, 4), (b, n) to (b, PAIRS, n, n)."""
    left, top, right, bottom = (place[..., at] for at in range(4))
    middle, level = (left + right) / 2, (top + bottom) / 2
    # Worked out once, used often: over all pairs of words it is a good part of the reckoning.
    across = middle[:, None, :] - middle[:, :, None]
    down = level[:, None, :] - level[:, :, None]
    over = (
        xp.minimum(right[:, None, :], right[:, :, None])
        - xp.maximum(left[:, None, :], left[:, :, None])
        > 0
    )
    beside = (
        xp.minimum(bottom[:, None, :], bottom[:, :, None])
        - xp.maximum(top[:, None, :], top[:, :, None])
        > 0.3
    )
    same = row[:, None, :] == row[:, :, None]
    step = row[:, None, :] - row[:, :, None]
    gap = xp.maximum(left[:, None, :], left[:, :, None]) - xp.minimum(
        right[:, None, :], right[:, :, None]
    )
    count = place.shape[1]
    numbers = xp.arange(count)
    is_near = [near[..., at][:, :, None] == numbers[None, None, :] for at in range(4)]
    far, deep = xp.abs(across), xp.abs(down)
    wide, high = xp.log1p(far), xp.log1p(deep)
    found = [
        same,
        over,
        beside,
        xp.sign(across) * wide / 3,
        wide / 3,
        high / 3,
        xp.sign(down) * high / 3,
        xp.abs(left[:, None, :] - left[:, :, None]) < 0.3,
        xp.abs(right[:, None, :] - right[:, :, None]) < 0.3,
        far < 0.3,
        *is_near,
        same & (across < 0),
        same & (across > 0),
        over & (down < 0),
        over & (down > 0),
        step == -1,
        step == 1,
        xp.exp(-(far + deep) / 8),
        xp.exp(-deep / 3),
        xp.broadcast_to(xp.eye(count)[None], across.shape),
        same & (gap < 1.0),
    ]
    return xp.stack([each.astype(place.dtype) for each in found], axis=1)


def _normed(xp: Any, values: Any, scale: Any, shift: Any) -> Any:
    mean = values.mean(-1, keepdims=True)
    spread = ((values - mean) ** 2).mean(-1, keepdims=True)
    return (values - mean) / xp.sqrt(spread + 1e-5) * scale + shift


def answers(
    xp: Any, w: Weights, figures: Any, pieces: Any, place: Any, near: Any, row: Any, there: Any
) -> tuple[Any, Any]:
    """Scores of classes for each word, and of kinds for each page.

    Args:
        xp: numpy, or what trains.
        w: weights by name.
        figures, pieces, place, near, row: as `PageInput`, with a batch in front.
        there: (b, n), 1 for words, 0 for what fills a page up.
    """
    looked = w["pieces"][pieces] * (pieces > 0)[..., None]
    # Counts are whole numbers: numpy would go on with twice the precision that is needed.
    many = xp.maximum((pieces > 0).sum(2, keepdims=True), 1).astype(figures.dtype)
    words = looked.sum(2) / many
    x = (
        ((figures - w["mean"]) / w["spread"]) @ w["in figures"]
        + words @ w["in pieces"]
        + w["in shift"]
    )
    x = xp.maximum(x, 0)
    batch, count, _ = x.shape
    lie = pairs(xp, place, near, row).reshape(batch, PAIRS, count * count)
    bias = (w["bias"].T @ lie).reshape(batch, LAYERS * HEADS, count, count)
    hidden = (1 - there)[:, None, None, :] * -1e9
    for at in range(LAYERS):
        y = _normed(xp, x, w[f"{at} scale"], w[f"{at} shift"])
        q, k, v = (
            (y @ w[f"{at} {name}"])
            .reshape(batch, count, HEADS, WIDE // HEADS)
            .transpose(0, 2, 1, 3)
            for name in ("query", "key", "value")
        )
        score = q @ k.transpose(0, 1, 3, 2) / (WIDE // HEADS) ** 0.5
        score = score + bias[:, at * HEADS : (at + 1) * HEADS] + hidden
        score = xp.exp(score - score.max(-1, keepdims=True))
        mixed = (score / score.sum(-1, keepdims=True)) @ v
        x = x + mixed.transpose(0, 2, 1, 3).reshape(batch, count, WIDE) @ w[f"{at} out"]
        y = _normed(xp, x, w[f"{at} scale 2"], w[f"{at} shift 2"])
        x = x + xp.maximum(y @ w[f"{at} up"] + w[f"{at} up shift"], 0) @ w[f"{at} down"]
    x = _normed(xp, x, w["scale"], w["shift"])
    tags = x @ w["tags"] + w["tags shift"]
    shown = there[..., None]
    pooled = xp.concatenate(
        [(x * shown).sum(1) / xp.maximum(shown.sum(1), 1), (x - (1 - shown) * 1e9).max(1)], axis=-1
    )
    return tags, pooled @ w["kinds"] + w["kinds shift"]


def fresh(
    chance: np.random.Generator, mean: NDArray[np.float32], spread: NDArray[np.float32]
) -> dict[str, NDArray[np.float32]]:
    """Weights to begin training with; figures are made alike by mean and spread."""

    def some(*shape: int, scale: float | None = None) -> NDArray[np.float32]:
        return (chance.standard_normal(shape) * (scale or shape[0] ** -0.5)).astype(np.float32)

    w: dict[str, NDArray[np.float32]] = {
        "mean": mean,
        "spread": spread,
        "pieces": some(8192, PIECE, scale=0.3),
        "in figures": some(len(mean), WIDE),
        "in pieces": some(PIECE, WIDE),
        "in shift": np.zeros(WIDE, np.float32),
        "bias": some(PAIRS, LAYERS * HEADS, scale=0.3),
        "scale": np.ones(WIDE, np.float32),
        "shift": np.zeros(WIDE, np.float32),
        "tags": some(WIDE, len(TAGS)),
        "tags shift": np.zeros(len(TAGS), np.float32),
        "kinds": some(2 * WIDE, len(KINDS)),
        "kinds shift": np.zeros(len(KINDS), np.float32),
    }
    for at in range(LAYERS):
        for name in ("query", "key", "value"):
            w[f"{at} {name}"] = some(WIDE, WIDE)
        w[f"{at} out"] = some(WIDE, WIDE, scale=0.3 * WIDE**-0.5)
        w[f"{at} up"], w[f"{at} down"] = (
            some(WIDE, INNER),
            some(INNER, WIDE, scale=0.3 * INNER**-0.5),
        )
        w[f"{at} up shift"] = np.zeros(INNER, np.float32)
        for name in ("scale", "scale 2"):
            w[f"{at} {name}"] = np.ones(WIDE, np.float32)
        for name in ("shift", "shift 2"):
            w[f"{at} {name}"] = np.zeros(WIDE, np.float32)
    return w


def softmax(scores: NDArray[np.float32]) -> NDArray[np.float32]:
    """Chances along the last axis."""
    scores = np.exp(scores - scores.max(-1, keepdims=True))
    chances: NDArray[np.float32] = scores / scores.sum(-1, keepdims=True)
    return chances


@dataclass(frozen=True)
class Network:
    """Weights that answer."""

    weights: Weights

    def of(self, page: PageInput) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
        """Chances of classes (n, len(TAGS)) and of kinds (len(KINDS),) for a page."""
        there = np.ones((1, len(page.at)), np.float32)
        with np.errstate(over="ignore"):
            tags, kinds = answers(
                np,
                self.weights,
                page.figures[None],
                page.pieces[None],
                page.place[None],
                page.near[None],
                page.row[None],
                there,
            )
        return softmax(tags[0]), softmax(kinds[0])


class WrongWeightsError(Exception):
    """The weights were made of another table of features."""


def loaded(file: Any) -> Network:
    """Weights from a file of arrays. Raises WrongWeightsError when the features are others."""
    with np.load(file, allow_pickle=False) as stored:
        if str(stored["fingerprint"]) != fingerprint():
            raise WrongWeightsError(
                "the weights of reading were made of other features: run bin/train"
            )
        return Network(
            {
                name: stored[name].astype(np.float32)
                for name in stored.files
                if name != "fingerprint"
            }
        )


@cache
def shipped() -> Network:
    """The network that comes with the package."""
    with resources.files("veridox.core.extract.tagging").joinpath("weights.npz").open("rb") as file:
        return loaded(file)
