"""What PostgreSQL passes on between processes: one tells, all who listen hear it (LISTEN and NOTIFY)."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any

import psycopg
from psycopg import sql
from sqlalchemy import Engine, func, select
from sqlalchemy.orm import Session

LINES = "longbreath_lines"
"""New values of instruments; the payload is the number of the line."""
COMMANDS = "longbreath_commands"
"""Words for a stand-in; the payload is JSON with its address and the words."""
AGAIN = 2.0
"""Seconds until a lost connection is looked for again."""


def tell(work: Session, channel: str, payload: str) -> None:
    """Tell all who listen on a channel, once the transaction is committed."""
    work.execute(select(func.pg_notify(channel, payload)))


class Notices:
    """Listens on a channel in a thread of its own, for as long as it is open; a lost connection is looked for again."""

    def __init__(self, engine: Engine, channel: str, heard: Callable[[str], None] = lambda payload: None) -> None:
        self._url = engine.url.set(drivername="postgresql").render_as_string(hide_password=False)
        self._channel, self._heard = channel, heard
        self._news, self._closed = threading.Condition(), threading.Event()
        self._thread = threading.Thread(target=self._run, name=f"listens on {channel}", daemon=True)
        self._thread.start()

    def wait(self, timeout: float) -> None:
        """Wait for the next word, or until the timeout [s] has passed."""
        with self._news:
            self._news.wait(timeout)

    def close(self) -> None:
        """Listen no more."""
        self._closed.set()
        self._thread.join(timeout=3)

    def _run(self) -> None:
        while not self._closed.is_set():
            try:
                with psycopg.connect(self._url, autocommit=True, connect_timeout=5) as connection:
                    self._listen(connection)
            except psycopg.Error:
                self._closed.wait(AGAIN)

    def _listen(self, connection: psycopg.Connection[Any]) -> None:
        connection.execute(sql.SQL("listen {}").format(sql.Identifier(self._channel)))
        while not self._closed.is_set():
            for notice in connection.notifies(timeout=0.5):
                self._heard(notice.payload)
                with self._news:
                    self._news.notify_all()
                if self._closed.is_set():
                    break
