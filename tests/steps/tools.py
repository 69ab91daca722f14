"""What the tests of pages share: an address, a dyno session, files that are sent, a reading that is captured."""

from __future__ import annotations

import io
from types import SimpleNamespace
from typing import Any

from flask.testing import FlaskClient

from tests.conftest import errors_of
from tests.made import standin

SESSION = {
    "held_on": "2026-05-14",
    "temperature": "20C",
    "pressure": "1010 hPa",
    "humidity": "50",
    "standard": "sae_j1349",
    "gear": "4th",
}


def base(shop: SimpleNamespace) -> str:
    return f"/applications/{shop.application.id}"


def open_session(client: FlaskClient, shop: SimpleNamespace, **more: str) -> int:
    answer = client.post(f"{base(shop)}/pull/sessions/new", data={**SESSION, **more})
    assert answer.status_code == 302
    return int(answer.location.rsplit("=", 1)[1])


def upload(client: FlaskClient, shop: SimpleNamespace, session: int, *files: tuple[str, bytes]) -> Any:
    data = {"files": [(io.BytesIO(content), name) for name, content in files]}
    return client.post(f"{base(shop)}/pull/sessions/{session}/files", data=data, content_type="multipart/form-data")


def record(client: FlaskClient, shop: SimpleNamespace, session: int, **choices: str) -> Any:
    return client.post(
        f"{base(shop)}/pull/sessions/{session}/mapping", data={"g0-mixture-scale": "14.7", **choices, "record": "1"}
    )


def good(place: int = 1, effect: Any = None) -> bytes:
    return standin.as_us_csv(standin.pull(place, effect, place), f"pull {place}")


def capture(client: FlaskClient, shop: SimpleNamespace, label: str, lift: str, percent: str, **more: str) -> None:
    data = {
        "lift": lift,
        "range_id": shop.bench.ranges[1].id,
        "percent": percent,
        "direct_flow": "",
        "pressure": "28 inH2O",
        **more,
    }
    answer = client.post(f"{base(shop)}/measure/traces/{shop.traces[label].id}/desk", data=data)
    assert answer.status_code == 302, errors_of(answer)
