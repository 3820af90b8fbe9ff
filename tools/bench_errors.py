"""A made-up year of bills with planted mistakes: `bin/bench errors`.

Bills are made as readings whose every value is right as printed: what is measured are the checks,
matching and gates, not the reading of pages. Whoever wrote the checks wrote this year, too; it is
built with one seed and reported with another, and its lawful oddities count against the checks.
"""

import time
from collections import Counter, defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date, timedelta
from decimal import Decimal

from tools.errors.delivered import delivered
from tools.errors.order_lines import ORDER_LINES
from tools.errors.rarer import EVERY
from tools.errors.several_orders import on_two_orders
from tools.errors.world import YEAR, World, calendar, world
from tools.errors.year import Draft, clean, credit, deliveries, odd, on_order
from veridox.core.checks import run_checks
from veridox.core.facts import CheckSettings, gather
from veridox.core.facts.facts import OrderTolerance
from veridox.core.findings import Finding
from veridox.core.reading import POSTED_KINDS

SETTINGS = CheckSettings(
    totals_within=1,
    order_total=OrderTolerance(
        percent=Decimal(2), amount=Decimal(50), charges=Decimal(50), price_percent=Decimal(2)
    ),
)
"""Those of the demo's pipeline: nothing is set more strictly for this."""
OF_EACH = 30
ODD = 0.5
DELIVERED_ODD = 0.2
OF_TWO_ORDERS = 0.08
"""Of the others: bills whose goods were booked in, in packs, or by a rate card."""
BUILT_WITH = 1


def _look(there: World, draft: Draft) -> tuple[list[Finding], str]:
    """What is said of a bill, and the vendor that it was taken for."""
    arrived = draft.day + timedelta(days=draft.arrives)
    reading = draft.reading()
    facts = gather(there, reading, settings=SETTINGS, chosen={}, arrived=arrived, mail=draft.mail)
    there.cards.clear()  # they are of this bill alone
    if reading.kind not in POSTED_KINDS:
        return [f for f in run_checks(facts) if f.code == "kind.not_posted"], ""
    return list(run_checks(facts)), facts.vendor.code if facts.vendor else ""


@dataclass
class Looked:
    """A bill of the year, and what was said of it.

    Attributes:
        draft: the bill.
        planted: which mistake was planted; empty for a lawful one.
        found: all findings.
    """

    draft: Draft
    planted: str
    found: list[Finding]

    @property
    def stops(self) -> list[Finding]:
        """Those that stop it."""
        return [each for each in self.found if each.blocks]


def year(count: int, seed: int) -> Iterator[Looked]:
    """Every bill of a made-up year in its order, each looked at as the service would."""
    there = world(seed)
    chance = there.chance
    bills = calendar(there, count)
    _before_the_year(there)
    waiting = [name for name in EVERY for _ in range(OF_EACH)]
    chance.shuffle(waiting)
    spoiled_at = set(chance.sample(range(count // 10, count), min(len(waiting), count // 2)))
    for at, (day, seller) in enumerate(bills):
        if at in spoiled_at:
            name = waiting.pop()
            spoiled = _spoiled(there, name, day)
            yield Looked(spoiled, name, _look(there, spoiled)[0])
            continue
        for each in _lawful(there, clean(there, seller, day)):
            found, code = _look(there, each)
            yield Looked(each, "", found)
            vendor = there.vendor(code) if code else None
            there.keep(each.reading(), vendor or each.seller.record)


def of_the_year(count: int, seed: int) -> Iterator[tuple[str, Finding]]:
    """Number of the bill and finding, of a made-up year."""
    for looked in year(count, seed):
        for finding in looked.found:
            yield str(looked.draft.values["number"]), finding


def errors(count: int, seed: int, show: int) -> None:
    """Make the year, look at every bill in its order, and print what was stopped.

    Args:
        count: bills of the year.
        seed: of everything that is drawn.
        show: false stops that are printed one by one.
    """
    seen = _Seen()
    began = time.perf_counter()
    for looked in year(count, seed):
        if looked.planted:
            seen.planted_one(looked)
        else:
            seen.lawful_one(looked, show)
    took = time.perf_counter() - began
    _report(seen)
    each_ms = took * 1000 / count
    print(f"\nseed {seed}, built with {BUILT_WITH}; {each_ms:.2f} ms a bill, in memory")


@dataclass
class _Seen:
    """What was counted."""

    planted: Counter[str] = field(default_factory=Counter)
    stopped: Counter[str] = field(default_factory=Counter)
    by: dict[str, Counter[str]] = field(default_factory=lambda: defaultdict(Counter))
    missed: list[str] = field(default_factory=list)
    odd: Counter[str] = field(default_factory=Counter)
    false_odd: Counter[str] = field(default_factory=Counter)
    false: Counter[str] = field(default_factory=Counter)

    def planted_one(self, looked: Looked) -> None:
        name = looked.planted
        self.planted[name] += 1
        if looked.stops:
            self.stopped[name] += 1
            self.by[name].update({finding.code for finding in looked.stops})
        else:
            self.missed.append(f"{name}: {looked.draft.values}")

    def lawful_one(self, looked: Looked, show: int) -> None:
        oddity = looked.draft.oddity or "usual"
        self.odd[oddity] += 1
        if looked.stops:
            self.false.update(finding.code for finding in looked.stops)
            self.false_odd[oddity] += 1
            if sum(self.false_odd.values()) <= show:
                print(f"stopped: {oddity}: {looked.stops[0].message}")


def _before_the_year(there: World) -> None:
    """What the ledger's listing has of those who bill one sum each time: the last of last year."""
    for seller in there.every_seller.values():
        for ago in (3, 2, 1) if seller.every else ():
            draft = clean(there, seller, date(YEAR, 1, 1) - timedelta(days=ago * seller.every))
            there.keep(draft.reading(), seller.record, in_books=True)


def _spoiled(there: World, name: str, day: date) -> Draft:
    """A bill with a mistake of this kind, of somebody whose bills can have it."""
    while True:
        draft = clean(there, there.chance.choice(list(there.every_seller.values())), day)
        if _ordered_first(name, draft):
            on_order(there, draft)
        spoiled = EVERY[name](there, draft)
        if spoiled is not None:
            return spoiled


def _ordered_first(name: str, draft: Draft) -> bool:
    return draft.seller.record.needs_order and "order" not in name and name not in ORDER_LINES


def _lawful(there: World, draft: Draft) -> list[Draft]:
    if there.chance.random() < ODD:
        draft = odd(there, draft)
    elif there.chance.random() < DELIVERED_ODD:
        draft = delivered(there, draft)
    if draft.seller.record.needs_order and "order_number" not in draft.values:
        if there.chance.random() < OF_TWO_ORDERS and on_two_orders(there, draft) is not None:
            draft.oddity = draft.oddity or "of two orders"
        else:
            on_order(there, draft)
    drawn = there.chance.random()
    if drawn < 0.01 and draft.seller.monthly is None:
        return deliveries(there, draft)
    if drawn < 0.05:
        return [draft, credit(there, draft, there.chance.choice(["0.2", "0.5", "1"]))]
    return [draft]


def _report(seen: _Seen) -> None:
    print(f"{'planted':<34}{'of':>4}{'stopped':>9}  by")
    for name in EVERY:
        codes = ", ".join(f"{code} {n}" for code, n in seen.by[name].most_common(4))
        print(f"{name:<34}{seen.planted[name]:>4}{seen.stopped[name]:>9}  {codes}")
    every, held = seen.planted.total(), seen.stopped.total()
    print(f"{'all ' + str(len(EVERY)) + ' kinds':<34}{every:>4}{held:>9}  {held / every:.2%}")
    print(f"\n{'clean':<34}{'of':>6}{'stopped':>9}")
    for name, count in sorted(seen.odd.items()):
        print(f"{name:<34}{count:>6}{seen.false_odd[name]:>9}")
    clean_count, wrong = seen.odd.total(), seen.false_odd.total()
    print(f"{'all':<34}{clean_count:>6}{wrong:>9}  {wrong / clean_count:.2%}")
    if seen.false:
        print("by " + ", ".join(f"{code} {n}" for code, n in seen.false.most_common()))
    for each in seen.missed[:20]:
        print(f"missed: {each}")
