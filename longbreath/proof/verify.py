"""The check of a bundle: packing, hashes, signature, raw files, and every figure of the claim made again."""

from __future__ import annotations

import json
from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass
from math import isclose
from typing import Any

from longbreath.core.basis.errors import InputError, LongBreathError
from longbreath.core.basis.sentence import counted
from longbreath.core.basis.working import numbered
from longbreath.core.case.case import Case, digest_of
from longbreath.core.case.changes import moves_beside
from longbreath.core.case.placing import row_of
from longbreath.core.claim.methods import grammar_version, version_of
from longbreath.proof import pack
from longbreath.proof.case import case_from_data, channels_path, raw_path, taken
from longbreath.proof.channels import differing, from_csv, from_raw
from longbreath.proof.recompute import Again, again

SHEET, CASE, PACKAGE = "claim.json", "case.json", "datapackage.json"
SAME = 1e-6
"""Figures made again may differ by this share of their half width, or of themselves: other machines round otherwise."""
OK, WRONG, NOTE = "agrees", "disagrees", "note"


@dataclass(frozen=True)
class BundleCheck:
    """One thing that was looked at: its name, how it came out, and the words."""

    name: str
    state: str
    words: str


@dataclass(frozen=True)
class Report:
    """All that was looked at, in order; the statement as it was made again, what the bundle calls itself, and who signed it."""

    checks: tuple[BundleCheck, ...]
    statement: str = ""
    title: str = ""
    fingerprint: str = ""

    @property
    def holds(self) -> bool:
        """Whether nothing disagrees."""
        return bool(self.checks) and all(check.state != WRONG for check in self.checks)

    @property
    def wrong(self) -> tuple[BundleCheck, ...]:
        """What disagrees."""
        return tuple(check for check in self.checks if check.state == WRONG)

    def to_dict(self) -> dict[str, Any]:
        """For machines."""
        return {
            "holds": self.holds,
            "title": self.title,
            "statement": self.statement,
            "key": self.fingerprint,
            "checks": [vars(check) for check in self.checks],
        }


def verify(data: bytes, known: Collection[str] = ()) -> Report:
    """Check a bundle. known: public keys (hexadecimal) that the reader trusts; any other key disagrees, and stands first.

    Never raises for a bad bundle: whatever is wrong stands in the report.
    """
    try:
        files = pack.unpacked(data)
        hashes = pack.wrong_files(files)
        key = pack.signed(files)
    except InputError as error:
        return Report((BundleCheck("packing", WRONG, error.message),))
    checks = [
        _signature(key, known),
        BundleCheck("packing", OK, f"{counted(len(files), 'file')}, packed as bundles are."),
    ]
    checks.append(
        BundleCheck("hashes", WRONG, "; ".join(hashes) + ".")
        if hashes
        else BundleCheck("hashes", OK, "Every file is the one that was signed for.")
    )
    sheet, statement = dict[str, Any](), ""
    try:
        sheet, case = _claim(files)
        found, looked = _claimed(sheet, case, files)
        checks += looked
        statement = " ".join(found.sentences) if found is not None else ""
    except LongBreathError as error:
        checks.append(BundleCheck("figures", WRONG, f"They cannot be made again: {error.message}"))
    except Exception as error:  # a hostile case may break anything; it is then no proof
        checks.append(BundleCheck("figures", WRONG, f"They cannot be made again ({type(error).__name__})."))
    title = f"{sheet.get('product', '')} {sheet.get('revision', '')} on {sheet.get('vehicle', '')}".strip()
    return Report(tuple(checks), statement, title if sheet else "", key.fingerprint)


def _signature(key: pack.Signed, known: Collection[str]) -> BundleCheck:
    if not key.valid:
        return BundleCheck("signature", WRONG, "The list of hashes is not signed by the key that it names.")
    if key.public in known:
        return BundleCheck("signature", OK, f"Signed by the house, key {key.fingerprint}.")
    if known:
        return BundleCheck("signature", WRONG, f"Signed by a key that is not the house’s: {key.fingerprint}.")
    words = f"Signed by the key {key.fingerprint}, which you did not name: anybody can sign with a key of their own."
    return BundleCheck("signature", WRONG, f"{words} Get the key from the house itself, and name it.")


def _claim(files: Mapping[str, bytes]) -> tuple[dict[str, Any], Case]:
    found = []
    for path in (SHEET, CASE):
        if path not in files:
            raise InputError(f"{path} is missing.", "file")
        try:
            found.append(json.loads(files[path]))
        except ValueError:
            raise InputError(f"{path} cannot be read.", "file") from None
    if not isinstance(found[0], dict):
        raise InputError(f"{SHEET} cannot be read.", "file")
    return found[0], case_from_data(found[1])


def _claimed(sheet: dict[str, Any], case: Case, files: Mapping[str, bytes]) -> tuple[Again | None, list[BundleCheck]]:
    """The claim made again, and what came of comparing the sheet with it."""
    if sheet.get("kind") != case.kind:
        words = f"The claim is one of {sheet.get('kind')}, its case one of {case.kind}."
        return None, [BundleCheck("case", WRONG, words)]
    checks = [_identity(sheet, case), *_raw(case, files), *_versions(case)]
    found = again(case, sheet, files)
    checks += [*_facts(sheet, found), *_figures(sheet, found), _statement(sheet, found), _sheet(sheet, found)]
    return found, checks


def _identity(sheet: Mapping[str, Any], case: Case) -> BundleCheck:
    """Whether the case is the one that the sheet was published on."""
    if sheet.get("evidence") != digest_of(case):
        return BundleCheck("case", WRONG, "It is not the case that the sheet was published on.")
    return BundleCheck("case", OK, "The one that the sheet was published on.")


def _versions(case: Case) -> Iterator[BundleCheck]:
    """Versions of method and grammar that are not held any more."""
    for name, was, now in (
        ("method", case.method, version_of(case.kind)),
        ("grammar", case.grammar, grammar_version()),
    ):
        if was != now:
            words = f"Published by {was}, which this version no longer holds: below stands what {now} says of the same evidence."
            yield BundleCheck(name, NOTE, words)


def _sheet(sheet: Mapping[str, Any], found: Again) -> BundleCheck:
    """Conditions, gates and whatever else the sheet prints, against those made again."""
    wrong = [
        f"{move.what}: {move.was} on the sheet, {move.now} made again" for move in moves_beside(sheet, found.sheet)
    ]
    if wrong:
        return BundleCheck("sheet", WRONG, "; ".join(wrong) + ".")
    return BundleCheck("sheet", OK, "Its conditions and gates come out of the case.")


def _statement(sheet: dict[str, Any], found: Again) -> BundleCheck:
    """The sentences of the sheet, one by one and as the statement that is printed, against those made again."""
    told = list(sheet.get("sentences", ()))
    if told != list(found.sentences):
        first = next((a for a, b in zip(told, found.sentences, strict=False) if a != b), "its length")
        return BundleCheck("statement", WRONG, f"It reads otherwise at: {first}")
    if sheet.get("statement") != " ".join(found.sentences):
        return BundleCheck("statement", WRONG, "What the sheet prints as its statement is not what its facts say.")
    return BundleCheck("statement", OK, "Word for word.")


def _raw(case: Case, files: Mapping[str, bytes]) -> Iterator[BundleCheck]:
    """The channels of every pull, read from the raw files again."""
    wrong, read, kept = [], 0, 0
    for session, pull in taken(case):
        path, row = channels_path(session, pull), row_of(session, pull)
        if not any(raw_path(file) in files for file in pull.files):
            kept += 1
        elif names := differing(from_csv(files.get(path, b""), path), from_raw(session, pull, files)):
            wrong.append(f"{row}: {', '.join(names)}")
        else:
            read += 1
    if wrong:
        yield BundleCheck("raw files", WRONG, f"They hold other figures than the tables: {'; '.join(wrong)}.")
    elif read:
        yield BundleCheck("raw files", OK, f"The tables of {counted(read, 'pull')} are what the raw files hold.")
    if kept:
        yield BundleCheck(
            "raw files", NOTE, f"Of {counted(kept, 'pull')} the house gives the tables alone, with their files’ hashes."
        )


def _facts(sheet: dict[str, Any], found: Again) -> Iterator[BundleCheck]:
    made = {fact.key: fact for fact, _ in found.said}
    told = {str(fact["key"]): fact for fact in sheet.get("facts", ())}
    for key in sorted({*made, *told}):
        called = made[key].called if key in made else key
        if key not in made:
            yield BundleCheck(key, WRONG, "This fact does not come out of the evidence.")
        elif key not in told:
            yield BundleCheck(
                called, WRONG, "The evidence holds this fact, which must be said, and the claim does not."
            )
        else:
            fact, was = made[key], told[key]
            same = _same(float(was["value"]), fact.value, fact.half_width) and _same(
                float(was["half_width"]), fact.half_width, fact.half_width
            )
            claimed = f"{float(was['value']):.6g} ± {float(was['half_width']):.6g} claimed"
            words = f"{claimed}, {fact.value:.6g} ± {fact.half_width:.6g} made again (SI)."
            yield BundleCheck(called, OK if same else WRONG, words)


def _same(told: float, made: float, scale: float) -> bool:
    return isclose(told, made, rel_tol=SAME, abs_tol=SAME * abs(scale) + 1e-12)


def _figures(sheet: dict[str, Any], found: Again) -> Iterator[BundleCheck]:
    made = numbered((*found.stated.figures, *((minor, "") for minor in found.stated.minor)), lambda f: f[0].name)
    told = numbered((*sheet.get("figures", ()), *sheet.get("locals", ())), lambda f: str(f["name"]))
    wrong = []
    for name in sorted({*made, *told}):
        if name not in made or name not in told:
            wrong.append(f"{name[0]} stands on one side alone")
            continue
        was, (now, verdict) = told[name], made[name]
        if (was["label"], was["verdict"]) != (now.label, verdict):
            wrong.append(f"{was['label']}, {was['verdict']}: it is {now.label}, {verdict}")
        half = now.uncertainty or 0.0
        if not (
            _same(float(was["si"]), now.value, half or now.value)
            and _same(float(was["uncertainty_si"] or 0.0), half, half)
            and was["display"]["us"] == now.text("us")
            and was["display"]["metric"] == now.text("metric")
        ):
            wrong.append(f"{was['label']}: {was['display']['metric']} on the sheet, {now.text('metric')} made again")
    yield (
        BundleCheck("figures", WRONG, "; ".join(wrong) + ".")
        if wrong
        else BundleCheck("figures", OK, f"{counted(len(told), 'figure')} of the sheet, each made again.")
    )
