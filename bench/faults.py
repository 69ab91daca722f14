"""Deliberate faults: each is put into a copy of the product, and the tests named beside it must fail.

    .venv/bin/python bench/faults.py            all of them; prints the table, leaves 1 if one was not caught
    .venv/bin/python bench/faults.py return     those whose words hold "return"

Needs the test database's address (LONGBREATH_TEST_DATABASE_URL) for the faults that lie in the dossier.
"""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
import tempfile
from dataclasses import dataclass
from pathlib import Path

from faults_more import ROWS
from faults_seen import ROWS as SEEN

ROOT = Path(__file__).parent.parent
OUTSIDE = "tests/outside/test_reckonings.py"
CELL, LIVE = "tests/steps/pull/test_cell_pages.py", "tests/core/pull/test_live.py"
LEVELS, LEDGER, BOOST = (
    "tests/core/compare/test_levels.py",
    "tests/core/weigh/test_ledger.py",
    "tests/core/weigh/test_boost.py",
)
SEVERAL, TRIALS = "tests/core/weigh/test_several.py", "tests/core/weigh/test_trials.py"
RECORDS = "tests/dossier/case/test_weighing.py"
TUNING, CLOSING = "tests/core/tune/test_boost_and_tuning.py", "tests/dossier/test_closing_and_practice.py"


@dataclass(frozen=True)
class Fault:
    """One wrong line: what it does, the file under longbreath/, the text there and what takes its place, who must notice."""

    words: str
    file: str
    right: str
    wrong: str
    tests: str


FAULTS = [
    Fault(
        "flow doubled in an entry",
        "core/bench/reckonings.py",
        "MeterReading(pressure, full_scale, percent",
        "MeterReading(pressure, 2 * full_scale, percent",
        OUTSIDE,
    ),
    Fault(
        "flow doubled in another entry",
        "core/bench/reckonings.py",
        "reduction.mean_velocity(flow, area)",
        "reduction.mean_velocity(2 * flow, area)",
        OUTSIDE,
    ),
    Fault("leak flow added instead of taken off", "core/bench/reckonings.py", "direct=leak)", "direct=-leak)", OUTSIDE),
    Fault("filling ignored", "core/engine/demand.py", "/ revolutions * filling", "/ revolutions", OUTSIDE),
    Fault("filling ignored in an entry", "core/engine/reckonings.py", "speed, filling))", "speed, 1.0))", OUTSIDE),
    Fault(
        "filling ignored on the pages", "dossier/path/duty.py", "asked.filling).value", "1.0).value", "tests/dossier"
    ),
    Fault(
        "power × 1.1", "core/engine/demand.py", '"Power", torque * speed,', '"Power", 1.1 * torque * speed,', OUTSIDE
    ),
    Fault(
        "a cone reversed where it is reckoned",
        "core/path/losses.py",
        "    if d2 > d1:\n        return _of(\n            LossKind.WIDENING,",
        "    if d2 < d1:\n        return _of(\n            LossKind.WIDENING,",
        "tests/outside/test_geometry.py",
    ),
    Fault(
        "a cone reversed where the path is walked",
        "core/path/walk.py",
        "losses.cone(element.entry, element.exit,",
        "losses.cone(element.exit, element.entry,",
        "tests/core/path",
    ),
    Fault(
        "a cone reversed in an entry",
        "core/path/reckonings_losses.py",
        "losses.cone(before, after,",
        "losses.cone(after, before,",
        OUTSIDE,
    ),
    Fault(
        "friction length × 2",
        "core/path/losses.py",
        "k = float(friction_factor(re, roughness / d)) * length / d",
        "k = float(friction_factor(re, roughness / d)) * 2 * length / d",
        OUTSIDE,
    ),
    Fault(
        "friction length × 2 where the path is walked",
        "core/path/walk.py",
        "losses.friction(straight,",
        "losses.friction(2 * straight,",
        "tests/core/path",
    ),
    Fault(
        "wrong reflection count", "core/engine/tuning.py", "/ (4.0 * reflection)", "/ (4.0 * (reflection + 1))", OUTSIDE
    ),
    Fault(
        "a fixed temperature in Mach",
        "core/engine/demand.py",
        "sound = speed_of_sound(temperature)",
        "sound = speed_of_sound(293.15)",
        OUTSIDE,
    ),
    Fault(
        "a fixed temperature in the resonator",
        "core/engine/reckonings.py",
        "compression_ratio, temperature, ratio))",
        "compression_ratio, 293.15, ratio))",
        OUTSIDE,
    ),
    Fault(
        "curved drift let through whatever harm it does",
        "core/claim/gates/dyno.py",
        "worst > HARM",
        "worst > 100.0 * HARM",
        "tests/core/claim/test_gates.py",
    ),
    Fault(
        "a gain without a return to A called a gain",
        "core/compare/compare.py",
        "return GAIN if returned else GAIN_OR_DRIFT",
        "return GAIN",
        "tests/core/compare/test_compare.py",
    ),
    Fault(
        "B's scatter taken for A's",
        "core/compare/compare.py",
        "if ratio_p < noise.UNEQUAL_ALPHA:",
        "if ratio_p < 0.0:",
        "tests/core/compare/test_compare.py",
    ),
    Fault(
        "a run that ends when one cycle is like the last",
        "core/wave/settling.py",
        "return len(self.distances) >= RUNNING and max(self.distances[-RUNNING:]) <= self.tolerance",
        "return len(self.changes) > 1 and self.changes[-1] <= 10.0 * self.tolerance",
        "tests/core/wave/test_settling.py",
    ),
    Fault(
        "turbine efficiency off in the wave core",
        "core/wave/assemble.py",
        "efficiency=turbine.efficiency)",
        "efficiency=1.0)",
        "tests/core/wave/test_balance.py tests/jobs",
    ),
    Fault(
        "turbine efficiency off where the path is walked",
        "core/path/walk.py",
        "1.0 - TURBINE_EFFICIENCY * (",
        "1.0 - 1.2 * TURBINE_EFFICIENCY * (",
        "tests/core/path",
    ),
    Fault(
        "turbine efficiency off in the gate's work",
        "core/wave/march.py",
        "sums, out, into, floats[G_EFFICIENCY], dt)",
        "sums, out, into, 0.5 * floats[G_EFFICIENCY], dt)",
        "tests/core/wave/test_balance.py tests/jobs",
    ),
    Fault(
        "a figure rounded for the maker",
        "core/claim/rounding.py",
        "floor(value / step + DUST)",
        "-floor(DUST - value / step)",
        "tests/core/claim",
    ),
    Fault(
        "each unit rounded by itself",
        "core/claim/rounding.py",
        "_down(first * us / metric, fine)",
        "_down(value / metric, coarse)",
        "tests/core/claim",
    ),
    Fault(
        "a required fact may be left out",
        "core/claim/grammar.py",
        "if fact.required and",
        "if False and",
        "tests/core/claim",
    ),
    Fault(
        "a boosted gain is stated",
        "core/claim/facts.py",
        "blocked = BOOSTED if gain and boosted else",
        "blocked = BOOSTED if False else",
        "tests/core/claim",
    ),
    Fault(
        "a mean hides a loss",
        "core/claim/facts.py",
        "for band, local in local_losses(weighing):",
        "for band, local in ():",
        "tests/core/claim",
    ),
    Fault(
        "letters of other scripts in a description",
        "core/claim/language.py",
        "if not character.isalpha() or _is_foreign(character) or",
        "if not character.isalpha() or",
        "tests/core/claim",
    ),
    Fault(
        "a word that hides in another",
        "core/claim/language.py",
        "if any(strong in folded",
        "if any(strong == folded",
        "tests/core/claim",
    ),
    Fault(
        "the key forgets the dyno",
        "dossier/case/sessions.py",
        "        scatter_of(db, dyno, session.held_on),",
        "        scatter_of(db, dyno, session.held_on.replace(year=1990)),",
        "tests/dossier/evidence/test_evidence.py",
    ),
    Fault(
        "the key forgets the build sheets",
        "dossier/case/tests.py",
        "sheet_a=a, sheet_b=b, plan=",
        "sheet_a=a, sheet_b=None, plan=",
        "tests/dossier/evidence/test_evidence.py",
    ),
    Fault(
        "an approval of what was not read",
        "dossier/claim/verbs.py",
        "if read != digest(said):",
        "if not read:",
        "tests/steps/test_job.py",
    ),
    Fault(
        "a writer approves",
        "dossier/claim/verbs.py",
        "if work.actor.id in draft.writers:",
        "if False:",
        "tests/steps/test_job.py",
    ),
    Fault(
        "a session that is added makes a claim stale",
        "core/case/changes.py",
        'APART = ("Other sessions",)',
        'APART = ("Not recorded",)',
        "tests/core/case/test_case.py",
    ),
    Fault(
        "repeats that scatter are believed",
        "core/bench/reduction.py",
        "chi2_at(0.99, n - 1)",
        "chi2_at(1.0, n - 1)",
        "tests/core/bench/test_reduction.py",
    ),
    Fault(
        "a notch is overlooked",
        "core/judge/pull.py",
        "            shape.check_notch(sweep),\n",
        "",
        "tests/core/pull/test_pulls.py",
    ),
    Fault(
        "the oldest session instead of the newest",
        "dossier/records/sessions.py",
        "(DynoSession.held_on.desc(), DynoSession.id.desc())",
        "(DynoSession.held_on, DynoSession.id)",
        "tests/dossier",
    ),
    Fault(
        "the oldest session with pulls is weighed",
        "dossier/case/kept.py",
        "for session in (s for s in dyno_sessions(db, application.id) if s.full_pulls)",
        "for session in (s for s in reversed(dyno_sessions(db, application.id)) if s.full_pulls)",
        "tests/dossier",
    ),
    Fault(
        "the oldest session is counted on the start page",
        "dossier/owed.py",
        "CardPair.application_id, *NEWEST_FIRST)",
        "CardPair.application_id, DynoSession.held_on)",
        "tests/dossier",
    ),
    Fault(
        "a link works twice",
        "dossier/entry.py",
        "    link.used_at = work.clock()\n",
        "",
        "tests/steps/account/test_account.py",
    ),
    Fault(
        "a log-in outlives its log-out",
        "dossier/entry.py",
        "SignIn.digest == _digest(key), SignIn.ended_at.is_(None))\n    work.execute(ending.values(ended_at=work.clock()))",
        "SignIn.digest == _digest(key), SignIn.ended_at.is_(None))\n    work.execute(ending.values(ended_at=None))",
        "tests/steps/account/test_account.py",
    ),
    Fault(
        "a new password leaves other browsers in",
        "dossier/entry.py",
        "    leave_everywhere(work, person, but=key)\n",
        "",
        "tests/steps/account/test_account.py",
    ),
    Fault(
        "a redirect may lead off the site",
        "web/addresses.py",
        'read.startswith("//")',
        "False",
        "tests/steps/account/test_account.py",
    ),
    Fault(
        "a form is taken as often as it is sent",
        "web/once.py",
        'if request.method != "POST" or',
        "if True or",
        "tests/steps/test_at_once.py",
    ),
    Fault(
        "a changed form is swallowed",
        "web/once.py",
        "for name, value in sorted(request.form.items(multi=True)):",
        'for name, value in [("once", request.form["once"])]:',
        "tests/steps/test_at_once.py",
    ),
    Fault(
        "a file may take any time",
        "formats/opener.py",
        "        signal.setitimer(timer, limit)\n",
        "",
        "tests/formats/test_hostile.py::test_a_held_process_cannot_take_memory_time_or_disk",
    ),
    Fault(
        "a file may take any memory",
        "formats/opener.py",
        "        (resource.RLIMIT_AS, most),\n",
        "",
        "tests/formats/test_hostile.py::test_a_held_process_cannot_take_memory_time_or_disk",
    ),
    Fault(
        "the process that opens files is told everything",
        "formats/apart.py",
        "for name in TOLD if name in os.environ}",
        "for name in os.environ}",
        "tests/formats/test_hostile.py::test_a_process_knows_no_address_and_no_key",
    ),
    Fault(
        "an archive is spread out unasked",
        "formats/readers/workbook.py",
        "    check_archive(data, filename)\n",
        "",
        "tests/formats/test_hostile.py::test_what_hurt_once_is_refused_in_words",
    ),
    Fault(
        "an address that nobody listed is opened",
        "jobs/gateway.py",
        "if is_listed}",
        "}",
        "tests/devices/test_gateway.py",
    ),
    Fault(
        "two gateways own one line",
        "jobs/gateway.py",
        'return bool(self._locks.execute(taking, {"lock": LOCK, "line": line_id}).scalar())',
        "return True",
        "tests/devices/test_gateway.py",
    ),
    Fault(
        "what may be undone is kept",
        "store/stamps.py",
        "if any(has_written for *_, has_written in rows):",
        "if False:",
        "tests/store/test_stamps.py",
    ),
    Fault(
        "a change of the library leaves what was kept",
        "store/stamps.py",
        'ids |= set(db.scalars(text(query), {"ids": sorted(values)}))',
        "pass",
        "tests/store/test_stamps.py",
    ),
    Fault(
        "an error of the database quotes the row",
        "store/database.py",
        'error.args[0].partition("\\n")[0]',
        "error.args[0]",
        "tests/steps/test_outage.py",
    ),
    Fault(
        "what was typed is lost with the database",
        "web/errors.py",
        '"sent": [] if secret else sent',
        '"sent": []',
        "tests/steps/test_outage.py",
    ),
    Fault(
        "a commit that failed is answered as done",
        "web/transaction.py",
        "return app.make_response(app.handle_user_exception(error))",
        "return response",
        "tests/steps/test_outage.py",
    ),
    Fault(
        "the root left out of a retune",
        "core/engine/retune.py",
        "heat = sqrt(after / before)",
        "heat = after / before",
        OUTSIDE,
    ),
    Fault(
        "a clutch that carries its spring",
        "core/engine/clutch.py",
        "sqrt((self.spring + torque",
        "sqrt((torque",
        "tests/core/engine",
    ),
    Fault(
        "boost over the room counted as absolute",
        "core/engine/boost.py",
        "ratio = (ambient + other) / (ambient + boost)",
        "ratio = other / boost",
        OUTSIDE,
    ),
    Fault(
        "a miss called a hit",
        "core/reckon/scoring.py",
        "MISS if chance <= 1.0 - SURE",
        "HIT if chance <= 1.0 - SURE",
        "tests/core/reckon",
    ),
    Fault(
        "bands of one forecast counted as many",
        "core/reckon/board.py",
        "wilson(share, len(numbers))",
        "wilson(share, len(entries))",
        "tests/core/reckon",
    ),
    Fault(
        "a candidate that fails let through",
        "core/reckon/assess.py",
        "NO_GO if self.failed else",
        "GO if self.failed else",
        "tests/core/reckon",
    ),
    Fault(
        "a what-if taken for a record",
        "dossier/reckon/answers.py",
        "CHOSEN if a.is_changed or a.known is None else a.known.rests",
        "a.known.rests if a.known is not None else CHOSEN",
        "tests/dossier/reckon/test_questions.py",
    ),
    Fault(
        "a prediction that no pull seals",
        "dossier/pull/verbs.py",
        "    say(work, PullComes(application, session.card))\n",
        "",
        "tests/dossier/reckon/test_predictions.py",
    ),
    Fault(
        "sealed and still said anew",
        "dossier/reckon/predictions.py",
        "instead_of.sealed_at is not None or instead_of.after_test",
        "instead_of.after_test",
        "tests/dossier/reckon/test_predictions.py",
    ),
    Fault(
        "scatter between fittings left out of the verdict",
        "core/compare/levels.py",
        "        grouped(weights, fittings),\n",
        "        0.0,\n",
        LEVELS,
    ),
    Fault(
        "fittings counted as pulls",
        "core/compare/scatter.py",
        "number += k > 0 and letter != letters[k - 1]",
        "number += k > 0",
        "tests/outside/test_plan.py",
    ),
    Fault(
        "a condition with one pull counts as filled",
        "dossier/plan/filling.py",
        "ENOUGH = 2",
        "ENOUGH = 0",
        "tests/steps/plan/test_plan.py",
    ),
    Fault(
        "an effect told that is mixed up",
        "core/plan/factorial.py",
        "        if name not in untold:",
        "        if name not in untold[1:]:",
        "tests/core/plan",
    ),
    Fault(
        "a slow factor swapped at every set",
        "core/plan/designs.py",
        "key=lambda k: -factors[k].minutes",
        "key=lambda k: factors[k].minutes",
        "tests/core/plan",
    ),
    Fault(
        "the other letters of a card weighed as ours",
        "dossier/case/sessions.py",
        "card.pair_of(application_id)",
        "card.pair_of(card.application_id)",
        "tests/steps/plan/test_plan.py",
    ),
    Fault(
        "two jobs in one cell at once",
        "core/plan/programme.py",
        "return k if k < len(self.starts) and self.starts[k] < ends else None",
        "return None",
        "tests/core/plan",
    ),
    Fault(
        "clocks that change move the working day",
        "core/plan/programme.py",
        "time(rest // 60, rest % 60), zone).astimezone(UTC)",
        "time(rest // 60, rest % 60), UTC)",
        "tests/core/plan",
    ),
    Fault(
        "what a person closed is opened again",
        "dossier/programme/raised.py",
        "if kept.closed_at is not None and kept.closed_by_id is None:",
        "if kept.closed_at is not None:",
        "tests/steps/programme/test_programme.py",
    ),
    Fault(
        "a revoked calendar still read",
        "dossier/programme/calendar.py",
        "CalendarKey.digest == digest, CalendarKey.revoked_at.is_(None)",
        "CalendarKey.digest == digest",
        "tests/steps/programme/test_programme.py",
    ),
    Fault(
        "absolute sensors read as if against the air around",
        "core/plan/conditions.py",
        "return high - station if is_absolute else high",
        "return high",
        "tests/steps/plan/test_plan.py",
    ),
    Fault(
        "equal work done twice",
        "dossier/work.py",
        "if found.state in (FAILED, CANCELLED):",
        "if found.state != RUNNING:",
        "tests/jobs/test_queue.py",
    ),
    Fault(
        "a slip is overlooked",
        "core/judge/drive.py",
        "RATIO_DRIFT = 0.015",
        "RATIO_DRIFT = 0.15",
        "tests/core/judge/test_judge.py",
    ),
    Fault(
        "another gear passes",
        "core/judge/drive.py",
        "GEAR_OFF = 0.015",
        "GEAR_OFF = 0.5",
        "tests/core/judge/test_judge.py",
    ),
    Fault(
        "creep passes",
        "core/judge/boost.py",
        "if min(rise, over) > max(",
        "if min(rise, over) < -max(",
        "tests/core/judge/test_judge.py",
    ),
    Fault(
        "a sensor at its end passes",
        "core/judge/sensors.py",
        "FLAT_SHARE = 0.05",
        "FLAT_SHARE = 0.95",
        "tests/core/judge/test_judge.py",
    ),
    Fault(
        "knock is not added up", "core/judge/limits.py", "KNOCKS = 2", "KNOCKS = 200", "tests/core/judge/test_judge.py"
    ),
    Fault(
        "a limit crossed by one row stops",
        "core/judge/limits.py",
        "LASTING = 3",
        "LASTING = 1",
        "tests/core/judge/test_judge.py",
    ),
    Fault(
        "neighbours are not asked",
        "core/judge/others.py",
        "NEIGHBOUR_SHARE, NEIGHBOUR_RESIDUALS = 0.035, 5.0",
        "NEIGHBOUR_SHARE, NEIGHBOUR_RESIDUALS = 0.9, 5.0",
        "tests/core/judge/test_judge.py",
    ),
    Fault(
        "the lag has the wrong sign",
        "core/pull/align.py",
        "start = one[0][0] - other[0][0] + shift * step",
        "start = one[0][0] - other[0][0] - shift * step",
        "tests/core/pull/test_align.py",
    ),
    Fault(
        "figures are picked instead of averaged",
        "core/pull/align.py",
        "if step > 1.5 * own > 0:",
        "if step > 1e9 * own > 0:",
        "tests/core/pull/test_align.py",
    ),
    Fault(
        "torque of a roller without the ratio",
        "core/pull/roller.py",
        "at_roller * roller_speed / engine_speed, np.nan",
        "at_roller, np.nan",
        "tests/core/pull/test_roller.py",
    ),
    Fault(
        "losses of a roller are taken off",
        "core/pull/roller.py",
        "+ roller.loss(roller_speed)",
        "- roller.loss(roller_speed)",
        "tests/core/pull/test_roller.py",
    ),
    Fault(
        "units are guessed without the figures",
        "formats/numbers.py",
        "    _power(table, found, said, stated)\n",
        "",
        "tests/formats/test_logs.py",
    ),
    Fault(
        "stated units are overruled",
        "formats/numbers.py",
        " and not (units_stated and _agree(found, torque, power))",
        "",
        "tests/formats/test_logs.py",
    ),
    Fault(
        "every meter is set to petrol",
        "formats/mapping.py",
        '        raise InputError(NO_SCALE, f"{field}-scale")\n',
        "        return 14.7\n",
        "tests/steps/pull/test_pull_pages.py",
    ),
    Fault(
        "a reading anew forgets the evidence's key",
        "dossier/case/sessions.py",
        "        read.number,\n        files_of(read),",
        "        1,\n        files_of(pull.readings[0]),",
        "tests/dossier/pull/test_logs.py",
    ),
    Fault(
        "a finding doubts nothing",
        "dossier/health.py",
        "if doubt.covers(s.held_on)",
        "if not doubt.covers(s.held_on)",
        "tests/dossier/pull/test_logs.py",
    ),
    Fault(
        "steady points are weighed",
        "store/models/dyno.py",
        'if pull.kind == "sweep"]',
        "if pull.kind]",
        "tests/dossier/pull/test_logs.py",
    ),
    Fault(
        "bytes of a stretch begin at its part",
        "dossier/blobs.py",
        "part[max(0, first - start) :",
        "part[0 :",
        "tests/dossier/pull/test_logs.py",
    ),
    Fault("live: a press that comes late is taken", "dossier/pull/cell.py", "if step.mark != mark:", "if False:", CELL),
    Fault("live: a clock is never looked at", "core/judge/sensors.py", "<= CLOCK_OFF:", "<= 1.0:", LIVE),
    Fault(
        "live: missing rows are overlooked",
        "core/judge/sensors.py",
        "if gap <= max(GAP_STEPS * usual, GAP_LEAST):",
        "if gap <= 100.0:",
        LIVE,
    ),
    Fault("live: a blip is a pull", "core/pull/live.py", "found.high - found.low >= least", "found.high >= 0.0", LIVE),
    Fault(
        "live: the next step goes beyond the limit",
        "core/tune/boost_table.py",
        "(1.0 - SPARE)",
        "(1.0 + SPARE)",
        TUNING,
    ),
    Fault("live: a jet goes by its bore", "core/tune/tuning.py", "(before / after) ** 2", "(before / after)", TUNING),
    Fault(
        "live: what an earlier set lacks is forgotten",
        "core/plan/cell_day.py",
        "(*range(at, len(sets)), *range(at))",
        "range(at, len(sets))",
        "tests/core/plan/test_cell_day.py",
    ),
    Fault(
        "live: a stop does not stop the day",
        "core/plan/cell_day.py",
        "if now.stop:",
        "if False:",
        "tests/core/plan/test_cell_day.py",
    ),
    Fault(
        "live: a wrong sum is read",
        "devices/protocol.py",
        "if sent != check_sum(body):",
        "if False:",
        "tests/devices/test_cell.py",
    ),
    Fault(
        "live: closed without a reason", "dossier/pull/closing.py", "if len(reason) < SHORTEST:", "if False:", CLOSING
    ),
    Fault("live: a wrong name scores like the right one", "dossier/practice.py", "return 1 if", "return 2 if", CLOSING),
    Fault(
        "live: degrees without their offset",
        "formats/pulls_out.py",
        "(column.values - unit.offset) / unit.factor",
        "column.values / unit.factor",
        "tests/formats/test_pulls_out.py",
    ),
    Fault(
        "weigh: sets left out of the interval",
        "core/compare/levels.py",
        "of_sets = self.set_share * self.set_df / self.trace",
        "of_sets = 0.0",
        LEVELS,
    ),
    Fault(
        "weigh: the records of a dyno ignored",
        "core/compare/levels.py",
        "beside = fitting * self.set_share + day",
        "beside = 0.0 * fitting + day",
        LEVELS,
    ),
    Fault(
        "weigh: a day has no level of its own",
        "core/compare/design.py",
        "for d in list(sets)[1:]]",
        "for d in list(sets)[9:]]",
        LEVELS,
    ),
    Fault(
        "weigh: days without a variant in common joined", "core/compare/design.py", "if not both:", "if False:", LEVELS
    ),
    Fault(
        "weigh: days that disagree widen nothing",
        "core/compare/compare.py",
        "if stats.chi2.sf(chi2, len(found) - 1) < 0.05 else 1.0",
        "if False else 1.0",
        LEVELS,
    ),
    Fault(
        "weigh: a measured effect added instead of taken off",
        "core/weigh/ledger.py",
        "            value -= off\n",
        "            value += off\n",
        LEDGER,
    ),
    Fault(
        "weigh: a bound halved",
        "core/weigh/ledger.py",
        "slack += (high - low) / 2.0",
        "slack += (high - low) / 4.0",
        LEDGER,
    ),
    Fault(
        "weigh: tests that share pulls taken as apart",
        "core/weigh/ledger.py",
        "together += error",
        "apart += error**2",
        LEDGER,
    ),
    Fault(
        "weigh: an unknown line closes the ledger",
        "core/weigh/ledger.py",
        "return not self.unknown",
        "return True",
        LEDGER,
    ),
    Fault(
        "weigh: equal boost beyond what was swept",
        "core/weigh/boost.py",
        "inside = low <= high",
        "inside = low <= 9.0 * high",
        BOOST,
    ),
    Fault(
        "weigh: the ratio law upside down",
        "core/weigh/boost.py",
        "factor = at / pull.pressure",
        "factor = pull.pressure / at",
        BOOST,
    ),
    Fault(
        "weigh: each pull its own target of boost",
        "core/weigh/response.py",
        "return min(plateaus)",
        "return max(plateaus)",
        BOOST,
    ),
    Fault("weigh: pairs read one by one", "core/weigh/several.py", "    if k == 2:\n", "    if k >= 2:\n", SEVERAL),
    Fault(
        "weigh: a group of those that are told apart",
        "core/weigh/several.py",
        "if not p.is_told_apart}",
        "if p.is_told_apart}",
        SEVERAL,
    ),
    Fault(
        "weigh: what must be added is free",
        "core/weigh/parity.py",
        "kit.price + added + (fitting or 0.0)",
        "kit.price + (fitting or 0.0)",
        TRIALS,
    ),
    Fault(
        "weigh: a price for a gain nobody proved",
        "core/weigh/parity.py",
        "gained = found.verdict == compare.GAIN and",
        "gained = True or",
        TRIALS,
    ),
    Fault(
        "weigh: weeks of one van are independent",
        "core/weigh/fuel.py",
        "df = float(treated + controls - 2)",
        "df = float(len(kept) - 4)",
        TRIALS,
    ),
    Fault("weigh: a trial without controls", "core/weigh/fuel.py", "if not controls:", "if False:", TRIALS),
    Fault(
        "weigh: surface and charge air mixed",
        "core/weigh/readings.py",
        'if (r.medium, " ".join(r.place.casefold().split())) == (medium, place)]',
        "if r.label]",
        TRIALS,
    ),
    Fault(
        "weigh: the ledger is no part of the evidence",
        "dossier/case/tests.py",
        "tuple(reason_seen(row) for row in reasons)",
        "()",
        RECORDS,
    ),
    Fault(
        "weigh: peaks stated of a net",
        "core/case/pulls.py",
        "if weighed.is_net else found",
        "if False else found",
        RECORDS,
    ),
    Fault(
        "a proven loss may be left out",
        "core/claim/gates/house.py",
        "missing = grounds.required - {",
        "missing = frozenset() - {",
        "tests/core/claim/test_gates.py",
    ),
    Fault(
        "readings that cannot be weighed close no gate",
        "core/claim/gates/house.py",
        "if grounds.unweighed:",
        "if False:",
        "tests/core/claim/test_gates.py",
    ),
    Fault(
        "a certificate that ran out still holds",
        "core/claim/road.py",
        "tuple(c for c in self.certificates if c.holds(self.day))",
        "self.certificates",
        "tests/core/claim",
    ),
    Fault(
        "scatter from set to set need not be counted",
        "core/claim/gates/dyno.py",
        '(bool(words), f"Set to set',
        '(True, f"Set to set',
        "tests/core/claim/test_gates.py",
    ),
    Fault(
        "a bundle with a changed file passes",
        "proof/verify.py",
        'BundleCheck("hashes", WRONG, ',
        'BundleCheck("hashes", OK, ',
        "tests/proof",
    ),
    Fault("a bundle signed by nobody passes", "proof/verify.py", "if not key.valid:", "if False:", "tests/proof"),
    Fault(
        "a bundle that says another sentence passes",
        "proof/verify.py",
        "    if told != list(found.sentences):",
        "    if False:",
        "tests/dossier/claim/test_bundle.py",
    ),
    Fault(
        "selling text may say all that the interval holds",
        "core/claim/selling/against.py",
        "if value > size * (1.0 + 1e-6) + step:",
        "if False:",
        "tests/core/claim/test_selling.py",
    ),
    Fault(
        "selling text may name more than was found",
        "core/claim/selling/against.py",
        "if value > limit * (1.0 + 1e-9):",
        "if False:",
        "tests/core/claim/test_selling.py",
    ),
    Fault(
        "a sheet keeps still when its pulls change",
        "dossier/claim/changed.py",
        "return Change(tuple(found), causes or (_cause_of(found),)) if found",
        "return UNCHANGED if found",
        "tests/steps/published/test_published.py",
    ),
    Fault(
        "a new loss beside a claim questions nothing",
        "core/case/changes.py",
        'if _differ("costs", was, now):',
        "if False:",
        "tests/steps/claim/test_claim_pages.py",
    ),
    Fault(
        "a part is claimed that was tested in another state",
        "core/claim/gates/dyno.py",
        "bool(tested) and tested.casefold() == of_revision.casefold()",
        "bool(tested)",
        "tests/core/claim/test_gates.py",
    ),
    Fault(
        "a plan promises a claim from pulls alone",
        "core/compare/planning.py",
        "plan.fittings, scatter=scatter).counts_sets",
        "plan.fittings, scatter=scatter).within_df > 0",
        "tests/core/compare/test_planning.py",
    ),
]


FAULTS += [Fault(*row) for row in (*ROWS, *SEEN)]


def put_in(fault: Fault, copy: Path) -> None:
    """Write the fault into a copy. Raises SystemExit if the right text is not there exactly once."""
    path = copy / "longbreath" / fault.file
    text = path.read_text(encoding="utf-8")
    if text.count(fault.right) != 1:
        raise SystemExit(f"{fault.words}: {fault.right!r} stands {text.count(fault.right)} times in {fault.file}")
    path.write_text(text.replace(fault.right, fault.wrong), encoding="utf-8")


PYTEST = "-m pytest --slow -x -q --no-header -p no:cacheprovider"


def noticed(fault: Fault, copy: Path) -> str:
    """The first test that fails with the fault in the copy, or nothing."""
    path = copy / "longbreath" / fault.file
    right = path.read_text(encoding="utf-8")
    put_in(fault, copy)
    run = subprocess.run(
        [sys.executable, *PYTEST.split(), *fault.tests.split()],
        cwd=copy,
        capture_output=True,
        text=True,
        env={**os.environ, "PYTHONPATH": str(copy), "NUMBA_CACHE_DIR": str(copy / ".numba")},
    )
    path.write_text(right, encoding="utf-8")
    found = re.search(r"^FAILED (\S+)", run.stdout, re.MULTILINE)
    if run.returncode not in (0, 1) or (run.returncode == 1 and not found):
        raise SystemExit(f"{fault.words}: the tests could not run.\n{run.stdout[-2000:]}{run.stderr[-2000:]}")
    return found[1] if found else ""


def main(wanted: str = "") -> int:
    """Put in each fault whose words hold `wanted`; print the table; 1 if one was not caught."""
    faults = [fault for fault in FAULTS if wanted in fault.words]
    missed = 0
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder)
        for part in ("longbreath", "tests", "bin", "demo"):
            shutil.copytree(ROOT / part, copy / part, ignore=shutil.ignore_patterns("__pycache__", "node_modules"))
        shutil.copy(ROOT / "pyproject.toml", copy)
        for fault in faults:
            by = noticed(fault, copy)
            missed += not by
            print(f"| {fault.words} | {fault.file} | {by.split('[')[0] or '**not caught**'} |", flush=True)
    print(f"{len(faults) - missed} of {len(faults)} caught")
    return 1 if missed else 0


if __name__ == "__main__":
    sys.exit(main(*sys.argv[1:2]))
