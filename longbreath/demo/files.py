"""The sample files under demo/files/ with which a newcomer finishes the second application."""

from __future__ import annotations

from pathlib import Path

from longbreath.demo import standin, visits

FOLDER = Path(__file__).parents[2] / "demo" / "files"

# name, place in the order, whether the product is on, which logger
PETREL = (
    ("petrel-01-stock.csv", 1, False, "us"),
    ("petrel-02-stock.csv", 2, False, "us"),
    ("petrel-03-stock.csv", 3, False, "us"),
    ("petrel-04-petrel.csv", 4, True, "us"),
    ("petrel-05-petrel.csv", 5, True, "us"),
    ("petrel-06-petrel.csv", 6, True, "us"),
    ("petrel-07-stock.csv", 7, False, "metric"),
    ("petrel-08-stock.csv", 8, False, "metric"),
    ("petrel-09-stock.csv", 9, False, "metric"),
    ("petrel-10-stock-spike.csv", 10, False, "metric"),
)


def contents() -> dict[str, bytes]:
    """All sample files by name, made anew."""
    made = {}
    for name, place, fitted, logger in PETREL:
        effect = standin.petrel_effect if fitted else None
        logged = standin.pull(400 + place, effect, place, 25.0 if logger == "us" else 40.0, spike="spike" in name)
        made[name] = standin.as_us_csv(logged, f"pull {place}") if logger == "us" else standin.as_metric_csv(logged)
    made["petrel-day-that-went-wrong.zip"] = visits.petrel_wrong_day()
    return made


def write() -> None:
    """Write the files to demo/files/."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    for name, data in contents().items():
        (FOLDER / name).write_bytes(data)


if __name__ == "__main__":
    write()
