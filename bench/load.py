"""Fifty people on the main pages and strangers on the public ones, each asking for one every three seconds, beside a bare page of the
same server. Run: bench/load.sh

Five rounds are run; in each, every tenth request is for the bare page, so that both meet the same machine. Of the figures of the
rounds the middle one is printed.
"""

from __future__ import annotations

import http.client
import json
import os
import random
import threading
import time
from collections import Counter
from urllib.parse import urlencode, urlsplit

from pages import STEPS
from sqlalchemy import create_engine, text

from tests.made.people import PASSWORD, PEOPLE

STRANGERS = 0.2
"""Share of requests without log-in: claim sheets, their badges, the index and its feeds."""
PEOPLE_AT_ONCE, EVERY, ROUNDS, SECONDS = 50, 3.0, 5, float(os.environ.get("BENCH_SECONDS", "60"))
BARE = "/account/login"
PLACES = tuple(step for step in STEPS if "?" not in step)


class Person(threading.Thread):
    """Somebody who looks at pages for a round; `took` holds (path, seconds, status)."""

    def __init__(
        self, base: str, number: int, cookie: str, applications: list[int], public: list[str], ends: float
    ) -> None:
        super().__init__()
        self._public = public
        self._at, self._cookie, self._ends = urlsplit(base), cookie, ends
        self._chance, self._applications = random.Random(number), applications
        self._wait = number / PEOPLE_AT_ONCE * EVERY
        self.took: list[tuple[str, float, int]] = []

    def _path(self, number: int) -> str:
        if number % 10 == 9:
            return BARE
        if self._chance.random() < STRANGERS:
            return self._chance.choice(self._public)
        if self._chance.random() < 0.15:
            return "/"
        return f"/applications/{self._chance.choice(self._applications)}/{self._chance.choice(PLACES)}"

    def run(self) -> None:
        """Ask, read, wait."""
        time.sleep(self._wait)
        line = http.client.HTTPConnection(self._at.hostname or "", self._at.port, timeout=60)
        number = self._chance.randint(0, 9)
        while (began := time.perf_counter()) < self._ends:
            path = self._path(number)
            try:
                line.request(
                    "GET", path, headers={} if path == BARE or path in self._public else {"Cookie": self._cookie}
                )
                answer = line.getresponse()
                answer.read()
                status = answer.status
            except (OSError, http.client.HTTPException):  # counted as failed
                line.close()
                status = 0
            took = time.perf_counter() - began
            self.took.append((path, took, status))
            number += 1
            time.sleep(max(0.0, EVERY - took))
        line.close()


def log_in(base: str, email: str) -> str:
    """The cookie of a log-in."""
    at = urlsplit(base)
    line = http.client.HTTPConnection(at.hostname or "", at.port, timeout=60)
    line.request("GET", BARE)
    page = line.getresponse()
    cookie = (page.getheader("Set-Cookie") or "").partition(";")[0]
    token = page.read().decode().split('name="csrf_token"')[1].split('value="')[1].split('"')[0]
    body = urlencode({"email": email, "password": PASSWORD, "csrf_token": token})
    headers = {"Cookie": cookie, "Content-Type": "application/x-www-form-urlencoded"}
    line.request("POST", BARE, body, headers)
    answer = line.getresponse()
    answer.read()
    if answer.status != 302:
        raise SystemExit(f"{email} cannot log in: {answer.status}")
    return (answer.getheader("Set-Cookie") or "").partition(";")[0]


def public_of(base: str) -> list[str]:
    """Public pages of the house: each sheet with its badge, the index and its feeds as often as all sheets together."""
    at = urlsplit(base)
    line = http.client.HTTPConnection(at.hostname or "", at.port, timeout=60)
    line.request("GET", "/claims.json")
    sheets = [urlsplit(claim["sheet"]).path for claim in json.load(line.getresponse())["claims"]]
    house = ["/claims", "/claims.json", "/claims.csv", "/claims.atom"]
    return [*sheets, *(f"{sheet}/badge.svg" for sheet in sheets), *house * max(1, len(sheets) // 4)]


def place_of(path: str) -> str:
    """What a path is counted under."""
    if path.startswith("/sheet/"):
        return "public badge" if path.endswith("badge.svg") else "public sheet"
    return path.partition("/applications/")[2].partition("/")[2] or path


def share(values: list[float], part: float) -> float:
    """The value below which a part of them lies."""
    ordered = sorted(values)
    return ordered[min(len(ordered) - 1, int(len(ordered) * part))]


def main() -> None:
    base = os.environ["BENCH_PAGE"]
    with create_engine(os.environ["LONGBREATH_DATABASE_URL"]).connect() as connection:
        applications = list(connection.scalars(text("select id from application order by id")))
    writers = [person for person in PEOPLE if person.role != "viewer"]  # who may see the pages of forms
    cookies = [log_in(base, person.email) for person in writers]
    public = public_of(base)
    rounds, slowest, failures = [], {}, Counter()
    print(f"load of the machine before: {os.getloadavg()[0]:.2f} on {os.cpu_count()} cores")
    for turn in range(ROUNDS):
        ends = time.perf_counter() + SECONDS
        crowd = [
            Person(base, turn * PEOPLE_AT_ONCE + n, cookies[n % len(cookies)], applications, public, ends)
            for n in range(PEOPLE_AT_ONCE)
        ]
        for person in crowd:
            person._wait = person._wait % EVERY
            person.start()
        for person in crowd:
            person.join()
        took = [entry for person in crowd for entry in person.took]
        pages = [seconds for path, seconds, _ in took if path != BARE]
        bare = [seconds for path, seconds, _ in took if path == BARE]
        failed = sum(status != 200 for _, _, status in took)
        rounds.append((share(pages, 0.95), share(pages, 0.5), share(bare, 0.95), share(bare, 0.5), len(pages), failed))
        failures.update(f"{path} ({status})" for path, _, status in took if status != 200)
        for path, seconds, _ in took:
            slowest.setdefault(place_of(path), []).append(seconds)
    p95, middle, bare95, bare50, _, _ = sorted(rounds)[ROUNDS // 2]
    print(f"load of the machine after: {os.getloadavg()[0]:.2f}")
    print(
        f"{sum(r[4] for r in rounds)} pages in {ROUNDS} rounds of {SECONDS:.0f} s, {sum(r[5] for r in rounds)} failed"
    )
    print(f"pages: half within {middle * 1e3:.0f} ms, 95 of 100 within {p95 * 1e3:.0f} ms (300 wanted)")
    print(f"bare page: half within {bare50 * 1e3:.0f} ms, 95 of 100 within {bare95 * 1e3:.0f} ms")
    print(f"ratio at 95 of 100: {p95 / bare95:.1f}")
    for place, how_many in sorted(failures.items()):
        print(f"  failed: {place} {how_many} times")
    for place, values in sorted(slowest.items(), key=lambda item: -share(item[1], 0.95)):
        print(f"  {place:20} half {share(values, 0.5) * 1e3:5.0f} ms, 95 of 100 {share(values, 0.95) * 1e3:5.0f} ms")


if __name__ == "__main__":
    main()
