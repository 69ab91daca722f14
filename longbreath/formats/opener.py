"""The process that opens foreign files: it has the readers loaded, and forks for each file a child that is held to limits.

It is started by `formats.apart` with one end of a socket as its standard input. Over it comes a socket for each file; on that one
come what is told and the bytes, and go the facts and the block. It ends when nobody holds the other end any more.
"""

from __future__ import annotations

import gc
import json
import os
import resource
import signal
import socket
import struct
import sys
from importlib import import_module
from typing import Any

from longbreath.core.basis.errors import InputError
from longbreath.formats.readers import Told

READERS = {
    "table": "longbreath.formats.readers.table",
    "outline": "longbreath.formats.readers.outline",
    "media": "longbreath.formats.readers.media",
    "log": "longbreath.formats.readers.log",
    "prose": "longbreath.formats.readers.prose",
}
"""Modules by kind of file; each has a function `read(data, **told)`."""
READY = b"."
TOO_MUCH = "{name} needs more memory than a file may take. Simplify it, or export it anew with less in it."
DAMAGED = "{name} cannot be read: it is damaged, or not what its name says. Export it again."


def send(wire: socket.socket, *blocks: bytes) -> None:
    """Send blocks of bytes, each after its length."""
    for block in blocks:
        wire.sendall(struct.pack("!Q", len(block)))
        wire.sendall(block)


def receive(wire: socket.socket, most: int) -> bytes:
    """One block of at most `most` bytes. Raises EOFError if the other side ended, or says it has more."""
    length = struct.unpack("!Q", _exactly(wire, 8))[0]
    if length > most:
        raise EOFError
    return _exactly(wire, length)


def _exactly(wire: socket.socket, length: int) -> bytes:
    held = bytearray(length)
    left = memoryview(held)
    while left:
        got = wire.recv_into(left, min(len(left), 1 << 20))
        if not got:
            raise EOFError
        left = left[got:]
    return bytes(held)


def hold(seconds: float, clock: float, memory: int) -> None:
    """Limit this process: seconds of the processor and by the clock, memory it may take more [bytes]; no file, no core."""
    for timer, limit in ((signal.ITIMER_PROF, seconds), (signal.ITIMER_REAL, clock)):
        ends = signal.SIGPROF if timer == signal.ITIMER_PROF else signal.SIGALRM
        signal.signal(ends, signal.SIG_DFL)  # ends the process whatever it is in the middle of
        signal.setitimer(timer, limit)
    with open("/proc/self/statm") as statm:
        most = int(statm.read().split()[0]) * resource.getpagesize() + memory
    for what, limit in (
        (resource.RLIMIT_AS, most),
        (resource.RLIMIT_CPU, int(seconds) + 1),
        (resource.RLIMIT_FSIZE, 0),
        (resource.RLIMIT_CORE, 0),
    ):
        resource.setrlimit(what, (limit, limit))


def answer(kind: str, data: bytes, told: dict[str, Any]) -> tuple[dict[str, Any], bytes]:
    """What a reader makes of a file: its facts and block, or the sentence of why not, and what it broke on."""
    try:
        facts, block = _read(kind, data, told)
        return {"facts": facts}, block
    except InputError as error:
        return {"refused": error.message.replace("{", "{{").replace("}", "}}"), "field": error.field or "file"}, b""
    except MemoryError:
        return {"refused": TOO_MUCH, "why": "memory"}, b""
    except Exception as error:  # the libraries that read files raise whatever they please
        return {"refused": DAMAGED, "why": type(error).__name__}, b""


def _read(kind: str, data: bytes, told: dict[str, Any]) -> Told:
    found: Told = import_module(READERS[kind]).read(data, **told)
    return found


def _shared(wire: socket.socket) -> bytes:
    """The bytes of a large file, by a piece of memory that the asking process filled."""
    _, wires, _, _ = socket.recv_fds(wire, 1, 1)
    with open(wires[0], "rb") as memory:
        return memory.read()


def _one(wire: socket.socket) -> None:
    """Open one file, as the child that was forked for it."""
    order = json.loads(receive(wire, 1 << 16))
    data = _shared(wire) if order["shared"] else receive(wire, 1 << 28)
    hold(order["seconds"], order["clock"], order["memory"])
    facts, block = answer(order["kind"], data, order["told"])
    send(wire, json.dumps(facts).encode(), block)


def main() -> None:
    """Serve until the other end of the standard input is closed."""
    orders = socket.socket(fileno=os.dup(sys.stdin.fileno()))
    os.dup2(os.open(os.devnull, os.O_RDONLY), sys.stdin.fileno())  # no child holds the line of orders open
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)  # ended children leave nothing behind
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    for module in READERS.values():
        import_module(module)
    gc.freeze()  # what is loaded stays shared with the children
    orders.send(READY)
    while True:
        message, wires, _, _ = socket.recv_fds(orders, 1, 1)
        if not message:
            return
        if os.fork() == 0:
            signal.signal(signal.SIGCHLD, signal.SIG_DFL)
            orders.close()
            try:
                _one(socket.socket(fileno=wires[0]))
            finally:
                os._exit(0)
        for wire in wires:
            os.close(wire)


if __name__ == "__main__":
    main()
