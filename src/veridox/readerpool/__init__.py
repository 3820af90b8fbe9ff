"""Limited reader processes: the only place where foreign bytes are parsed."""

from veridox.readerpool.pool import (
    PoolLimits,
    ReadAnswer,
    ReaderPool,
    ReaderStoppedError,
    stopped_finding,
)

__all__ = ["PoolLimits", "ReadAnswer", "ReaderPool", "ReaderStoppedError", "stopped_finding"]
