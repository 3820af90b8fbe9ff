"""Trains the network that tags words, from composed pages alone.

JAX (the extra `train`) is needed here only; what ships is arrays that numpy multiplies.
"""

import os
import time
from pathlib import Path

os.environ.setdefault("XLA_FLAGS", "--xla_cpu_multi_thread_eigen=true")

import jax
import jax.numpy as jnp
import numpy as np

from tools.teach.corpus import load, write
from veridox.core.extract.tagging.features import fingerprint
from veridox.core.extract.tagging.network import answers, fresh, loaded

EDGES = (48, 80, 112, 144, 192, 256, 384, 512)
PAIRS_AT_ONCE = 140_000
"""Pairs of words in a batch: eight pages of 130 words."""
PLAIN = 0.7
"""What a word that states nothing counts."""
KIND = 0.15
FIXED = ("mean", "spread")
OFTEN = 4
"""How often each recognised page counts in a pass."""
FASTEST, FASTEST_ON = 2e-3, 7e-4
"""How far a step goes at most: from nothing, and on from weights that are there."""


def batches(data, chance):
    """Indexes of pages of about one length, in batches, shuffled."""
    lengths = np.minimum(data["lengths"], EDGES[-1])
    buckets = np.searchsorted(EDGES, lengths)
    found = []
    for bucket, edge in enumerate(EDGES):
        own = np.flatnonzero(buckets == bucket)
        chance.shuffle(own)
        size = max(1, PAIRS_AT_ONCE // edge**2)
        size = min(size, 12)
        found += [(edge, own[at : at + size]) for at in range(0, len(own) - size + 1, size)]
    chance.shuffle(found)
    return found


def filled(data, starts, edge, own):
    """Arrays of a batch, pages filled up to one length."""
    count = len(own)
    out = {
        "figures": np.zeros((count, edge, data["figures"].shape[1]), np.float32),
        "pieces": np.zeros((count, edge, data["pieces"].shape[1]), np.int32),
        "place": np.full((count, edge, 4), -50, np.float32),
        "near": np.full((count, edge, 4), -1, np.int32),
        "row": np.full((count, edge), -9, np.int32),
        "there": np.zeros((count, edge), np.float32),
        "tags": np.full((count, edge), -1, np.int32),
    }
    for at, page in enumerate(own):
        length = min(int(data["lengths"][page]), edge)
        span = slice(starts[page], starts[page] + length)
        for name in ("figures", "pieces", "place", "near", "row", "tags"):
            out[name][at, :length] = data[name][span]
        out["near"][at][out["near"][at] >= edge] = -1
        out["there"][at, :length] = 1
    out["kinds"] = data["kinds"][own].astype(np.int32)
    return out


def loss_of(w, b):
    """Cross-entropy of words and kinds."""
    tags, kinds = answers(
        jnp, w, b["figures"], b["pieces"], b["place"], b["near"], b["row"], b["there"]
    )
    chances = jax.nn.log_softmax(tags)
    goal = jnp.maximum(b["tags"], 0)
    own = jnp.take_along_axis(chances, goal[..., None], -1)[..., 0]
    weight = jnp.where(b["tags"] < 0, 0.0, jnp.where(b["tags"] == 0, PLAIN, 1.0)) * b["there"]
    kind = jnp.take_along_axis(jax.nn.log_softmax(kinds), b["kinds"][:, None], -1).mean()
    return -(own * weight).sum() / jnp.maximum(weight.sum(), 1) - KIND * kind


@jax.jit
def step(w, m, v, averaged, b, rate, count):
    """One step of Adam with decay and clipped gradients; weights are averaged beside it."""
    loss, slope = jax.value_and_grad(loss_of)(w, b)
    slope = {name: jnp.zeros_like(g) if name in FIXED else g for name, g in slope.items()}
    norm = jnp.sqrt(sum((g**2).sum() for g in slope.values()))
    slope = {name: g * jnp.minimum(1.0, 1.0 / (norm + 1e-9)) for name, g in slope.items()}
    m = {name: 0.9 * m[name] + 0.1 * g for name, g in slope.items()}
    v = {name: 0.99 * v[name] + 0.01 * g**2 for name, g in slope.items()}
    up, low = 1 - 0.9**count, 1 - 0.99**count
    w = {
        name: value
        if name in FIXED
        else value
        - rate
        * (
            m[name] / up / (jnp.sqrt(v[name] / low) + 1e-8)
            + (0.01 * value if value.ndim > 1 else 0)
        )
        for name, value in w.items()
    }
    keep = jnp.minimum(0.999, 1 - 1 / (1 + count / 4))
    averaged = {name: keep * averaged[name] + (1 - keep) * w[name] for name in w}
    return w, m, v, averaged, loss


@jax.jit
def right(w, b):
    """How many words that state something, and kinds, are told right."""
    tags, kinds = answers(
        jnp, w, b["figures"], b["pieces"], b["place"], b["near"], b["row"], b["there"]
    )
    asked = (b["tags"] > 0) & (b["there"] > 0)
    return (
        ((tags.argmax(-1) == b["tags"]) & asked).sum(),
        asked.sum(),
        (kinds.argmax(-1) == b["kinds"]).sum(),
    )


def judge(w, data):
    """Shares of words and kinds that are right."""
    starts = np.concatenate([[0], np.cumsum(data["lengths"])])
    found = np.zeros(3)
    pages = 0
    for edge, own in batches(data, np.random.default_rng(0)):
        found += np.array([float(each) for each in right(w, filled(data, starts, edge, own))])
        pages += len(own)
    return found[0] / found[1], found[2] / pages


def train(
    folder: Path,
    documents: int,
    pictures: int,
    passes: float,
    minutes: float,
    seed: int,
    start: Path | None,
):
    """Weights of a network trained on so many composed documents, on from some or from nothing."""
    # What recognition told counts more often: it is dear to make, and unlike the rest.
    data = load(
        write(folder, "pages", documents) + write(folder, "seen", pictures, pictures=True) * OFTEN
    )
    tried = load(write(folder, "held", 1000, held=True))
    sample = data["figures"][:: max(1, len(data["figures"]) // 200_000)].astype(np.float32)
    mean, spread = sample.mean(0), np.maximum(sample.std(0), 0.05)
    chance = np.random.default_rng(seed)
    first = fresh(chance, mean, spread) if start is None else loaded(start).weights
    w = {name: jnp.array(value) for name, value in first.items()}
    fastest = FASTEST if start is None else FASTEST_ON
    zero = {name: jnp.zeros_like(value) for name, value in w.items()}
    m, v, averaged = dict(zero), dict(zero), dict(w)
    starts = np.concatenate([[0], np.cumsum(data["lengths"])])
    per_pass = len(batches(data, np.random.default_rng(0)))
    steps = int(per_pass * passes)
    began, count, loss = time.monotonic(), 0, 0.0
    queue: list = []
    while count < steps:
        if not queue:
            queue = batches(data, chance)
        edge, own = queue.pop()
        count += 1
        done = max(count / steps, (time.monotonic() - began) / 60 / minutes)
        if done >= 1:
            break
        rate = fastest * min(1.0, count / 300) * (0.5 + 0.5 * np.cos(np.pi * done))
        w, m, v, averaged, last = step(
            w, m, v, averaged, filled(data, starts, edge, own), rate, count
        )
        if count % 100 == 0:
            loss = 0.7 * loss + 0.3 * float(last)
        if count % 1000 == 0:
            words, kinds = judge(averaged, tried)
            minute = (time.monotonic() - began) / 60
            told = f"loss {loss:.3f}, held: words {words:.4f}, kinds {kinds:.4f}"
            print(f"train: step {count} of {steps}, {minute:.1f} min, {told}", flush=True)
            save(folder / "so-far.npz", averaged)
    words, kinds = judge(averaged, tried)
    print(f"train: ended at step {count}; held: words {words:.4f}, kinds {kinds:.4f}")
    return averaged


def save(path: Path, w) -> None:
    """Weights as arrays of half precision, with the fingerprint of their features."""
    arrays = {
        name: np.asarray(value).astype(np.float32 if name in FIXED else np.float16)
        for name, value in w.items()
    }
    np.savez_compressed(path, fingerprint=np.array(fingerprint()), **arrays)
