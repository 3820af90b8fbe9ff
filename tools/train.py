"""Makes the weights of reading anew: `bin/train`. Corpus, labels, trees, calibration, one file.

The corpus is drawn by seed and kept below a work folder, so that a second run needs no drawing.
"""

import hashlib
import json
import multiprocessing
import os
import random
import time
import zlib
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import click
import numpy as np
from numpy.typing import NDArray
from rapidfuzz import fuzz
from scipy.sparse import csr_matrix
from sklearn.ensemble import HistGradientBoostingClassifier
from sklearn.isotonic import IsotonicRegression
from sklearn.linear_model import LogisticRegression

from tools.bench_reading import judge, same
from tools.bench_reading import plain as as_text
from tools.corpus.make import TRAINING, TUNING, write
from tools.corpus.people import TRADES
from tools.corpus.printer import COLUMNS, FACTS
from tools.corpus.wording import phrases as put_together
from tools.corpus.wording import wording
from veridox.core.extract.assemble import look, positive, vouched_for, weigh
from veridox.core.extract.confidence import RISK, chance, group_of, line_group
from veridox.core.extract.hints import Hints, KnownParty
from veridox.core.extract.scoring import describe
from veridox.core.extract.scoring.describe import FIELDS, Surroundings, described
from veridox.core.extract.scoring.model import Model, loaded, surroundings
from veridox.core.extract.scoring.phrases import BUCKETS, LEARNED, NAMED, Phrases, plain, weighed
from veridox.core.extract.scoring.spots import KINDS, Spot
from veridox.core.locales.labels import lexicon
from veridox.core.pages import Page, rows_of
from veridox.core.pipeline.decide import POSTED_FIELDS
from veridox.core.readers import read_pages
from veridox.core.reading import Kind, Origin, Reading

FOLDS = 3
SEEDS = 24
"""Documents of each family."""
TOTALS = {
    "lines_total": "lines_total", "allowance": "allowances", "charge": "charges",
    "net": "net_total", "tax": "tax_total", "tax_sum": "tax_total", "gross": "gross_total",
    "prepaid": "prepaid", "due_amount": "amount_due", "withheld": "withheld",
}  # fmt: skip
NAMES = {**{k: v for k, v in FACTS.items() if v}, **TOTALS, "customer": "customer",
         "phone": "phone", "quote": "quote", "to": "buyer.name", "ship": "ship_to",
         "invoice": "title", "credit": "title", "other": "other"}  # fmt: skip
"""Names of the corpus' words, and what they name for the model."""
LEXICON = {"not.customer_number": "customer", "not.buyer_tax_id": "buyer.tax_id",
           "not.quote": "quote", "not.ship_to": "ship_to"}  # fmt: skip
OTHERS = (
    "page", "thank you", "kg", "tel", "www", "@", "street", "road", "vielen dank", "merci",
    "gracias",
    "grazie", "dank", "dziekujemy", "obrigado", "tack", "terms", "germany", "france", "bank",
)  # fmt: skip


# -- labels


def labelled_phrases() -> list[tuple[str, str]]:
    """Words and what they name: the lexicon, the corpus' wording for training, its grammar."""
    found: set[tuple[str, str]] = set()
    for label in (each for group in lexicon("header").by_first.values() for each in group):
        name = LEXICON.get(label.field, label.field if label.field in NAMED else "other")
        found.add((plain(" ".join(label.words)), name))
    for group in lexicon("columns").by_first.values():
        found |= {(plain(" ".join(label.words)), _column(label.field)) for label in group}
    for group in lexicon("kinds").by_first.values():
        found |= {(plain(" ".join(label.words)), "title") for label in group}
    for language, words in wording().items():
        for key, (shown, _) in words.items():
            name = _named(key)
            found |= {(plain(text.replace("{rate}", "20")), name) for text in shown}
        for key, made in put_together()[language].items():
            found |= {(plain(text), _named(key)) for text in made}
    found |= {(plain(text), "other") for text in OTHERS}
    for trades in TRADES.values():
        found |= {(plain(text), "other") for text in trades}
    return sorted(each for each in found if each[0])


def _named(key: str) -> str:
    """What a word of the corpus names for the model."""
    return _column(COLUMNS[key]) if key in COLUMNS else NAMES.get(key, "other")


def _column(cell: str) -> str:
    return f"column.{cell}" if f"column.{cell}" in LEARNED else "other"


def varied(text: str, chance: np.random.Generator) -> str:
    """The same words as somebody else abbreviates them."""
    words = text.split()
    for at, word in enumerate(words):
        if len(word) > 5 and chance.random() < 0.25:
            words[at] = word[: chance.integers(3, 6)]
    if len(words) > 2 and chance.random() < 0.15:
        words.pop(int(chance.integers(len(words))))
    return " ".join(words)


def fitted_phrases(found: Iterable[tuple[str, str]]) -> Phrases:
    """The model of labels; every field weighs the same, however many words name it."""
    chance = np.random.default_rng(5)
    rows, columns, data, goals, weights = [], [], [], [], []
    found = list(found)
    counts: dict[str, int] = {}
    for _, name in found:
        counts[name] = counts.get(name, 0) + 1
    for text, name in [each for each in found for _ in range(2)]:
        buckets, weight = weighed(varied(text, chance))
        rows += [len(goals)] * len(buckets)
        columns += list(buckets)
        data += [weight] * len(buckets)
        goals.append(LEARNED.index(name))
        weights.append(1 / counts[name] ** 0.5)
    matrix = csr_matrix((data, (rows, columns)), shape=(len(goals), BUCKETS))
    model = LogisticRegression(C=30, max_iter=120).fit(matrix, goals, np.array(weights) * 10)
    weights_all = np.zeros((BUCKETS, len(LEARNED)), dtype=np.float32)
    start = np.full(len(LEARNED), -9, dtype=np.float32)
    weights_all[:, model.classes_] = model.coef_.T
    start[model.classes_] = model.intercept_
    return Phrases(weights_all, start)


@dataclass(frozen=True)
class Folded(Phrases):
    """Answers for a phrase by a model that has never seen it: as for words of suppliers to come."""

    parts: tuple[Phrases, ...] = ()

    def each(self, text: str) -> NDArray[np.float32]:
        """See the parent."""
        return self.parts[fold_of(plain(text))].each(text)


def fold_of(text: str) -> int:
    """Which model has never seen these words."""
    return zlib.crc32(text.encode()) % FOLDS


# -- documents


@dataclass
class Described:
    """One document's spots: features and goals by kind."""

    family: str
    language: str
    rows: dict[str, NDArray[np.float32]]
    goals: dict[str, list[int]]


def goals_of(truth: Mapping[str, Any], around: Surroundings, some: list[Spot]) -> list[int]:
    """What each spot states: 0 nothing, else the place of the field among those of its kind."""
    names = FIELDS[some[0].kind]
    fields = dict(truth["fields"])
    taxes = truth["tax_lines"] if len(truth["tax_lines"]) > 1 else []
    found = []
    for spot in some:
        # Credit notes and what is taken off are printed with a minus or without.
        read = as_text(spot.found.value)
        read = read.lstrip("-") if spot.kind == "amount" and read is not None else read
        fits = [name for name in names if same(name, fields.get(name), read)]
        if "tax_line" in names and any(same("", tax["amount"], read) for tax in taxes):
            fits.append("tax_line")
        if len(fits) > 1:
            fits.sort(key=lambda name: -_likeness(truth["labels"].get(name, ""), around, spot))
        found.append(names.index(fits[0]) + 1 if fits else 0)
    return found


def _likeness(label: str, around: Surroundings, spot: Spot) -> float:
    texts = [describe.behind(around, spot), describe.left(around, spot)[0],
             *(describe.upright(around, spot, step)[0] for step in (-1, 1))]  # fmt: skip
    return max(fuzz.ratio(plain(label), plain(text)) for text in texts)


_phrases: Phrases
_folded: Phrases


def _begin(whole: Phrases, folded: Phrases) -> None:
    global _phrases, _folded
    _phrases, _folded = whole, folded


def torn(pages: tuple[Page, ...], seed: int) -> tuple[Page, ...]:
    """The pages with rows missing, as where little is printed: the rest is told all the same."""
    chance = random.Random(seed)
    share = chance.choice([0.3, 0.5, 0.7, 0.85])
    found = []
    for page in pages:
        words = [w for row in rows_of(page) if chance.random() > share for w in row.words]
        found.append(replace(page, words=tuple(words)))
    return tuple(found) if any(page.words for page in found) else pages


def describe_one(job: tuple[Path, dict[str, Any]]) -> Described:
    """Read a document by rules and describe all its spots."""
    folder, truth = job
    pages = read_pages((folder / truth["path"]).read_bytes()).pages
    # Every other supplier prints words that nobody has seen.
    known = zlib.crc32(truth["path"].encode()) % 2
    hints = Hints(buyers=tuple(KnownParty(name=name) for name in truth["buyers"]))
    if zlib.crc32(truth["path"].encode()) % 4 == 3:
        hints = Hints()
    phrases = _phrases if known else _folded
    if zlib.crc32(truth["path"].encode()) % 7 == 0:
        pages = torn(pages, zlib.crc32(truth["path"].encode()))
    seen = look(pages, hints, phrases)
    around = surroundings(
        seen.sheet, hints, seen.currency, seen.fields, seen.lines, seen.headers, phrases
    )
    rows, goals = {}, {}
    for kind in KINDS:
        some = [spot for spot in around.spots if spot.kind == kind]
        if some:
            rows[kind] = np.stack([described(around, spot) for spot in some])
            goals[kind] = goals_of(truth, around, some)
    return Described(truth["family"], truth["language"], rows, goals)


def _jobs(folder: Path) -> list[tuple[Path, dict[str, Any]]]:
    with (folder / "manifest.jsonl").open(encoding="utf-8") as manifest:
        return [(folder, json.loads(line)) for line in manifest]


def all_described(folder: Path, whole: Phrases, folded: Phrases) -> Iterator[Described]:
    """All documents of a folder, on all processors."""
    jobs = _jobs(folder)
    context = multiprocessing.get_context("fork")
    with context.Pool(os.cpu_count(), _begin, (whole, folded)) as pool:
        for at, each in enumerate(pool.imap(describe_one, jobs, chunksize=8)):
            if at % 200 == 0:
                print(f"  {at} of {len(jobs)} documents", flush=True)
            yield each


# -- trees


def fitted_trees(
    rows: NDArray[np.float32], goals: NDArray[np.int64], classes: int
) -> dict[str, NDArray]:
    """Boosted trees as arrays (see `veridox.core.extract.scoring.trees`)."""
    model = HistGradientBoostingClassifier(
        max_iter=70, max_leaf_nodes=15, learning_rate=0.12, l2_regularization=2.0,
        min_samples_leaf=15, max_features=0.4, random_state=7, early_stopping=False,
    ).fit(rows, goals)  # fmt: skip
    every = [(int(model.classes_[at] if len(model.classes_) > 2 else 1), tree)
             for trees in model._predictors for at, tree in enumerate(trees)]  # fmt: skip
    most = max(len(tree.nodes) for _, tree in every)
    shape = (len(every), most)
    out: dict[str, NDArray] = {
        "feature": np.zeros(shape, np.int16), "least": np.zeros(shape, np.float32),
        "left": np.zeros(shape, np.int16), "right": np.zeros(shape, np.int16),
        "value": np.zeros(shape, np.float32),
        "group": np.array([group for group, _ in every], np.int16),
    }  # fmt: skip
    depth = 0
    for at, (_, tree) in enumerate(every):
        nodes = tree.nodes
        count = len(nodes)
        leaf = nodes["is_leaf"].astype(bool)
        own = np.arange(count)
        out["feature"][at, :count] = np.where(leaf, 0, nodes["feature_idx"])
        # Rounded so that a feature of 32 bits goes the way it went in training.
        out["least"][at, :count] = nodes["num_threshold"].astype(np.float32)
        out["left"][at, :count] = np.where(leaf, own, nodes["left"])
        out["right"][at, :count] = np.where(leaf, own, nodes["right"])
        out["value"][at, :count] = np.where(leaf, nodes["value"], 0)
        depth = max(depth, int(nodes["depth"].max()))
    out["depth"] = np.array(depth)
    start = np.full(classes, -30, np.float32)
    base = model._baseline_prediction.ravel()
    if len(model.classes_) > 2:
        start[model.classes_] = base
    else:
        start = np.array([0.0] * classes, np.float32)
        start[1] = base[0]
    out["start"] = start
    return out


# -- chances


Said = tuple[float, bool]
"""What was said of a value, and whether it was right."""
JUDGED = frozenset(name for names in FIELDS.values() for name in names) | {"currency", "account"}
"""Fields of which the corpus knows whether they are stated."""
FEWEST = 25
"""Values that a step of a map is made of, at least."""


@dataclass
class Tried:
    """What came of one tuning document: by group of values, and of the whole."""

    said: dict[str, list[Said]]
    posted: list[tuple[str, float]]
    """Group of each value that would be posted, and what was said of it."""
    lines: list[tuple[str, float]]
    wrong: bool
    """Whether any of them is wrong."""


_model: Model


def _begin_trying(model: Model, folded: Phrases) -> None:
    global _model
    _model = Model(folded, model.trees)


def try_one(job: tuple[Path, dict[str, Any]]) -> Tried:
    """Read a tuning document by a model that has never seen its words."""
    folder, truth = job
    pages = read_pages((folder / truth["path"]).read_bytes()).pages
    hints = Hints(buyers=tuple(KnownParty(name=name) for name in truth["buyers"]))
    seen = weigh(look(pages, hints, _model.phrases), hints, _model)
    said: dict[str, list[Said]] = {}
    tried = Tried(said=said, posted=[], lines=[], wrong=False)
    whole = Reading(
        kind=Kind.CREDIT_NOTE, fields=seen.fields, lines=seen.lines, tax_lines=seen.tax_lines
    )
    told = positive(whole)
    for name, field in told.fields.items():
        right = same(name, truth["fields"].get(name), as_text(field.value))
        if name not in JUDGED or field.origin is Origin.DERIVED:
            continue  # nothing is known of it
        group = group_of(name, seen.proved)
        said.setdefault(group, []).append((field.confidence, right))
        if name in POSTED_FIELDS:
            tried.posted.append((group, field.confidence))
            tried.wrong |= not right
    added_up = vouched_for(seen)
    judged = judge(told, {**truth, "fields": {}})
    left = list(judged.right_lines)
    for at, line in enumerate(seen.lines):
        group = line_group(line, seen.currency, summed=added_up)
        confidence = line["amount"].confidence if "amount" in line else 0.0
        said.setdefault(group, []).append((confidence, at in left))
        tried.lines.append((group, confidence))
        tried.wrong |= at not in left
    return tried


def all_tried(folder: Path, model: Model, folded: Phrases) -> list[Tried]:
    """All tuning documents, on all processors."""
    jobs = _jobs(folder)
    with multiprocessing.get_context("fork").Pool(
        os.cpu_count(), _begin_trying, (model, folded)
    ) as pool:
        return list(pool.imap(try_one, jobs, chunksize=8))


def rising(said: list[Said]) -> list[tuple[float, float]]:
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
        points.append((round(middle, 5), round(right, 5)))
        at = end
    return points


def chances_of(tried: list[Tried]) -> dict[str, list[tuple[float, float]]]:
    """The maps of all groups; small ones share theirs."""
    groups: dict[str, list[Said]] = {}
    for each in tried:
        for name, said in each.said.items():
            groups.setdefault(name, []).extend(said)
    maps = {name: rising(said) for name, said in sorted(groups.items()) if len(said) >= FEWEST}
    doubts = [(1 - _all_right(each, maps), each.wrong) for each in tried]
    return {**maps, RISK: rising(doubts)}


def _all_right(tried: Tried, maps: dict[str, list[tuple[float, float]]]) -> float:
    """The chance that all of a document is right if mistakes came independently."""
    right = 1.0
    for group, said in tried.posted:
        right *= chance(group, said, maps)
    return right * min((chance(group, said, maps) for group, said in tried.lines), default=1.0)


def drawn_for(
    folder: Path, purpose: str, names: tuple[str, ...], count: int, say: Callable[[str], None]
) -> Path:
    """The folder with documents of some families; drawn anew where the drawing has changed."""
    sources = sorted(Path(__file__).parent.glob("corpus/*"))
    mark = hashlib.sha256(b"".join(each.read_bytes() for each in sources if each.is_file()))
    into = folder / f"{purpose}-{count}-{mark.hexdigest()[:10]}"
    if not (into / "done").exists():
        say(f"{len(names) * count} documents are drawn for {purpose}")
        write(into, names, count)
        (into / "done").touch()
    return into


@click.command()
@click.option(
    "--folder", type=click.Path(path_type=Path), default=Path("var/train"), show_default=True
)
@click.option("--count", default=SEEDS, show_default=True, help="Documents of each family.")
@click.option("--into", type=click.Path(path_type=Path),
              default=Path("src/veridox/core/extract/scoring/weights.npz"),
              show_default=True)  # fmt: skip
def main(folder: Path, count: int, into: Path) -> None:
    """Draw the corpus, train, and write the weights."""
    began = time.monotonic()

    def say(text: str) -> None:
        print(f"{time.monotonic() - began:6.0f} s  {text}", flush=True)

    drawn = drawn_for(folder, "training", TRAINING, count, say)
    found = labelled_phrases()
    say(f"{len(found)} labels are learned")
    whole = fitted_phrases(found)
    parts = tuple(
        fitted_phrases([each for each in found if fold_of(each[0]) != fold])
        for fold in range(FOLDS)
    )
    folded = Folded(whole.weights, whole.start, parts=parts)
    say("all spots are described")
    every = list(all_described(drawn, whole, folded))
    arrays: dict[str, NDArray] = {
        "phrases.weights": whole.weights.astype(np.float16), "phrases.start": whole.start,
    }  # fmt: skip
    for kind in KINDS:
        learned = [each for each in every if kind in each.rows]
        rows = np.concatenate([each.rows[kind] for each in learned])
        goals = np.concatenate([np.array(each.goals[kind]) for each in learned])
        say(f"{kind}: trees for {len(rows)} spots, {np.count_nonzero(goals)} of them stated")
        made = fitted_trees(rows, goals, len(FIELDS[kind]) + 1)
        arrays |= {f"{kind}.{name}": array for name, array in made.items()}
    np.savez_compressed(into, **arrays)
    say(f"{into}: {into.stat().st_size / 1e6:.1f} MB")
    tuning = drawn_for(folder, "tuning", TUNING, count * 2, say)
    say("tuning documents are read")
    tried = all_tried(tuning, loaded(arrays), folded)
    maps = chances_of(tried)
    (into.parent / "confidence.json").write_text(json.dumps(maps, indent=1, sort_keys=True) + "\n")
    say(f"{len(maps)} maps of confidence")


if __name__ == "__main__":
    main()
