"""Drawn pages as a scanner, a fax machine or a telephone sees them; repeatable by seed."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import cv2
import numpy as np
import pypdfium2 as pdfium
from numpy.typing import NDArray

Picture = NDArray[np.uint8]
Matrix = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Shot:
    """A picture of a page.

    Attributes:
        picture: grey (height, width) or BGR (height, width, 3), 8 bits.
        dpi: as the scanner says; 0 when nobody knows.
        place: 3 x 3, from points of the page to pixels of the picture.
    """

    picture: Picture
    dpi: float
    place: Matrix

    def moved(self, matrix: Matrix, size: tuple[int, int], paper: int = 255) -> "Shot":
        """As seen through a plane map from pixels to pixels."""
        grey = self.picture.ndim == 2
        picture = cv2.warpPerspective(
            self.picture, matrix, size, flags=cv2.INTER_LINEAR,
            borderMode=cv2.BORDER_CONSTANT, borderValue=paper if grey else (paper,) * 3,
        )  # fmt: skip
        return Shot(picture, self.dpi, matrix @ self.place)


def scanned(pdf: bytes, page: int, dpi: float) -> Shot:
    """A clean grey picture of a page, from 0."""
    document = pdfium.PdfDocument(pdf)
    picture = document[page].render(scale=dpi / 72, grayscale=True).to_numpy()
    document.close()
    grey = picture if picture.ndim == 2 else picture[:, :, 0]
    return Shot(np.ascontiguousarray(grey), dpi, np.diag([dpi / 72, dpi / 72, 1.0]))


def _worn(shot: Shot, chance: np.random.Generator, noise: float = 3.0, blur: float = 0.4) -> Shot:
    """What every scanner adds."""
    picture = cv2.GaussianBlur(shot.picture, (0, 0), blur) if blur else shot.picture
    grain = chance.normal(0, noise, picture.shape)
    return replace(shot, picture=np.clip(picture + grain, 0, 255).astype(np.uint8))


def _tilted(shot: Shot, degrees: float) -> Shot:
    height, width = shot.picture.shape[:2]
    turn = np.vstack([cv2.getRotationMatrix2D((width / 2, height / 2), degrees, 1), [0, 0, 1]])
    return shot.moved(turn, (width, height))


def _jpeg(shot: Shot, quality: int) -> Shot:
    _, data = cv2.imencode(".jpg", shot.picture, [cv2.IMWRITE_JPEG_QUALITY, quality])
    flag = cv2.IMREAD_GRAYSCALE if shot.picture.ndim == 2 else cv2.IMREAD_COLOR
    return replace(shot, picture=cv2.imdecode(data, flag))


def scan(tilt: float = 0.3) -> Callable[[Shot, np.random.Generator], Shot]:
    """A usual scan."""

    def see(shot: Shot, chance: np.random.Generator) -> Shot:
        return _jpeg(_worn(_tilted(shot, chance.uniform(-tilt, tilt)), chance), 80)

    return see


def _turned(shot: Shot, chance: np.random.Generator) -> Shot:
    shot, quarters = scan()(shot, chance), int(chance.integers(1, 4))
    height, width = shot.picture.shape[:2]
    turn = {
        1: ([[0, 1, 0], [-1, 0, width - 1], [0, 0, 1]], (height, width)),
        2: ([[-1, 0, width - 1], [0, -1, height - 1], [0, 0, 1]], (width, height)),
        3: ([[0, -1, height - 1], [1, 0, 0], [0, 0, 1]], (height, width)),
    }[quarters]
    return shot.moved(np.array(turn[0], np.float64), turn[1])


def _specks(shot: Shot, chance: np.random.Generator) -> Shot:
    shot = _worn(shot, chance, noise=16)
    picture = shot.picture.copy()
    height, width = picture.shape
    for _ in range(600):
        at = (int(chance.integers(width)), int(chance.integers(height)))
        cv2.circle(picture, at, int(chance.integers(1, 3)), int(chance.integers(0, 160)), -1)
    return replace(shot, picture=picture)


def _faint(shot: Shot, chance: np.random.Generator) -> Shot:
    low, high = chance.uniform(135, 160), chance.uniform(195, 215)
    picture = low + shot.picture.astype(np.float32) / 255 * (high - low)
    return _worn(replace(shot, picture=picture.astype(np.uint8)), chance, noise=4)


def _light(
    shape: tuple[int, ...], chance: np.random.Generator, depth: float
) -> NDArray[np.float32]:
    """How much light falls where: a slope and the edge of a shadow."""
    height, width = shape[:2]
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    angle = chance.uniform(0, 2 * np.pi)
    slope = (np.cos(angle) * x / width + np.sin(angle) * y / height + 1) / 2
    edge = chance.uniform(0.3, 0.7)
    shade = 1 / (1 + np.exp((slope - edge) * chance.uniform(8, 30)))
    return (1 - depth * 0.35 * slope - depth * 0.65 * shade).astype(np.float32)


def _shadowed(shot: Shot, chance: np.random.Generator) -> Shot:
    light = _light(shot.picture.shape, chance, 0.6)
    return _worn(replace(shot, picture=(shot.picture * light).astype(np.uint8)), chance)


def _photo(shot: Shot, chance: np.random.Generator) -> Shot:
    """A sheet on a desk, held by hand: perspective, shadow, blur, colour."""
    height, width = shot.picture.shape[:2]
    frame = (2250, 3000)
    inset = chance.uniform(0.04, 0.1, (4, 2)) * frame
    corners = np.array([[0, 0], [frame[0], 0], [frame[0], frame[1]], [0, frame[1]]], np.float64)
    corners += inset * np.array([[1, 1], [-1, 1], [-1, -1], [1, -1]])
    paper = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float32)
    matrix = cv2.getPerspectiveTransform(paper, corners.astype(np.float32))
    moved = shot.moved(matrix, frame, paper=0)
    inside = np.zeros((frame[1], frame[0]), np.uint8)
    cv2.fillConvexPoly(inside, corners.astype(np.int32), 255)
    desk = np.array([40, 70, 105]) + chance.normal(0, 9, (frame[1] // 6, frame[0] // 6, 3))
    picture = cv2.resize(desk.clip(0, 255).astype(np.uint8), frame).astype(np.float32)
    tint = np.array([0.93, 0.97, 1.0])
    picture[inside > 0] = (moved.picture[inside > 0, None] * tint).astype(np.float32)
    picture *= _light(picture.shape, chance, 0.45)[..., None]
    seen = cv2.GaussianBlur(picture, (0, 0), 0.8) + chance.normal(0, 4, picture.shape)
    found = Shot(seen.clip(0, 255).astype(np.uint8), 0, matrix @ shot.place)
    return _jpeg(found, 70)


def _fax(shot: Shot, chance: np.random.Generator) -> Shot:
    shot = _worn(_tilted(shot, chance.uniform(-0.6, 0.6)), chance, noise=10)
    return replace(shot, picture=np.where(shot.picture > 150, 255, 0).astype(np.uint8))


def _stamped(shot: Shot, chance: np.random.Generator) -> Shot:
    """Coloured stamps and a scribble over the text."""
    picture = cv2.cvtColor(scan()(shot, chance).picture, cv2.COLOR_GRAY2BGR)
    over = np.full_like(picture, 255)
    height, width = picture.shape[:2]
    for colour in ((190, 60, 40), (40, 40, 200)):
        x, y = int(chance.uniform(0.2, 0.8) * width), int(chance.uniform(0.15, 0.8) * height)
        cv2.ellipse(over, (x, y), (170, 80), chance.uniform(-25, 25), 0, 360, colour, 6)
        cv2.putText(over, "RECEIVED", (x - 120, y + 12), 0, 1.5, colour, 4)
    wander = np.cumsum(chance.normal(0, 14, (60, 2)), axis=0)
    path = wander + np.array([width * 0.7, height * 0.85])
    cv2.polylines(over, [path.astype(np.int32)], False, (150, 50, 30), 3)
    return replace(shot, picture=np.minimum(picture, over))


def _folded(shot: Shot, chance: np.random.Generator) -> Shot:
    """Two folds, and the back of the sheet shining through."""
    picture = shot.picture.astype(np.float32)
    back = cv2.GaussianBlur(picture[:, ::-1], (0, 0), 2.2)
    picture = np.minimum(picture, 255 - (255 - back) * 0.16)
    for share in (1 / 3, 2 / 3):
        y = int(picture.shape[0] * (share + chance.uniform(-0.01, 0.01)))
        band = np.arange(picture.shape[0], dtype=np.float32) - y
        picture -= (38 * np.exp(-((band / 14) ** 2)))[:, None]
    return scan()(replace(shot, picture=picture.clip(0, 255).astype(np.uint8)), chance)


CONDITIONS: dict[str, tuple[float, Callable[[Shot, np.random.Generator], Shot]]] = {
    "300 dpi": (300, scan()),
    "200 dpi": (200, scan()),
    "150 dpi": (150, scan()),
    "turned": (200, _turned),
    "skew": (200, scan(tilt=4)),
    "blur": (200, lambda shot, chance: _worn(shot, chance, blur=1.3)),
    "strong JPEG": (200, lambda shot, chance: _jpeg(_worn(shot, chance), 30)),
    "noise and specks": (200, _specks),
    "low contrast": (200, _faint),
    "shadow": (200, _shadowed),
    "photo": (220, _photo),
    "fax": (204, _fax),
    "stamps": (200, _stamped),
    "folds": (200, _folded),
}
"""Resolution of the print, and what is done to it."""


def shot(pdf: bytes, page: int, condition: str, seed: int) -> Shot:
    """A page of a PDF as it is seen under a condition."""
    dpi, see = CONDITIONS[condition]
    return see(scanned(pdf, page, dpi), np.random.default_rng([seed, *condition.encode()]))
