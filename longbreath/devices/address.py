"""Where an instrument may be looked for: a serial device, or a host and port. Nothing else is an address."""

from __future__ import annotations

import re

from longbreath.core.basis.errors import InputError

LONGEST = 200
_SERIAL = re.compile(
    r"/dev/(?:tty(?:USB|ACM|S|AMA|THS|XRUSB)[0-9]{1,3}|rfcomm[0-9]{1,3}|serial/by-(?:id|path)/[A-Za-z0-9_.:+-]{1,150})"
    r"|COM[0-9]{1,3}"
)
_SOCKET = re.compile(r"socket://([A-Za-z0-9](?:[A-Za-z0-9.-]{0,120}[A-Za-z0-9])?|\[[0-9A-Fa-f:.]{2,45}\]):([0-9]{1,5})")


def check_address(text: str) -> str:
    """The address, trimmed. Raises InputError (field "address") for what is neither a serial device nor a host with its port."""
    address = text.strip()
    found = _SOCKET.fullmatch(address)
    is_host = found is not None and ".." not in found[1] and 1 <= int(found[2]) <= 65535
    if len(address) > LONGEST or not (is_host or (_SERIAL.fullmatch(address) and ".." not in address)):
        words = "An instrument is at a serial port such as /dev/ttyUSB0 or COM3, or at socket://host:port."
        raise InputError(words, "address")
    return address
