"""Sheets that are drawn text by text: payment slips, fuel cards, telephone, forms, orders, notes."""

import io
from decimal import Decimal

from reportlab.lib.pagesizes import A4, A5, landscape
from reportlab.pdfgen.canvas import Canvas

from tools.corpus.sheet import font
from tools.decision.paper import OURS, OURS_DE, Paper, line, show, two


class Draft:
    """A canvas with the origin at the top left."""

    def __init__(self, size: tuple[float, float] = A4, family: str = "Liberation Sans") -> None:
        self.out = io.BytesIO()
        self.width, self.height = size
        self.canvas = Canvas(self.out, pagesize=size)
        self.plain, self.bold = font(family, False), font(family, True)

    def put(self, x: float, y: float, text: object, size: float = 9, how: str = "l", *, bold: bool = False) -> None:  # fmt: skip
        """Text at a place; how: l, r or c for where x is."""
        self.canvas.setFont(self.bold if bold else self.plain, size)
        draw = {
            "l": self.canvas.drawString,
            "r": self.canvas.drawRightString,
            "c": self.canvas.drawCentredString,
        }[how]
        draw(x, self.height - y, str(text))

    def rule(self, x: float, y: float, to: float) -> None:
        """A level line."""
        self.canvas.line(x, self.height - y, to, self.height - y)

    def box(self, x: float, y: float, width: float, height: float) -> None:
        """A frame."""
        self.canvas.rect(x, self.height - y - height, width, height)

    def turn(self) -> None:
        """A new page."""
        self.canvas.showPage()

    def done(self) -> bytes:
        """The file."""
        self.canvas.save()
        return self.out.getvalue()


def slip(
    client: list[str],
    work: list[tuple[str, str, str]],
    number: str,
    day: tuple[str, str],
    photo: bool,
) -> Paper:
    """Swiss German: rounding to five cents, a payment slip below a cut line that says all again."""
    net = sum((two(Decimal(q) * Decimal(p)) for _, q, p in work), Decimal(0))
    tax = two(net * Decimal("0.081"))
    total = ((net + tax) * 20).quantize(Decimal(1)) / 20

    def content() -> bytes:
        d = Draft()
        d.put(60, 60, "Schreinerei Bächtold AG", 13, bold=True)
        d.put(60, 74, "Seeweg 5, 8999 Uferdorf   CHE-236.353.939 MWST")
        for at, text in enumerate(client):
            d.put(350, 130 + 13 * at, text)
        d.put(60, 210, f"Rechnung {number} vom {day[0]}", 12, bold=True)
        y = 240.0
        for text, count, price in work:
            d.put(60, y, f"{show(count, 'ch', 1)} Std. {text} zu {show(price, 'ch')}")
            d.put(530, y, show(two(Decimal(count) * Decimal(price)), "ch"), how="r")
            y += 16
        for label, value in (
            ("Zwischentotal", net),
            ("MWST 8.1%", tax),
            ("Rundung", total - net - tax),
            ("Total CHF", total),
        ):
            y += 15
            d.put(360, y, label)
            d.put(530, y, show(value, "ch"), how="r")
        d.canvas.setDash(3, 3)
        d.rule(0, 560, d.width)
        for x, title in ((30, "Empfangsschein"), (230, "Zahlteil")):
            d.put(x, 585, title, 11, bold=True)
            d.put(x, 604, "Konto / Zahlbar an", 7)
            for at, text in enumerate(
                ("CH35 9344 4980 5432 0413 9", "Schreinerei Bächtold AG", "8999 Uferdorf")
            ):
                d.put(x, 615 + 11 * at, text, 8)
            d.put(x, 665, "Währung   Betrag", 7)
            d.put(x, 677, f"CHF   {show(total, 'ch')}", 8)
        d.put(420, 604, "Zahlbar durch", 7)
        for at, text in enumerate(client):
            d.put(420, 615 + 11 * at, text, 8)
        return d.done()

    return Paper(
        structure="slip", language="de", content=content, photo=photo,
        lines=[line(q, p, two(Decimal(q) * Decimal(p))) for _, q, p in work],
        fields={"number": number, "issue_date": day[1], "seller.name": "Schreinerei Bächtold AG", "buyer.name": client[0],
                "seller.tax_id": "CHE-236.353.939", "account": "CH3593444980543204139", "net_total": str(net),
                "tax_total": str(tax), "gross_total": str(total), "currency": "CHF"},
    )  # fmt: skip


def fuel(
    client: str,
    fills: list[tuple[str, str, str, str, str]],
    number: str,
    day: tuple[str, str],
    due: tuple[str, str],
    photo: bool,
) -> Paper:
    """Fills by vehicle with subtotals; a table of tax at the foot whose base is net."""

    def content() -> bytes:
        d = Draft(landscape(A4), "DejaVu Sans")
        d.put(d.width - 40, 40, "PETREL FLEET CARDS", 15, "r", bold=True)
        d.put(d.width - 40, 54, "Petrel Energy plc  Reg. VAT GB 744 3362 37", 8, "r")
        d.put(40, 40, f"Account of {client}", 10)
        d.put(40, 56, f"Invoice no {number}   Invoice date {day[0]}   Direct debit on {due[0]}", 8)
        for x, head in zip(
            (40, 150, 260, 420, 500, 580, 660),
            ("Vehicle", "Day", "Site", "Litres", "Pence/l", "Net £", "Grade"),
            strict=True,
        ):
            d.put(x, 90, head, 8, bold=True)
        y, seen, part = 106.0, "", Decimal(0)
        for vehicle, when, litres, price, grade in (*fills, ("", "", "0", "0", "")):
            if seen and vehicle != seen:
                d.put(500, y, f"{seen} total", 8, bold=True)
                d.put(610, y, show(part, "en"), 8, "r", bold=True)
                y, part = y + 18, Decimal(0)
            if not vehicle:
                break
            amount = two(Decimal(litres) * Decimal(price) / 100)
            seen, part = vehicle, part + amount
            for x, text in zip((40, 150, 260), (vehicle, when, "Orrowby Services"), strict=True):
                d.put(x, y, text, 8)
            for x, text in zip((450, 540, 610), (litres, price, show(amount, "en")), strict=True):
                d.put(x, y, text, 8, "r")
            d.put(660, y, grade, 8)
            y += 13
        d.put(40, y + 20, "Rate", 8)
        d.put(120, y + 20, "Goods", 8)
        d.put(200, y + 20, "VAT", 8)
        d.put(40, y + 32, "20.00", 8)
        d.put(120, y + 32, show(net, "en"), 8)
        d.put(200, y + 32, show(tax, "en"), 8)
        d.put(420, y + 32, "Total to be collected", 10, bold=True)
        d.put(610, y + 32, f"£{show(net + tax, 'en')}", 10, "r", bold=True)
        return d.done()

    amounts = [two(Decimal(q) * Decimal(p) / 100) for _, _, q, p, _ in fills]
    net = sum(amounts, Decimal(0))
    tax = two(net * Decimal("0.2"))
    return Paper(
        structure="fuel", language="en", content=content, photo=photo,
        lines=[line(q, p, a) for (_, _, q, p, _), a in zip(fills, amounts, strict=True)],
        fields={"number": number, "issue_date": day[1], "due_date": due[1], "seller.name": "Petrel Energy plc", "buyer.name": client,
                "seller.tax_id": "GB744336237", "net_total": str(net), "tax_total": str(tax), "gross_total": str(net + tax),
                "amount_due": str(net + tax), "currency": "GBP"},
    )  # fmt: skip


def telephone(
    client: str,
    groups: dict[str, list[tuple[str, int, str]]],
    number: str,
    days: tuple[str, str],
    collected: tuple[str, str],
) -> Paper:
    """Dutch, two pages: a summary first, what it is made of on the second."""
    sums = {
        name: sum((two(q * Decimal(p)) for _, q, p in rows), Decimal(0))
        for name, rows in groups.items()
    }
    net = sum(sums.values(), Decimal(0))
    tax = two(net * Decimal("0.21"))

    def content() -> bytes:
        d = Draft(A4, "Open Sans")
        d.put(50, 60, "Zeebel Telecom", 20, bold=True)
        d.put(50, 130, client, 10)
        d.put(50, 144, "Financiële administratie", 10)
        for at, (label, value) in enumerate(
            (
                ("Factuur", number),
                ("Datum", days[0]),
                ("Incasso omstreeks", collected[0]),
                ("Bedrag", f"€ {show(net + tax, 'de')}"),
            )
        ):
            d.put(370, 130 + 14 * at, label, 9)
            d.put(545, 130 + 14 * at, value, 9, "r")
        d.put(50, 240, "In het kort", 12, bold=True)
        y = 262.0
        for name, value in (
            *sums.items(),
            ("Subtotaal zonder btw", net),
            ("Btw 21%", tax),
            ("Totaal", net + tax),
        ):
            d.put(50, y, name, 9)
            d.put(300, y, f"€ {show(value, 'de')}", 9, "r")
            y += 15
        d.put(
            50,
            800,
            "Zeebel Telecom N.V. - Antennelaan 2, 1234 ZZ Veldstad - btw-nr NL703576380B01 - IBAN NL80KLPB9474450123 - 1/2",
            7,
        )
        d.turn()
        d.put(50, 50, f"Factuur {number} - specificatie", 10, bold=True)
        y = 80.0
        for name, rows in groups.items():
            d.put(50, y, name, 9, bold=True)
            y += 14
            for text, count, price in rows:
                d.put(60, y, text, 9)
                d.put(330, y, count, 9, "r")
                d.put(420, y, show(price, "de", 4), 9, "r")
                d.put(520, y, show(two(count * Decimal(price)), "de"), 9, "r")
                y += 13
            d.put(420, y, "samen", 9, "r")
            d.put(520, y, show(sums[name], "de"), 9, "r", bold=True)
            y += 24
        d.put(50, 800, "2/2", 7)
        return d.done()

    return Paper(
        structure="telephone", language="nl", content=content,
        lines=[line(q, p, two(q * Decimal(p))) for rows in groups.values() for _, q, p in rows],
        fields={"number": number, "issue_date": days[1], "seller.name": "Zeebel Telecom N.V.", "buyer.name": client,
                "seller.tax_id": "NL703576380B01", "account": "NL80KLPB9474450123", "net_total": str(net), "tax_total": str(tax),
                "gross_total": str(net + tax), "currency": "EUR"},
    )  # fmt: skip


def form(
    seller: str,
    client: str,
    cells: dict[str, str],
    work: list[tuple[str, str, str]],
    fields: dict[str, str],
    photo: bool,
) -> Paper:
    """A ruled landscape form: small labels in the corners of boxes, values large within."""
    net = sum((two(Decimal(q) * Decimal(p)) for _, q, p in work), Decimal(0))
    tax = two(net * Decimal("0.2"))

    def content() -> bytes:
        d = Draft(landscape(A5), "Liberation Narrow")
        d.box(20, 20, 555, 40)
        d.put(28, 46, seller, 18, bold=True)
        for at, (label, value) in enumerate({**cells, "CUSTOMER": client}.items()):
            x, y = 20 + 139 * (at % 4), 60 + 34 * (at // 4)
            d.box(x, y, 139, 34)
            d.put(x + 3, y + 9, label, 6)
            d.put(x + 6, y + 26, value, 10)
        y = 150.0
        for text, count, price in work:
            d.box(20, y, 555, 20)
            for x, part in (
                (26, text),
                (370, count),
                (450, price),
                (568, show(two(Decimal(count) * Decimal(price)), "bare")),
            ):
                d.put(x, y + 14, part, 10, "l" if x == 26 else "r")
            y += 20
        for at, (label, value) in enumerate(
            (("GOODS", net), ("VAT", tax), ("TO PAY GBP", net + tax))
        ):
            d.box(159 + 139 * at, 330, 139, 34)
            d.put(162 + 139 * at, 339, label, 6)
            d.put(290 + 139 * at, 356, show(value, "bare"), 12, "r", bold=True)
        return d.done()

    return Paper(
        structure="form", language="en", content=content, photo=photo,
        lines=[line(q, p, two(Decimal(q) * Decimal(p))) for _, q, p in work],
        fields={"seller.name": seller, "buyer.name": client, "net_total": str(net), "tax_total": str(tax),
                "gross_total": str(net + tax), "amount_due": str(net + tax), "currency": "GBP", **fields},
    )  # fmt: skip


def centred(
    seller: list[str],
    client: list[str],
    work: list[tuple[str, str]],
    facts: list[str],
    sums: list[str],
    fields: dict[str, str],
    language: str,
) -> Paper:
    """Letterhead centred, the receiver flush right, facts run together in a sentence."""

    def content() -> bytes:
        d = Draft(A4, "Liberation Serif")
        for at, text in enumerate(seller):
            d.put(d.width / 2, 60 + 15 * at, text, 18 if not at else 9, "c", bold=not at)
        for at, text in enumerate(client):
            d.put(540, 160 + 13 * at, text, 10, "r")
        for at, text in enumerate(facts):
            d.put(60, 260 + 14 * at, text, 10)
        y = 330.0
        for text, amount in work:
            d.put(60, y, text, 10)
            d.put(540, y, amount, 10, "r")
            y += 17
        d.rule(430, y, 540)
        for text in sums:
            y += 17
            d.put(540, y, text, 10, "r", bold=text is sums[-1])
        return d.done()

    return Paper(structure="centred", language=language, content=content, fields=fields,
                 lines=[line(None, None, fields_amount) for fields_amount in (a.replace(".", "").replace(",", ".") for _, a in work)])  # fmt: skip


def goods(kind: str, title: str, seller: list[str], client: list[str], rows: list[tuple[str, ...]], heads: tuple[str, ...], facts: list[tuple[str, str]],
          fields: dict[str, str], lines: list[dict[str, str]], language: str) -> Paper:  # fmt: skip
    """Orders, confirmations and delivery notes: who and whom side by side, a plain table."""

    def content() -> bytes:
        d = Draft(A4, "Liberation Sans")
        d.put(50, 50, title, 17, bold=True)
        for x, people in ((50, seller), (300, client)):
            for at, text in enumerate(people):
                d.put(x, 90 + 13 * at, text, 9, bold=not at)
        for at, (label, value) in enumerate(facts):
            d.put(50 + 165 * (at % 3), 180 + 26 * (at // 3), label, 7)
            d.put(50 + 165 * (at % 3), 192 + 26 * (at // 3), value, 10)
        y = 260.0
        for row in (heads, *rows):
            for at, text in enumerate(row):
                d.put(
                    50 if not at else 230 + 95 * at,
                    y,
                    text,
                    9,
                    "l" if not at else "r",
                    bold=row is heads,
                )
            y += 16
        return d.done()

    return Paper(
        structure=kind.replace(" ", "-"),
        language=language,
        kind=kind,
        content=content,
        fields=fields,
        lines=lines,
    )


PAPERS = [
    slip(["Seeaquarium Uferdorf", "Hafenplatz 1", "8999 Uferdorf"], [("Türe Quarantäne ersetzt", "6.5", "98.00"), ("Scharniere gerichtet", "1.5", "98.00")], "R-4471", ("12.10.2026", "2026-10-12"), photo=True),
    slip(["Ruderclub Uferdorf", "Bootsweg 8", "8999 Uferdorf"], [("Bootsgestell verleimt", "11.0", "92.50")], "R-4488", ("30.10.2026", "2026-10-30"), photo=False),
    fuel(OURS, [("MW66 KTR", "02/10", "41.20", "118.40", "Diesel"), ("MW66 KTR", "11/10", "38.75", "119.10", "Diesel"), ("MW70 LBA", "05/10", "29.90", "121.65", "Unleaded")], "PF0088412", ("15/10/2026", "2026-10-15"), ("25/10/2026", "2026-10-25"), photo=False),
    fuel("Orrowby Couriers Ltd", [("OR19 XXA", "17/10", "55.00", "117.90", "Diesel"), ("OR21 ZZB", "18/10", "47.31", "117.90", "Diesel")], "PF0088930", ("31/10/2026", "2026-10-31"), ("10/11/2026", "2026-11-10"), photo=True),
    telephone("Stichting Zeehondencentrum De Plaat", {"Abonnementen": [("Zakelijk mobiel", 6, "17.5000"), ("Vaste lijn", 2, "12.2500")], "Verkeer": [("Bellen buitenland, minuten", 143, "0.1150")]}, "ZT260088417", ("1 oktober 2026", "2026-10-01"), ("15 oktober 2026", "2026-10-15")),
    telephone("Bakkerij Van Ommen", {"Internet": [("Glasvezel 500", 1, "39.0000")], "Toestellen": [("Huur centrale", 1, "14.5000"), ("Huur toestel", 4, "2.7500")]}, "ZT260091002", ("1 november 2026", "2026-11-01"), ("16 november 2026", "2026-11-16")),
    form("HARKNESS COLD STORES", OURS, {"DOCUMENT": "INVOICE", "NO": "77120", "DATE": "08.10.26", "VAT REG": "769 2218 05", "ORDER": "PO-26-0171"}, [("Storage herring, pallet weeks", "18", "6.75"), ("Handling in", "4", "11.20")], {"number": "77120", "issue_date": "2026-10-08", "order_number": "PO-26-0171", "seller.tax_id": "769221805"}, photo=True),
    form("TARNSEY LOCK & KEY", "The Breakwater Inn", {"DOCUMENT": "SALES INVOICE", "REF": "A 3318", "ISSUED": "3.11.26", "VAT REG": "810 8519 97"}, [("Cylinder, keyed alike", "5", "32.40")], {"number": "A 3318", "issue_date": "2026-11-03", "seller.tax_id": "810851997"}, photo=False),
    centred(["Marquardt & Töchter", "Segelmacherei seit 1921", "Deichstraße 70, 26997 Altsiel, Tel. 04401 99 118, USt-IdNr. DE895573379"], [OURS_DE, "Am Siel 4", "26999 Merrowhafen"], [("Sonnensegel über Freibecken genäht", "2.480,00"), ("Montage durch zwei Mann", "640,00")], ["Altsiel, am 8. Oktober 2026. Unsere Rechnung Nr. 1188/26 zu Ihrem Auftrag vom 1. September,", "Bestellung PO-26-0219. Zahlbar innerhalb von 14 Tagen ohne Abzug."], ["netto 3.120,00 €", "19 % USt 592,80 €", "zu zahlen 3.712,80 €"],
            {"number": "1188/26", "issue_date": "2026-10-08", "order_number": "PO-26-0219", "seller.name": "Marquardt & Töchter", "seller.tax_id": "DE895573379", "buyer.name": OURS_DE, "net_total": "3120.00", "tax_total": "592.80", "gross_total": "3712.80", "amount_due": "3712.80", "currency": "EUR"}, "de"),
    centred(["Talleres Brisa", "Julián Peña e hijos", "Camino Viejo 15, 39998 Puerto Alto - N.I.F. ESB97068175"], ["Museo del Mar de Puerto Alto", "Muelle 2"], [("Reparar motor fuera borda", "320,00"), ("Hélice nueva", "145,50")], ["Puerto Alto a 20 de octubre de 2026. Factura 2026-88 que corresponde a su pedido 4471.", "Vencimiento 20 de noviembre de 2026."], ["Base 465,50 €", "I.V.A. 21% 97,76 €", "Total factura 563,26 €"],
            {"number": "2026-88", "issue_date": "2026-10-20", "due_date": "2026-11-20", "order_number": "4471", "seller.name": "Talleres Brisa", "seller.tax_id": "ESB97068175", "buyer.name": "Museo del Mar de Puerto Alto", "net_total": "465.50", "tax_total": "97.76", "gross_total": "563.26", "currency": "EUR"}, "es"),
    goods("purchase order", "Order", [OURS, "2 Harbour Walk", "Merrowmere MW1 4QA"], ["Brinefold Feeds Ltd", "Unit 7, Kelp Yard", "Tarnsey TS3 8BF"], [("Krill, frozen, 10 kg", "24", "86.50", "2,076.00"), ("Squid rings", "10", "41.00", "410.00")], ("What", "Quantity", "Price", "Value GBP"), [("Order no.", "PO-26-0230"), ("Placed", "12 Oct 2026"), ("Deliver by", "20 Oct 2026")],
          {"order_number": "PO-26-0230", "issue_date": "2026-10-12", "buyer.name": OURS, "seller.name": "Brinefold Feeds Ltd", "currency": "GBP"}, [line(24, "86.50", "2076.00"), line(10, "41.00", "410.00")], "en"),
    goods("delivery note", "Lieferschein", ["Nordlicht Pumpen GmbH", "Werftring 21", "26990 Sielhaven"], [OURS_DE, "Am Siel 4", "26999 Merrowhafen"], [("Kreiselpumpe KP 40", "2 Stk"), ("Dichtungssatz", "6 Stk")], ("Ware", "Menge"), [("Lieferschein-Nr.", "LS 88127"), ("Datum", "13.10.2026"), ("Bestellung", "PO-26-0201")],
          {"delivery_note": "LS 88127", "issue_date": "2026-10-13", "order_number": "PO-26-0201", "seller.name": "Nordlicht Pumpen GmbH", "buyer.name": OURS_DE}, [line(2), line(6)], "de"),
    goods("order confirmation", "Confirmation de commande", ["Verrerie des Embruns SAS", "18 route du Sel", "44998 La Grève"], ["Aquarium de la Côte", "12, rue des Mouettes", "44990 Port-Sablé"], [("Vitre bombée 120 mm", "3", "1 240,00", "3 720,00")], ("Article", "Qté", "P.U.", "Montant €"), [("Commande", "BC 1201"), ("Confirmée le", "15/10/2026"), ("Livraison", "semaine 47")],
          {"order_number": "BC 1201", "issue_date": "2026-10-15", "seller.name": "Verrerie des Embruns SAS", "buyer.name": "Aquarium de la Côte", "currency": "EUR"}, [line(3, "1240.00", "3720.00")], "fr"),
    goods("pro forma", "Pro-forma invoice", ["Coral & Kin Exports Pte", "9 Quay Road", "Straits Harbour"], [OURS, "2 Harbour Walk", "Merrowmere MW1 4QA"], [("Live rock, cured, kg", "400", "7.20", "2,880.00")], ("Goods", "Qty", "USD each", "USD"), [("Reference", "PF-118"), ("Dated", "2026-10-19"), ("Validity", "30 days")],
          {"number": "PF-118", "issue_date": "2026-10-19", "seller.name": "Coral & Kin Exports Pte", "buyer.name": OURS, "currency": "USD"}, [line(400, "7.20", "2880.00")], "en"),
]  # fmt: skip
"""Fourteen documents of nine structures."""
