"""Where an instrument may be looked for: serial devices and hosts, and nothing that a library might read as something else."""

from __future__ import annotations

import pytest

from longbreath.core.basis.errors import InputError
from longbreath.devices.address import check_address

GOOD = (
    "/dev/ttyUSB0",
    "/dev/ttyACM12",
    "/dev/ttyS1",
    "/dev/serial/by-id/usb-Maker_Model_A1B2-if00-port0",
    "COM3",
    "socket://127.0.0.1:7070",
    "socket://bench.shop.test:4001",
    "socket://[::1]:7070",
)
BAD = (
    "",
    "/dev/mem",
    "/dev/../etc/passwd",
    "/dev/serial/by-id/../../mem",
    "/etc/passwd",
    "file:///etc/passwd",
    "spy:///dev/ttyUSB0?file=/tmp/x",
    "alt:///dev/ttyUSB0?class=PosixPollSerial",
    "loop://",
    "hwgrep://.*",
    "rfc2217://127.0.0.1:80",
    "socket://127.0.0.1:7070?logging=debug",
    "socket://127.0.0.1:99999",
    "socket://127.0.0.1:0",
    "socket://:7070",
    "socket://user@host:7070",
    "socket://a..b:7070",
    "socket://127.0.0.1:7070/../x",
    "http://127.0.0.1:7070",
    "COM3 /dev/mem",
    "/dev/ttyUSB0\n/dev/mem",
    "socket://" + "a" * 300 + ":80",
)


@pytest.mark.parametrize("address", GOOD)
def test_serial_devices_and_hosts_with_a_port_are_addresses(address: str) -> None:
    assert check_address(f"  {address} ") == address


@pytest.mark.parametrize("address", BAD)
def test_nothing_else_is(address: str) -> None:
    with pytest.raises(InputError, match="An instrument is at") as problem:
        check_address(address)
    assert problem.value.field == "address"
