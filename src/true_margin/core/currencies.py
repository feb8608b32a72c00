"""Codes of currencies in use (ISO 4217)."""

from __future__ import annotations

from decimal import Decimal

_CODES = """
AED AFN ALL AMD ANG AOA ARS AUD AWG AZN BAM BBD BDT BGN BHD BIF BMD BND BOB BRL BSD BTN BWP
BYN BZD CAD CDF CHF CLP CNY COP CRC CUP CVE CZK DJF DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP
GEL GHS GIP GMD GNF GTQ GYD HKD HNL HTG HUF IDR ILS INR IQD IRR ISK JMD JOD JPY KES KGS KHR
KMF KPW KRW KWD KYD KZT LAK LBP LKR LRD LSL LYD MAD MDL MGA MKD MMK MNT MOP MRU MUR MVR MWK
MXN MYR MZN NAD NGN NIO NOK NPR NZD OMR PAB PEN PGK PHP PKR PLN PYG QAR RON RSD RUB RWF SAR
SBD SCR SDG SEK SGD SHP SLE SOS SRD SSP STN SVC SYP SZL THB TJS TMT TND TOP TRY TTD TWD TZS
UAH UGX USD UYU UZS VED VES VND VUV WST XAF XCD XOF XPF YER ZAR ZMW ZWG
"""
CURRENCIES = frozenset(_CODES.split())

_WHOLE = frozenset(
    "BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX UYI VND VUV XAF XOF XPF".split()  # noqa: SIM905
)
_THOUSANDTHS = frozenset("BHD IQD JOD KWD LYD OMR TND".split())  # noqa: SIM905


def minor_digits(currency: str) -> int:
    """Give how many decimals an amount of a currency has (ISO 4217).

    Example:
        >>> minor_digits("EUR"), minor_digits("JPY"), minor_digits("KWD")
        (2, 0, 3)
    """
    return 0 if currency in _WHOLE else 3 if currency in _THOUSANDTHS else 2


def minor_unit(currency: str) -> Decimal:
    """Give the smallest amount of a currency (ISO 4217), in its main unit.

    Example:
        >>> minor_unit("EUR"), minor_unit("JPY")
        (Decimal('0.01'), Decimal('1'))
    """
    return Decimal(1).scaleb(-minor_digits(currency))


def kept_amount(amount: Decimal, currency: str) -> Decimal:
    """Give an amount with the decimals that it is kept with: two, or those of its currency.

    Example:
        >>> kept_amount(Decimal("12.300"), "EUR"), kept_amount(Decimal("1.234"), "KWD")
        (Decimal('12.30'), Decimal('1.234'))
    """
    return amount.quantize(Decimal(1).scaleb(-max(2, minor_digits(currency))))
