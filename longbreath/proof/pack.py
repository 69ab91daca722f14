"""A bundle as bytes, always the same for the same contents: files in order, unpacked, of one date; a list of hashes, signed.

Nothing is compressed, so that no version of a packing library can make other bytes. Source of the signature: RFC 8032 (Ed25519).
"""

from __future__ import annotations

import hashlib
import io
import json
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey, Ed25519PublicKey

from longbreath.core.basis.errors import InputError

DATE = (2000, 1, 1, 0, 0, 0)
"""Every file of a bundle carries this date: a bundle says in its text when it was made."""
HASHES, SIGNATURE = "hashes.json", "signature.json"
MOST_BYTES = 256 * 1024 * 1024
MOST_FILES = 4000
LONGEST_NAME = 200


@dataclass(frozen=True)
class Signed:
    """Who signed: public key and signature (hexadecimal), and whether the signature is one of that key on these hashes."""

    public: str
    valid: bool

    @property
    def fingerprint(self) -> str:
        """A short name of the key."""
        return fingerprint(self.public)


def fingerprint(public: str) -> str:
    """A short name of a public key (hexadecimal): the first 16 digits of its SHA-256, in fours."""
    digits = hashlib.sha256(bytes.fromhex(public)).hexdigest()[:16] if _is_key(public) else "none"
    return " ".join(digits[k : k + 4] for k in range(0, len(digits), 4))


def _is_key(public: str) -> bool:
    return len(public) == 64 and all(c in "0123456789abcdef" for c in public)


def sha256(data: bytes) -> str:
    """SHA-256, hexadecimal."""
    return hashlib.sha256(data).hexdigest()


def new_key() -> tuple[str, str]:
    """A new signing key: public and private half, hexadecimal."""
    key = Ed25519PrivateKey.generate()
    return key.public_key().public_bytes_raw().hex(), key.private_bytes_raw().hex()


def packed(files: Mapping[str, bytes], private: str) -> bytes:
    """A bundle of files, with their hashes and the signature of a private key (hexadecimal)."""
    hashes = _json({path: sha256(data) for path, data in sorted(files.items())})
    key = Ed25519PrivateKey.from_private_bytes(bytes.fromhex(private))
    signature = _json(
        {
            "algorithm": "Ed25519",
            "of": HASHES,
            "public_key": key.public_key().public_bytes_raw().hex(),
            "signature": key.sign(hashes).hex(),
        }
    )
    return zipped({**files, HASHES: hashes, SIGNATURE: signature})


def _json(value: Any) -> bytes:
    return (json.dumps(value, sort_keys=True, indent=1) + "\n").encode()


def zipped(files: Mapping[str, bytes]) -> bytes:
    """Files as a ZIP: in the order of their names, unpacked, one date, no more about them."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive:
        for path in sorted(files):
            told = zipfile.ZipInfo(path, DATE)
            told.create_system, told.external_attr, told.compress_type = 3, 0o644 << 16, zipfile.ZIP_STORED
            archive.writestr(told, files[path])
    return out.getvalue()


def unpacked(data: bytes) -> dict[str, bytes]:
    """The files of a bundle. Raises InputError (field "file") for anything that is none, is too large, or is packed in another
    way than bundles are: one byte more or less anywhere is seen."""
    if len(data) > MOST_BYTES:
        raise InputError(f"A bundle has at most {MOST_BYTES // 1024 // 1024} MB.", "file")
    try:
        files = _read(data)
    except InputError:
        raise
    except Exception:  # whatever a hostile archive makes the library do, it is no bundle
        raise InputError("This is no evidence bundle: it cannot be opened as a ZIP.", "file") from None
    if zipped(files) != data:
        raise InputError("This ZIP is not packed as bundles are: something beside its files was changed.", "file")
    return files


def _read(data: bytes) -> dict[str, bytes]:
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        entries = archive.infolist()
        if len(entries) > MOST_FILES:
            raise InputError(f"A bundle has at most {MOST_FILES} files.", "file")
        if any(e.compress_type != zipfile.ZIP_STORED or e.file_size > len(data) for e in entries):
            raise InputError("This ZIP is not packed as bundles are: its files are compressed.", "file")
        if sum(e.file_size for e in entries) > len(data):
            raise InputError("This ZIP is not packed as bundles are: its files lie over one another.", "file")
        if any(e.filename.startswith("/") or ".." in e.filename or len(e.filename) > LONGEST_NAME for e in entries):
            raise InputError("This ZIP holds a file that would leave its folder.", "file")
        return {entry.filename: _one(archive, entry) for entry in entries}


def _one(archive: zipfile.ZipFile, entry: zipfile.ZipInfo) -> bytes:
    try:
        return archive.read(entry)
    except zipfile.BadZipFile:
        raise InputError(f"{entry.filename} was changed: its check sum does not come out.", "file") from None


def wrong_files(files: Mapping[str, bytes]) -> list[str]:
    """In words which files are not those of the list of hashes: changed, missing, or more than it names."""
    told = _object(files, HASHES)
    found = []
    for path in sorted({*told, *files} - {HASHES, SIGNATURE}):
        if path not in files:
            found.append(f"{path} is missing")
        elif path not in told:
            found.append(f"{path} is not in the list of hashes")
        elif sha256(files[path]) != told[path]:
            found.append(f"{path} was changed")
    return found


def signed(files: Mapping[str, bytes]) -> Signed:
    """Who signed the list of hashes."""
    told = _object(files, SIGNATURE)
    public, signature = str(told.get("public_key", "")), str(told.get("signature", ""))
    if not _is_key(public) or told.get("algorithm") != "Ed25519":
        return Signed(public[:64], False)
    try:
        key = Ed25519PublicKey.from_public_bytes(bytes.fromhex(public))
        key.verify(bytes.fromhex(signature), files.get(HASHES, b""))
    except (InvalidSignature, ValueError):
        return Signed(public, False)
    return Signed(public, True)


def _object(files: Mapping[str, bytes], path: str) -> dict[str, Any]:
    if path not in files:
        raise InputError(f"This is no evidence bundle: it has no {path}.", "file")
    try:
        found = json.loads(files[path])
    except ValueError:
        raise InputError(f"{path} cannot be read.", "file") from None
    if not isinstance(found, dict):
        raise InputError(f"{path} cannot be read.", "file")
    return found
