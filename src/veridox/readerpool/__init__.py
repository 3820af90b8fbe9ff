"""Limited reader processes: the only place where foreign bytes are parsed."""

from veridox.readerpool.crew import PoolLimits, ReaderStoppedError
from veridox.readerpool.pool import ReadAnswer, ReaderPool, TableAnswer, stopped_finding

__all__ = [
    "PoolLimits",
    "ReadAnswer",
    "ReaderPool",
    "ReaderStoppedError",
    "TableAnswer",
    "stopped_finding",
]
