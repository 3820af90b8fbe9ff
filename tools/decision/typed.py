"""Letters of one width: line printers, plain text, mails and till slips."""

import io
from email.message import EmailMessage

from reportlab.lib.pagesizes import A4
from reportlab.pdfgen.canvas import Canvas

from tools.corpus.sheet import font
from tools.decision.paper import OURS, OURS_DE, Paper, line

MM = 72 / 25.4


def _printed(text: str, size: float = 9.5) -> bytes:
    """A4 in letters of one width."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=A4)
    for at, row in enumerate(text.strip("\n").split("\n")):
        canvas.setFont(font("Liberation Mono", False), size)
        canvas.drawString(45, A4[1] - 55 - at * size * 1.25, row)
    canvas.save()
    return out.getvalue()


def _slip(text: str, wide: float = 78, size: float = 8.5) -> bytes:
    """A till's paper, as long as it needs to be. A row that begins with `!` is large."""
    rows = text.strip("\n").split("\n")
    height = (len(rows) + 6) * size * 1.35
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(wide * MM, height))
    for at, row in enumerate(rows):
        large = row.startswith("!")
        canvas.setFont(font("Liberation Mono", large), size * (1.35 if large else 1))
        canvas.drawString(10, height - 30 - at * size * 1.35, row.removeprefix("!"))
    canvas.save()
    return out.getvalue()


def printed(
    structure: str,
    language: str,
    text: str,
    fields: dict[str, str],
    lines: list[dict[str, str]],
    kind: str = "invoice",
    *,
    photo: bool = False,
) -> Paper:
    """A sheet of a line printer."""
    return Paper(
        structure=structure,
        language=language,
        kind=kind,
        content=lambda: _printed(text),
        fields=fields,
        lines=lines,
        photo=photo,
    )


def plain(language: str, text: str, fields: dict[str, str], lines: list[dict[str, str]]) -> Paper:
    """A text file."""
    return Paper(
        structure="plain text",
        language=language,
        content=text.encode,
        ending=".txt",
        fields=fields,
        lines=lines,
    )


def mail(
    language: str,
    sender: str,
    subject: str,
    text: str,
    fields: dict[str, str],
    lines: list[dict[str, str]],
    *,
    html: bool,
) -> Paper:
    """A bill that is the mail itself."""

    def content() -> bytes:
        message = EmailMessage()
        message["From"], message["To"], message["Subject"] = (
            sender,
            "ap@merrowmere.example",
            subject,
        )
        message["Date"], message["Message-ID"] = (
            "Mon, 02 Nov 2026 08:12:00 +0000",
            "<decision@example>",
        )
        message.set_content("see the other part" if html else text)
        if html:
            message.add_alternative(text, subtype="html")
        return bytes(message)

    return Paper(
        structure="mail " + ("html" if html else "text"),
        language=language,
        content=content,
        ending=".eml",
        fields=fields,
        lines=lines,
    )


def till(
    structure: str,
    language: str,
    text: str,
    fields: dict[str, str],
    lines: list[dict[str, str]],
    *,
    photo: bool = True,
) -> Paper:
    """A till receipt."""
    return Paper(
        structure=structure,
        language=language,
        kind="till receipt",
        content=lambda: _slip(text),
        fields=fields,
        lines=lines,
        photo=photo,
    )


PAPERS = [
    printed("wholesale", "de", """
FISCHGROSSHANDEL KARSTENS OHG            KUNDE  77120   BLATT 1
HAFENMEILE 3                             NR.    RG-441877
26996 TIEFENSIEL                         VOM    09.10.26
UST-ID DE343122200                       LFS    L-22019

MERROWMERE MEERHAUS GMBH
AM SIEL 4
26999 MERROWHAFEN
------------------------------------------------------------------
ART    BEZEICHNUNG                 KG      EUR/KG        EUR   ST
------------------------------------------------------------------
0114   HERING GANZ TK          240,00        2,15     516,00   1
0220   SPROTTEN                 80,00        3,40     272,00   1
0907   EISCHIPS                 50,00        0,60      30,00   2
------------------------------------------------------------------
ST 1   7,00 % VON    788,00   =    55,16
ST 2  19,00 % VON     30,00   =     5,70
                                 WARENWERT            818,00
                                 MWST                  60,86
                                 ENDBETRAG            878,86
""", {"number": "RG-441877", "issue_date": "2026-10-09", "delivery_note": "L-22019", "seller.name": "FISCHGROSSHANDEL KARSTENS OHG", "seller.tax_id": "DE343122200", "buyer.name": OURS_DE.upper(), "net_total": "818.00", "tax_total": "60.86", "gross_total": "878.86", "currency": "EUR"},
        [line("240", "2.15", "516.00"), line("80", "3.40", "272.00"), line("50", "0.60", "30.00")], photo=True),
    printed("wholesale", "sv", """
NORRA FISKHALLEN HANDELSBOLAG                       FAKTURA NR 55102
KAJEN 9, 760 98 YTTERÖ                              DATUM 2026-10-15
MOMSREG SE713443924401                              FÖRFALLER 2026-11-14

YTTERÖ SÄLSTATION
FYRVÄGEN 1
..................................................................
ARTNR  VARA                  ANTAL       PRIS          SUMMA
1001   STRÖMMING              75,0      22,40        1680,00
1440   SKARPSILL              30,0      18,50         555,00
..................................................................
                                 NETTO               2235,00
                                 MOMS 12%             268,20
                                 SUMMA SEK           2503,20
PLUSGIRO 90 18 24-7
""", {"number": "55102", "issue_date": "2026-10-15", "due_date": "2026-11-14", "seller.name": "NORRA FISKHALLEN HANDELSBOLAG", "seller.tax_id": "SE713443924401", "buyer.name": "YTTERÖ SÄLSTATION", "net_total": "2235.00", "tax_total": "268.20", "gross_total": "2503.20", "currency": "SEK"},
        [line("75", "22.40", "1680.00"), line("30", "18.50", "555.00")]),
    printed("chandler", "en", """
  S.S. CHANDLERY                                        * I N V O I C E *
  SLIPWAY 2 ORROWBY                                     * 0 0 9 9 1 7   *
  TEL 01632 960 771                                     *****************

  TO: MERROWMERE AQUARIUM TRUST        YOUR ORDER: PO-26-0151
      2 HARBOUR WALK                   OUR DESPATCH: D/4412
      MERROWMERE                       DATED: 16.OCT.2026

  3 COIL ROPE 12MM          @ 48.00   144.00
 10 SHACKLE GALV            @  3.25    32.50
  2 FENDER LARGE            @ 27.90    55.80
                                      ------
                                      232.30
                       LESS 5 PC       11.61-
                                      ------
                                      220.69
                       V.A.T. 20 PC    44.14
                                      ======
                                      264.83  STG
  V.A.T. REG 135 4730 23
""", {"number": "009917", "issue_date": "2026-10-16", "order_number": "PO-26-0151", "delivery_note": "D/4412", "seller.name": "S.S. CHANDLERY", "seller.tax_id": "135473023", "buyer.name": OURS.upper(), "lines_total": "232.30", "allowances": "11.61", "net_total": "220.69", "tax_total": "44.14", "gross_total": "264.83", "currency": "GBP"},
        [line("3", "48.00", "144.00"), line("10", "3.25", "32.50"), line("2", "27.90", "55.80")], photo=True),
    printed("chandler", "no", """
  BAKKE SKIPSHANDEL                                    FAKTURA  70218
  BRYGGEN 11, 5999 FJORDNES                            21.OKT.2026
  ORG 952719475 MVA                                    FORFALL 20.NOV.2026

  FJORDNES SJØAKVARIUM

  4 TAU 16MM                @ 410,00   1640,00
  1 ANKER 25 KG             @ 995,00    995,00
                                       -------
                                       2635,00
                        MVA 25 PST      658,75
                                       =======
                                       3293,75  NOK
  KONTO NO22 5589 1827 317
""", {"number": "70218", "issue_date": "2026-10-21", "due_date": "2026-11-20", "seller.name": "BAKKE SKIPSHANDEL", "seller.tax_id": "952719475", "buyer.name": "FJORDNES SJØAKVARIUM", "net_total": "2635.00", "tax_total": "658.75", "gross_total": "3293.75", "currency": "NOK", "account": "NO2255891827317"},
        [line("4", "410.00", "1640.00"), line("1", "995.00", "995.00")]),
    plain("en", """Tarnsey Allotments Produce (Hal & Prue Dobbs)

Invoice: 44 / Oct
Sent: 31 October 2026
For: Merrowmere Aquarium Trust, sea lion kitchen

Kale, 30 bunches at 1.10 ....... 33.00
Squash, 12 at 1.75 ............. 21.00
Eggs, 20 dozen at 3.20 ......... 64.00

We make it 118.00 pounds. No VAT, we're too small!
Mill Bridge Bank 20-45-77 / 10228833
""", {"number": "44 / Oct", "issue_date": "2026-10-31", "seller.name": "Tarnsey Allotments Produce", "buyer.name": OURS, "gross_total": "118.00", "currency": "GBP", "account": "20-45-77 10228833"},
        [line("30", "1.10", "33.00"), line("12", "1.75", "21.00"), line("20", "3.20", "64.00")]),
    plain("it", """OFFICINA NAUTICA BELTRAME
di Beltrame Silvano
Molo Nord 7 - 30998 Lido Verde - P. IVA 10359970620

FATTURA N. 118/2026                         Lido Verde, 19 ottobre 2026
Cliente: Acquario di Lido Verde

Revisione pompa di ricircolo            n. 2 x 180,00         360,00
Guarnizioni                                                    28,40
                                        Imponibile            388,40
                                        IVA 22%                85,45
                                        Totale a pagare Euro  473,85
IBAN da comunicare
""", {"number": "118/2026", "issue_date": "2026-10-19", "seller.name": "OFFICINA NAUTICA BELTRAME", "seller.tax_id": "10359970620", "buyer.name": "Acquario di Lido Verde", "net_total": "388.40", "tax_total": "85.45", "gross_total": "473.85", "amount_due": "473.85", "currency": "EUR"},
        [line("2", "180.00", "360.00"), line(None, None, "28.40")]),
    mail("en", "Seaname Registry <billing@seaname.example>", "Your renewal, paper SN-550917", """Hello Merrowmere Aquarium Trust,

this mail is your tax invoice SN-550917 of 2 November 2026.

  whale-hall.example      renewed for 2 years    2 x GBP 9.50    GBP 19.00
  seal-cam.example        renewed for 1 year     1 x GBP 9.50    GBP  9.50

  Without VAT   GBP 28.50
  VAT at 20 %   GBP  5.70
  With VAT      GBP 34.20

Nothing to do: we took GBP 34.20 from your card.

Seaname Registry Ltd, 14 Causeway, Tarnsey. VAT number GB 264 4210 81.
""", {"number": "SN-550917", "issue_date": "2026-11-02", "seller.name": "Seaname Registry Ltd", "seller.tax_id": "GB264421081", "buyer.name": OURS, "net_total": "28.50", "tax_total": "5.70", "gross_total": "34.20", "currency": "GBP"},
        [line("2", "9.50", "19.00"), line("1", "9.50", "9.50")], html=False),
    mail("de", "Wattwolke <post@wattwolke.example>", "Rechnung Oktober", """Moin Meerhaus-Team,

hiermit berechnen wir für Oktober 2026, Rechnung WW-2026-3319, ausgestellt am 01.11.2026:

Speicher 500 GB     1 x 24,00 EUR = 24,00 EUR
Postfächer         15 x  1,80 EUR = 27,00 EUR

Netto 51,00 EUR, zuzüglich 19 % MwSt. 9,69 EUR, gesamt 60,69 EUR.
Einzug am 10.11.2026 von Ihrem Konto.

Wattwolke UG (haftungsbeschränkt), Priel 3, 26995 Sandsiel, USt-ID DE386996784
Rechnungsempfänger: Merrowmere Meerhaus GmbH, Am Siel 4, 26999 Merrowhafen
""", {"number": "WW-2026-3319", "issue_date": "2026-11-01", "due_date": "2026-11-10", "seller.name": "Wattwolke UG (haftungsbeschränkt)", "seller.tax_id": "DE386996784", "buyer.name": OURS_DE, "net_total": "51.00", "tax_total": "9.69", "gross_total": "60.69", "currency": "EUR"},
        [line("1", "24.00", "24.00"), line("15", "1.80", "27.00")], html=False),
    mail("en", "Gullwing Photo <hello@gullwing.example>", "Prints are on their way", """<div style="font-family:sans-serif"><h2>Gullwing Photo Lab</h2>
<p>Thank you! Receipt and VAT invoice in one.</p><table><tr><td>Invoice</td><td><b>GP-118204</b></td></tr><tr><td>Ordered</td><td>28 Oct 2026</td></tr>
<tr><td>Invoiced</td><td>30 Oct 2026</td></tr><tr><td>Sold to</td><td>Merrowmere Aquarium Trust</td></tr></table>
<table><tr><th>Item</th><th>Price</th><th>Count</th><th>Total</th></tr><tr><td>Mounted print A2</td><td>£32.00</td><td>4</td><td>£128.00</td></tr>
<tr><td>Postage</td><td></td><td></td><td>£6.50</td></tr></table><p>Excluding VAT £134.50<br>VAT 20% £26.90<br><b>You paid £161.40</b></p>
<p style="font-size:11px">Gullwing Photo Lab Ltd &middot; VAT GB065904555</p></div>""",
        {"number": "GP-118204", "issue_date": "2026-10-30", "seller.name": "Gullwing Photo Lab Ltd", "seller.tax_id": "GB065904555", "buyer.name": OURS, "net_total": "134.50", "tax_total": "26.90", "gross_total": "161.40", "currency": "GBP"},
        [line("4", "32.00", "128.00"), line(None, None, "6.50")], html=True),
    mail("fr", "Les Paniers du Marais <bonjour@paniers.example>", "Votre facture P-7714", """<p><b>Les Paniers du Marais</b> - EARL Guillou - TVA FR56416492924</p>
<p>Facture P-7714 du 26/10/2026<br>Client : Aquarium de la Côte</p><ul><li>Panier de légumes, 6 x 18,00 € : 108,00 €</li><li>Œufs, 10 x 3,50 € : 35,00 €</li></ul>
<p>Total HT : 143,00 €<br>TVA 5,5 % : 7,87 €<br>Total TTC : <b>150,87 €</b></p><p>À régler avant le 25/11/2026</p>""",
        {"number": "P-7714", "issue_date": "2026-10-26", "due_date": "2026-11-25", "seller.name": "Les Paniers du Marais", "seller.tax_id": "FR56416492924", "buyer.name": "Aquarium de la Côte", "net_total": "143.00", "tax_total": "7.87", "gross_total": "150.87", "currency": "EUR"},
        [line("6", "18.00", "108.00"), line("10", "3.50", "35.00")], html=True),
    till("hardware slip", "en", """
!   NAIL & HINGE
    4 Market Row, Tarnsey
    VAT No 479 4904 50
    Tel 01632 960 144

Woodscrews 5x60 bx      4.49 A
Hinge brass     2@ 3.20 6.40 A
Sandpaper fine          2.15 A
Work gloves             5.99 A
------------------------------
4 ITEMS
!TOTAL            19.03
CARD              19.03
VAT A 20%  net 15.86  vat 3.17
Served by Moll   till 2
07/10/2026 11:42   No 44-9917
   Thank you, call again
""", {"number": "44-9917", "issue_date": "2026-10-07", "seller.name": "NAIL & HINGE", "seller.tax_id": "479490450", "gross_total": "19.03", "tax_total": "3.17", "currency": "GBP"},
        [line(None, None, "4.49"), line("2", "3.20", "6.40"), line(None, None, "2.15"), line(None, None, "5.99")]),
    till("hardware slip", "pl", """
     SKLEP ŻELAZNY "ŚRUBKA"
    ul. Portowa 4, 81-998 Nadmorze
       NIP 014-514-66-65
        PARAGON FISKALNY
Wkręty 4x40   2 x 8,90    17,80 A
Farba biała   1 x 42,50   42,50 A
Sprzedaż opodatkowana A   60,30
PTU A 23%                 11,28
!SUMA PLN          60,30
Karta                     60,30
2026-10-22   14:07   W001204
""", {"number": "W001204", "issue_date": "2026-10-22", "seller.name": 'SKLEP ŻELAZNY "ŚRUBKA"', "seller.tax_id": "014-514-66-65", "gross_total": "60.30", "tax_total": "11.28", "currency": "PLN"},
        [line("2", "8.90", "17.80"), line("1", "42.50", "42.50")], photo=False),
    till("restaurant slip", "es", """
!  BAR EL PULPO
   Muelle 11, Puerto Alto
   N.I.F. ESB61666731
Factura simplificada 2026-4471
14/10/2026 15:20   Mesa 6

2 Menú del día    14,50  29,00
1 Pulpo a feira          18,00
3 Agua             1,80   5,40
        Base           47,64
        IVA 10%         4,76
!TOTAL EUR        52,40
Entregado 60,00  Cambio 7,60
    Gracias por su visita
""", {"number": "2026-4471", "issue_date": "2026-10-14", "seller.name": "BAR EL PULPO", "seller.tax_id": "ESB61666731", "gross_total": "52.40", "net_total": "47.64", "tax_total": "4.76", "currency": "EUR"},
        [line("2", "14.50", "29.00"), line("1", None, "18.00"), line("3", "1.80", "5.40")]),
    till("restaurant slip", "fr", """
      CHEZ MADELEINE
   3 place du Môle 44990 Port-Sablé
   SIRET 416 492 924 00017
Ticket 0088  table 4  2 couverts
le 03/11/2026 à 13:05
 2 PLAT DU JOUR      32,00
 1 CAFE GOURMAND      8,50
 1 CARAFE CIDRE       9,00
TOTAL              49,50 EUR
dont TVA 10%        3,73
dont TVA 20%        1,50
CB                 49,50
""", {"number": "0088", "issue_date": "2026-11-03", "seller.name": "CHEZ MADELEINE", "gross_total": "49.50", "tax_total": "5.23", "currency": "EUR"},
        [line("2", None, "32.00"), line("1", None, "8.50"), line("1", None, "9.00")], photo=False),
    till("parking slip", "de", """
!PARKHAUS AM SIEL
Stadtwerke Merrowhafen
St.-Nr. 61/220/01187
Quittung 1188274
Einfahrt 05.11.26 08:14
Ausfahrt 05.11.26 16:40
Entgelt           12,00 EUR
inkl. 19% MwSt     1,92 EUR
bezahlt bar       20,00 EUR
Rückgeld           8,00 EUR
Gute Fahrt!
""", {"number": "1188274", "issue_date": "2026-11-05", "seller.name": "Stadtwerke Merrowhafen", "gross_total": "12.00", "tax_total": "1.92", "currency": "EUR"},
        [line(None, None, "12.00")]),
    till("parking slip", "en", """
 HARBOUR CAR PARK
 Merrowmere Council
 Pay station 3
 Ticket no.   77120-8
 In   9 Nov 2026 09:10
 Out  9 Nov 2026 12:55
 Tariff 4 hours
 Paid by card       GBP 6.40
 VAT incl. 20%      GBP 1.07
 VAT reg. 535 9126 91
""", {"number": "77120-8", "issue_date": "2026-11-09", "seller.name": "Merrowmere Council", "seller.tax_id": "535912691", "gross_total": "6.40", "tax_total": "1.07", "currency": "GBP"},
        [line(None, None, "6.40")]),
    till("filling station slip", "da", """
   TANKEN NORDVIG
   Ringvej 2, 9999 Nordvig
   CVR 43638084
Kvittering 009912
Dato 18-10-2026  kl. 07:31
Stander 4  Diesel
  42,18 L x 13,49       569,01
Kaffe                    25,00
I ALT  DKK              594,01
heraf moms 25%          118,80
Kort ****4471           594,01
""", {"number": "009912", "issue_date": "2026-10-18", "seller.name": "TANKEN NORDVIG", "seller.tax_id": "43638084", "gross_total": "594.01", "tax_total": "118.80", "currency": "DKK"},
        [line("42.18", "13.49", "569.01"), line(None, None, "25.00")]),
    till("filling station slip", "nl", """
 VAN OMMEN TANKSTATION
 Dijk 1, 1991 CB Duinrand
 BTW NL405261305B06
 Bon 2026-11882  pomp 2
 30-10-2026 18:22
 Euro 95
 38,40 l   x 1,989     76,38
 Ruitensproeier         4,95
 ---------------------------
 TOTAAL EUR            81,33
 BTW 21% over 67,21    14,12
 PIN                   81,33
""", {"number": "2026-11882", "issue_date": "2026-10-30", "seller.name": "VAN OMMEN TANKSTATION", "seller.tax_id": "NL405261305B06", "gross_total": "81.33", "tax_total": "14.12", "currency": "EUR"},
        [line("38.40", "1.989", "76.38"), line(None, None, "4.95")], photo=False),
]  # fmt: skip
"""Eighteen documents of ten structures."""
