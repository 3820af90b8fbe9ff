"""Printed pages of HTML, by trade: software, freight, hotel, newspaper, agency, town, books, debts."""

from decimal import Decimal

from tools.decision.paper import OURS, OURS_DE, Paper, line, page, show, two

Rows = list[tuple[str, str, str]]


def software(seller: str, buyer: str, plans: Rows, number: str, days: tuple[str, str, str, str],
             tax: str, currency: tuple[str, str], photo: bool) -> Paper:  # fmt: skip
    """Labels above values in cards; prices with the sign in front; a period of service."""
    code, sign = currency
    lines, rows, net = [], "", Decimal(0)
    for text, count, price in plans:
        amount = two(Decimal(count) * Decimal(price))
        net += amount
        rows += f"<div class=i><div>{text}<small>{count} seats at {sign}{show(price, 'en')}</small></div><b>{sign}{show(amount, 'en')}</b></div>"
        lines.append(line(count, price, amount))
    taxed = two(net * Decimal(tax) / 100)
    extra = (
        f"<div class=i><div>Sales tax {tax}%</div>{sign}{show(taxed, 'en')}</div>" if taxed else ""
    )
    body = f"""<div class=g><div><small>Billed by</small>{seller}<br>400 Tide Street, Suite 9<br>Harrow Bay, OR 97000</div>
    <div><small>Billed to</small>{buyer}<br>Accounts</div><div><small>Reference</small>{number}</div>
    <div><small>Issued</small>{days[0]}</div><div><small>Payment expected</small>{days[2]}</div>
    <div><small>Amount</small><b>{sign}{show(net + taxed, "en")} {code}</b></div></div>{rows}
    <div class=i><div>Before tax</div>{sign}{show(net, "en")}</div>{extra}
    <div class=i><div>Amount to pay</div><b>{sign}{show(net + taxed, "en")}</b></div>"""
    css = ".g{display:grid;grid-template-columns:1fr 1fr 1fr;gap:6mm;margin-bottom:12mm}small{display:block;color:#777}.i{display:flex;justify-content:space-between;border-top:1px solid #ddd;padding:3mm 0}"
    fields = {"tax_total": str(taxed), "net_total": str(net)} if taxed else {"net_total": str(net)}
    return Paper(
        structure="software", language="en", html=page(css, body, "letter"), photo=photo, lines=lines,
        fields={"number": number, "issue_date": days[1], "due_date": days[3], "seller.name": seller,
                "buyer.name": buyer, "currency": code, "gross_total": str(net + taxed),
                "amount_due": str(net + taxed), **fields},
    )  # fmt: skip


def freight(buyer: str, parts: list[tuple[str, str]], waybill: str, number: str, dates: tuple[str, str],
            rate: str, photo: bool) -> Paper:  # fmt: skip
    """A grid of boxes about the shipment; charges in two columns, taxed and untaxed; Danish."""
    lines, rows = [], ""
    for text, amount in parts:
        rows += f"<tr><td>{text}<td class=r>{show(amount, 'de')}"
        lines.append(line(None, None, amount))
    net = sum((two(a) for _, a in parts), Decimal(0))
    tax = two(net * Decimal(rate) / 100)
    body = f"""<table class=g><tr><td colspan=2><b>Nordvig Spedition ApS</b><br>Havnegade 40, 9999 Nordvig, CVR 49702426<td><h2>FAKTURA</h2>
    <tr><td>Fakturanr.<br><b>{number}</b><td>Fakturadato<br><b>{dates[0]}</b><td>Fragtbrev<br><b>{waybill}</b>
    <tr><td>Kunde<br><b>{buyer}</b><td>Kolli<br>14 paller<td>Vægt<br>3.120 kg<tr><td>Fra<br>Nordvig<td>Til<br>Merrowhafen<td>Incoterm<br>DAP</table>
    <table class=l><tr><th>Ydelse<th>DKK{rows}</table><table class=t><tr><td>Momspligtigt beløb<td>{show(net, "de")}
    <tr><td>Moms {rate}%<td>{show(tax, "de")}<tr><td>At betale DKK<td><b>{show(net + tax, "de")}</b></table>
    <p>Betaling: netto 8 dage. IBAN DK09 7537 7356 2581 92</p>"""
    css = ".g{width:100%;border-collapse:collapse}.g td{border:1px solid #444;padding:2mm;width:33%}.l{width:70%;margin:8mm 0}.r{text-align:right}.t{margin-left:60mm}"
    return Paper(
        structure="freight", language="da", html=page(css, body), photo=photo, lines=lines,
        fields={"number": number, "issue_date": dates[1], "seller.name": "Nordvig Spedition ApS",
                "buyer.name": buyer, "net_total": str(net), "tax_total": str(tax),
                "gross_total": str(net + tax), "amount_due": str(net + tax), "currency": "DKK",
                "account": "DK0975377356258192", "seller.tax_id": "49702426"},
    )  # fmt: skip


def hotel(guest: str, buyer: str, nights: list[tuple[str, str]], number: str, day: tuple[str, str],
          rate: str, levy: str, photo: bool) -> Paper:  # fmt: skip
    """Italian: nightly amounts with tax inside, tax worked out below, town levy apart."""
    lines = [line(None, None, amount) for _, amount in nights]
    inside = sum((two(a) for _, a in nights), Decimal(0))
    net = two(inside / (1 + Decimal(rate) / 100))
    rows = "".join(
        f"<tr><td>{d}<td>pernottamento e prima colazione<td>{show(a, 'de')}" for d, a in nights
    )
    rows += f"<tr><td><td>imposta di soggiorno (esclusa art. 15)<td>{show(levy, 'de')}"
    lines.append(line(None, None, levy))
    gross = inside + two(levy)
    body = f"""<p class=c><b>Pensione La Conchiglia</b><br>di Ester Marangoni &amp; C. s.n.c.<br>via dei Pescatori 3, 30999 Lido Verde
    &mdash; P.IVA 16443930918</p><p>Spett.le {buyer}</p><p>Ospite: {guest}</p><p>Fattura n. {number} del {day[0]}</p>
    <table>{rows}</table><p class=c>Imponibile {show(net, "de")} &nbsp; IVA {rate}% {show(inside - net, "de")} &nbsp;
    Esente {show(levy, "de")}<br><br><b>TOTALE DOCUMENTO EURO {show(gross, "de")}</b><br>pagato con carta</p>"""
    css = ".c{text-align:center}td{padding:2px 14px}td:last-child{text-align:right}"
    return Paper(
        structure="hotel", language="it", html=page(css, body), photo=photo, lines=lines,
        fields={"number": number, "issue_date": day[1], "seller.name": "Pensione La Conchiglia",
                "seller.tax_id": "16443930918", "buyer.name": buyer, "tax_total": str(inside - net),
                "gross_total": str(gross), "currency": "EUR"},
    )  # fmt: skip


def newspaper(buyer: str, adverts: list[tuple[str, str, int, int, str]], number: str, ocr: str,
              days: tuple[str, str, str, str], photo: bool) -> Paper:  # fmt: skip
    """Swedish: millimetres times columns times price; facts in one line across the page."""
    lines, rows, net = [], "", Decimal(0)
    for issue, text, mm, columns, price in adverts:
        size = mm * columns
        amount = two(size * Decimal(price))
        net += amount
        rows += f"<tr><td>{issue}<td>{text}<td>{columns} sp x {mm} mm<td>{size}<td>{show(price, 'fr')}<td>{show(amount, 'fr')}"
        lines.append(line(size, price, amount))
    tax = two(net * Decimal("0.06"))
    gross = net + tax
    body = f"""<h1>Skärgårdsbladet</h1><p>{buyer}<br>Annonsavdelningens kund 90-331</p>
    <p class=f>Faktura {number} &nbsp; | &nbsp; Utskriven {days[0]} &nbsp; | &nbsp; Oss tillhanda senast {days[2]} &nbsp; | &nbsp; OCR {ocr}</p>
    <table><tr><th>Införd<th>Rubrik<th>Format<th>Spmm<th>À-pris<th>Kronor{rows}</table>
    <p class=r>Summa exkl. moms {show(net, "fr")}<br>Moms 6 % {show(tax, "fr")}<br><b>ATT BETALA {show(gross, "fr")} kr</b></p>
    <p class=f>Skärgårdsbladet AB, Box 4, 760 99 Ytterö &nbsp; Momsreg.nr SE579713124901 &nbsp; Bankgiro 5050-1055</p>"""
    css = ".f{border-top:1px solid;border-bottom:1px solid;padding:2mm;font-size:9pt}.r{text-align:right}td{padding:2px 8px}h1{font-family:'Liberation Serif';font-style:italic}"
    return Paper(
        structure="newspaper", language="sv", html=page(css, body), photo=photo, lines=lines,
        fields={"number": number, "issue_date": days[1], "due_date": days[3], "buyer.name": buyer,
                "seller.name": "Skärgårdsbladet AB", "seller.tax_id": "SE579713124901",
                "net_total": str(net), "tax_total": str(tax), "gross_total": str(gross),
                "amount_due": str(gross), "currency": "SEK", "account": "5050-1055"},
    )  # fmt: skip


def agency(buyer: str, nip: str, people: list[tuple[str, str, str, str]], number: str,
           days: tuple[str, str, str, str], photo: bool) -> Paper:  # fmt: skip
    """Polish: buyer above seller, both as forms; amounts net, tax and gross in each row."""
    lines, rows, net, tax = [], "", Decimal(0), Decimal(0)
    for at, (text, hours, price, rate) in enumerate(people, 1):
        amount = two(Decimal(hours) * Decimal(price))
        taxed = two(amount * Decimal(rate) / 100)
        net, tax = net + amount, tax + taxed
        rows += f"<tr><td>{at}<td>{text}<td>godz.<td>{show(hours, 'fr')}<td>{show(price, 'fr')}<td>{show(amount, 'fr')}<td>{rate}%<td>{show(taxed, 'fr')}<td>{show(amount + taxed, 'fr')}"
        lines.append(line(hours, price, amount))
    body = f"""<table class=f><tr><td>Nabywca:<td><b>{buyer}</b><tr><td>Adres:<td>ul. Foki 8, 81-999 Nadmorze<tr><td>NIP:<td>{nip}
    <tr><td>Sprzedawca:<td><b>Biuro Pracy Kotwica sp. z o.o.</b><tr><td>Adres:<td>ul. Rybna 2, 80-999 Portowo<tr><td>NIP:<td>304-096-27-64
    <tr><td>Konto:<td>44 2655 1603 6948 7890 2047 7077</table><h3>Faktura VAT {number}</h3>
    <p>Data wystawienia: {days[0]}, termin płatności: {days[2]}</p>
    <table class=l><tr><th>Lp.<th>Nazwa usługi<th>j.m.<th>ilość<th>cena<th>netto<th>VAT<th>kwota VAT<th>brutto{rows}
    <tr><td colspan=5>Razem<td>{show(net, "fr")}<td><td>{show(tax, "fr")}<td>{show(net + tax, "fr")}</table>
    <p>Do zapłaty: <b>{show(net + tax, "fr")} zł</b></p>"""
    css = ".f td{padding:1px 8px}.l{border-collapse:collapse;font-size:8.5pt}.l td,.l th{border:1px solid;padding:1mm 2mm}"
    return Paper(
        structure="agency", language="pl", html=page(css, body), photo=photo, lines=lines,
        fields={"number": number, "issue_date": days[1], "due_date": days[3], "buyer.name": buyer,
                "buyer.tax_id": nip, "seller.name": "Biuro Pracy Kotwica sp. z o.o.",
                "seller.tax_id": "304-096-27-64", "account": "44265516036948789020477077",
                "net_total": str(net), "tax_total": str(tax), "gross_total": str(net + tax),
                "amount_due": str(net + tax), "currency": "PLN"},
    )  # fmt: skip


def town(body_name: str, buyer: str, fees: Rows, number: str, days: tuple[str, str, str, str],
         photo: bool) -> Paper:  # fmt: skip
    """German: a public body's notice of fees, no tax, told as a letter."""
    total = sum((two(Decimal(q) * Decimal(p)) for _, q, p in fees), Decimal(0))
    rows = "".join(
        f"<tr><td>{t}<td>{q} &times; {show(p, 'de')} EUR<td>{show(two(Decimal(q) * Decimal(p)), 'de')} EUR"
        for t, q, p in fees
    )
    body = f"""<p class=k>{body_name} &middot; Der Kämmerer &middot; Rathausplatz 1 &middot; 26998 Sielort</p><p>{buyer}<br>Am Siel 4<br>26999 Merrowhafen</p>
    <p class=r>Aktenzeichen: 32.4-118<br>Kassenzeichen: <b>{number}</b><br>Sielort, den {days[0]}</p><h3>Gebührenbescheid</h3>
    <p>Sehr geehrte Damen und Herren,<br>nach der Satzung vom 12.03.2019 setzen wir folgende Gebühren fest:</p><table>{rows}</table>
    <p>Der Betrag von <b>{show(total, "de")} EUR</b> ist bis zum {days[2]} auf das Konto DE89 3552 2958 5192 5745 25 zu überweisen.
    Umsatzsteuer fällt nicht an.</p>"""
    return Paper(
        structure="town", language="de", html=page(".k{font-size:7pt;margin-top:20mm}.r{text-align:right}td{padding-right:10mm}", body),
        photo=photo, lines=[line(q, p, two(Decimal(q) * Decimal(p))) for _, q, p in fees],
        fields={"number": number, "issue_date": days[1], "due_date": days[3], "seller.name": body_name,
                "buyer.name": buyer, "gross_total": str(total), "currency": "EUR",
                "account": "DE89355229585192574525"},
    )  # fmt: skip


def books(buyer: str, returned: Rows, number: str, earlier: str, day: tuple[str, str], rate: str,
          photo: bool) -> Paper:  # fmt: skip
    """Spanish: credit for books sent back, discount in percent of the cover price."""
    lines, rows, net = [], "", Decimal(0)
    for text, count, price in returned:
        amount = two(Decimal(count) * Decimal(price) * Decimal("0.7"))
        net += amount
        rows += f"<tr><td>{count}<td>{text}<td>{show(price, 'de')}<td>30<td>-{show(amount, 'de')}"
        lines.append(line(count, price, amount))
    tax = two(net * Decimal(rate) / 100)
    body = f"""<table class=w><tr><td><b>EDICIONES LA MAREA, S.L.</b><br>Pol. Ind. El Muelle, nave 6<br>39999 Puerto Alto<br>CIF ESB05907944
    <td class=b>Cliente<br><b>{buyer}</b></table><h2>ABONO {number}</h2><p>Fecha {day[0]} &nbsp; Rectifica la factura {earlier} &nbsp; Motivo: devolución</p>
    <table class=l><tr><th>Ejs.<th>Título<th>PVP<th>% dto.<th>Importe{rows}</table>
    <table class=l><tr><th>Base imponible<th>% IVA<th>Cuota IVA<th>Total abono<tr><td>-{show(net, "de")}<td>{rate}<td>-{show(tax, "de")}<td>-{show(net + tax, "de")} €</table>"""
    css = ".w{width:100%}.b{border:1px solid;padding:3mm}.l td,.l th{padding:1mm 4mm;border-bottom:1px solid #aaa}.l{margin-top:6mm}"
    return Paper(
        structure="books", language="es", kind="credit note", html=page(css, body), photo=photo, lines=lines,
        fields={"number": number, "preceding_number": earlier, "issue_date": day[1],
                "seller.name": "EDICIONES LA MAREA, S.L.", "seller.tax_id": "ESB05907944", "buyer.name": buyer,
                "net_total": str(net), "tax_total": str(tax), "gross_total": str(net + tax), "currency": "EUR"},
    )  # fmt: skip


def debts(title: str, kind: str, seller: str, buyer: str, items: list[tuple[str, str, str]], words: list[str],
          day: tuple[str, str], language: str, style: str, currency: tuple[str, str], photo: bool) -> Paper:  # fmt: skip
    """A statement or reminder: bills that are open, and what they make together."""
    total = sum((two(a) for *_, a in items), Decimal(0))
    rows = "".join(f"<tr><td>{d}<td>{n}<td>{show(a, style)}" for d, n, a in items)
    body = f"""<p><b>{seller}</b></p><p>{buyer}</p><h2>{title}</h2><p>{words[0]} {day[0]}</p><p>{words[1]}</p>
    <table><tr><th>{words[2]}<th>{words[3]}<th>{words[4]}{rows}</table><p><b>{words[5]} {show(total, style)} {currency[1]}</b></p>"""
    return Paper(
        structure=f"debts {kind}", language=language, kind=kind, photo=photo,
        html=page("td,th{padding:1mm 8mm 1mm 0;text-align:left}", body),
        fields={"issue_date": day[1], "seller.name": seller, "buyer.name": buyer,
                "currency": currency[0], "amount_due": str(total)},
    )  # fmt: skip


def treatment(practice: str, patient: str, acts: list[tuple[str, str, str, str, str]], number: str,
              day: tuple[str, str], due: tuple[str, str]) -> Paper:  # fmt: skip
    """German: date, code, factor and amount of each act; no tax; a perforated slip at the side."""
    total = sum((two(a) for *_, a in acts), Decimal(0))
    rows = "".join(
        f"<tr><td>{d}<td>{c}<td>{t}<td>{show(f, 'de', 1)}<td>{show(a, 'de')}"
        for d, c, t, f, a in acts
    )
    body = f"""<p class=s>{practice} &middot; Möwenstieg 2 &middot; 26994 Dünum</p><p>{patient}<br>Rechnungsstelle<br>26999 Merrowhafen</p>
    <p class=r>Liquidation {number}<br>ausgefertigt {day[0]}</p><table><tr><th>Datum<th>Ziffer<th>Leistung<th>Faktor<th>Betrag{rows}
    <tr><td><td><td><b>Summe EUR</b><td><td><b>{show(total, "de")}</b></table><p>Zahlungsziel: {due[0]}. Umsatzsteuerfrei nach § 4 Nr. 14 UStG.</p>
    <p>Bankverbindung {practice}: DE79 0557 8180 9195 3238 91</p>"""
    return Paper(
        structure="treatment", language="de", photo=True, lines=[line(None, None, a) for *_, a in acts],
        html=page(".s{font-size:7pt;text-decoration:underline}.r{text-align:right}td,th{padding:1mm 4mm}", body),
        fields={"number": number, "issue_date": day[1], "due_date": due[1], "seller.name": practice, "buyer.name": patient,
                "gross_total": str(total), "currency": "EUR", "account": "DE79055781809195323891"},
    )  # fmt: skip


PAPERS = [
    treatment("Dr. med. vet. Anke Folkerts", OURS_DE, [("06.10.", "15a", "Untersuchung Seehund", "1.0", "58.30"), ("06.10.", "41", "Blutbild", "1.5", "36.90"), ("13.10.", "15b", "Folgeuntersuchung", "1.0", "29.15")], "26-2210", ("14.10.2026", "2026-10-14"), ("13.11.2026", "2026-11-13")),
    treatment("Zahnarztpraxis Harms & Kollegen", "Reederei Janssen & Söhne", [("20.10.", "A12", "Reihenuntersuchung Besatzung", "2.3", "214.60")], "4471/26", ("22.10.2026", "2026-10-22"), ("21.11.2026", "2026-11-21")),
    software("Saltmarsh Software Inc.", OURS, [("Ticketing, yearly plan", "12", "180.00"), ("Members module", "12", "36.50")], "TPS-204417", ("Oct 3, 2026", "2026-10-03", "Nov 2, 2026", "2026-11-02"), "0", ("USD", "$"), photo=False),
    software("Lighthouse Maps Co.", "Harrow Bay Ferries LLC", [("Chart updates", "3", "1240.00")], "INV0009981", ("10/21/2026", "2026-10-21", "11/20/2026", "2026-11-20"), "8.25", ("USD", "$"), photo=True),
    freight(OURS_DE, [("Søfragt Nordvig - Merrowhafen", "8450.00"), ("Terminalgebyr", "1120.00"), ("Told og dokumenter", "675.00")], "NVG 881207", "61-20447", ("14.10.2026", "2026-10-14"), "25", photo=True),
    freight("Kystmuseet i Nordvig", [("Kørsel med kran", "4200.00"), ("Ventetid 2 timer", "1350.00")], "NVG 881455", "61-20513", ("02.11.2026", "2026-11-02"), "25", photo=False),
    hotel("Dr. Ada Merrow", OURS, [("12/10", "118,00".replace(",", ".")), ("13/10", "118.00")], "271/A", ("14/10/2026", "2026-10-14"), "10", "8.00", photo=True),
    hotel("Ing. Piet Vos", "Van Ommen Pompen B.V.", [("3/11", "96.00"), ("4/11", "96.00"), ("5/11", "104.00")], "298/A", ("6/11/2026", "2026-11-06"), "10", "12.00", photo=False),
    newspaper("Ytterö Sälstation", [("12/9", "Öppet hus", 120, 3, "14.50"), ("19/9", "Sommarens sista visning", 60, 2, "14.50")], "774120", "7741209", ("2026-09-30", "2026-09-30", "2026-10-30", "2026-10-30"), photo=False),
    newspaper("Båtvarvet Ekudden AB", [("3/10", "Vinterförvaring", 90, 2, "16.25")], "774388", "7743881", ("2026-10-31", "2026-10-31", "2026-11-30", "2026-11-30"), photo=False),
    agency("Fokarium Nadmorze", "7441849604", [("Opiekun zwierząt, wrzesień", "168.00", "38.50", "23"), ("Szkolenie BHP", "8.00", "55.00", "0")], "FV/2026/10/114", ("05.10.2026", "2026-10-05", "19.10.2026", "2026-10-19"), photo=False),
    agency("Stocznia Mała S.A.", "2716774003", [("Spawacz, październik", "320.50", "61.20", "23")], "FV/2026/11/009", ("03.11.2026", "2026-11-03", "17.11.2026", "2026-11-17"), photo=True),
    town("Gemeinde Sielort", OURS_DE, [("Entnahme von Seewasser, je 100 m³", "42", "3.15"), ("Verwaltungsgebühr", "1", "25.00")], "5.0118.002734", ("6. Oktober 2026", "2026-10-06", "6. November 2026", "2026-11-06"), photo=False),
    town("Landkreis Wattenmeer", "Reederei Janssen & Söhne", [("Sondernutzung Kai, Tage", "14", "60.00")], "5.0220.000981", ("19. Oktober 2026", "2026-10-19", "20. November 2026", "2026-11-20"), photo=False),
    books("Museo del Mar de Puerto Alto", [("Peces de roca", "6", "24.00"), ("Atlas de mareas", "2", "58.00")], "AB-2026-041", "26/1190", ("15-10-2026", "2026-10-15"), "4", photo=False),
    books("Librería Ancla", [("Guía de conchas", "11", "18.50")], "AB-2026-046", "26/1203", ("02-11-2026", "2026-11-02"), "4", photo=False),
    debts("Statement of account", "statement", "Kelpworks Supplies Ltd", OURS, [("04/09/2026", "KW-3301", "412.80"), ("18/09/2026", "KW-3342", "96.00"), ("02/10/2026", "KW-3390", "1204.15")], ["As at", "Our records show the following as unpaid.", "Dated", "Document", "Open £", "Balance"], ("31/10/2026", "2026-10-31"), "en", "en", ("GBP", "GBP"), photo=False),
    debts("Rappel", "reminder", "Comptoir des Filets SA", "Aquarium de la Côte", [("04/08/2026", "F-2207", "318.00"), ("11/08/2026", "F-2231", "77.40")], ["Port-Sablé, le", "Sauf erreur de notre part, les factures suivantes restent impayées.", "Du", "Facture", "Montant €", "Soit à nous régler"], ("12/10/2026", "2026-10-12"), "fr", "fr", ("EUR", "€"), photo=False),
]  # fmt: skip
"""Eighteen documents of ten structures."""
