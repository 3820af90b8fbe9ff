"""Mails and facts of the scenario as files, for trying pipelines without a service."""

from pathlib import Path

from demo import merrowmere as m
from demo.mails import MAILS


def _vendor(vendor: m.Vendor) -> str:
    needs = "true" if vendor.needs_order else "false"
    return (
        f"  - {{code: {vendor.code}, name: {vendor.name}, tax_id: {vendor.tax_id}, "
        f"needs_order: {needs}, contact: {vendor.mail}{_usual(vendor)}}}\n"
    )


def _usual(vendor: m.Vendor) -> str:
    account, centre = m.USUAL.get(vendor.code, ("", ""))
    return "".join(
        f', {name}: "{code}"' for name, code in (("gl_account", account), ("cost_centre", centre))
        if code
    )  # fmt: skip


def _truth(value: bool) -> str:
    return "true" if value else "false"


def _codes() -> str:
    text = "gl_accounts:\n"
    for code, name, closed, needs in m.GL_ACCOUNTS:
        text += (f'  - {{code: "{code}", name: {name}, closed: {_truth(closed)}, '
                 f"needs_cost_centre: {_truth(needs)}}}\n")  # fmt: skip
    text += "cost_centres:\n"
    for code, name, owner in m.COST_CENTRES:
        text += f"  - {{code: {code}, name: {name}, owner: {owner}}}\n"
    text += "projects:\n"
    for code, name, owner, closed in m.PROJECTS:
        text += (f'  - {{code: {code}, name: "{name}", owner: {owner}, '
                 f"closed: {_truth(closed)}}}\n")  # fmt: skip
    text += "tax_codes:\n"
    for code, name, country, category, rate in m.TAX_CODES:
        of = f", country: {country}" if country else ""
        text += f"  - {{code: {code}, name: {name}{of}, category: {category}, rate: {rate}}}\n"
    return text


def _orders() -> str:
    """Orders with their lines, what came in, items and rate cards."""
    text = "orders:\n"
    for order in (*m.ORDERS, *m.MORE_ORDERS):
        approved = ", approved: false" if order.status == "not approved" else ""
        text += (f"  - {{number: {order.number}, vendor: {order.vendor}, entity: {order.entity}, "
                 f"currency: {order.currency}, "
                 f"ordered_on: {order.ordered_on}{approved}}}\n")  # fmt: skip
    text += "order_lines:\n"
    for order in (*m.ORDERS, *m.MORE_ORDERS):
        for at, line in enumerate(order.lines, 1):
            text += (f'  - {{order: {order.number}, line: {at}, item_code: "{line.item}", '
                     f'description: "{line.description}", quantity: {line.quantity}, '
                     f'unit: "{line.unit}", unit_price: {line.price}}}\n')  # fmt: skip
    text += "receipts:\n"
    for _, number, quantity, unit, *_ in m.RECEIPTS:
        text += (f'  - {{order_number: {number}, line: 1, quantity: "{quantity}", '
                 f'unit: "{unit}"}}\n')  # fmt: skip
    text += "items:\n"
    for vendor, code, theirs, _, unit, packs in m.ITEMS:
        text += (f'  - {{vendor: {vendor}, code: {code}, vendor_code: "{theirs}", unit: {unit}, '
                 f'packs: "{packs}"}}\n')  # fmt: skip
    text += "cards:\n"
    for card, wording, unit, price, percent, begin, first, last in m.CARDS:
        rate = f"price: {price}" if price else f"percent: {percent}"
        text += (f'  - {{vendor: V2004, card: {card}, wording: "{wording}", currency: EUR, '
                 f'unit: "{unit}", {rate}, from_quantity: "{begin}", first: {first}, '
                 f"last: {last}}}\n")  # fmt: skip
    return text


def facts() -> str:
    """What the finance system knows, as `veridox pipeline try --facts` takes it."""
    text = "# Merrowmere as its finance system knows it.\nentities:\n"
    for each in m.ENTITIES:
        text += f"  - {{code: {each.code}, name: {each.name}, tax_id: {each.tax_id}}}\n"
    text += "vendors:\n" + "".join(map(_vendor, m.VENDORS))
    return text + _orders() + _codes()


def write(folder: Path) -> None:
    """Every mail of the scenario as `.eml`, and `facts.yaml`."""
    folder.mkdir(parents=True, exist_ok=True)
    for number, mail in enumerate(MAILS, start=1):
        name = "".join(char if char.isalnum() else "-" for char in mail.name.lower())
        path = folder / f"{number:02}-{'-'.join(filter(None, name.split('-')))}.eml"
        path.write_bytes(mail.message().as_bytes())
    (folder / "facts.yaml").write_text(facts(), "utf-8")


if __name__ == "__main__":
    write(Path("var/demo/samples"))
