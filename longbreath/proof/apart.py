"""A bundle of a stranger is checked in a process of its own, with limits: whatever it does, the page answers."""

from __future__ import annotations

import json
import os
import resource
import signal
import subprocess
import sys
import threading
from collections.abc import Sequence
from contextlib import suppress

from longbreath.core.basis.errors import InputError
from longbreath.proof.verify import BundleCheck, Report

SECONDS, CLOCK = 40, 240.0
"""Time of the processor that a bundle may take on a page [s], and longest by the clock: no bundle is refused because the machine is
busy. The command line has no limit."""
MEMORY = 4 * 1024**3
"""Most address space of that process [bytes]: libraries of numbers reserve much more than they use."""
ANSWER = 8 * 1024 * 1024
CHECK = ("-m", "longbreath.proof")
AT_ONCE = threading.BoundedSemaphore(2)
TOLD = ("PATH", "HOME", "LANG", "LC_ALL", "PYTHONPATH", "OPENBLAS_NUM_THREADS")
BUSY = "Other bundles are being checked just now. Try again in a moment, or use “longbreath verify”."
TOO_LONG = "This bundle takes longer to check than a page waits: use “longbreath verify” on your own machine."


def verified(data: bytes, keys: Sequence[str]) -> Report:
    """Check a bundle apart. Raises InputError (field "bundle") where it takes too long, or its process breaks."""
    if not AT_ONCE.acquire(timeout=2.0):
        raise InputError(BUSY, "bundle")
    try:
        return _report(_asked(data, keys))
    finally:
        AT_ONCE.release()


def _asked(data: bytes, keys: Sequence[str]) -> bytes:
    told = {name: os.environ[name] for name in TOLD if name in os.environ}
    process = subprocess.Popen(
        [sys.executable, *CHECK, *keys],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
        start_new_session=True,
        env={"OPENBLAS_NUM_THREADS": "1", **told},
    )
    with suppress(ProcessLookupError):
        resource.prlimit(process.pid, resource.RLIMIT_AS, (MEMORY, MEMORY))
        resource.prlimit(process.pid, resource.RLIMIT_CPU, (SECONDS, SECONDS + 1))
    try:
        answer, _ = process.communicate(data, timeout=CLOCK)
    except subprocess.TimeoutExpired:
        with suppress(ProcessLookupError):
            os.killpg(process.pid, signal.SIGKILL)
        process.communicate()
        raise InputError(TOO_LONG, "bundle") from None
    if process.returncode == -signal.SIGXCPU:
        raise InputError(TOO_LONG, "bundle")
    if process.returncode or len(answer) > ANSWER:
        raise InputError("This bundle broke the check: it is no bundle that can be relied on.", "bundle")
    return answer


def _report(answer: bytes) -> Report:
    told = json.loads(answer)
    checks = tuple(BundleCheck(c["name"], c["state"], c["words"]) for c in told["checks"])
    return Report(checks, told["statement"], told["title"], told["key"])
