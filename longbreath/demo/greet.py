"""Waits for the server and prints where it is and who may log in."""

from __future__ import annotations

import time
import urllib.error
import urllib.request

from longbreath.demo.people import people
from longbreath.demo.story import OWN, SHOP


def wait_and_greet(address: str) -> None:
    """Print address and demo log-ins once the log-in page answers; give up after half a minute."""
    for _ in range(300):
        try:
            with urllib.request.urlopen(f"{address}/account/login", timeout=5):
                break
        except (urllib.error.URLError, OSError):
            time.sleep(0.1)
    print(f"\n  Long Breath is at {address}   (Ctrl-C stops it)\n")
    for person in people():
        print(f"  {person.email:32} {person.password:20} {person.role:9} {person.name}")
    told = (
        "Finish the second application with the files in demo/files/ (see demo/files/README.md)." if SHOP == OWN else ""
    )
    print(f"\n  {told}\n", flush=True)
