"""How often history codes lines right, in a made-up year; how sure it was when it was wrong.

Vendors sell what their trade sells; each thing is booked on an account, some by the cost centre
that the wording names. Wordings change: numbers, months, sizes, words left out, a letter misread.
Some things are sold for the first time in the second half; some lines are booked otherwise by
somebody's whim, and are learned from like all others.
"""

import random
from collections import Counter, defaultdict, deque
from dataclasses import dataclass

from tools.errors.world import sellers
from veridox.core.coding import CodedBefore, most_likely, wording_key

THINGS = {
    "Feeds": (("Frozen krill", "4310"), ("Mysis shrimp, gamma treated", "4310"),
              ("Squid, whole", "4310"), ("Spirulina flake", "4310"), ("Delivery", "6310"),
              ("Vitamin premix for rays", "4330")),
    "Systems": (("Reef salt", "4320"), ("Hydrometer, glass", "4410"),
                ("Protein skimmer cup", "4410"), ("Commissioning on site", "6130"),
                ("Carriage", "6310")),
    "Pumps": (("Circulation pump", "4410"), ("Seal kit EPDM", "4410"), ("Impeller", "4410"),
              ("Overhaul of pump", "6130"), ("Freight", "6310")),
    "Supplies": (("Nitrile gloves", "4330"), ("Nets", "4410"), ("Paper towels", "4510"),
                 ("Delivery", "6310")),
    "Technik": (("Filtervlies Rolle", "4410"), ("Wartung Filterstrasse", "6130"),
                ("Dichtungssatz", "4410"), ("Fracht", "6310"), ("UV-Lampe", "4410")),
    "Services": (("Call-out, ray tank", "6210"), ("Blood panel", "6210"),
                 ("Medication dispensed", "4330"), ("Mileage", "6310")),
    "Energy": (("Electricity, pump house", "6110"), ("Gas, boiler room", "6110"),
               ("Standing charge", "6110"), ("Meter exchange", "6130")),
    "Cleaning": (("Glass and floors", "6120"), ("Deep clean, otter pool", "6120"),
                 ("Consumables", "4510"), ("Windows, front house", "6120")),
    "Laboratories": (("Water analysis standard", "6210"), ("Microbiology add-on", "6210"),
                     ("Sample bottles", "4330"), ("Courier", "6310")),
    "Cafe Goods": (("Coffee beans", "4510"), ("Oat biscuits", "4510"), ("Paper cups", "4510"),
                   ("Coffee machine service", "6130"), ("Returnable crates", "4510")),
}  # fmt: skip
"""What each trade sells, and the account that it is booked on."""
CENTRES = ("CC-10", "CC-20", "CC-30", "CC-40", "CC-50")
PLACES = {"tank 3": "CC-10", "plant room": "CC-20", "front house": "CC-30"}
"""Words of a line that say which cost centre bears it; else the vendor's usual one does."""
WHIM, MISREAD, LATER, PLACED = 0.03, 0.05, 0.2, 0.15
KEPT = 400
"""Lines of a vendor that are remembered, as in the service."""


@dataclass
class _Half:
    lines: int = 0
    right: int = 0
    said: int = 0
    centre_right: int = 0
    sure: int = 0
    sure_wrong: int = 0


def coding(count: int, seed: int) -> None:
    """Make the year, code each line from those before it, and print how often that was right.

    Args:
        count: bills of the year.
        seed: of everything that is drawn.
    """
    chance = random.Random(seed)
    vendors = [(each.record.code, each.record.name) for each in sellers(chance)]
    usual = {code: chance.choice(CENTRES) for code, _ in vendors}
    later = {(code, thing): chance.random() < LATER for code, name in vendors
             for thing, _ in _things(name)}  # fmt: skip
    known: dict[str, deque[CodedBefore]] = defaultdict(lambda: deque(maxlen=KEPT))
    halves = [_Half(), _Half()]
    wrong: Counter[str] = Counter()
    for at in range(count):
        second = at >= count // 2
        code, name = chance.choice(vendors)
        things = [t for t in _things(name) if second or not later[(code, t[0])]]
        for thing, account in chance.sample(things, min(len(things), chance.randint(1, 4))):
            text, centre = _worded(chance, thing, usual[code])
            booked = chance.choice(CENTRES) if chance.random() < WHIM else centre
            on = chance.choice(THINGS["Feeds"])[1] if chance.random() < WHIM else account
            key = wording_key(text)
            _look(halves[second], key, known[code], account, centre, wrong, thing)
            known[code].appendleft(
                CodedBefore(wording=key, codes={"gl_account": on, "cost_centre": booked})
            )
    for named, half in zip(("first half", "second half"), halves, strict=True):
        print(
            f"{named:<12}{half.lines:>7,} lines   account right {half.right / half.lines:>7.2%}   "
            f"cost centre right {half.centre_right / half.lines:>7.2%}   "
            f"nothing said {1 - half.said / half.lines:>6.2%}   "
            f"surer than 95 % {half.sure / half.lines:>6.1%}, of them wrong "
            f"{half.sure_wrong / max(1, half.sure):.2%}"
        )
    print("most often wrong in the second half: "
          + ", ".join(f"{thing} {n}" for thing, n in wrong.most_common(5)))  # fmt: skip
    print(f"seed {seed}; whoever wrote the coding wrote the year: it shows the oddities thought of")


def _things(name: str) -> tuple[tuple[str, str], ...]:
    return next(things for trade, things in THINGS.items() if f" {trade} " in f"{name} ")


def _worded(chance: random.Random, thing: str, usual: str) -> tuple[str, str]:
    """A thing as a bill words it this time, and the cost centre that bears it."""
    centre, text = usual, thing
    if chance.random() < PLACED:
        place = chance.choice(list(PLACES))
        text, centre = f"{text}, {place}", PLACES[place]
    drawn = chance.random()
    if drawn < 0.3:
        text = f"{text}, {chance.choice(['October', 'March', 'Juni', 'May'])} 2026"
    elif drawn < 0.5:
        text = f"{chance.randint(1, 40)} x {text} {chance.randint(1, 30)} kg"
    elif drawn < 0.6:
        text = text.upper()
    elif drawn < 0.7 and "," in text:
        text = text.split(",")[0] if centre == usual else text
    if chance.random() < MISREAD:
        at = chance.randrange(len(text))
        text = text[:at] + chance.choice("lio0ce") + text[at + 1 :]
    return text, centre


def _look(
    half: _Half, key: str, before: deque[CodedBefore], account: str, centre: str,
    wrong: Counter[str], thing: str,
) -> None:  # fmt: skip
    half.lines += 1
    found = most_likely(key, before, "gl_account")
    bears = most_likely(key, before, "cost_centre")
    half.centre_right += bears is not None and bears[0] == centre
    if found is None:
        return
    half.said += 1
    half.right += found[0] == account
    if found[1] > 0.95:
        half.sure += 1
        half.sure_wrong += found[0] != account
    if found[0] != account and half.lines and len(before) > 0:
        wrong[thing] += 1
