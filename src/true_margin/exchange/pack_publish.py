"""Tables of a data pack that hold what is published."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from true_margin.exchange.pack_rows import Name, PackRow

_Long = Annotated[str, Field(max_length=1_000_000)]


class PackScript(PackRow):
    """The script; ``verdicts`` by sentence as a person saw them last, as a JSON object."""

    text: _Long = ""
    verdicts: _Long = "{}"


class PackScriptName(PackRow):
    """Another name that the script uses for a setup."""

    name: Name
    machine: Name
    setup: Name
