"""What every route needs: the database and who is asking."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, Request

from true_margin.store.database import Database

LOCAL_PERSON = "local person"
"""On loopback there is one person; accounts come with other addresses."""


def get_database(request: Request) -> Database:
    """Give the app's database."""
    database: Database = request.app.state.database
    return database


def get_person() -> str:
    """Say who is asking."""
    return LOCAL_PERSON


DatabaseHere = Annotated[Database, Depends(get_database)]
Person = Annotated[str, Depends(get_person)]
