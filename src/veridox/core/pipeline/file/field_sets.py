"""Sets of fields that ship for kinds of documents beside invoices."""

from typing import Final

from veridox.core.reading import ExtraField, FieldSpec, FieldType, Kind


def _set(kind: Kind, rows: str) -> tuple[ExtraField, ...]:
    """`name | type | title | labels, with commas | example or choices` per line."""
    found = []
    for row in rows.strip().splitlines():
        name, type_, title, labels, form = (part.strip() for part in row.split("|"))
        chosen = FieldType(type_)
        choices = tuple(form.split("/")) if chosen is FieldType.CHOICE else ()
        found.append(
            ExtraField(
                name=name,
                spec=FieldSpec(type=chosen, term="", title=title, choices=choices),
                labels=tuple(label.strip() for label in labels.split(",")),
                example="" if choices else form,
                kinds=frozenset({kind}),
            )
        )
    return tuple(found)


FIELD_SETS: Final[dict[str, tuple[ExtraField, ...]]] = {
    "till receipt": _set(Kind.TILL_RECEIPT, """
        till_time    | text   | Time             | time, uhrzeit, heure, hora, ora, tijd, godzina, tid | 12:45
        till_number  | text   | Till             | till, till no, kasse, kassen-nr, caisse, caja, cassa, kassa, kasa, caixa |
        served_by    | text   | Served by        | served by, cashier, bediener, es bediente sie, servi par, le atendió, operatore, kasjer |
        tip          | money  | Tip              | tip, gratuity, service charge, trinkgeld, pourboire, propina, mancia, fooi, napiwek, gorjeta, dricks |
        paid_with    | choice | Paid with        | paid by, payment, payment method, tender, bezahlt mit, zahlart, zahlungsart, mode de paiement, forma de pago, pagamento, betaalwijze, płatność, betalsätt | cash/card/voucher/bar/karte/espèces/carte/efectivo/tarjeta/contanti/carta/contant/pin/gotówka/karta/numerário/cartão/kontant/kort
        card_ending  | text   | Card ends in     | card, card no, card number, karte, kartennummer, carte, tarjeta, carta, kaart, cartão, kort | ****1234
    """),
    "purchase order": _set(Kind.PURCHASE_ORDER, """
        requested_by | text   | Requested by     | requested by, ordered by, buyer, contact, besteller, bestellt von, angefordert von, demandé par, acheteur, solicitado por, richiesto da, besteld door, zamawiający, pedido por, beställare |
        deliver_by   | date   | Deliver by       | deliver by, delivery by, required by, needed by, wanted, liefertermin, lieferung bis, livraison au plus tard, fecha de entrega, consegna entro, leveren voor, termin dostawy, prazo de entrega, önskad leverans |
        deliver_to   | text   | Deliver to       | deliver to, ship to, delivery address, lieferanschrift, lieferadresse, adresse de livraison, entregar en, consegnare a, afleveradres, adres dostawy, local de entrega, leveransadress |
        delivery_terms | text | Delivery terms   | delivery terms, incoterms, terms of delivery, lieferbedingung, conditions de livraison, condiciones de entrega, termini di resa, leveringsvoorwaarden, warunki dostawy, condições de entrega, leveransvillkor |
        quote_number | text   | Quote number     | quote no, quotation, your quote, your offer, angebot, ihr angebot, devis, votre devis, presupuesto, offerta, preventivo, offerte, oferta, orçamento, offert |
    """),
}  # fmt: skip
"""By kind of document."""
