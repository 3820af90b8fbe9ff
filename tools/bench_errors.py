"""A made-up year of bills with planted mistakes: `bin/bench errors`.

Bills are made as readings whose every value is right as printed: what is measured are the checks,
matching and gates, not the reading of pages. Whoever wrote the checks wrote this year, too; it is
built with one seed and reported with another, and its lawful oddities count against the checks.
"""

import time
from collections import Counter, defaultdict
from datetime import date, timedelta
from decimal import Decimal

from tools.errors.planted import PLANTED
from tools.errors.world import YEAR, World, calendar, world
from tools.errors.year import Draft, clean, credit, deliveries, odd, on_order
from veridox.core.checks import run_checks
from veridox.core.facts import CheckSettings, gather
from veridox.core.facts.facts import OrderTolerance
from veridox.core.findings import Finding
from veridox.core.reading import POSTED_KINDS

SETTINGS = CheckSettings(
    totals_within=1,
    order_total=OrderTolerance(percent=Decimal(2), amount=Decimal(50), charges=Decimal(50)),
)
"""Those of the demo's pipeline: nothing is set more strictly for this."""
OF_EACH = 30
ODD = 0.5
BUILT_WITH = 1


def _look(there: World, draft: Draft) -> tuple[list[Finding], str]:
    """What stops a bill, and the vendor that it was taken for."""
    arrived = draft.day + timedelta(days=draft.arrives)
    reading = draft.reading()
    facts = gather(there, reading, settings=SETTINGS, chosen={}, arrived=arrived, mail=draft.mail)
    if reading.kind not in POSTED_KINDS:
        return [f for f in run_checks(facts) if f.code == "kind.not_posted"], ""
    return [f for f in run_checks(facts) if f.blocks], facts.vendor.code if facts.vendor else ""


def errors(count: int, seed: int, show: int) -> None:
    """Make the year, look at every bill in its order, and print what was stopped.

    Args:
        count: bills of the year.
        seed: of everything that is drawn.
        show: false stops that are printed one by one.
    """
    there = world(seed)
    chance = there.chance
    stopped: dict[str, int] = defaultdict(int)
    planted: dict[str, int] = defaultdict(int)
    by: dict[str, Counter[str]] = defaultdict(Counter)
    false: Counter[str] = Counter()
    false_odd: Counter[str] = Counter()
    odd_count: Counter[str] = Counter()
    clean_count = 0
    missed: list[str] = []
    began = time.perf_counter()
    bills = calendar(there, count)
    _before_the_year(there)
    waiting = [name for name in PLANTED for _ in range(OF_EACH)]
    chance.shuffle(waiting)
    spoiled_at = set(chance.sample(range(count // 10, count), len(waiting)))
    for at, (day, seller) in enumerate(bills):
        if at in spoiled_at:
            name = waiting.pop()
            spoiled = _spoiled(there, name, day)
            planted[name] += 1
            found, _ = _look(there, spoiled)
            if found:
                stopped[name] += 1
                by[name].update({f.code for f in found})
            else:
                missed.append(f"{name}: {spoiled.values}")
            continue
        for each in _lawful(there, clean(there, seller, day)):
            clean_count += 1
            odd_count[each.oddity or "usual"] += 1
            found, code = _look(there, each)
            if found:
                false.update(f.code for f in found)
                false_odd[each.oddity or "usual"] += 1
                if sum(false_odd.values()) <= show:
                    print(f"stopped: {each.oddity or 'usual'}: {found[0].message}")
            vendor = there.vendor(code) if code else None
            there.keep(each.reading(), vendor or each.seller.record)
    took = time.perf_counter() - began
    _report(planted, stopped, by, odd_count, false_odd, false, clean_count, missed)
    each_ms = took * 1000 / count
    print(f"\nseed {seed}, built with {BUILT_WITH}; {each_ms:.2f} ms a bill, in memory")


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
        spoiled = PLANTED[name](there, draft)
        if spoiled is not None:
            return spoiled


def _ordered_first(name: str, draft: Draft) -> bool:
    return draft.seller.record.needs_order and "order" not in name


def _lawful(there: World, draft: Draft) -> list[Draft]:
    if there.chance.random() < ODD:
        draft = odd(there, draft)
    if draft.seller.record.needs_order and "order_number" not in draft.values:
        on_order(there, draft)
    drawn = there.chance.random()
    if drawn < 0.01 and draft.seller.monthly is None:
        return deliveries(there, draft)
    if drawn < 0.05:
        return [draft, credit(there, draft, there.chance.choice(["0.2", "0.5", "1"]))]
    return [draft]


def _report(planted, stopped, by, odd_count, false_odd, false, clean_count, missed) -> None:  # type: ignore[no-untyped-def]
    print(f"{'planted':<34}{'of':>4}{'stopped':>9}  by")
    for name in PLANTED:
        codes = ", ".join(f"{code} {n}" for code, n in by[name].most_common(4))
        print(f"{name:<34}{planted[name]:>4}{stopped[name]:>9}  {codes}")
    every, held = sum(planted.values()), sum(stopped.values())
    print(f"{'all ' + str(len(PLANTED)) + ' kinds':<34}{every:>4}{held:>9}  {held / every:.2%}")
    print(f"\n{'clean':<34}{'of':>6}{'stopped':>9}")
    for name, count in sorted(odd_count.items()):
        print(f"{name:<34}{count:>6}{false_odd[name]:>9}")
    wrong = sum(false_odd.values())
    print(f"{'all':<34}{clean_count:>6}{wrong:>9}  {wrong / clean_count:.2%}")
    if false:
        print("by " + ", ".join(f"{code} {n}" for code, n in false.most_common()))
    for each in missed[:20]:
        print(f"missed: {each}")
