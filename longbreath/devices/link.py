"""A live device: reads its lines in a thread, keeps the last moments, knows when it has fallen silent, finds it again."""

from __future__ import annotations

import threading
import time
from collections import deque
from typing import Any

import serial

from longbreath.devices.kinds import DeviceKind
from longbreath.devices.protocol import LONGEST, LineError
from longbreath.devices.status import CONNECTING, LIVE, LOST, SILENT, Sample, Status

MOST_AT_ONCE = 4000
"""Whole lines that are looked at of what came in at once: a flood is no reading."""
RETRY_AFTER = 0.5
GATHER = 0.04
GARBLED_FOR = 2.0
IDLE_AFTER = 60.0


class DeviceLink:
    """One device of a kind at a pyserial address ("/dev/ttyUSB0", "socket://host:port"). Safe to use from several threads."""

    def __init__(self, url: str, kind: DeviceKind) -> None:
        self.url, self.kind, self.what = url, kind, kind.called
        self._samples: deque[Sample[Any]] = deque(maxlen=kind.kept)
        self._garbled = 0.0
        self._changed = threading.Condition()
        self._port: serial.SerialBase | None = None
        self._state, self._words, self._refused = CONNECTING, f"Looking for the {self.what}.", 0
        self._device, self._remarks = "", deque[str](maxlen=5)
        self._used = time.monotonic()
        self._closed = threading.Event()
        self._thread = threading.Thread(target=self._run, name=f"{self.what} {url}", daemon=True)
        self._thread.start()

    def status(self) -> Status[Any]:
        """The link as it is now; asking keeps it open."""
        self._used = time.monotonic()
        with self._changed:
            newest = self._samples[-1] if self._samples else None
            state, words = self._state, self._words
            wait = self.kind.silent_after
            if wait is None and state == SILENT:
                state, words = LIVE, ""
            elif state == LIVE and wait is not None and (newest is None or time.monotonic() - newest.at > wait):
                state, words = SILENT, self._silence()
            return Status(state, words, newest, self._refused, self._device, tuple(self._remarks))

    def _silence(self) -> str:
        if time.monotonic() - self._garbled < GARBLED_FOR:
            return f"What the {self.what} sends cannot be read. Look at its cable, its speed setting and what else hangs on it."
        return f"The {self.what} is connected but says nothing. Look at its line and its power."

    def recent(self, seconds: float) -> list[Sample[Any]]:
        """The samples of the last seconds, oldest first."""
        since = time.monotonic() - seconds
        with self._changed:
            return [sample for sample in self._samples if sample.at >= since]

    def since(self, moment: float) -> list[Sample[Any]]:
        """The samples that came in after a moment [s, monotonic], oldest first."""
        found: list[Sample[Any]] = []
        with self._changed:
            for sample in reversed(self._samples):
                if sample.at <= moment:
                    break
                found.append(sample)
        return found[::-1]

    def send(self, words: str) -> bool:
        """Send a line to the device; False if it is not there."""
        port = self._port
        if port is None:
            return False
        try:
            port.write(words.encode("ascii", errors="replace") + b"\n")
        except (OSError, serial.SerialException):
            return False
        return True

    def close(self) -> None:
        """Let go of the device."""
        self._closed.set()
        self._thread.join(timeout=3)

    @property
    def is_idle(self) -> bool:
        """Whether nobody has asked for it for a while, or it was closed."""
        return self._closed.is_set() or time.monotonic() - self._used > IDLE_AFTER

    def _run(self) -> None:
        while not self._closed.is_set() and not self.is_idle:
            try:
                with serial.serial_for_url(self.url, timeout=GATHER, write_timeout=1) as port:
                    self._set(SILENT, f"The {self.what} is connected but has said nothing yet.")
                    self._port = port
                    self._listen(port)
            except (OSError, ValueError, serial.SerialException):
                self._set(LOST, f"The {self.what} does not answer. Is it plugged in? Capture by hand meanwhile.")
            finally:
                self._port = None
            self._closed.wait(RETRY_AFTER)
        self._closed.set()

    def _listen(self, port: serial.SerialBase) -> None:
        waiting = b""
        while not self._closed.is_set() and not self.is_idle:
            waiting += port.read(4096)  # what came in within GATHER seconds
            *whole, waiting = waiting.split(b"\n")
            waiting = waiting[-LONGEST * 2 :]
            for data in whole[-min(MOST_AT_ONCE, self.kind.kept) :]:
                self._take(data)

    def _take(self, data: bytes) -> None:
        if data.startswith(b"#"):
            words = data[1:].decode("ascii", errors="replace").strip()[:LONGEST]
            name = words.removeprefix("name: ")
            if name != words:
                self._device = name
            else:
                self._remarks.append(words)
            return
        try:
            sample = Sample(time.monotonic(), self.kind.read(data))
        except LineError:
            self._refused += 1
            self._garbled = time.monotonic()
            if self._state == SILENT:
                self._set(SILENT, self._silence())
            return
        with self._changed:
            self._state, self._words = LIVE, ""
            self._samples.append(sample)
            self._changed.notify_all()

    def _set(self, state: str, words: str) -> None:
        with self._changed:
            self._state, self._words = state, words
            self._changed.notify_all()
