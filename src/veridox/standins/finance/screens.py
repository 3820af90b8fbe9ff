"""Plain screens to look at what was booked."""

from datetime import datetime
from decimal import Decimal
from typing import Any

from jinja2 import Environment

_STYLE = """
body { font: 15px/1.45 Georgia, serif; margin: 0; background: #f6f3ea; color: #2a2724; }
header { background: #5b4a2f; color: #fdf9ef; padding: 14px 32px; }
a { color: #5b4a2f; }
header a { color: inherit; text-decoration: none; font-weight: bold; }
main { max-width: 1080px; margin: 24px auto; padding: 0 32px; }
table { border-collapse: collapse; width: 100%; background: #fffdf7; }
th, td { text-align: left; padding: 7px 12px; border-bottom: 1px solid #e2dbc8; }
th { font-weight: normal; color: #6d6454; border-bottom: 2px solid #b9ab8b; }
.amount { text-align: right; font-variant-numeric: tabular-nums; white-space: nowrap; }
dl { display: grid; grid-template-columns: 180px 1fr; gap: 4px 16px; }
dt { color: #6d6454; } dd { margin: 0; }
tfoot td { border-bottom: none; }
.sum { font-weight: bold; border-top: 2px solid #b9ab8b; }
"""

_PAGE = (
    """<!doctype html><html lang="en"><head><meta charset="utf-8">
<title>{{ title }} - Merrowmere finance</title><style>"""
    + _STYLE
    + """</style></head>
<body><header><a href="/">Merrowmere finance</a> &nbsp; purchase ledger</header>
<main>{{ body }}</main></body></html>"""
)

_BILLS = """<h1>Bills booked</h1>
<table><thead><tr><th>Our number</th><th>Vendor</th><th>Their number</th><th>Entity</th>
<th>Order</th><th>Issued</th><th>Due</th><th class="amount">Total</th><th>Files</th></tr></thead>
<tbody>{% for bill in bills %}<tr>
<td><a href="/bills/{{ bill.id }}">{{ bill.number }}</a></td><td>{{ bill.vendor_name }}</td>
<td>{{ bill.vendor_number }}</td><td>{{ bill.entity }}</td><td>{{ bill.orders | join(", ") }}</td>
<td>{{ bill.issue_date }}</td><td>{{ bill.due_date or "" }}</td>
<td class="amount">{{ bill.gross_total | amount }} {{ bill.currency }}</td>
<td>{{ bill.attachments | length }}</td></tr>
{% else %}<tr><td colspan="9">Nothing is booked yet.</td></tr>{% endfor %}</tbody></table>"""

_BILL = """{% macro parts(coding) %}{% for part in coding or [] %}<tr><td></td><td colspan="4">
{% for name, code in part.items() if name != "amount" %}{{ name | replace("_", " ") }} {{ code }}
{% endfor %}</td><td class="amount">{{ part.amount | amount }}</td></tr>{% endfor %}{% endmacro %}
<h1>{{ bill.number }}</h1><dl>
<dt>Vendor</dt><dd>{{ bill.vendor }} {{ bill.vendor_name }}</dd>
<dt>Their number</dt><dd>{{ bill.vendor_number }}</dd>
<dt>Entity</dt><dd>{{ bill.entity }}</dd>
<dt>Order</dt><dd>{{ bill.orders | join(", ") or "none" }}</dd>
<dt>Issued</dt><dd>{{ bill.issue_date }}</dd><dt>Due</dt><dd>{{ bill.due_date or "not said" }}</dd>
<dt>Posted on</dt><dd>{{ bill.posting_date }}</dd>
<dt>Booked</dt><dd>{{ bill.booked_at | moment }}</dd>
<dt>External reference</dt><dd>{{ bill.external_reference or "none" }}</dd></dl>
<h2>Lines</h2><table><thead><tr><th>Item</th><th>Description</th><th class="amount">Quantity</th>
<th>Unit</th><th class="amount">Price</th><th class="amount">Amount</th></tr></thead><tbody>
{% for line in bill.lines %}<tr><td>{{ line.item_code or "" }}</td><td>{{ line.description }}
{% if line.order_number %}(order {{ line.order_number }}{% if line.order_line %}, line
{{ line.order_line }}{% endif %}){% endif %}</td>
<td class="amount">{{ line.quantity or "" }}</td><td>{{ line.unit or "" }}</td>
<td class="amount">{{ line.unit_price or "" }}</td>
<td class="amount">{{ line.amount | amount }}</td></tr>
{{ parts(line.coding) }}{% endfor %}</tbody><tfoot>
{% if bill.charges %}<tr><td colspan="5" class="amount">Charges</td>
<td class="amount">{{ bill.charges | amount }}</td></tr>{{ parts(bill.charges_coding) }}{% endif %}
{% if bill.allowances %}<tr><td colspan="5" class="amount">Allowances</td>
<td class="amount">-{{ bill.allowances | amount }}</td></tr>
{{ parts(bill.allowances_coding) }}{% endif %}
<tr><td colspan="5" class="amount">Net</td>
<td class="amount">{{ bill.net_total | amount }}</td></tr>
<tr><td colspan="5" class="amount">Tax</td>
<td class="amount">{{ bill.tax_total | amount }}</td></tr>
<tr><td colspan="5" class="amount sum">Total {{ bill.currency }}</td>
<td class="amount sum">{{ bill.gross_total | amount }}</td></tr></tfoot></table>
<h2>Attached</h2><ul>{% for file in bill.attachments %}
<li><a href="/bills/{{ bill.id }}/attachments/{{ file.sha256 }}">{{ file.name }}</a>
({{ file.size }} bytes)</li>{% else %}<li>nothing</li>{% endfor %}</ul>"""

_environment = Environment(autoescape=True)


def _amount(text: str) -> str:
    return f"{Decimal(text):,}"


def _moment(text: str) -> str:
    return datetime.fromisoformat(text).strftime("%Y-%m-%d %H:%M:%S UTC")


_environment.filters |= {"amount": _amount, "moment": _moment}


def _page(title: str, template: str, **names: Any) -> str:
    from markupsafe import Markup

    body = Markup(_environment.from_string(template).render(**names))  # noqa: S704 - escaped above
    return _environment.from_string(_PAGE).render(title=title, body=body)


def bills_screen(bills: list[dict[str, Any]]) -> str:
    """All bills."""
    return _page("Bills", _BILLS, bills=bills)


def bill_screen(bill: dict[str, Any]) -> str:
    """One bill."""
    return _page(bill["number"], _BILL, bill=bill)
