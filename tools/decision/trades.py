"""Printed pages of HTML, by trade: canteen, law, translation, water, print, window cleaning."""

from decimal import Decimal

from tools.decision.paper import OURS, OURS_DE, Paper, line, page, show, two


def canteen(school: str, label: str, weeks: list[tuple[str, list[int]]], price: str, number: str,
            day: tuple[str, str], photo: bool) -> Paper:  # fmt: skip
    """Meals a day, five columns of counts and their sum."""
    rows, total = "", Decimal(0)
    lines = []
    for name, meals in weeks:
        count = sum(meals)
        amount = two(count * Decimal(price))
        total += amount
        rows += f"<tr><td>{name}" + "".join(f"<td>{each}" for each in meals)
        rows += f"<td><b>{count}</b><td>{price}<td>{show(amount, 'en')}"
        lines.append(line(count, price, amount))
    body = f"""<center><h2>Pottle &amp; Ladle</h2>catering for schools and halls<br>
    The Old Dairy, Sump Lane, Orrowby OR2 7HL &nbsp; 01632 960 118</center><hr>
    <p><b>{school}</b><br>for the attention of the bursar<br>Chapel Rise, Merrowmere MW5 6RT</p>
    <p>{label} <b>{number}</b> of {day[0]}. Dinners served:</p>
    <table><tr><th>Week beginning<th>Mo<th>Tu<th>We<th>Th<th>Fr<th>Dinners<th>each £<th>£{rows}
    </table><p class=r>Sum owed &nbsp; <b>£ {show(total, "en")}</b></p>
    <p>School meals are exempt; no VAT is charged. Kindly settle within 21 days to
    account 59257692 at sort code 20-14-77.</p>"""
    css = "td{border-bottom:1px dotted;padding:3px 9px;text-align:right}.r{text-align:right}"
    return Paper(
        structure="canteen", language="en", html=page(css, body), photo=photo, lines=lines,
        fields={"number": number, "issue_date": day[1], "seller.name": "Pottle & Ladle",
                "buyer.name": school, "gross_total": str(total), "currency": "GBP",
                "account": "20-14-77 59257692"},
    )  # fmt: skip


def lawyers(client: str, matter: str, entries: list[tuple[str, str, str, str]], rate: str,
            paid_out: list[tuple[str, str]], number: str, photo: bool) -> Paper:  # fmt: skip
    """Time entries told in sentences, disbursements below, tax on fees only."""
    fees, lines, rows = Decimal(0), [], ""
    for day, who, text, hours in entries:
        amount = two(Decimal(hours) * Decimal(rate))
        fees += amount
        rows += (
            f"<dt>{day} &mdash; {who}<dd>{text}<span>{hours} h &nbsp; {show(amount, 'en')}</span>"
        )
        lines.append(line(hours, None, amount))
    outlay = sum((two(a) for _, a in paid_out), Decimal(0))
    for text, amount in paid_out:
        rows += f"<dt>{text}<dd><span>{show(amount, 'en')}</span>"
        lines.append(line(None, None, amount))
    tax = two(fees * Decimal("0.2"))
    gross = fees + outlay + tax
    body = f"""<p class=h>FENWICK MARLE LLP</p><p class=s>Solicitors &middot; 3 Assize Court, Tarnsey TS1 2AA
    &middot; VAT registration GB 491 1346 10 &middot; authorised no. 660 412</p>
    <p>{client}<br>2 Harbour Walk<br>Merrowmere<br>MW1 4QA</p>
    <p>Bill reference {number}<br>Tax point 9th October 2026<br>Our ref: KM/{number[-3:]}/MER<br><i>Re: {matter}</i></p>
    <p>To our professional charges at the hourly rate of £{rate}:</p><dl>{rows}</dl>
    <p>Professional charges {show(fees, "en")}, disbursements {show(outlay, "en")},
    value added tax at 20% on {show(fees, "en")}: {show(tax, "en")}.</p>
    <p><b>Now due: £{show(gross, "en")}</b></p><p class=s>Client account: IBAN GB19 MBNK 5925 7692 2842 51</p>"""
    css = (
        ".h{font:bold 20pt 'Liberation Serif';letter-spacing:3px;text-align:center}.s{text-align:"
        "center;font-size:8pt}dt{margin-top:8px}dd span{float:right}"
    )
    return Paper(
        structure="lawyers", language="en", html=page(css, body), photo=photo, lines=lines,
        fields={"number": number, "issue_date": "2026-10-09", "seller.name": "Fenwick Marle LLP",
                "buyer.name": client, "seller.tax_id": "GB491134610", "net_total": str(fees + outlay),
                "tax_total": str(tax), "gross_total": str(gross), "amount_due": str(gross),
                "currency": "GBP", "account": "GB19MBNK59257692284251"},
    )  # fmt: skip


def translator(name: str, tax_id: str, iban: str, buyer: list[str], jobs: list[tuple[str, int, str]],
               number: str, day: tuple[str, str], due: tuple[str, str], words: dict[str, str],
               rate: str, language: str, photo: bool) -> Paper:  # fmt: skip
    """All about the person in a narrow bar on the left; the letter beside it."""
    net, lines, rows = Decimal(0), [], ""
    for text, count, price in jobs:
        amount = two(count * Decimal(price))
        net += amount
        rows += f"<p class=j>{text}<br>{show(count, 'de', 0)} {words['word']} &times; {show(price, 'de', 3)} € = <b>{show(amount, 'de')} €</b></p>"
        lines.append(line(count, price, amount))
    tax = two(net * Decimal(rate) / 100)
    body = f"""<div class=bar><b>{name}</b><br>{words["trade"]}<br><br>Lotsengasse 9<br>25980 Seemoor<br><br>
    {words["vat"]}<br>{tax_id}<br><br>IBAN<br>{iban[:12]}<br>{iban[12:]}<br><br>{words["date"]}<br>{day[0]}<br><br>
    {words["number"]}<br>{number}<br><br>{words["due"]}<br>{due[0]}</div><div class=m><p>{"<br>".join(buyer)}</p>
    <h1>{words["title"]}</h1><p>{words["hello"]}</p>{rows}<p>{words["net"]} {show(net, "de")} €<br>
    {words["tax"].format(rate=rate)} {show(tax, "de")} €<br><b>{words["gross"]} {show(net + tax, "de")} €</b></p></div>"""
    css = ".bar{position:absolute;left:0;width:38mm;font-size:8pt;border-right:2px solid #999;height:220mm}.m{margin-left:46mm}"
    return Paper(
        structure="translator", language=language, html=page(css, body), photo=photo, lines=lines,
        fields={"number": number, "issue_date": day[1], "due_date": due[1], "seller.name": name,
                "seller.tax_id": tax_id, "account": iban, "buyer.name": buyer[0], "net_total": str(net),
                "tax_total": str(tax), "gross_total": str(net + tax), "currency": "EUR"},
    )  # fmt: skip


def water(buyer: str, meters: list[tuple[str, int, int, str]], standing: str, number: str,
          day: tuple[str, str], due: tuple[str, str], rate: str, photo: bool) -> Paper:  # fmt: skip
    """Dutch: meters old and new, fixed charge, a summary in a box at the right."""
    net, lines, rows = Decimal(standing), [], ""
    for meter, old, new, price in meters:
        amount = two((new - old) * Decimal(price))
        net += amount
        rows += f"<tr><td>{meter}<td>{old}<td>{new}<td>{new - old} m³<td>€ {show(price, 'de', 4)}<td>€ {show(amount, 'de')}"
        lines.append(line(new - old, price, amount))
    rows += f"<tr><td>Vastrecht kwartaal<td><td><td><td><td>€ {show(standing, 'de')}"
    lines.append(line(None, None, standing))
    tax = two(net * Decimal(rate) / 100)
    body = f"""<div class=box><p>Te betalen vóór {due[0]}<br><b>€ {show(net + tax, "de")}</b></p>
    <p>Nota {number}<br>d.d. {day[0]}<br>Klant 55120</p></div>
    <h2>Waterschap Duinrand Levering</h2><p>Postbus 18, 1990 AA Duinrand<br>btw NL162874492B02</p>
    <p>{buyer}<br>t.a.v. crediteuren<br>Kade 12<br>1991 CD Duinrand</p>
    <table><tr><th>Meter<th>Vorige stand<th>Nieuwe stand<th>Verbruik<th>Tarief<th>Bedrag{rows}</table>
    <table class=t><tr><td>Bedrag zonder btw<td>€ {show(net, "de")}<tr><td>{rate}% btw<td>€ {show(tax, "de")}
    <tr><td>Notabedrag<td>€ {show(net + tax, "de")}</table>
    <p>Maak het bedrag over op NL64 KLPB 0818 6882 94 onder vermelding van het notanummer.</p>"""
    css = ".box{float:right;border:1px solid;padding:4mm;width:52mm}td,th{padding:2px 8px;text-align:right}td:first-child{text-align:left}"
    return Paper(
        structure="water", language="nl", html=page(css, body), photo=photo, lines=lines,
        fields={"number": number, "issue_date": day[1], "due_date": due[1], "buyer.name": buyer,
                "seller.name": "Waterschap Duinrand Levering", "seller.tax_id": "NL162874492B02",
                "account": "NL64KLPB0818688294", "net_total": str(net), "tax_total": str(tax),
                "gross_total": str(net + tax), "amount_due": str(net + tax), "currency": "EUR"},
    )  # fmt: skip


def printer(buyer: list[str], jobs: list[tuple[str, str]], number: str, order: str,
            day: tuple[str, str], rate: str, deposit: str, photo: bool) -> Paper:  # fmt: skip
    """French: quantities inside the words, totals as a row of boxes at the foot."""
    net = sum((two(a) for _, a in jobs), Decimal(0))
    tax = two(net * Decimal(rate) / 100)
    gross, left = net + tax, net + tax - two(deposit)
    rows = "".join(f"<li>{text}<span>{show(amount, 'fr')}</span>" for text, amount in jobs)
    cells = [("Total H.T.", net), (f"T.V.A. {rate} %", tax), ("Total T.T.C.", gross)]
    fields = {}
    if Decimal(deposit):
        cells += [("Acompte reçu", two(deposit)), ("Reste à payer", left)]
        fields = {"prepaid": str(two(deposit)), "amount_due": str(left)}
    boxes = "".join(f"<td>{label}<br><b>{show(value, 'fr')} €</b>" for label, value in cells)
    body = f"""<table class=f><tr><td><b class=n>Imprimerie du Bas-Port</b><br>Aubert et Lemoine
    <td class=r>Facture n° {number}<br>Fait à Saint-Aubin, le {day[0]}</table>
    <p class=d>{"<br>".join(buyer)}</p><p>Suite à votre commande {order}, nous vous prions de trouver le
    détail de nos travaux :</p><ul>{rows}</ul><table class=b><tr>{boxes}</table>
    <p class=s>SARL au capital de 8 000 € &mdash; 4 quai du Bas-Port, 44999 Saint-Aubin &mdash; TVA intracommunautaire
    FR 78447509910 &mdash; IBAN FR12 2705 7387 9643 2320 6203 640 &mdash; règlement à réception</p>"""
    css = ".f{width:100%}.n{font-size:17pt}.r{text-align:right}.d{margin-left:105mm}li span{float:right}.b td{border:1px solid;padding:3mm 6mm;text-align:center}.s{position:fixed;bottom:0;font-size:7.5pt;text-align:center}"
    return Paper(
        structure="printer", language="fr", html=page(css, body), photo=photo,
        lines=[line(None, None, two(a)) for _, a in jobs],
        fields={"number": number, "issue_date": day[1], "order_number": order, "buyer.name": buyer[0],
                "seller.name": "Imprimerie du Bas-Port", "seller.tax_id": "FR78447509910",
                "account": "FR1227057387964323206203640", "net_total": str(net), "tax_total": str(tax),
                "gross_total": str(gross), "currency": "EUR", **fields},
    )  # fmt: skip


def windows(who: str, buyer: str, text: str, amount: str, number: str, day: tuple[str, str],
            account: tuple[str, str], photo: bool) -> Paper:  # fmt: skip
    """One person, one sentence, one sum, centred; nothing is a table."""
    body = f"""<center><p class=n>{who}</p><p>windows, gutters, conservatories</p><p>11 Ropewalk, Orrowby OR4 8QN<br>
    mob. 07700 900 341</p><br><br><p>Bill No {number} &nbsp;&nbsp; {day[0]}</p><p>To {buyer}</p><br><p>{text}</p>
    <p class=n>£{amount}</p><br><p>With thanks. Bank transfer please: {account[0]}</p></center>"""
    return Paper(
        structure="windows", language="en", photo=photo,
        html=page(".n{font:bold 22pt 'Liberation Serif'}", body),
        lines=[line(None, None, amount)],
        fields={"number": number, "issue_date": day[1], "seller.name": who, "buyer.name": buyer,
                "gross_total": amount, "currency": "GBP", "account": account[1]},
    )  # fmt: skip


_DE = {"word": "Wörter", "trade": "Übersetzungen EN-DE-DA", "vat": "USt-Id", "date": "Datum", "number": "Rechnungs-Nr.",
       "due": "zahlbar bis", "title": "Rechnung", "hello": "Sehr geehrte Damen und Herren, für meine Arbeit erlaube ich mir zu berechnen:",
       "net": "Honorar netto", "tax": "zzgl. {rate} % Umsatzsteuer", "gross": "Rechnungsbetrag"}  # fmt: skip
_EN = {"word": "words", "trade": "Technical translator", "vat": "VAT", "date": "Date", "number": "No.",
       "due": "Pay by", "title": "Invoice", "hello": "Dear client, for the translations below please pay as follows.",
       "net": "Fee before VAT", "tax": "VAT {rate}%", "gross": "Payable in all"}  # fmt: skip
PAPERS = [
    canteen("St Brannock's Primary School", "Account no.", [("5 October", [61, 58, 63, 60, 55]), ("12 October", [59, 60, 62, 61, 57]), ("19 October", [60, 0, 61, 58, 54])], "2.85", "PL-0931", ("30 October 2026", "2026-10-30"), photo=True),
    canteen(OURS, "Bill", [("2 November", [14, 12, 15, 11, 9]), ("9 November", [10, 13, 12, 12, 8])], "6.40", "PL-0957", ("16 November 2026", "2026-11-16"), photo=False),
    lawyers(OURS, "lease of the seal pool", [("14 Sept.", "K. Marle", "Attending you by telephone; considering the landlord's draft", "1.4"), ("21 Sept.", "K. Marle", "Amending draft lease and letter to Messrs Oakes", "3.2"), ("2 Oct.", "trainee", "Searches at the registry", "0.5")], "265.00", [("Search fees paid to registry", "18.00"), ("Bank transfer charge", "24.00")], "FM/26/1187", photo=True),
    lawyers("Orrowby Boatyard Limited", "claim against Seacote Paints", [("1 Sept.", "J. Fenwick", "Perusing the expert's report", "2.0"), ("8 Sept.", "J. Fenwick", "Drafting particulars", "5.6")], "310.00", [("Court fee", "455.00")], "FM/26/1190", photo=False),
    translator("Wiebke Sandrock", "DE343122200", "DE79055781809195323891", [OURS_DE, "Am Siel 4", "26999 Merrowhafen"], [("Ausstellungstexte Haie, EN nach DE", 2140, "0.145"), ("Beschilderung Außenbecken", 380, "0.160")], "2026-117", ("3. November 2026", "2026-11-03"), ("17. November 2026", "2026-11-17"), _DE, "7", "de", photo=False),
    translator("Dr. Ole Tamm", "DE386996784", "DE31817318049543178157", ["Kystmuseet i Nordvig", "Strandvejen 2", "9999 Nordvig"], [("Catalogue of whale songs, DA to EN", 6120, "0.132")], "T-88", ("28.10.26", "2026-10-28"), ("11.11.26", "2026-11-11"), _EN, "19", "en", photo=False),
    water("Stichting Zeehondencentrum De Plaat", [("W-30914", 4410, 4987, "1.0850"), ("W-30915", 120, 133, "1.0850")], "41.50", "2026/404417", ("01-10-2026", "2026-10-01"), ("31-10-2026", "2026-10-31"), "9", photo=False),
    water("Bakkerij Van Ommen", [("W-77120", 902, 961, "1.1200")], "18.75", "2026/404502", ("02-10-2026", "2026-10-02"), ("01-11-2026", "2026-11-01"), "9", photo=True),
    printer(["Aquarium de la Côte", "12, rue des Mouettes", "44990 Port-Sablé"], [("2 500 dépliants trois volets, quadrichromie, pliés", "612.00"), ("40 affiches 60 x 80 sur papier mat", "288.00")], "26-0742", "BC 1190", ("6 octobre 2026", "2026-10-06"), "20", "300.00", photo=False),
    printer(["Mairie de Port-Sablé", "Service culturel", "44990 Port-Sablé"], [("1 000 programmes agrafés 16 pages", "1140.00")], "26-0755", "MP-2026-31", ("13 octobre 2026", "2026-10-13"), "10", "0", photo=False),
    windows("Dennis Oakapple", OURS, "For cleaning all outside glass of the tropical house on the 3rd and 4th of November, two men.", "340.00", "212", ("5 Nov 2026", "2026-11-05"), ("sort code 30-96-12, account 40218873", "30-96-12 40218873"), photo=True),
    windows("M. & J. Threlkeld", "The Breakwater Inn", "Gutters cleared, front windows inside and out.", "95.00", "26/031", ("Nov. 9th, 2026", "2026-11-09"), ("IBAN GB46 MBNK 0902 2928 1370 48", "GB46MBNK09022928137048"), photo=False),
]  # fmt: skip
"""Twelve documents of six structures."""
