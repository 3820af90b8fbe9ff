"""Where the two syntaxes of EN 16931-3 keep the terms of EN 16931-1, as XPath expressions.

Sources: EN 16931-3-2 (UBL 2.1 Invoice and CreditNote) and EN 16931-3-3 (UN/CEFACT CII
D16B). The first path that gives something counts.
"""

from dataclasses import dataclass
from typing import Final

UBL: Final = "urn:oasis:names:specification:ubl:schema:xsd:"
_UN: Final = "urn:un:unece:uncefact:data:standard:"

Paths = dict[str, tuple[str, ...]]


@dataclass(frozen=True, kw_only=True, slots=True)
class Syntax:
    """One syntax.

    Attributes:
        title: for people.
        namespaces: prefixes of the paths.
        kind: path of the document type code (UNTDID 1001).
        header, line, tax: paths of fields and cells by their names.
        lines, taxes: paths of the lines (BG-25) and of the tax breakdown (BG-23).
        allowances, line_charges: paths, from a line, of amounts taken off it (BT-136) and put on
            it (BT-141).
        taken_off, put_on: paths of allowances (BG-20) and charges (BG-21) of the whole invoice.
        adjustment: paths of their cells.
        period: paths of its first and last day (BT-73, BT-74).
    """

    title: str
    namespaces: dict[str, str]
    kind: str
    header: Paths
    lines: str
    line: Paths
    taxes: str
    tax: Paths
    allowances: str
    line_charges: str
    taken_off: str
    put_on: str
    adjustment: Paths
    period: tuple[str, str]


def _paths(rows: str) -> Paths:
    found = {}
    for row in rows.strip().splitlines():
        name, paths = row.split(None, 1)
        found[name] = tuple(path.strip() for path in paths.split(" or "))
    return found


_VAT = "cac:PartyTaxScheme[cac:TaxScheme/cbc:ID='VAT']/cbc:CompanyID"
_SELLER = "cac:AccountingSupplierParty/cac:Party"
_BUYER = "cac:AccountingCustomerParty/cac:Party"
_SUM = "cac:LegalMonetaryTotal"

UBL_21: Final = Syntax(
    title="UBL 2.1",
    namespaces={
        "cbc": UBL + "CommonBasicComponents-2",
        "cac": UBL + "CommonAggregateComponents-2",
    },
    kind="cbc:InvoiceTypeCode | cbc:CreditNoteTypeCode",
    header=_paths(f"""
number            cbc:ID
issue_date        cbc:IssueDate
currency          cbc:DocumentCurrencyCode
tax_currency      cbc:TaxCurrencyCode
tax_point         cbc:TaxPointDate
due_date          cbc:DueDate or cac:PaymentMeans/cbc:PaymentDueDate
buyer_reference   cbc:BuyerReference
contract_number   cac:ContractDocumentReference/cbc:ID
order_number      cac:OrderReference/cbc:ID
delivery_note     cac:DespatchDocumentReference/cbc:ID
payment_terms     cac:PaymentTerms/cbc:Note
preceding_number  cac:BillingReference/cac:InvoiceDocumentReference/cbc:ID
delivery_date     cac:Delivery/cbc:ActualDeliveryDate
seller.name       {_SELLER}/cac:PartyLegalEntity/cbc:RegistrationName or {_SELLER}/cac:PartyName/cbc:Name
seller.registration {_SELLER}/cac:PartyLegalEntity/cbc:CompanyID
seller.tax_id     {_SELLER}/{_VAT}
seller.address    {_SELLER}/cac:PostalAddress
buyer.name        {_BUYER}/cac:PartyLegalEntity/cbc:RegistrationName or {_BUYER}/cac:PartyName/cbc:Name
buyer.tax_id      {_BUYER}/{_VAT}
buyer.address     {_BUYER}/cac:PostalAddress
payee.name        cac:PayeeParty/cac:PartyName/cbc:Name
payment_means     cac:PaymentMeans/cbc:PaymentMeansCode
payment_reference cac:PaymentMeans/cbc:PaymentID
account           cac:PaymentMeans/cac:PayeeFinancialAccount/cbc:ID
bic               cac:PaymentMeans/cac:PayeeFinancialAccount/cac:FinancialInstitutionBranch/cbc:ID
lines_total       {_SUM}/cbc:LineExtensionAmount
allowances        {_SUM}/cbc:AllowanceTotalAmount
charges           {_SUM}/cbc:ChargeTotalAmount
net_total         {_SUM}/cbc:TaxExclusiveAmount
tax_total         cac:TaxTotal/cbc:TaxAmount[@currencyID=/*/cbc:DocumentCurrencyCode]
tax_total_accounting cac:TaxTotal/cbc:TaxAmount[@currencyID=/*/cbc:TaxCurrencyCode and not(@currencyID=/*/cbc:DocumentCurrencyCode)]
exemption_reason  cac:TaxTotal/cac:TaxSubtotal/cac:TaxCategory/cbc:TaxExemptionReason
gross_total       {_SUM}/cbc:TaxInclusiveAmount
prepaid           {_SUM}/cbc:PrepaidAmount
rounding          {_SUM}/cbc:PayableRoundingAmount
amount_due        {_SUM}/cbc:PayableAmount
"""),
    lines="cac:InvoiceLine | cac:CreditNoteLine",
    line=_paths("""
id           cbc:ID
item_code    cac:Item/cac:SellersItemIdentification/cbc:ID or cac:Item/cac:BuyersItemIdentification/cbc:ID or cac:Item/cac:StandardItemIdentification/cbc:ID
description  cac:Item/cbc:Name or cac:Item/cbc:Description
quantity     cbc:InvoicedQuantity | cbc:CreditedQuantity
unit         cbc:InvoicedQuantity/@unitCode | cbc:CreditedQuantity/@unitCode
unit_price   cac:Price/cbc:PriceAmount
price_base   cac:Price/cbc:BaseQuantity
tax_category cac:Item/cac:ClassifiedTaxCategory/cbc:ID
tax_rate     cac:Item/cac:ClassifiedTaxCategory/cbc:Percent
amount       cbc:LineExtensionAmount
order_number cac:OrderLineReference/cac:OrderReference/cbc:ID
order_line   cac:OrderLineReference/cbc:LineID
"""),
    taxes="cac:TaxTotal[cbc:TaxAmount/@currencyID=/*/cbc:DocumentCurrencyCode]/cac:TaxSubtotal",
    tax=_paths("""
category  cac:TaxCategory/cbc:ID
rate      cac:TaxCategory/cbc:Percent
base      cbc:TaxableAmount
amount    cbc:TaxAmount
reason    cac:TaxCategory/cbc:TaxExemptionReason
"""),
    allowances="cac:AllowanceCharge[cbc:ChargeIndicator='false']/cbc:Amount",
    line_charges="cac:AllowanceCharge[cbc:ChargeIndicator='true']/cbc:Amount",
    taken_off="cac:AllowanceCharge[cbc:ChargeIndicator='false']",
    put_on="cac:AllowanceCharge[cbc:ChargeIndicator='true']",
    adjustment=_paths("""
reason        cbc:AllowanceChargeReason
base          cbc:BaseAmount
percent       cbc:MultiplierFactorNumeric
tax_category  cac:TaxCategory/cbc:ID
tax_rate      cac:TaxCategory/cbc:Percent
amount        cbc:Amount
"""),
    period=("cac:InvoicePeriod/cbc:StartDate", "cac:InvoicePeriod/cbc:EndDate"),
)

_T = "rsm:SupplyChainTradeTransaction"
_A = f"{_T}/ram:ApplicableHeaderTradeAgreement"
_D = f"{_T}/ram:ApplicableHeaderTradeDelivery"
_S = f"{_T}/ram:ApplicableHeaderTradeSettlement"
_M = f"{_S}/ram:SpecifiedTradeSettlementHeaderMonetarySummation"
_PAY = f"{_S}/ram:SpecifiedTradeSettlementPaymentMeans/ram:PayeePartyCreditorFinancialAccount"
_VA = "ram:SpecifiedTaxRegistration/ram:ID[@schemeID='VA']"
_LS = "ram:SpecifiedLineTradeSettlement"

CII: Final = Syntax(
    title="UN/CEFACT CII",
    namespaces={
        "rsm": _UN + "CrossIndustryInvoice:100",
        "ram": _UN + "ReusableAggregateBusinessInformationEntity:100",
        "udt": _UN + "UnqualifiedDataType:100",
        "qdt": _UN + "QualifiedDataType:100",
    },
    kind="rsm:ExchangedDocument/ram:TypeCode",
    header=_paths(f"""
number            rsm:ExchangedDocument/ram:ID
issue_date        rsm:ExchangedDocument/ram:IssueDateTime/udt:DateTimeString
currency          {_S}/ram:InvoiceCurrencyCode
tax_currency      {_S}/ram:TaxCurrencyCode
tax_point         {_S}/ram:ApplicableTradeTax/ram:TaxPointDate/udt:DateString
due_date          {_S}/ram:SpecifiedTradePaymentTerms/ram:DueDateDateTime/udt:DateTimeString
buyer_reference   {_A}/ram:BuyerReference
contract_number   {_A}/ram:ContractReferencedDocument/ram:IssuerAssignedID
order_number      {_A}/ram:BuyerOrderReferencedDocument/ram:IssuerAssignedID
delivery_note     {_D}/ram:DespatchAdviceReferencedDocument/ram:IssuerAssignedID
payment_terms     {_S}/ram:SpecifiedTradePaymentTerms/ram:Description
preceding_number  {_S}/ram:InvoiceReferencedDocument/ram:IssuerAssignedID
delivery_date     {_D}/ram:ActualDeliverySupplyChainEvent/ram:OccurrenceDateTime/udt:DateTimeString
seller.name       {_A}/ram:SellerTradeParty/ram:Name
seller.registration {_A}/ram:SellerTradeParty/ram:SpecifiedLegalOrganization/ram:ID
seller.tax_id     {_A}/ram:SellerTradeParty/{_VA}
seller.address    {_A}/ram:SellerTradeParty/ram:PostalTradeAddress
buyer.name        {_A}/ram:BuyerTradeParty/ram:Name
buyer.tax_id      {_A}/ram:BuyerTradeParty/{_VA}
buyer.address     {_A}/ram:BuyerTradeParty/ram:PostalTradeAddress
payee.name        {_S}/ram:PayeeTradeParty/ram:Name
payment_means     {_S}/ram:SpecifiedTradeSettlementPaymentMeans/ram:TypeCode
payment_reference {_S}/ram:PaymentReference
account           {_PAY}/ram:IBANID or {_PAY}/ram:ProprietaryID
bic               {_S}/ram:SpecifiedTradeSettlementPaymentMeans/ram:PayeeSpecifiedCreditorFinancialInstitution/ram:BICID
lines_total       {_M}/ram:LineTotalAmount
allowances        {_M}/ram:AllowanceTotalAmount
charges           {_M}/ram:ChargeTotalAmount
net_total         {_M}/ram:TaxBasisTotalAmount
tax_total         {_M}/ram:TaxTotalAmount[@currencyID=//ram:InvoiceCurrencyCode] or {_M}/ram:TaxTotalAmount
tax_total_accounting {_M}/ram:TaxTotalAmount[@currencyID=//ram:TaxCurrencyCode and not(@currencyID=//ram:InvoiceCurrencyCode)]
exemption_reason  {_S}/ram:ApplicableTradeTax/ram:ExemptionReason
gross_total       {_M}/ram:GrandTotalAmount
prepaid           {_M}/ram:TotalPrepaidAmount
rounding          {_M}/ram:RoundingAmount
amount_due        {_M}/ram:DuePayableAmount
"""),
    lines=f"{_T}/ram:IncludedSupplyChainTradeLineItem",
    line=_paths(f"""
id           ram:AssociatedDocumentLineDocument/ram:LineID
item_code    ram:SpecifiedTradeProduct/ram:SellerAssignedID or ram:SpecifiedTradeProduct/ram:BuyerAssignedID or ram:SpecifiedTradeProduct/ram:GlobalID
description  ram:SpecifiedTradeProduct/ram:Name or ram:SpecifiedTradeProduct/ram:Description
quantity     ram:SpecifiedLineTradeDelivery/ram:BilledQuantity
unit         ram:SpecifiedLineTradeDelivery/ram:BilledQuantity/@unitCode
unit_price   ram:SpecifiedLineTradeAgreement/ram:NetPriceProductTradePrice/ram:ChargeAmount
price_base   ram:SpecifiedLineTradeAgreement/ram:NetPriceProductTradePrice/ram:BasisQuantity
tax_category {_LS}/ram:ApplicableTradeTax/ram:CategoryCode
tax_rate     {_LS}/ram:ApplicableTradeTax/ram:RateApplicablePercent
amount       {_LS}/ram:SpecifiedTradeSettlementLineMonetarySummation/ram:LineTotalAmount
order_number ram:SpecifiedLineTradeAgreement/ram:BuyerOrderReferencedDocument/ram:IssuerAssignedID
order_line   ram:SpecifiedLineTradeAgreement/ram:BuyerOrderReferencedDocument/ram:LineID
"""),
    taxes=f"{_S}/ram:ApplicableTradeTax",
    tax=_paths("""
category  ram:CategoryCode
rate      ram:RateApplicablePercent
base      ram:BasisAmount
amount    ram:CalculatedAmount
reason    ram:ExemptionReason
"""),
    allowances=f"{_LS}/ram:SpecifiedTradeAllowanceCharge[ram:ChargeIndicator/udt:Indicator='false']/ram:ActualAmount",
    line_charges=f"{_LS}/ram:SpecifiedTradeAllowanceCharge[ram:ChargeIndicator/udt:Indicator='true']/ram:ActualAmount",
    taken_off=f"{_S}/ram:SpecifiedTradeAllowanceCharge[ram:ChargeIndicator/udt:Indicator='false']",
    put_on=f"{_S}/ram:SpecifiedTradeAllowanceCharge[ram:ChargeIndicator/udt:Indicator='true']",
    adjustment=_paths("""
reason        ram:Reason
base          ram:BasisAmount
percent       ram:CalculationPercent
tax_category  ram:CategoryTradeTax/ram:CategoryCode
tax_rate      ram:CategoryTradeTax/ram:RateApplicablePercent
amount        ram:ActualAmount
"""),
    period=(
        f"{_S}/ram:BillingSpecifiedPeriod/ram:StartDateTime/udt:DateTimeString",
        f"{_S}/ram:BillingSpecifiedPeriod/ram:EndDateTime/udt:DateTimeString",
    ),
)

ROOTS: Final = {
    f"{{{UBL}Invoice-2}}Invoice": UBL_21,
    f"{{{UBL}CreditNote-2}}CreditNote": UBL_21,
    f"{{{_UN}CrossIndustryInvoice:100}}CrossIndustryInvoice": CII,
}
"""Syntaxes by the name of their root."""

NATIONAL: Final = (
    ("FatturaElettronica", "fatturapa.gov.it", "an Italian FatturaPA"),
    ("FatturaElettronica", "ivaservizi", "an Italian FatturaPA"),
    ("Faktura", "crd.gov.pl", "a Polish structured invoice"),
    ("Facturae", "facturae", "a Spanish Facturae"),
)
"""National forms that are told apart but not read: root, part of its namespace, name."""
