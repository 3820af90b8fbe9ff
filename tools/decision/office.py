"""Files of word processors and spreadsheets, as small offices make them."""

import io
from collections.abc import Sequence
from decimal import Decimal

import docx
import openpyxl
from docx.enum.text import WD_ALIGN_PARAGRAPH
from openpyxl.styles import Font

from tools.decision.paper import OURS, OURS_DE, Paper, line, show, two


def _written(parts: Sequence[object]) -> bytes:
    """A document of paragraphs: text; (text, alignment); a list of rows is a table."""
    document = docx.Document()
    for part in parts:
        if isinstance(part, list):
            table = document.add_table(rows=0, cols=len(part[0]))
            for row in part:
                for cell, text in zip(table.add_row().cells, row, strict=True):
                    cell.text = text
            continue
        text, where = part if isinstance(part, tuple) else (part, "l")
        paragraph = document.add_paragraph(str(text))
        paragraph.alignment = {"l": WD_ALIGN_PARAGRAPH.LEFT, "r": WD_ALIGN_PARAGRAPH.RIGHT,
                               "c": WD_ALIGN_PARAGRAPH.CENTER}[where]  # fmt: skip
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


def architect(client: str, project: str, stages: list[tuple[str, str, str]], fee: str, number: str,
              days: tuple[str, str], paid: str) -> Paper:  # fmt: skip
    """French: stages with percent done of a whole fee, what was paid before taken off."""
    done = [(name, share, two(Decimal(fee) * Decimal(share) / 100)) for name, share, _ in stages]
    net = sum((amount for *_, amount in done), Decimal(0)) - two(paid)
    tax = two(net * Decimal("0.2"))
    table = [["Phase", "Avancement", "Honoraires"]]
    table += [[name, f"{share} %", show(amount, "fr")] for name, share, amount in done]
    parts = [
        ("atelier Vasseur & Kerbrat, architectes", "c"),
        ("7 venelle du Phare 44999 Saint-Aubin - Siret 775 847 311 00024 - TVA FR77877572537", "c"),
        "", (client, "r"), ("Direction technique", "r"), "", f"Note d'honoraires n° {number}",
        f"Opération : {project}", f"Saint-Aubin, le {days[0]}", table,
        f"À déduire : note précédente  - {show(paid, 'fr')}",
        f"Montant hors taxes  {show(net, 'fr')} €", f"TVA 20 %  {show(tax, 'fr')} €",
        f"Net à payer  {show(net + tax, 'fr')} €",
        "Virement : FR05 6107 8473 0111 6208 1186 153",
    ]  # fmt: skip
    return Paper(
        structure="architect", language="fr", content=lambda: _written(parts), ending=".docx",
        lines=[line(None, None, amount) for *_, amount in done],
        fields={"number": number, "issue_date": days[1], "seller.name": "atelier Vasseur & Kerbrat, architectes",
                "seller.tax_id": "FR77877572537", "buyer.name": client, "net_total": str(net),
                "tax_total": str(tax), "gross_total": str(net + tax), "amount_due": str(net + tax),
                "currency": "EUR", "account": "FR0561078473011162081186153"},
    )  # fmt: skip


def tuner(
    who: str, client: str, work: list[tuple[str, str]], number: str, day: tuple[str, str]
) -> Paper:
    """A person's letter; amounts stand at the end of the sentences; no tax."""
    total = sum((two(a) for _, a in work), Decimal(0))
    parts = [
        (who, "r"), ("Piano Technician", "r"), ("Rook Cottage, Tarnsey TS9 4JJ", "r"), (day[0], "r"), "",
        client, "", f"INVOICE {number}", *(f"{text}: £{amount}" for text, amount in work), "",
        f"Altogether £{show(total, 'en')}", "Payable to the above by cheque or to 40-18-22 / 71120934.",
    ]  # fmt: skip
    return Paper(
        structure="tuner", language="en", content=lambda: _written(parts), ending=".docx",
        lines=[line(None, None, a) for _, a in work],
        fields={"number": number, "issue_date": day[1], "seller.name": who, "buyer.name": client,
                "gross_total": str(total), "currency": "GBP", "account": "40-18-22 71120934"},
    )  # fmt: skip


def musician(who: str, tax_id: str, client: str, evenings: list[tuple[str, str]], number: str,
             day: tuple[str, str], held: str) -> Paper:  # fmt: skip
    """Portuguese: tax withheld from the fee, what is left to receive at the end."""
    base = sum((two(a) for _, a in evenings), Decimal(0))
    tax, kept = two(base * Decimal("0.23")), two(base * Decimal(held) / 100)
    table = [["Descrição", "Valor"], *[[t, show(a, "de") + " €"] for t, a in evenings]]
    table += [["Base de incidência", show(base, "de") + " €"], ["IVA 23%", show(tax, "de") + " €"],
              ["Total", show(base + tax, "de") + " €"], [f"Retenção IRS {held}%", "-" + show(kept, "de") + " €"],
              ["A receber", show(base + tax - kept, "de") + " €"]]  # fmt: skip
    parts = [f"Fatura {number}", f"Prestador: {who}", f"NIF {tax_id}", f"Adquirente: {client}", f"Emitida a {day[0]}", "", table]  # fmt: skip
    return Paper(
        structure="musician", language="pt", content=lambda: _written(parts), ending=".docx",
        lines=[line(None, None, two(a)) for _, a in evenings],
        fields={"number": number, "issue_date": day[1], "seller.name": who, "seller.tax_id": tax_id,
                "buyer.name": client, "net_total": str(base), "tax_total": str(tax), "gross_total": str(base + tax),
                "withheld": str(kept), "amount_due": str(base + tax - kept), "currency": "EUR"},
    )  # fmt: skip


def engineer(
    client: str, hours: list[tuple[str, str, str]], number: str, days: tuple[str, str, str, str]
) -> Paper:
    """Finnish: two columns of facts in a table without rules, work below."""
    net = sum((two(Decimal(h) * Decimal(p)) for _, h, p in hours), Decimal(0))
    tax = two(net * Decimal("0.255"))
    facts = [["Insinööritoimisto Luoto Oy", "LASKU"], ["Rantatie 14, 99999 Luotola", f"Laskun nro {number}"],
             ["Y-tunnus 9800710-3, ALV-tunnus FI98007103", f"Päiväys {days[0]}"],
             [f"Asiakas: {client}", f"Eräpäivä {days[2]}"]]  # fmt: skip
    table = [["Työ", "Tunnit", "€/h", "Yhteensä"]]
    table += [[t, show(h, "fr", 1), show(p, "fr"), show(two(Decimal(h) * Decimal(p)), "fr")] for t, h, p in hours]  # fmt: skip
    parts = [facts, "", table, (f"Veroton yhteensä {show(net, 'fr')}", "r"), (f"ALV 25,5 % {show(tax, 'fr')}", "r"),
             (f"Maksettava yhteensä {show(net + tax, 'fr')} EUR", "r"), "Tilinumero FI26 8914 3968 0458 66"]  # fmt: skip
    return Paper(
        structure="engineer", language="fi", content=lambda: _written(parts), ending=".docx",
        lines=[line(h, p, two(Decimal(h) * Decimal(p))) for _, h, p in hours],
        fields={"number": number, "issue_date": days[1], "due_date": days[3], "seller.name": "Insinööritoimisto Luoto Oy",
                "seller.tax_id": "FI98007103", "buyer.name": client, "net_total": str(net), "tax_total": str(tax),
                "gross_total": str(net + tax), "amount_due": str(net + tax), "currency": "EUR",
                "account": "FI2689143968045866"},
    )  # fmt: skip


def _sheet(cells: Sequence[tuple[str, object]], bold: Sequence[str] = ()) -> bytes:
    """A workbook of single cells."""
    book = openpyxl.Workbook()
    sheet = book.active
    for place, value in cells:
        sheet[place] = value
        if place in bold:
            sheet[place].font = Font(bold=True, size=16)
    for column in "ABCDEFG":
        sheet.column_dimensions[column].width = 17
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def quarry(
    client: str,
    loads: list[tuple[str, str, str, str]],
    number: str,
    day: tuple[str, str],
    rate: str,
) -> Paper:
    """Weighbridge tickets by day; facts scattered over the head of the sheet."""
    cells: list[tuple[str, object]] = [("A1", "Gannet Head Quarries plc"), ("A2", "Scar Lane, Orrowby OR9 9ZZ"), ("E1", "Sales invoice"),
             ("E2", number), ("F2", day[0]), ("A4", "Sold to"), ("B4", client), ("E4", "VAT no"), ("F4", "GB 145 7066 21"),
             ("A6", "Ticket"), ("B6", "Material"), ("C6", "Tonnes"), ("D6", "Per tonne"), ("E6", "Value")]  # fmt: skip
    net, lines, at = Decimal(0), [], 7
    for ticket, material, tonnes, price in loads:
        amount = two(Decimal(tonnes) * Decimal(price))
        net += amount
        cells += [
            (f"A{at}", ticket),
            (f"B{at}", material),
            (f"C{at}", float(tonnes)),
            (f"D{at}", float(price)),
            (f"E{at}", float(amount)),
        ]
        lines.append(line(tonnes, price, amount))
        at += 1
    tax = two(net * Decimal(rate) / 100)
    for label, value in (("Goods", net), (f"VAT @ {rate}%", tax), ("Invoice value GBP", net + tax)):
        cells += [(f"D{at + 1}", label), (f"E{at + 1}", float(value))]
        at += 1
    return Paper(
        structure="quarry", language="en", content=lambda: _sheet(cells, ("A1",)), ending=".xlsx", lines=lines,
        fields={"number": number, "issue_date": day[1], "seller.name": "Gannet Head Quarries plc", "buyer.name": client,
                "seller.tax_id": "GB145706621", "net_total": str(net), "tax_total": str(tax),
                "gross_total": str(net + tax), "currency": "GBP"},
    )  # fmt: skip


def feed(
    client: str, goods: list[tuple[str, str, str]], number: str, day: tuple[str, str]
) -> Paper:
    """Czech: labels in one column, values in the next, all the way down; lines at the end."""
    cells: list[tuple[str, object]] = []
    at = 1
    for label, value in (("Faktura - daňový doklad č.", number), ("Dodavatel", "Rybářské krmivo Vltavín s.r.o."), ("DIČ", "CZ39459128"),
                         ("Odběratel", client), ("Vystaveno", day[0]), ("Účet", "CZ28 6447 6847 9798 9341 5509")):  # fmt: skip
        cells += [(f"A{at}", label), (f"B{at}", value)]
        at += 1
    net, lines = Decimal(0), []
    cells += [
        (f"A{at + 1}", "Zboží"),
        (f"B{at + 1}", "kg"),
        (f"C{at + 1}", "Kč/kg"),
        (f"D{at + 1}", "Kč celkem"),
    ]
    at += 2
    for text, count, price in goods:
        amount = two(Decimal(count) * Decimal(price))
        net += amount
        cells += [
            (f"A{at}", text),
            (f"B{at}", int(count)),
            (f"C{at}", float(price)),
            (f"D{at}", show(amount, "fr")),
        ]
        lines.append(line(count, price, amount))
        at += 1
    tax = two(net * Decimal("0.12"))
    for label, value in (("Základ daně", net), ("DPH 12 %", tax), ("Celkem k úhradě", net + tax)):
        cells += [(f"A{at + 1}", label), (f"D{at + 1}", show(value, "fr"))]
        at += 1
    return Paper(
        structure="feed", language="cs", content=lambda: _sheet(cells), ending=".xlsx", lines=lines,
        fields={"number": number, "issue_date": day[1], "seller.name": "Rybářské krmivo Vltavín s.r.o.", "buyer.name": client,
                "seller.tax_id": "CZ39459128", "account": "CZ2864476847979893415509", "net_total": str(net),
                "tax_total": str(tax), "gross_total": str(net + tax), "amount_due": str(net + tax), "currency": "CZK"},
    )  # fmt: skip


def laboratory(
    client: str,
    tests: list[tuple[str, str, str]],
    number: str,
    order: str,
    day: tuple[str, str],
    off: str,
) -> Paper:
    """Price before quantity, a rebate on the whole, tax; totals left of their values by two cells."""
    cells: list[tuple[str, object]] = [("C1", "BRINE & BASIN ANALYTICAL LTD"), ("C2", "VAT 426 9529 65"), ("A4", client), ("A5", "Merrowmere MW1 4QA"),
             ("F4", "Our invoice"), ("G4", number), ("F5", "Your order"), ("G5", order), ("F6", "Dated"), ("G6", day[0]),
             ("A8", "Analysis"), ("C8", "Charge"), ("D8", "Samples"), ("G8", "GBP")]  # fmt: skip
    goods, lines, at = Decimal(0), [], 9
    for text, price, count in tests:
        amount = two(Decimal(count) * Decimal(price))
        goods += amount
        cells += [
            (f"A{at}", text),
            (f"C{at}", float(price)),
            (f"D{at}", int(count)),
            (f"G{at}", float(amount)),
        ]
        lines.append(line(count, price, amount))
        at += 1
    rebate = two(goods * Decimal(off) / 100)
    net = goods - rebate
    tax = two(net * Decimal("0.2"))
    for label, value in (
        ("Analyses", goods),
        (f"Less {off}% contract rebate", -rebate),
        ("Subject to VAT", net),
        ("VAT 20%", tax),
        ("Please pay", net + tax),
    ):
        cells += [(f"D{at + 1}", label), (f"G{at + 1}", float(value))]
        at += 1
    return Paper(
        structure="laboratory", language="en", content=lambda: _sheet(cells, ("C1",)), ending=".xlsx", lines=lines,
        fields={"number": number, "order_number": order, "issue_date": day[1], "seller.name": "BRINE & BASIN ANALYTICAL LTD",
                "seller.tax_id": "426952965", "buyer.name": client, "lines_total": str(goods), "allowances": str(rebate),
                "net_total": str(net), "tax_total": str(tax), "gross_total": str(net + tax),
                "amount_due": str(net + tax), "currency": "GBP"},
    )  # fmt: skip


def rental(
    client: str,
    tools: list[tuple[str, int, int, str]],
    number: str,
    day: tuple[str, str],
    rate: str,
) -> Paper:
    """Norwegian: pieces times days times price of a day."""
    cells: list[tuple[str, object]] = [("A1", "Fjordnes Utleie AS"), ("A2", "Org.nr 911 388 804 MVA"), ("D1", "Faktura"), ("E1", number),
             ("D2", "Dato"), ("E2", day[0]), ("D3", "Kunde"), ("E3", client), ("A5", "Utstyr"), ("B5", "Antall"), ("C5", "Døgn"), ("D5", "Pris/døgn"), ("E5", "Beløp")]  # fmt: skip
    net, lines, at = Decimal(0), [], 6
    for text, count, length, price in tools:
        amount = two(count * length * Decimal(price))
        net += amount
        cells += [
            (f"A{at}", text),
            (f"B{at}", count),
            (f"C{at}", length),
            (f"D{at}", show(price, "fr")),
            (f"E{at}", show(amount, "fr")),
        ]
        lines.append(line(None, None, amount))
        at += 1
    tax = two(net * Decimal(rate) / 100)
    for label, value in (
        ("Sum uten mva", net),
        (f"Mva {rate} %", tax),
        ("Å betale NOK", net + tax),
    ):
        cells += [(f"A{at + 1}", label), (f"E{at + 1}", show(value, "fr"))]
        at += 1
    cells.append((f"A{at + 2}", "Kontonr. 9391 74 29450"))
    return Paper(
        structure="rental", language="no", content=lambda: _sheet(cells), ending=".xlsx", lines=lines,
        fields={"number": number, "issue_date": day[1], "seller.name": "Fjordnes Utleie AS", "seller.tax_id": "911388804",
                "buyer.name": client, "net_total": str(net), "tax_total": str(tax), "gross_total": str(net + tax),
                "amount_due": str(net + tax), "currency": "NOK"},
    )  # fmt: skip


def ragged(head: list[str], rows: list[list[str]], foot: list[str], mark: str, language: str,
           fields: dict[str, str], lines: list[dict[str, str]]) -> Paper:  # fmt: skip
    """An export whose rows have as many cells as they please."""
    text = "\r\n".join([*head, *(mark.join(row) for row in rows), *foot]) + "\r\n"
    return Paper(structure="ragged", language=language, content=lambda: text.encode(), ending=".csv",
                 fields=fields, lines=lines)  # fmt: skip


PAPERS = [
    architect("Aquarium de la Côte", "bassin des otaries", [("Esquisse", "12", ""), ("Avant-projet", "18", "")], "42000.00", "2026-31", ("9 octobre 2026", "2026-10-09"), "5040.00"),
    architect("Mairie de Port-Sablé", "halle aux poissons", [("Études d'exécution", "25", ""), ("Direction des travaux", "10", "")], "61500.00", "2026-34", ("3 novembre 2026", "2026-11-03"), "0.00"),
    tuner("Aurelia Pennick", OURS, [("Tuning the concert grand in the whale hall", "85.00"), ("Two new strings", "24.50")], "61", ("12th October 2026", "2026-10-12")),
    tuner("Bram Holloway", "Orrowby Choral Society", [("Tuning upright", "70.00"), ("Travel", "12.40")], "2026/19", ("2 November 2026", "2026-11-02")),
    musician("Inês Cordeiro Vaz", "202041149", "Oceanário de Vila Maré, Lda.", [("Concerto de 3 de outubro", "400.00"), ("Concerto de 4 de outubro", "400.00")], "FT 2026/12", ("05/10/2026", "2026-10-05"), "25"),
    musician("Duarte Salema", "213944445", "Junta de Freguesia de Foz Nova", [("Baile de São Martinho", "650.00")], "FT A/31", ("12/11/2026", "2026-11-12"), "11.5"),
    engineer("Luotolan Akvaario ry", [("Pumppaamon mitoitus", "14.5", "92.00"), ("Työmaakäynti", "3.0", "92.00")], "20417", ("9.10.2026", "2026-10-09", "23.10.2026", "2026-10-23")),
    engineer("Saariston Vesi Oy", [("Putkistokartoitus", "22.0", "88.50")], "20431", ("2.11.2026", "2026-11-02", "16.11.2026", "2026-11-16")),
    quarry(OURS, [("88121", "Limestone 40 mm", "18.42", "21.50"), ("88140", "Washed sand", "9.80", "27.25"), ("88166", "Limestone 40 mm", "17.96", "21.50")], "GH26-4471", ("14-Oct-26", "2026-10-14"), "20"),
    quarry("Orrowby Boatyard Limited", [("88302", "Hardcore", "31.08", "14.00")], "GH26-4502", ("30-Oct-26", "2026-10-30"), "20"),
    feed("Akvárium Nad Řekou", [("Granule pro pstruhy 4 mm", "250", "38.40"), ("Sušená krevetka", "12", "410.00")], "260471", ("7. 10. 2026", "2026-10-07")),
    feed("Rybník Dolní s.r.o.", [("Krmná pšenice", "1800", "7.90")], "260498", ("28. 10. 2026", "2026-10-28")),
    laboratory(OURS, [("Nitrate, nitrite, ammonia", "18.50", "24"), ("Copper, trace", "31.00", "6")], "BB/7741", "PO-26-0188", ("15/10/2026", "2026-10-15"), "5"),
    laboratory("Tarnsey Baths", [("Legionella culture", "44.00", "8")], "BB/7790", "TB 3301", ("05/11/2026", "2026-11-05"), "10"),
    rental("Fjordnes Sjøakvarium", [("Lensepumpe 3\"", 2, 5, "340.00"), ("Aggregat 6 kVA", 1, 5, "520.00")], "118802", ("08.10.2026", "2026-10-08"), "25"),
    rental("Bakke Bygg AS", [("Stillas, fag", 12, 14, "18.50")], "118851", ("30.10.2026", "2026-10-30"), "25"),
    ragged(["Invoice;HK-2291", "Harbour Kiosk Wholesale;;VAT;GB 238 3716 09", "Bill to;" + OURS, "Date;21/10/2026"],
           [["Item", "Qty", "Each", "Total"], ["Postcards, seal", "500", "0.18", "90.00"], ["Keyrings", "120", "0.95", "114.00"]],
           ["Net;204.00", "VAT 20%;;40.80", "To pay;GBP;244.80"], ";", "en",
           {"number": "HK-2291", "issue_date": "2026-10-21", "seller.name": "Harbour Kiosk Wholesale", "seller.tax_id": "GB238371609",
            "buyer.name": OURS, "net_total": "204.00", "tax_total": "40.80", "gross_total": "244.80", "amount_due": "244.80", "currency": "GBP"},
           [line("500", "0.18", "90.00"), line("120", "0.95", "114.00")]),
    ragged(["Rechnung,26-0933,,", "Absender,Tangkorb Floristik e.K.,USt-IdNr. DE730971002", "Empfänger," + OURS_DE, "vom,2026-11-04,,,"],
           [["Pos", "Ware", "Menge", "Preis EUR", "Summe EUR"], ["1", "Gesteck Foyer", "4", "46.50", "186.00"], ["2", "Lieferung", "", "", "12.00"]],
           ["netto,,198.00", "USt 7 %,13.86", "Gesamt,,,211.86"], ",", "de",
           {"number": "26-0933", "issue_date": "2026-11-04", "seller.name": "Tangkorb Floristik e.K.", "seller.tax_id": "DE730971002",
            "buyer.name": OURS_DE, "net_total": "198.00", "tax_total": "13.86", "gross_total": "211.86", "currency": "EUR"},
           [line("4", "46.50", "186.00"), line(None, None, "12.00")]),
]  # fmt: skip
"""Eighteen documents of nine structures."""
