"""A bundle on the standard input, its report as JSON on the standard output: `python -m longbreath.proof KEY …`."""

from __future__ import annotations

import json
import sys

from longbreath.proof.verify import verify


def main() -> None:
    """Check one bundle; the keys that are trusted are the arguments."""
    report = verify(sys.stdin.buffer.read(), sys.argv[1:])
    print(json.dumps(report.to_dict(), ensure_ascii=False))


if __name__ == "__main__":
    main()
