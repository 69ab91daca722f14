"""A bundle is the same bytes for the same contents, and shows every byte that was changed."""

from __future__ import annotations

import io
import random
import struct
import zipfile

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from longbreath.core.basis.errors import InputError
from longbreath.proof import pack
from longbreath.proof.channels import differing, from_csv, to_csv
from longbreath.proof.verify import verify

FILES = {"claim.json": b"{}", "data/a.csv": b"x\n1.5\n", "raw/b.txt": bytes(range(256))}
PUBLIC, PRIVATE = pack.new_key()


def test_the_same_contents_are_the_same_bytes_in_any_order() -> None:
    one = pack.packed(FILES, PRIVATE)
    other = pack.packed(dict(reversed(FILES.items())), PRIVATE)
    assert one == other
    assert pack.unpacked(one).keys() == {*FILES, pack.HASHES, pack.SIGNATURE}
    assert pack.wrong_files(pack.unpacked(one)) == []
    assert pack.signed(pack.unpacked(one)) == pack.Signed(PUBLIC, True)


def test_any_zip_program_reads_it() -> None:
    with zipfile.ZipFile(io.BytesIO(pack.packed(FILES, PRIVATE))) as archive:
        assert archive.testzip() is None
        assert archive.read("data/a.csv") == FILES["data/a.csv"]


def test_two_hundred_random_bytes_are_all_caught() -> None:
    """One bit of one byte anywhere: contents, names, dates, lengths, the directory."""
    whole, rng = pack.packed(FILES, PRIVATE), random.Random(20)
    for _ in range(200):
        at, bit = rng.randrange(len(whole)), 1 << rng.randrange(8)
        changed = bytearray(whole)
        changed[at] ^= bit
        report = verify(bytes(changed), [PUBLIC])
        assert not report.holds, f"byte {at}"
        assert "figures" not in {c.name for c in report.wrong} or len(report.wrong) > 1


def repacked(**changes: bytes) -> dict[str, bytes]:
    return pack.unpacked(pack.zipped({**pack.unpacked(pack.packed(FILES, PRIVATE)), **changes}))


def test_a_file_that_was_changed_missing_or_added_is_named() -> None:
    assert pack.wrong_files(repacked(**{"data/a.csv": b"x\n1.6\n"})) == ["data/a.csv was changed"]
    assert pack.wrong_files(repacked(**{"more.txt": b"x"})) == ["more.txt is not in the list of hashes"]
    less = repacked()
    del less["raw/b.txt"]
    assert pack.wrong_files(less) == ["raw/b.txt is missing"]


def test_another_key_and_a_signature_of_something_else_are_seen() -> None:
    other = pack.packed(FILES, pack.new_key()[1])
    assert "not the house’s" in next(c for c in verify(other, [PUBLIC]).checks if c.name == "signature").words
    unnamed = verify(other)
    assert not unnamed.holds
    assert (unnamed.checks[0].name, unnamed.checks[0].state) == ("signature", "disagrees")
    assert "did not name" in unnamed.checks[0].words
    mixed = repacked(**{pack.HASHES: b"{}\n"})
    assert not pack.signed(mixed).valid
    assert not pack.signed(repacked(**{pack.SIGNATURE: b'{"public_key": "zz", "algorithm": "Ed25519"}'})).valid


@pytest.mark.parametrize(
    ("changes", "caught"),
    [({"data/a.csv": b"x\n1.6\n"}, "hashes"), ({"more.txt": b"x"}, "hashes"), ({pack.HASHES: b"{}\n"}, "signature")],
)
def test_what_was_packed_anew_with_a_right_directory_is_caught_all_the_same(
    changes: dict[str, bytes], caught: str
) -> None:
    whole = pack.zipped({**pack.unpacked(pack.packed(FILES, PRIVATE)), **changes})
    for known in ([PUBLIC], []):
        assert caught in {c.name for c in verify(whole, known).wrong}


@pytest.mark.parametrize("text", [b"[]", b"nothing"])
def test_a_signature_that_cannot_be_read_is_refused(text: bytes) -> None:
    with pytest.raises(InputError, match="cannot be read"):
        pack.signed(repacked(**{pack.SIGNATURE: text}))


def compressed() -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("claim.json", b"0" * 10_000_000)
    return out.getvalue()


def overlapping(copies: int = 500) -> bytes:
    """A ZIP whose directory names the same stored megabyte many times."""
    whole = pack.zipped({"a.bin": bytes(1_000_000)})
    start = whole.index(b"PK\x01\x02")
    entry, end = whole[start : whole.index(b"PK\x05\x06")], bytearray(whole[whole.index(b"PK\x05\x06") :])
    entries = b"".join(entry.replace(b"a.bin", f"{n:05}".encode()) for n in range(copies))
    end[8:12], end[12:16] = struct.pack("<HH", copies, copies), struct.pack("<I", len(entries))
    return whole[:start] + entries + bytes(end)


def leaving() -> bytes:
    return pack.zipped({"../../etc/x": b"x"})


@pytest.mark.parametrize(
    "data", [b"", b"PK", b"no zip at all" * 100, compressed(), leaving(), overlapping(), b"\0" * 5000]
)
def test_what_is_no_bundle_is_refused_in_words(data: bytes) -> None:
    report = verify(data)
    assert not report.holds
    assert report.checks[0].name == "packing"
    assert report.checks[0].words


@settings(max_examples=80, deadline=None)
@given(st.binary(max_size=400))
def test_any_bytes_are_answered(data: bytes) -> None:
    assert not verify(data).holds


def test_a_bundle_without_a_claim_cannot_be_made_again() -> None:
    assert "over one another" in verify(overlapping()).checks[0].words
    report = verify(pack.packed({"a.txt": b"x"}, PRIVATE), [PUBLIC])
    assert [c.name for c in report.wrong] == ["figures"]
    broken = verify(
        pack.packed({"claim.json": b'{"kind": "torque"}', "case.json": b'{"kind": "torque"}'}, PRIVATE), [PUBLIC]
    )
    assert "case.json" in broken.wrong[0].words
    strange = verify(pack.packed({"claim.json": b"[]", "case.json": b'{"kind": "x"}'}, PRIVATE))
    assert not strange.holds


def test_channels_are_written_as_they_are() -> None:
    channels = {"speed": np.array([1.0, 2.0, np.nan]), "torque": np.array([0.1, 1 / 3, 1e-300])}
    back = from_csv(to_csv(channels), "x.csv")
    assert differing(channels, back) == []
    assert differing({"speed": channels["speed"] * (1 + 1e-6)}, back) == ["speed"]
    assert differing({"other": channels["speed"]}, back) == ["other"]
    for bad in (b"", b"a,a\n1,2\n", b"a,b\n1\n", b"a\nx\n"):
        with pytest.raises(InputError):
            from_csv(bad, "x.csv")
