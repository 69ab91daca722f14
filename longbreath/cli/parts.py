"""The parts of a running Long Breath: started, watched, started anew when one falls over, and ended together."""

from __future__ import annotations

import ctypes
import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import click

OFTEN, WITHIN = 5, 60.0
"""A part that falls over so often within so many seconds is not started any more."""
PATIENCE = 5.0
"""Seconds that a part has to end by itself."""
_DIES_WITH_PARENT = 1


def _follow_parent() -> None:
    """Have the kernel end this process when the one that started it is gone, however that went."""
    ctypes.CDLL(None).prctl(_DIES_WITH_PARENT, signal.SIGTERM)


@dataclass
class Part:
    """One process: what people call it, its command, what it is told beside the environment, open files it is handed."""

    name: str
    command: Sequence[str]
    told: dict[str, str] = field(default_factory=dict)
    files: tuple[int, ...] = ()
    process: subprocess.Popen[bytes] | None = None
    falls: list[float] = field(default_factory=list)

    def start(self) -> None:
        """Start it."""
        self.process = subprocess.Popen(
            self.command,
            env={**os.environ, **self.told},
            pass_fds=self.files,
            preexec_fn=_follow_parent,
            stdout=subprocess.DEVNULL,
        )

    def end(self) -> None:
        """End it: politely, then surely."""
        if self.process is None or self.process.poll() is not None:
            return
        self.process.terminate()
        try:
            self.process.wait(PATIENCE)
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()

    def watch(self) -> bool:
        """Start it anew if it fell over, and say so; False if it falls over too often to go on."""
        if self.process is None or self.process.poll() is None:
            return True
        now = time.monotonic()
        self.falls = [moment for moment in self.falls if now - moment < WITHIN] + [now]
        if len(self.falls) > OFTEN:
            return False
        click.echo(f"  The {self.name} ended ({self.process.returncode}); it is started again.", err=True)
        self.start()
        return True


class Stopped(Exception):
    """Somebody asked to stop."""


def stop_when_told() -> None:
    """Turn Ctrl-C and the usual signal into Stopped."""

    def told(number: int, frame: object) -> None:
        raise Stopped

    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, told)


def ignore_stops() -> None:
    """Let nobody interrupt the ending."""
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, signal.SIG_IGN)


def keep_running(parts: Sequence[Part], every: Callable[[], None], seconds: float = 1.0) -> None:
    """Watch parts until somebody stops it; `every` is done between two looks. Raises ClickException if one cannot go on."""
    while True:
        time.sleep(seconds)
        every()
        for part in parts:
            if not part.watch():
                words = (
                    f"The {part.name} falls over again and again; what it says stands above. Start anew: {sys.argv[0]}"
                )
                raise click.ClickException(words)
