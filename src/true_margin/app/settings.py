"""Settings from the environment."""

from __future__ import annotations

from pathlib import Path

from pydantic import Field
from pydantic_settings import BaseSettings, SettingsConfigDict

PROJECT = Path(__file__).resolve().parents[3]


class AppSettings(BaseSettings):
    """Where things are.

    ``DATABASE_URL`` points at any PostgreSQL; without it the start command
    makes a private cluster in the data folder. ``TRUE_MARGIN_PRICE_FEED`` is the
    address of a price feed; without it the simulated one beside the app is asked.
    ``TRUE_MARGIN_HOST`` lets paired devices in at that address of this machine.
    """

    model_config = SettingsConfigDict(env_prefix="TRUE_MARGIN_")

    database_url: str | None = Field(default=None, validation_alias="DATABASE_URL")
    data: Path = PROJECT / "data"
    web: Path = PROJECT / "web" / "dist"
    demo: Path = PROJECT / "demo"
    price_feed: str | None = None
    host: str | None = None
    outside_port: int | None = Field(default=None, ge=1, le=65535)
    port: int = Field(default=8437, ge=1, le=65535)
