"""From what was weighed to what may be stated: facts, setting, figures with their verdicts. The desk and the bundle's check both come
through here."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.basis.sentence import counted
from longbreath.core.basis.working import Figure
from longbreath.core.claim.facts import AS_SET, BAND, EQUAL_BOOST, LIFT, NOT_PROVEN, PEAK, Fact, Setting, facts_of
from longbreath.core.claim.kinds import airflow, fuel, looks, readings
from longbreath.core.claim.kinds import response as of_response
from longbreath.core.claim.kinds.airflow import LiftGain, Pair
from longbreath.core.claim.kinds.fuel import Miles
from longbreath.core.compare import bands
from longbreath.core.compare.bands import Weighing
from longbreath.core.path.mounting import FitPlace
from longbreath.core.weigh.boost import EqualBoost
from longbreath.core.weigh.equal import weighing_at
from longbreath.core.weigh.figures import equal_figure, net_figures, reading_figure, response_figure, trial_figures
from longbreath.core.weigh.fuel import FuelTrial, Worth
from longbreath.core.weigh.ledger import Net, applied
from longbreath.core.weigh.logged import Response, Schools
from longbreath.core.weigh.readings import ReadingsCompared

Figures = tuple[tuple[Figure, str], ...]


@dataclass(frozen=True)
class Stated:
    """What may be stated: facts, setting, figures with their verdicts, minor figures, headline, margin in words; of pulls the weighing
    it is made of, and what is known of boost in words."""

    facts: tuple[Fact, ...]
    setting: Setting
    figures: Figures = ()
    minor: tuple[Figure, ...] = ()
    headline: str = ""
    margin: str = ""
    weighing: Weighing | None = None
    pressure: str = ""


def of_power(
    weighing: Weighing, net: Net | None, schools: Schools | None, setting: Setting, boosted: bool, school: str
) -> Stated:
    """Torque and power: as set or net, or at equal boost. schools: of a boosted engine for which a school was chosen.

    Raises EvidenceError where these pulls cannot be compared at equal boost, or the ledger takes something off as well.
    """
    is_net = net is not None and net.is_closed and net.moves
    equal = schools.equal if schools is not None else None
    stated = applied(weighing, net)
    if school == EQUAL_BOOST:
        stated = _at_equal(weighing, schools, is_net)
    facts = facts_of(stated, boosted and not school)
    if school == EQUAL_BOOST:
        facts = tuple(f for f in facts if f.scope == BAND)
    elif is_net:
        facts = tuple(f for f in facts if f.scope != PEAK)
    pressure = _pressure_words(equal, school)
    figures, minor = _figures(weighing, stated, net if is_net else None, equal, school)
    return Stated(
        facts,
        replace(setting, school=school, told=(pressure,) if pressure else ()),
        figures,
        minor,
        bands.headline(stated),
        stated.bands[0].margin_words,
        stated,
        pressure,
    )


def _at_equal(weighing: Weighing, schools: Schools | None, is_net: bool) -> Weighing:
    if schools is None or schools.equal is None:
        why = " ".join(schools.missing) if schools is not None else ""
        raise EvidenceError(f"These pulls cannot be compared at equal boost. {why}".strip())
    if is_net:
        raise EvidenceError(
            "What else differed is taken off as set only: state it as set, or test again with it the same."
        )
    return weighing_at(schools.equal, weighing)


def _pressure_words(equal: EqualBoost | None, school: str) -> str:
    """What a sentence says of boost: by which school, and how far the pressures were apart."""
    if equal is None or not school:
        return ""
    apart = equal.matching()
    apart = apart if apart[:2] in ("B ", "A ") else apart[0].lower() + apart[1:]
    if school == EQUAL_BOOST:
        return f"Compared at equal boost, by the {equal.method}; as set, {apart}"
    return f"Boost was left as the controller set it: {apart}"


def _figures(
    weighing: Weighing, stated: Weighing, net: Net | None, equal: EqualBoost | None, school: str
) -> tuple[Figures, tuple[Figure, ...]]:
    """Bands and peaks with their verdicts, and the largest local differences; of a net or at equal boost the bands alone."""
    if school == EQUAL_BOOST and equal is not None:
        found = []
        for item in stated.bands:
            figure = equal_figure(f"equal-{item.name}", item.band, equal) if item.band is not None else None
            if figure is not None:
                found.append((figure, item.verdict))
        return tuple(found), ()
    if net is not None:
        made = net_figures(net)
        return tuple((made[f"net-{item.name}"], item.verdict) for item in net.bands), ()
    comparison = weighing.comparison
    pairs = zip(weighing.bands, weighing.locals, strict=True)
    figures = tuple((bands.judged_figure(j, comparison), j.verdict) for j in weighing.judged)
    return figures, tuple(bands.local_figure(x, comparison, f"local-{band.name}") for band, x in pairs)


def of_response_shown(shown: Response, weighing: Weighing, setting: Setting) -> Stated:
    """How early and how fast boost came."""
    target = f"{units.show(shown.target, 'pressure', 'us')} ({units.show(shown.target, 'pressure', 'metric')})"
    told = f"Shares are of {target} over the air outside, which both reach."
    figures = tuple((response_figure(f"response-{k}", item), item.verdict) for k, item in enumerate(shown.judged))
    stated = replace(setting, kind="response", school=AS_SET, told=(told,))
    return Stated(of_response.facts_of(shown.judged), stated, figures, weighing=weighing, pressure=told)


def of_flow(pair: Pair, part: str, against: str) -> Stated:
    """Airflow of two traces."""
    facts = airflow.facts_of(pair)
    said = {(f.low if f.scope == LIFT else None): f.kind for f in facts}
    figures = tuple((_named(lift), said.get(lift.lift, NOT_PROVEN)) for lift in pair.lifts)
    return Stated(facts, replace(pair.setting, part=part, against=against), figures)


def _named(lift: LiftGain) -> Figure:
    at = "fixed part" if lift.lift is None else f"at {units.show(lift.lift, 'length', 'metric')} of lift"
    return replace(lift.gain, label=f"Airflow, B − A, {at}")


def of_readings(found: Sequence[ReadingsCompared], setting: Setting, tool: str) -> Stated:
    """Temperature, noise or mass by a tool."""
    figures = tuple((reading_figure(f"reading-{k}", item), item.verdict) for k, item in enumerate(found))
    return Stated(readings.facts_of(found), replace(setting, told=(f"Read with {tool}.",) if tool else ()), figures)


def of_fuel(trial: FuelTrial, worth: Worth | None, miles: Miles | None, setting: Setting) -> Stated:
    """A fuel trial, and the money it is worth where miles and price are stated."""
    vehicles = counted(trial.treated, "vehicle")
    told = [f"{vehicles} with the part, {trial.controls} without, {trial.runs} runs."]
    if miles is not None:
        told.append(miles.words)
    made: Mapping[str, Figure] = trial_figures(trial, worth)
    figures = tuple((figure, "") for figure in made.values())
    return Stated(fuel.facts_of(trial, worth), replace(setting, told=tuple(told)), figures)


def of_fit(spots: Sequence[FitPlace], minutes: float | None, setting: Setting) -> Stated:
    """Looks at places; minutes: time that fitting took [s]."""
    return Stated(looks.facts_of_fit(spots, minutes), setting)


def of_run(pulls: int, seconds: float, sessions: int, setting: Setting) -> Stated:
    """What a part stood: pulls, time under load [s], days."""
    return Stated(looks.facts_of_run(pulls, seconds, sessions), setting)
