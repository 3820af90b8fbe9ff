"""ISO 4217 currency codes and the number of digits of their minor unit."""

from typing import Final

_TWO_DIGITS = ["AED", "AFN", "ALL", "AMD", "AOA", "ARS", "AUD", "AWG", "AZN", "BAM", "BBD", "BDT", "BMD", "BND", "BOB", "BRL", "BSD", "BTN", "BWP", "BYN", "BZD", "CAD", "CDF", "CHF", "CNY", "COP", "CRC", "CUP", "CVE", "CZK", "DKK", "DOP", "DZD", "EGP", "ERN", "ETB", "EUR", "FJD", "FKP", "GBP", "GEL", "GHS", "GIP", "GMD", "GTQ", "GYD", "HKD", "HNL", "HTG", "HUF", "IDR", "ILS", "INR", "IRR", "JMD", "KES", "KGS", "KHR", "KPW", "KYD", "KZT", "LAK", "LBP", "LKR", "LRD", "LSL", "MAD", "MDL", "MGA", "MKD", "MMK", "MNT", "MOP", "MRU", "MUR", "MVR", "MWK", "MXN", "MYR", "MZN", "NAD", "NGN", "NIO", "NOK", "NPR", "NZD", "PAB", "PEN", "PGK", "PHP", "PKR", "PLN", "QAR", "RON", "RSD", "RUB", "SAR", "SBD", "SCR", "SDG", "SEK", "SGD", "SHP", "SLE", "SOS", "SRD", "SSP", "STN", "SVC", "SYP", "SZL", "THB", "TJS", "TMT", "TOP", "TRY", "TTD", "TWD", "TZS", "UAH", "USD", "UYU", "UZS", "VES", "WST", "XCD", "YER", "ZAR", "ZMW"]
_NO_DIGITS = (
    ["BIF", "CLP", "DJF", "GNF", "ISK", "JPY", "KMF", "KRW", "PYG", "RWF", "UGX", "UYI", "VND", "VUV", "XAF", "XOF", "XPF"]
)
_THREE_DIGITS = ["BHD", "IQD", "JOD", "KWD", "LYD", "OMR", "TND"]

CURRENCIES: Final[dict[str, int]] = {
    **dict.fromkeys(_TWO_DIGITS, 2),
    **dict.fromkeys(_NO_DIGITS, 0),
    **dict.fromkeys(_THREE_DIGITS, 3),
}
"""Currency code -> digits of the minor unit (ISO 4217, active codes)."""


def is_currency(code: str) -> bool:
    """Whether `code` is an active ISO 4217 alphabetic code, upper case."""
    return code in CURRENCIES


def minor_digits(code: str) -> int:
    """Digits after the decimal point of the currency's minor unit.

    Raises:
        ValueError: the code is not an active ISO 4217 code.
    """
    try:
        return CURRENCIES[code]
    except KeyError:
        raise ValueError(f"{code!r} is not an ISO 4217 currency code") from None
