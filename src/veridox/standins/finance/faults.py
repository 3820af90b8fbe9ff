"""Switches that make the system misbehave on purpose."""

import asyncio
from dataclasses import dataclass
from enum import StrEnum


class Fault(StrEnum):
    """One way to misbehave when a bill is to be booked."""

    NONE = "none"
    SLOW = "slow"  # answers after some seconds
    ERROR = "error"  # answers 500 and books nothing
    DOWN = "down"  # answers nothing at all, to any request
    DROP = "drop"  # books, then breaks the line instead of answering
    LATE = "late"  # breaks the line first, books a moment later


@dataclass
class Faults:
    """What is switched on, and for how many bookings (-1: until switched off)."""

    fault: Fault = Fault.NONE
    left: int = -1
    seconds: float = 3.0

    def take(self) -> Fault:
        """The fault for this booking; counts down."""
        if self.fault is Fault.NONE or self.left == 0:
            return Fault.NONE
        if self.left > 0:
            self.left -= 1
        return self.fault

    async def pause(self) -> None:
        """Wait as long as `slow` means."""
        await asyncio.sleep(self.seconds)
