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


def minor_unit(currency: str) -> Decimal:
    """Give the smallest amount of a currency (ISO 4217), in its main unit.

    Example:
        >>> minor_unit("EUR"), minor_unit("JPY")
        (Decimal('0.01'), Decimal('1'))
    """
    if currency in _WHOLE:
        return Decimal(1)
    return Decimal("0.001") if currency in _THOUSANDTHS else Decimal("0.01")
