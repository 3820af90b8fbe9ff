"""Makes what the network says chances: on composed productions and labels never trained on.

Pages are judged as word boxes, so that twenty thousand are read in minutes; that files say the
same is measured apart (`bin/bench reading --composed`). How surely words were recognised is told
by recognition itself and counts beside it. The map is stored beside the weights
(`confidence.json`).
"""

import json
import multiprocessing
import os
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path

import numpy as np
from sklearn.isotonic import IsotonicRegression
from sklearn.linear_model import LogisticRegression

from tools.bench_reading import judge, plain, same
from tools.grammar.pages import Composed, compose
from tools.teach.samples import pages_of
from veridox.core.extract.assemble import positive
from veridox.core.extract.confidence import (
    RISK,
    Maps,
    Points,
    Signs,
    chance,
    line_group,
    line_signs,
)
from veridox.core.extract.hints import Hints
from veridox.core.extract.odds import log_odds
from veridox.core.extract.tagging.network import shipped
from veridox.core.extract.tagging.read import Told, told
from veridox.core.reading import FIELDS, POSTED_KINDS, Kind, Origin, Reading

Said = tuple[Signs, bool]
"""What spoke for a value, and whether it was right."""
STRANGE = 0.2
"""Labels in so many that training never saw: of documents of others, four in five were known."""
FEWEST = 25
"""Values of a step."""


@dataclass
class Tried:
    """What was said of a document.

    Attributes:
        said: by group of values.
        posted, lines: group and what was said of each value that would be posted.
        wrong: whether any of them is wrong.
        bill: whether it would be posted at all.
    """

    said: dict[str, list[Said]] = field(default_factory=dict)
    posted: list[tuple[str, Signs]] = field(default_factory=list)
    lines: list[tuple[str, Signs]] = field(default_factory=list)
    wrong: bool = False
    bill: bool = False


def tried(seed: str) -> Tried:
    """Read a composed document and compare."""
    made = compose(seed, held=True, strange=STRANGE)
    pages = pages_of(made)
    if not any(page.words for page in pages):
        return Tried()
    found = told(pages, Hints(), shipped())
    tried = Tried(bill=found.kind in POSTED_KINDS)
    tried.said[found.kind_group] = [(found.kind_signs, found.kind == made.kind)]
    tried.posted.append((found.kind_group, found.kind_signs))
    tried.wrong |= found.kind != made.kind
    reading = positive(Reading(kind=found.kind, fields=found.fields, lines=found.lines))
    for name, value in reading.fields.items():
        if value.origin is Origin.DERIVED:
            tried.bill = False  # always looked at
            continue
        right = same(name, made.truth.get(name), plain(value.value))
        group = found.group(name)
        signs = found.signs(name)
        tried.said.setdefault(group, []).append((signs, right))
        if FIELDS[name].posted:
            tried.posted.append((group, signs))
            tried.wrong |= not right
    _lines(tried, made, found, reading)
    return tried


def _lines(tried: Tried, made: Composed, found: Told, reading: Reading) -> None:
    truth = {"fields": {}, "lines": made.lines, "kind": made.kind}
    judged = judge(Reading(kind=Kind(made.kind), lines=reading.lines), truth)
    right = judged.true_lines
    for at, line in enumerate(reading.lines):
        group = line_group(line, reading.currency, found.vouched)
        signs = line_signs(line, found.clear)
        tried.said.setdefault(group, []).append((signs, at in right))
        tried.lines.append((group, signs))
        tried.wrong |= at not in right


def _one(at: int) -> Tried:
    return tried(f"chances {at}")


MANY, BOTH = 300, 15
"""Values that weights of signs need, and how many of them right, and how many wrong."""


def weights_of(said: Sequence[Said]) -> tuple[float, ...] | None:
    """How much each sign of a group tells; None where too little is known.

    No sign speaks against what it stands for: one that would is left out.
    """
    right = np.array([each for _, each in said])
    if len(said) < MANY or min(int(right.sum()), int((~right).sum())) < BOTH:
        return None
    signs = np.array([[log_odds(sign) for sign in each] for each, _ in said])
    kept = list(range(signs.shape[1]))
    while kept:
        slope = LogisticRegression(C=1.0).fit(signs[:, kept], right).coef_[0]
        if slope.min() > 0:
            whole = np.zeros(signs.shape[1])
            whole[kept] = slope
            return tuple(round(float(each), 4) for each in whole)
        kept.pop(int(slope.argmin()))
    return None


def rising(said: Sequence[tuple[float, bool]]) -> Points:
    """A rising map from what was said to how often it was right, by steps of enough values.

    No step says that nothing is ever wrong: of n values without a mistake
    the next may be the first.
    """
    said = sorted(said)
    shares = IsotonicRegression().fit_transform([s for s, _ in said], [float(r) for _, r in said])
    points: list[tuple[float, float]] = []
    at = 0
    while at < len(said):
        end = at
        while end < len(said) and (shares[end] == shares[at] or end - at < FEWEST):
            end += 1
        if len(said) - end < FEWEST:
            end = len(said)
        part = said[at:end]
        middle = sum(s for s, _ in part) / len(part)
        right = (sum(r for _, r in part) + 0.5) / (len(part) + 1)
        if points and right < points[-1][1]:
            right = points[-1][1]
        points.append((round(middle, 6), round(right, 6)))
        at = end
    return points


def chances_of(every: Iterable[Tried]) -> Maps:
    """The maps of all groups that have enough values, and that of whole documents."""
    every = list(every)
    groups: dict[str, list[Said]] = {}
    for each in every:
        for name, said in each.said.items():
            groups.setdefault(name, []).extend(said)
    groups = {name: said for name, said in sorted(groups.items()) if len(said) >= FEWEST}
    weighed = {name: weights_of(said) for name, said in groups.items()}
    maps = Maps({}, {name: weights for name, weights in weighed.items() if weights is not None})
    points = {
        name: rising([(maps.said(name, signs), right) for signs, right in said])
        for name, said in groups.items()
    }
    maps = replace(maps, points=points)
    doubts = [(1 - all_right(each, maps), each.wrong) for each in every if each.bill]
    return replace(maps, points={**points, RISK: rising(doubts)})


def all_right(tried: Tried, maps: Maps) -> float:
    """The chance that all of a document is right if mistakes came independently."""
    right = 1.0
    for group, signs in tried.posted:
        right *= chance(group, signs, maps)
    return right * min((chance(group, signs, maps) for group, signs in tried.lines), default=1.0)


def make(documents: int, into: Path) -> None:
    """Read composed documents and store how often what was said was right."""
    with multiprocessing.get_context("spawn").Pool(os.cpu_count()) as pool:
        every = []
        for each in pool.imap_unordered(_one, range(documents), chunksize=50):
            every.append(each)
            if len(every) % 2000 == 0:
                print(f"train: {len(every)} of {documents} documents tried", flush=True)
    maps = chances_of(every)
    told = json.dumps({"points": maps.points, "weights": maps.weights}, sort_keys=True)
    into.write_text(told.replace('], "', '],\n"') + "\n")
    for name, points in maps.points.items():
        print(f"{name:<36}{points[0][1]:>8.3f} to {points[-1][1]:.5f}")
    curve(every, maps)


def curve(every: Iterable[Tried], maps: Maps) -> None:
    """How many bills go through at which risk, and how many of them are wrong."""
    bills = [each for each in every if each.bill]
    risks = [(chance(RISK, (1 - all_right(each, maps),), maps), each.wrong) for each in bills]
    print(f"\n{'risk up to':<12}{'through':>10}{'wrong':>10}")
    for limit in (0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2):
        wrong = [each for risk, each in risks if risk <= limit]
        share = 100 * len(wrong) / max(1, len(bills))
        print(f"{100 * limit:<12.1f}{share:>9.1f} %{100 * sum(wrong) / max(1, len(wrong)):>8.2f} %")
