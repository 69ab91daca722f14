"""A stand-in on a line: a TCP server around a simulated device, which speaks as it does and takes commands, one a line."""

from __future__ import annotations

import socket
import socketserver
import threading
import time
from collections.abc import Callable
from typing import Protocol

NAME_EVERY = 1.0
WELL, SILENT, GARBAGE, FLOOD = "well", "silent", "garbage", "flood"
LINE_FAULTS = (WELL, SILENT, GARBAGE, FLOOD)
"""What can be wrong with the line itself, whatever hangs on it."""
STAND_IN = "stand-in"
"""What every stand-in calls itself by, before what it stands in for."""
NOISE = bytes(range(128, 256)) * 40 + b"\n" + b"dyno; speed 1e9 rpm; sum 0000\n" * 40


class Simulated(Protocol):
    """What a stand-in stands for: its name, lines a second, until when its plug is out [s, monotonic], what is wrong with its line."""

    unplugged_until: float
    line: str

    @property
    def name(self) -> str: ...
    @property
    def rate(self) -> float: ...

    def speaker(self) -> Callable[[float], bytes]:
        """For one connection: what there is to say at a moment [s, monotonic]."""

    def take(self, words: str) -> str:
        """Carry out a command; the answer for people."""


class _Talk(socketserver.BaseRequestHandler):
    """One connection: lines as they come due, and commands in between."""

    def handle(self) -> None:
        server: StandIn = self.server  # type: ignore[assignment]
        device, say = server.device, server.device.speaker()
        self.request.settimeout(0.001)
        waiting, named = b"", 0.0
        while not server.stopping.is_set() and device.unplugged_until <= time.monotonic():
            try:
                got = self.request.recv(1024)
                if not got:
                    return
                *whole, waiting = (waiting + got).split(b"\n")
                for words in whole:
                    self.request.sendall(b"# " + device.take(words.decode("ascii", errors="replace")).encode() + b"\n")
            except TimeoutError:
                pass
            except OSError:
                return
            now = time.monotonic()
            try:
                if now - named > NAME_EVERY:
                    self.request.sendall(f"# name: {device.name}\n".encode())
                    named = now
                self.request.sendall(_disturbed(say(now), device.line))
            except OSError:
                return
            time.sleep(1.0 / device.rate)


def _disturbed(data: bytes, fault: str) -> bytes:
    if fault == SILENT:
        return b""
    if fault == GARBAGE:
        return b"".join(line[5:-4] + b"\x00\xff\n" for line in data.splitlines(keepends=True))
    return data + NOISE if fault == FLOOD else data


class StandIn(socketserver.ThreadingTCPServer):
    """A TCP server around one simulated device. While it is unplugged, connections are refused at once."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, device: Simulated, port: int = 0, held: int | None = None) -> None:
        """Listen on a port of loopback, or on a socket that is held open already: `held` is its number."""
        super().__init__(("127.0.0.1", port), _Talk, bind_and_activate=held is None)
        if held is not None:
            self.socket.close()
            self.socket = socket.socket(fileno=held)
            self.server_address = self.socket.getsockname()
        self.device, self.stopping = device, threading.Event()

    @property
    def url(self) -> str:
        """Its address for a driver."""
        return f"socket://127.0.0.1:{self.server_address[1]}"

    def verify_request(self, request: object, client_address: object) -> bool:
        """Hang up on anybody while the plug is out."""
        return self.device.unplugged_until <= time.monotonic()

    def start(self) -> StandIn:
        """Serve in a thread of its own."""
        threading.Thread(target=self.serve_forever, args=(0.05,), daemon=True).start()
        return self

    def stop(self) -> None:
        """End all connections and the server."""
        self.stopping.set()
        self.shutdown()
        self.server_close()


def command(url: str, words: str) -> None:
    """Send one command to the stand-in at an address, on a connection of its own."""
    host, _, port = url.removeprefix("socket://").partition(":")
    with socket.create_connection((host, int(port)), timeout=2) as line:
        line.sendall(words.encode("ascii") + b"\n")
        line.settimeout(2)
        line.recv(256)
        time.sleep(0.05)
