"""Foreign files are opened in a process of their own, with limits of time, memory and size.

Whatever a file does to the library that reads it (an expression that never ends, a gigabyte of pixels, a crash), it does to a
process that holds nothing else and is ended at its limit; the person reads a sentence. One mechanism serves all formats: a process
that has the readers loaded (`formats.opener`) forks for each file, so that opening one costs some ten milliseconds.
"""

from __future__ import annotations

import atexit
import json
import logging
import os
import socket
import subprocess
import sys
import threading
import time
from contextlib import suppress
from dataclasses import dataclass
from typing import Any

from longbreath.core.basis.errors import InputError
from longbreath.formats.opener import DAMAGED, READY, receive, send
from longbreath.formats.readers import Told

SECONDS = 4.0
"""Time of the processor that a file may take to open [s]; the libraries are loaded before."""
CLOCK = 60.0
"""Longest that it may take by the clock [s]: far longer, so that no file is refused because the machine is busy."""
STARTING = 30.0
"""Longest that the process may take to load its libraries [s]; it does so once, while the first page is shown."""
MEMORY = 144 * 1024 * 1024
"""Most memory that a file may take beyond what the readers take without one [bytes]."""
ENDING = 0.5
"""Seconds that a killed process may take to be gone."""
ANSWER = 64 * 1024 * 1024
"""Longest answer of a reader [bytes]."""
LARGE_SECONDS, LARGE_CLOCK = 120.0, 1800.0
LARGE_MEMORY, LARGE_ANSWER = 1800 * 1024 * 1024, 320 * 1024 * 1024
"""The same for a large file that a worker opens: nobody waits for a page."""
AT_ONCE = max(2, os.cpu_count() or 1)
"""Files opened side by side; more wait."""
TOLD = ("PATH", "HOME", "LANG", "LC_ALL", "PYTHONPATH")
"""What that process is told of the environment: no address of a database, no key."""
SHARED = 1 << 20
"""Files from this size on [bytes] are handed over by a piece of memory, not through the socket."""
BUSY = "Other files are being opened just now. Try again in a moment; nothing was taken in."
TOO_LONG = (
    "{name} took longer than {seconds:.0f} s to open and was given up. Simplify it, or export it anew with less in it."
)

_log = logging.getLogger(__name__)


class _Opener:
    """The line to the process that opens files; it is started when it is first needed, and anew if it is gone."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._orders: socket.socket | None = None
        self._process: subprocess.Popen[bytes] | None = None
        self.turns = threading.BoundedSemaphore(AT_ONCE)

    def wire(self) -> socket.socket:
        """A socket to a child that waits for one file."""
        here, there = socket.socketpair()
        with there, self._lock:
            try:
                self._hand_over(there)
            except OSError:  # it was killed: another one takes its place
                self._orders = None
                self._hand_over(there)
        return here

    def is_gone(self) -> bool:
        """Whether the process has ended, or is about to: a killed one lets go of its sockets before it is gone."""
        with suppress(subprocess.TimeoutExpired):
            return self._process is None or self._process.wait(ENDING) is not None
        return False

    def close(self) -> None:
        """Let the process go."""
        with self._lock:
            if self._orders is not None:
                self._orders.close()
            if self._process is not None:
                self._process.wait(STARTING)
            self._orders = self._process = None

    def _hand_over(self, wire: socket.socket) -> None:
        if self._orders is None:
            self._orders, theirs = socket.socketpair(socket.AF_UNIX, socket.SOCK_SEQPACKET)
            with theirs:
                command = [sys.executable, "-m", "longbreath.formats.opener"]
                told = {name: os.environ[name] for name in TOLD if name in os.environ}
                self._process = subprocess.Popen(
                    command, stdin=theirs.fileno(), stdout=subprocess.DEVNULL, start_new_session=True, env=told
                )
            self._orders.settimeout(STARTING)
            if self._orders.recv(1) != READY:
                raise ConnectionError("the opener did not start")
        socket.send_fds(self._orders, [b"."], [wire.fileno()])


_opener = _Opener()
atexit.register(_opener.close)


@dataclass(frozen=True)
class Limits:
    """What a file may take: time of the processor [s], memory [bytes], length of the answer [bytes], time by the clock [s]."""

    seconds: float = SECONDS
    memory: int = MEMORY
    answer: int = ANSWER
    clock: float = CLOCK


LARGE = Limits(LARGE_SECONDS, LARGE_MEMORY, LARGE_ANSWER, LARGE_CLOCK)


def opened(kind: str, data: bytes, name: str = "This file", limits: Limits | None = None, **told: Any) -> Told:
    """Read `data` by the reader of a kind, in a process of its own. `told` goes to the reader and is JSON-ready.

    Raises InputError (field "file") with a sentence for whatever the reader refuses, takes too long or too much for, or breaks on.
    """
    if not _opener.turns.acquire(timeout=CLOCK / 2):
        raise InputError(BUSY, "file")
    try:
        held = limits or Limits(SECONDS, MEMORY, ANSWER, CLOCK)
        answer, block = _asked(kind, data, told, held)
    finally:
        _opener.turns.release()
    if "facts" in answer:
        return answer["facts"], block
    if why := answer.get("why"):
        _log.warning("a file was not opened: %s, %d bytes, %s", kind, len(data), why)
    raise InputError(str(answer["refused"]).format(name=name, seconds=held.seconds), answer.get("field", "file"))


def warm() -> None:
    """Start the process, so that the first file need not wait for its libraries."""
    with suppress(InputError, OSError):
        opened("outline", b"", filename="none.csv")


def _asked(
    kind: str, data: bytes, told: dict[str, Any], held: Limits, again: bool = True
) -> tuple[dict[str, Any], bytes]:
    order = {"kind": kind, "told": told, "seconds": held.seconds, "clock": held.clock, "memory": held.memory}
    order["shared"] = len(data) >= SHARED
    try:
        line = _opener.wire()
    except OSError:
        raise InputError(BUSY, "file") from None
    with line as wire:
        began = time.monotonic()
        wire.settimeout(held.clock)
        try:
            if order["shared"]:
                send(wire, json.dumps(order).encode())
                _share(wire, data)
            else:
                send(wire, json.dumps(order).encode(), data)
            answer: dict[str, Any] = json.loads(receive(wire, held.answer))
            return answer, receive(wire, held.answer)
        except (EOFError, OSError):
            late = (
                time.monotonic() - began > 0.9 * held.seconds
            )  # less by the clock cannot be that much of the processor
    if again and not late and _opener.is_gone():  # it was killed with the file in hand: that says nothing of the file
        return _asked(kind, data, told, held, again=False)
    return {"refused": TOO_LONG if late else DAMAGED, "why": "given up" if late else "its process ended"}, b""


def _share(wire: socket.socket, data: bytes) -> None:
    memory = os.memfd_create("file")
    try:
        with open(memory, "wb", closefd=False) as out:
            out.write(data)
        os.lseek(memory, 0, os.SEEK_SET)
        socket.send_fds(wire, [b"."], [memory])
    finally:
        os.close(memory)
