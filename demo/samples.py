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


def _order(order: m.Order) -> str:
    total = sum(line.quantity * line.price for line in order.lines)
    return (
        f"  - {{number: {order.number}, vendor: {order.vendor}, entity: {order.entity}, "
        f"net_total: {total:.2f} {order.currency}}}\n"
    )


def facts() -> str:
    """What the finance system knows, as `veridox pipeline try --facts` takes it."""
    text = "# Merrowmere as its finance system knows it.\nentities:\n"
    for each in m.ENTITIES:
        text += f"  - {{code: {each.code}, name: {each.name}, tax_id: {each.tax_id}}}\n"
    text += "vendors:\n" + "".join(map(_vendor, m.VENDORS))
    return text + "orders:\n" + "".join(map(_order, m.ORDERS)) + _codes()


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
