"""A client that costs next to nothing, so that what is measured is the server.

It knows as much of HTTP as the load needs: one connection, requests one after the other,
bodies by length or in pieces, thrown away as they come.
"""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator
from urllib.parse import urlsplit


class PlainClient:
    """One connection to a server, opened again when it was lost."""

    def __init__(self, address: str, cookie: str = "") -> None:
        """Prepare; nothing is opened yet.

        Args:
            address: such as ``http://127.0.0.1:8437``.
            cookie: sent with every request.
        """
        parts = urlsplit(address)
        self._host, self._port = parts.hostname or "", parts.port or 80
        self._common = f"Host: {parts.netloc}\r\nAccept-Encoding: gzip\r\n"
        if cookie:
            self._common += f"Cookie: {cookie}\r\n"
        self._reader: asyncio.StreamReader | None = None
        self._writer: asyncio.StreamWriter | None = None

    async def ask(self, method: str, path: str, body: bytes = b"") -> tuple[int, bytes]:
        """Ask once; gives the status, and the body as it came.

        Raises:
            OSError: the connection was lost.
        """
        reader = await self._send(method, path, body)
        status, headers = await self._head(reader)
        if b"chunked" in headers.get(b"transfer-encoding", b""):
            found = b"".join([piece async for piece in self._pieces(reader)])
        else:
            found = await reader.readexactly(int(headers.get(b"content-length", b"0")))
        if headers.get(b"connection") == b"close":
            self.close()
        return status, found

    async def follow(self, path: str) -> AsyncIterator[bytes]:
        """Read what comes without end, piece by piece."""
        reader = await self._send("GET", path, b"")
        status, _ = await self._head(reader)
        if status != 200:
            raise ConnectionError(f"answered {status}")
        async for piece in self._pieces(reader):
            yield piece

    async def _send(self, method: str, path: str, body: bytes) -> asyncio.StreamReader:
        if self._writer is None or self._writer.is_closing() or self._reader is None:
            self._reader, self._writer = await asyncio.open_connection(self._host, self._port)
        kind = "Content-Type: application/json\r\n" if body else ""
        head = (
            f"{method} {path} HTTP/1.1\r\n{self._common}{kind}Content-Length: {len(body)}\r\n\r\n"
        )
        self._writer.write(head.encode() + body)
        await self._writer.drain()
        return self._reader

    async def _head(self, reader: asyncio.StreamReader) -> tuple[int, dict[bytes, bytes]]:
        try:
            lines = (await reader.readuntil(b"\r\n\r\n")).split(b"\r\n")
        except asyncio.IncompleteReadError as error:
            self.close()
            raise ConnectionError("closed") from error
        pairs = (line.split(b": ", 1) for line in lines[1:] if b": " in line)
        return int(lines[0].split()[1]), {name.lower(): value for name, value in pairs}

    async def _pieces(self, reader: asyncio.StreamReader) -> AsyncIterator[bytes]:
        while size := int((await reader.readline()).strip() or b"0", 16):
            yield (await reader.readexactly(size + 2))[:-2]
        await reader.readline()

    def close(self) -> None:
        """Close the connection."""
        if self._writer is not None:
            self._writer.close()
        self._reader = self._writer = None
