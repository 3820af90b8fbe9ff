"""Boosted decision trees as arrays, evaluated without the library that trained them."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]


@dataclass(frozen=True, kw_only=True, slots=True)
class Trees:
    """Trees of several classes, their leaves summed to one log-odds a class.

    All arrays are of shape (trees, nodes); a leaf points to itself.

    Attributes:
        feature: index of the feature that a node looks at.
        least: the value up to which the left child follows.
        left, right: indexes of the children.
        value: of a leaf, in log-odds.
        group: of each tree, the class it speaks for.
        start: of each class, the log-odds before any tree.
        depth: steps from a root to the deepest leaf.
    """

    feature: NDArray[np.int16]
    least: Floats
    left: NDArray[np.int16]
    right: NDArray[np.int16]
    value: Floats
    group: NDArray[np.int16]
    start: Floats
    depth: int

    def chances(self, features: Floats) -> Floats:
        """Probabilities, shape (rows, classes), of rows of features."""
        rows, trees = len(features), len(self.feature)
        at = np.zeros((rows, trees), dtype=np.int16)
        tree = np.arange(trees)[None, :]
        row = np.arange(rows)[:, None]
        for _ in range(self.depth):
            goes_left = features[row, self.feature[tree, at]] <= self.least[tree, at]
            at = np.where(goes_left, self.left[tree, at], self.right[tree, at])
        said = self.value[tree, at]
        odds = np.stack(
            [said[:, self.group == one].sum(axis=1) for one in range(len(self.start))], axis=1
        )
        odds = odds + self.start
        if len(self.start) == 1:
            return np.asarray(1 / (1 + np.exp(-odds)), dtype=np.float32)
        odds -= odds.max(axis=1, keepdims=True)
        raised = np.exp(odds)
        return np.asarray(raised / raised.sum(axis=1, keepdims=True), dtype=np.float32)

    @classmethod
    def load(cls, arrays: Mapping[str, NDArray[Any]], name: str) -> "Trees":
        """The trees that were stored under a name."""
        fields = ("feature", "least", "left", "right", "value", "group", "start")
        return cls(
            **{each: arrays[f"{name}.{each}"] for each in fields},
            depth=int(arrays[f"{name}.depth"]),
        )
