"""How well pages become words: for `bin/bench pages`, on drawn invoices with exact truth."""

import resource
import time
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field

import cv2
import numpy as np
import pypdfium2 as pdfium
from numpy.typing import NDArray
from pypdfium2 import raw

from tools.corpus.camera import CONDITIONS, Matrix, Shot, shot
from tools.corpus.content import invoice
from tools.corpus.layouts import LAYOUTS, draw
from tools.corpus.sheet import Drawn, Sheet
from veridox.core.pages import Box, Word
from veridox.core.readers.files import read_pages
from veridox.core.readers.ocr import read_picture
from veridox.core.readers.ocr.models import Floats, Network
from veridox.core.readers.ocr.picture import grey_of


@dataclass
class Score:
    """What was counted under one condition.

    Attributes:
        tokens, right: amounts, dates, ids and accounts, and those read exactly inside their box.
        drawn, found: words on the page, and those read exactly inside their box.
        read, placed: words that were read, and those that are a drawn word, or part of one, at
            its place.
        overlap: of boxes of words found as one and the box drawn, summed: 1 when they are equal.
        sure, sure_wrong: words with a confidence of 0.99 or more.
    """

    tokens: int = 0
    right: int = 0
    drawn: int = 0
    found: int = 0
    read: int = 0
    placed: int = 0
    overlap: float = 0.0
    sure: int = 0
    sure_wrong: int = 0
    pages: int = 0
    seconds: float = 0.0
    first: float = 0.0
    wrong: list[tuple[str, str]] = field(default_factory=list)
    judged: list[tuple[float, bool]] = field(default_factory=list)
    """Confidence of each word that stands where something was drawn, and whether it is right."""


def truth(sheet: Sheet, place: Matrix) -> list[tuple[str, int, Box]]:
    """Drawn words of the first page, their token, and their box after a plane map."""
    found = []
    for word in sheet.words:
        if word.page == 1:
            found.append((word.text, word.token, moved(word, place)))
    return found


def moved(word: Drawn, place: Matrix) -> Box:
    """The box around a word's corners after a plane map."""
    corners: NDArray[np.float64] = np.array(
        [[word.left, word.top], [word.right, word.top],
         [word.right, word.bottom], [word.left, word.bottom]]
    )  # fmt: skip
    (points,) = cv2.perspectiveTransform(corners[None], place)
    return Box(
        float(points[:, 0].min()), float(points[:, 1].min()),
        float(points[:, 0].max()), float(points[:, 1].max()),
    )  # fmt: skip


def _inside(word: Word, box: Box) -> bool:
    """Whether a word's middle lies in a box."""
    x, y = word.box.middle
    return box.left <= x <= box.right and box.top - 1 <= y <= box.bottom + 1


def _overlap(one: Box, other: Box) -> float:
    """What two boxes share of what they cover together."""
    across = min(one.right, other.right) - max(one.left, other.left)
    down = min(one.bottom, other.bottom) - max(one.top, other.top)
    shared = max(0.0, across) * max(0.0, down)
    return shared / (one.width * one.height + other.width * other.height - shared)


def judge(score: Score, words: Sequence[Word], drawn: list[tuple[str, int, Box]]) -> None:
    """Count one page: a token is right when what was read inside its box is exactly it."""
    score.pages += 1
    score.drawn += len(drawn)
    score.read += len(words)
    tokens: dict[int, list[tuple[str, Box]]] = defaultdict(list)
    for text, token, box in drawn:
        hits = [word for word in words if _inside(word, box)]
        joined = "".join(word.text for word in sorted(hits, key=lambda word: word.box.left))
        score.found += joined == text
        if joined == text:
            score.overlap += _overlap(Box.around(word.box for word in hits), box)
        for word in hits:
            score.placed += word.text in text
            score.judged.append((word.confidence, word.text in text))
            if word.confidence >= 0.99:
                score.sure += 1
                score.sure_wrong += word.text not in text
        if token:
            tokens[token].append((text, box))
    for parts in tokens.values():
        wanted = "".join(text for text, _ in parts)
        whole = Box.around(box for _, box in parts)
        hits = sorted((w for w in words if _inside(w, whole)), key=lambda word: word.box.left)
        got = "".join(word.text for word in hits)
        score.tokens += 1
        score.right += got == wanted
        if got != wanted:
            score.wrong.append((wanted, got))


def scans(conditions: Sequence[str], count: int, first: int = 0) -> dict[str, Score]:
    """Scores by condition, of `count` pages each, each in another layout."""
    found = {}
    for condition in conditions:
        score = found[condition] = Score()
        for seed in range(first, first + count):
            pdf, sheet = draw(invoice(seed), seed % LAYOUTS)
            seen: Shot = shot(pdf, 0, condition, seed)
            grey = seen.picture if seen.picture.ndim == 2 else grey_of(seen.picture[:, :, ::-1])
            size = None if seen.dpi == 0 else (
                grey.shape[1] * 72 / seen.dpi, grey.shape[0] * 72 / seen.dpi
            )  # fmt: skip
            began = time.process_time()
            page = read_picture(grey, size, photo=seen.dpi == 0)
            score.seconds += time.process_time() - began
            judge(score, page.words, truth(sheet, page.place @ seen.place))
    return found


def digital(count: int) -> tuple[Score, Score, float]:
    """Score of drawn PDF files, that of pdfium's own words, and our time by that of its bare
    listing of characters.

    Most pages that come in are in fonts that came before: each page is read once untimed. What
    the first pages cost more is in `first` seconds of the score.
    """
    score, own, bare = Score(), Score(), 0.0
    began = time.process_time()
    for seed in range(count):
        read_pages(draw(invoice(seed), seed % LAYOUTS)[0], ocr=False)
    score.first = time.process_time() - began
    began = time.process_time()
    for seed in range(count):
        read_pages(draw(invoice(seed), seed % LAYOUTS)[0], ocr=False)
    score.first -= time.process_time() - began
    for seed in range(count):
        pdf, sheet = draw(invoice(seed), seed % LAYOUTS)
        began = time.process_time()
        list_characters(pdf)
        bare += time.process_time() - began
        began = time.process_time()
        page = read_pages(pdf, ocr=False).pages[0]
        score.seconds += time.process_time() - began
        judge(score, page.words, truth(sheet, np.eye(3)))
        judge(own, list_words(pdf), truth(sheet, np.eye(3)))
    own.seconds = bare
    return score, own, score.seconds / bare


def list_words(pdf: bytes) -> list[Word]:
    """The words of pdfium's text on all pages, parted where it has white space, in boxes of their
    letters: what anybody has to do who wants words with places, and nothing more."""
    document = pdfium.PdfDocument(pdf)
    rect = raw.FS_RECTF()
    words: list[Word] = []
    for page in document:
        text, height = page.get_textpage(), page.get_height()
        count, letters = text.count_chars(), list[str]()
        left = bottom = float("inf")
        right = top = float("-inf")
        for index in range(count + 1):
            char = chr(raw.FPDFText_GetUnicode(text.raw, index)) if index < count else " "
            if not char.isspace():
                raw.FPDFText_GetLooseCharBox(text.raw, index, rect)
                left, right = min(left, rect.left), max(right, rect.right)
                bottom, top = min(bottom, rect.bottom), max(top, rect.top)
                letters.append(char)
            elif letters:
                box = Box(left, height - top, right, height - bottom)
                words.append(Word(text="".join(letters), box=box))
                letters = []
                left = bottom = float("inf")
                right = top = float("-inf")
    document.close()
    return words


def list_characters(pdf: bytes) -> None:
    """Every character and its box, as little as anybody has to ask for."""
    document = pdfium.PdfDocument(pdf)
    rect = raw.FS_RECTF()
    for page in document:
        text = page.get_textpage()
        for index in range(text.count_chars()):
            raw.FPDFText_GetUnicode(text.raw, index)
            raw.FPDFText_GetLooseCharBox(text.raw, index, rect)
    document.close()


class Engines:
    """Counts the seconds that the networks take by themselves."""

    def __init__(self) -> None:
        self.seconds = 0.0
        self._run = Network.run

    def __enter__(self) -> "Engines":
        def timed(network: Network, batch: Floats) -> Floats:
            began = time.process_time()
            answer = self._run(network, batch)
            self.seconds += time.process_time() - began
            return answer

        Network.run = timed  # type: ignore[method-assign]
        return self

    def __exit__(self, *_: object) -> None:
        Network.run = self._run  # type: ignore[method-assign]


def figures(count: int, conditions: Sequence[str] = tuple(CONDITIONS)) -> None:
    """Print all of them, for `count` pages under each condition."""
    score, bare, ratio = digital(count * 3)
    head = f"{'condition':<18}{'pages':>5}{'tokens':>7}{'right %':>9}"
    head += f"{'recall %':>9}{'prec. %':>9}{'boxes %':>9}"
    print(f"{head}{'sure':>7}{'wrong %':>9}{'CPU s a page':>14}")
    _line("digital", score)
    _line("  pdfium alone", bare)
    print(f"{'':<18}{ratio:.2f} x pdfium's bare listing of characters")
    print(f"{'':<18}fonts met for the first time: {score.first:.3f} s more in all")
    total = Score()
    scans(["200 dpi"], 1)  # loads what is loaded once
    with Engines() as engines:
        for condition in conditions:
            score = scans([condition], count)[condition]
            _line(condition, score)
            total.seconds += score.seconds
            total.sure += score.sure
            total.sure_wrong += score.sure_wrong
    print(f"{'':<18}{total.seconds / engines.seconds:.2f} x the networks alone")
    share = 100 * total.sure_wrong / max(1, total.sure)
    print(f"of {total.sure} words with confidence >= 0.99: {share:.2f} % wrong")
    print(f"memory, peak {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")


def _line(condition: str, score: Score) -> None:
    print(
        f"{condition:<18}{score.pages:>5}{score.tokens:>7}"
        f"{100 * score.right / max(1, score.tokens):>9.2f}"
        f"{100 * score.found / max(1, score.drawn):>9.2f}"
        f"{100 * score.placed / max(1, score.read):>9.2f}"
        f"{100 * score.overlap / max(1, score.found):>9.2f}{score.sure:>7}"
        f"{100 * score.sure_wrong / max(1, score.sure):>9.2f}"
        f"{score.seconds / max(1, score.pages):>14.3f}",
        flush=True,
    )
