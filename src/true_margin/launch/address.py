"""Where people reach the app."""

from __future__ import annotations

from true_margin.app.settings import AppSettings
from true_margin.launch.certificate import own_addresses
from true_margin.launch.errors import StartError

HOST = "127.0.0.1"
LOOPBACK = ("127.0.0.1", "localhost", "::1")


def is_outside(host: str | None) -> bool:
    """Whether an address lies beyond loopback."""
    return host is not None and host not in LOOPBACK


def where_served(settings: AppSettings) -> AppSettings:
    """Settings with the address at which people reach the app, where they sign in.

    Raises:
        StartError: passwords would travel in the open.
    """
    if not settings.sign_in:
        return settings
    beyond = is_outside(settings.host)
    if settings.plain and not (settings.address or "").startswith("https://"):
        raise StartError(
            "Without TLS of its own True Margin needs a proxy that has it: say where people "
            "reach it, with --address https://…"
        )
    if settings.address is not None:
        return settings
    name = own_addresses(settings.host or HOST)[0] if beyond else HOST
    scheme = "https" if beyond else "http"
    return settings.model_copy(update={"address": f"{scheme}://{name}:{settings.port}"})
