"""When a pipeline runs: intervals, or days and hours in a time zone. Pure."""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from typing import Final
from zoneinfo import ZoneInfo

WEEKDAYS: Final = (
    "monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday",
)  # fmt: skip
GROUPS: Final = {
    "daily": frozenset(range(1, 8)), "weekdays": frozenset(range(1, 6)),
    **{name: frozenset({number}) for number, name in enumerate(WEEKDAYS, start=1)},
}  # fmt: skip
"""Words for days of the week, as their numbers (ISO 8601: Monday is 1)."""
SHORTEST: Final = timedelta(minutes=1)
LONGEST: Final = timedelta(days=31)
_EVERY = re.compile(r"(\d{1,4}) (minute|hour|day)s?")
_AT = re.compile(
    r"(?:(?P<word>[a-z]+)|day (?P<day>\d{1,2})|(?P<last>last day)) (?P<time>\d\d:\d\d)"
)


class ScheduleError(ValueError):
    """What is no moment, interval or zone."""


@dataclass(frozen=True, kw_only=True, slots=True)
class Moment:
    """A time on some days.

    Attributes:
        time: of the day, in the zone.
        weekdays: by number; empty where the day of the month counts.
        day: of the month; the last of a month that has no such day. 0 where weekdays count.
    """

    time: time
    weekdays: frozenset[int] = frozenset()
    day: int = 0

    def is_on(self, day: date) -> bool:
        """Whether a day is one of its days."""
        if not self.day:
            return day.isoweekday() in self.weekdays
        last = (day.replace(day=28) + timedelta(days=4)).replace(day=1) - timedelta(days=1)
        return day.day == min(self.day, last.day)


@dataclass(frozen=True, kw_only=True, slots=True)
class Schedule:
    """When a run begins by itself.

    Attributes:
        every: how long after the last one began; None where moments count.
        at: moments.
        zone: name of the time zone of the moments.
    """

    every: timedelta | None = None
    at: tuple[Moment, ...] = ()
    zone: str = "UTC"


def interval_of(text: str) -> timedelta:
    """`15 minutes`, `2 hours`, `1 day`. Raises ScheduleError."""
    match = _EVERY.fullmatch(text.strip())
    if match is None:
        raise ScheduleError(f"{text!r} is no interval: write it as 15 minutes, 2 hours or 1 day")
    found = timedelta(**{f"{match[2]}s": int(match[1])})
    if not SHORTEST <= found <= LONGEST:
        raise ScheduleError(f"{text!r} is not from a minute to 31 days")
    return found


def moment_of(text: str) -> Moment:
    """`weekdays 07:30`, `monday 06:00`, `daily 12:00`, `day 15 08:00`, `last day 18:00`.

    Raises:
        ScheduleError: it is none of these.
    """
    match = _AT.fullmatch(" ".join(text.lower().split()))
    word = match["word"] if match else None
    if match is None or (word is not None and word not in GROUPS):
        raise ScheduleError(
            f"{text!r} is no moment: write it as weekdays 07:30, monday 06:00, day 15 08:00 or "
            "last day 18:00"
        )
    try:
        clock = time.fromisoformat(match["time"])
    except ValueError as error:
        raise ScheduleError(f"{match['time']!r} is no time of the day") from error
    if word is not None:
        return Moment(time=clock, weekdays=GROUPS[word])
    day = 31 if match["last"] else int(match["day"])
    if not 1 <= day <= 31:
        raise ScheduleError(f"a month has no day {day}")
    return Moment(time=clock, day=day)


def next_after(schedule: Schedule, after: datetime) -> datetime:
    """The first moment after another, in UTC.

    Args:
        schedule: with an interval, or at least one moment.
        after: when the last run began (or the pipeline was published), with a zone.

    A time that a day does not have (clocks go forward) is taken as the next that it has; of one
    that it has twice, the first counts.
    """
    if schedule.every is not None:
        return after.astimezone(UTC) + schedule.every
    return min(each for each in _candidates(schedule, after))


def _candidates(schedule: Schedule, after: datetime) -> Iterator[datetime]:
    zone = ZoneInfo(schedule.zone)
    first = after.astimezone(zone).date()
    for moment in schedule.at:
        for number in range(70):  # the last day of two months hence is among them
            day = first + timedelta(days=number)
            if moment.is_on(day):
                found = datetime.combine(day, moment.time, zone).astimezone(UTC)
                if found > after.astimezone(UTC):
                    yield found
                    break
