"""Settings from the environment."""

from __future__ import annotations

from pathlib import Path

from pydantic import Field
from pydantic_settings import BaseSettings, SettingsConfigDict

from true_margin.app.access import LOOPBACK_NAMES, Access

PROJECT = Path(__file__).resolve().parents[3]


class AppSettings(BaseSettings):
    """Where things are.

    ``DATABASE_URL`` points at any PostgreSQL; without it the start command
    makes a private cluster in the data folder. ``TRUE_MARGIN_PRICE_FEED`` is the
    address of a price feed; without it prices are typed.
    ``TRUE_MARGIN_RATES`` is the address or file of dated exchange rates; without it prices in
    other currencies are not converted. ``TRUE_MARGIN_STANDINS`` lets simulated services stand
    in for what is not named, as the demo does.
    ``TRUE_MARGIN_HOST`` lets paired devices in at that address of this machine; where people
    sign in (``TRUE_MARGIN_SIGN_IN``) it is where the app listens. ``TRUE_MARGIN_ADDRESS`` is
    where people reach it, when a proxy stands before it (``TRUE_MARGIN_PLAIN`` where that one
    speaks TLS). ``TRUE_MARGIN_WORKERS`` is the number of processes that serve,
    ``TRUE_MARGIN_TRUSTED_PROXIES`` names the proxies that may say for whom they ask (addresses
    or networks, with commas between), ``TRUE_MARGIN_READ_REPLICA`` a copy of the database that
    public pages are read from. ``TRUE_MARGIN_DATABASE_FOLDER`` is where the files of the
    database are, if that is on this machine: a full disk is told from a server that is away.
    """

    model_config = SettingsConfigDict(env_prefix="TRUE_MARGIN_")

    database_url: str | None = Field(default=None, validation_alias="DATABASE_URL")
    data: Path = PROJECT / "data"
    web: Path = PROJECT / "web" / "dist"
    demo: Path = PROJECT / "demo"
    price_feed: str | None = None
    rates: str | None = None
    standins: bool = False
    host: str | None = None
    outside_port: int | None = Field(default=None, ge=1, le=65535)
    port: int = Field(default=8437, ge=1, le=65535)
    sign_in: bool = False
    address: str | None = Field(default=None, pattern=r"^https?://[^/?#@\s]+$")
    read_replica: str | None = None
    database_folder: Path | None = None
    plain: bool = False
    trusted_proxies: str = "127.0.0.1"
    log: str | None = None
    workers: int = Field(default=1, ge=1, le=64)

    def access(self) -> Access:
        """Who is let in, and how."""
        if self.sign_in:
            return Access(sign_in=True, address=self.address, proxied=self.plain)
        return Access(names=LOOPBACK_NAMES)
