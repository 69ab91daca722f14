"""Makes the headline figure of this bundle again from its tables. It needs Python and numpy, and nothing else.

    python3 check.py

It prints the figure that it makes and the one that is claimed; exit status 0 if they agree. It does not look at hashes or signatures.
"""

import csv
import json
import sys
from pathlib import Path

import numpy as np

HERE = Path(__file__).resolve().parent
CLAIM = json.loads((HERE / "claim.json").read_text(encoding="utf-8"))
HEADLINE = CLAIM["script"]


def table(path):
    """A CSV file as a list of rows by the names of their columns."""
    with open(HERE / path, newline="", encoding="utf-8") as file:
        return list(csv.DictReader(file))


def torque():
    """B - A of the mean torque [N m] over a band of speeds.

    Each pull is one number: the mean of its torque over the band. Pulls in their order drift (the engine warms, the fuel ages), so
    the model is: mean = a + b * (is it B?) + c * (place in the order), with a square of the place where drift was curved. b is B - A.
    """
    pulls, curves = table("data/pulls.csv"), table("data/curves.csv")
    speeds = np.array([float(row["speed_rpm"]) for row in curves])
    inside = (speeds >= HEADLINE["low_rpm"] - 1e-6) & (speeds <= HEADLINE["high_rpm"] + 1e-6)
    means = []
    for pull in pulls:
        torque_of_pull = np.array([float(row[pull["pull"]]) for row in curves])
        means.append(torque_of_pull[inside].mean())
    is_b = np.array([1.0 if pull["label"] == "B" else 0.0 for pull in pulls])
    place = np.array([float(pull["order"]) for pull in pulls])
    place = place - place.mean()
    columns = [np.ones(len(pulls)), is_b]
    for day in sorted({pull["day"] for pull in pulls})[1:]:
        columns.append(np.array([1.0 if pull["day"] == day else 0.0 for pull in pulls]))
    if HEADLINE["drift"]:
        columns.append(place)
    if HEADLINE["curved"]:
        columns.append(place**2)
    solution, *_ = np.linalg.lstsq(np.column_stack(columns), np.array(means), rcond=None)
    return float(solution[1])


def airflow():
    """B - A of the flow [m3/s] at one lift: the mean of the readings of each, as they were read at the bench.

    What the meter, the leak and the referral to the test pressure change is the same for both to within a per cent of the
    difference; longbreath verify takes all of it in.
    """
    flows = {"A": [], "B": []}
    for row in table("data/readings.csv"):
        if abs(float(row["lift_mm"]) - HEADLINE["lift_mm"]) < 1e-3 and not row["meter_drop_Pa"]:
            read = (
                float(row["flow_m3_s"])
                if row["flow_m3_s"]
                else float(row["full_scale_m3_s"]) * float(row["share_of_one"])
            )
            flows[row["label"]].append(read)
    if not flows["A"] or not flows["B"]:
        return None
    return float(np.mean(flows["B"]) - np.mean(flows["A"]))


def readings():
    """B - A of readings of a tool under one set of conditions; temperatures as rise over the air context."""
    values = {"A": [], "B": []}
    for row in table("data/rows.csv"):
        if HEADLINE["of"] == "temperature":
            if f"{row['medium']}, {row['place']}".casefold() != HEADLINE["place"].casefold():
                continue
            if abs(float(row.get("rate") or 0.0)) > 1.0:
                continue  # it still moved by more than one kelvin a minute
            values[row["label"]].append(float(row["value"]) - float(row["ambient"]))
        elif HEADLINE["of"] == "noise":
            rpm = float(row["speed"]) * 30.0 / np.pi
            words = f"{row['weighting'].upper()}-weighted, {float(row['distance']):.1f} m"
            if HEADLINE["place"].startswith(words) and abs(rpm - float(HEADLINE["place"].split()[-2])) <= 0.03 * rpm:
                values[row["label"]].append(float(row["value"]))
        else:
            values[row["label"]].append(float(row["value"]))
    return float(np.mean(values["B"]) - np.mean(values["A"]))


def fuel():
    """Change of consumption as a share: how much more the vehicles with the part changed than those without it.

    Each vehicle is one number: the mean of the logarithm of its consumption after, less before. The house also takes drivers and
    routes into account, so the two agree within the interval and not to the last digit.
    """
    by_vehicle = {}
    for row in table("data/rows.csv"):
        one = by_vehicle.setdefault(row["vehicle"], {"part": row["group"] == "part", "before": [], "after": []})
        one[row["when"]].append(np.log(float(row["fuel"]) / float(row["distance"])))
    changes = {True: [], False: []}
    for one in by_vehicle.values():
        if one["before"] and one["after"]:
            changes[one["part"]].append(np.mean(one["after"]) - np.mean(one["before"]))
    return float(np.exp(np.mean(changes[True]) - np.mean(changes[False])) - 1.0)


MAKE = {
    "torque": torque,
    "airflow": airflow,
    "temperature": readings,
    "noise": readings,
    "mass": readings,
    "fuel": fuel,
}
CLOSE = {"airflow": 0.5, "fuel": 0.5}
"""How near the two must be, as a share of the half width of the interval, where this script leaves something out."""


def main():
    print(CLAIM["statement"])
    print()
    if HEADLINE["of"] not in MAKE:
        print("This claim counts what was looked at or run; there is nothing to compute.")
        return 0
    made, claimed = MAKE[HEADLINE["of"]](), HEADLINE["value_si"]
    if made is None:
        print("The flow was read by an orifice plate: longbreath verify makes it again.")
        return 0
    share = CLOSE.get(HEADLINE["of"])
    allowed = share * HEADLINE["half_width_si"] if share else 1e-6 * max(abs(claimed), 1.0)
    agrees = abs(made - claimed) <= allowed
    print(f"made again: {made:.6g}   claimed: {claimed:.6g}   (SI units)")
    print("They agree." if agrees else "THEY DO NOT AGREE.")
    return 0 if agrees else 1


if __name__ == "__main__":
    sys.exit(main())
