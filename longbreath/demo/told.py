"""What an entry of the demo may say by `do`, and the verb that does it: the same verbs as the pages call."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from longbreath.demo import cell, desk, office, shop
from longbreath.dossier import health, library, timing
from longbreath.dossier import shop as kept
from longbreath.dossier.bench import porting
from longbreath.dossier.bench import verbs as bench
from longbreath.dossier.claim import house, road, watch, words
from longbreath.dossier.claim import verbs as claims
from longbreath.dossier.evidence import verdict
from longbreath.dossier.path import faces, fit
from longbreath.dossier.path import verbs as path
from longbreath.dossier.plan import scatter
from longbreath.dossier.pull import tuning
from longbreath.dossier.reckon import candidates, targets
from longbreath.dossier.weigh import kits

Verb = Callable[..., Any]
OF_THE_SHOP: dict[str, Verb] = {
    "person": shop.person,
    "person can": kept.change_person,
    "bench": library.add_bench,
    "range": library.add_range,
    "plate check": library.add_check,
    "dyno": library.add_dyno,
    "dyno is": kept.change_dyno,
    "cell": shop.cell,
    "sensor": shop.sensor,
    "tune": shop.tune,
    "test engine": shop.engine,
    "fuel": shop.fuel,
    "checklist": shop.checklist,
    "outside table": shop.outside_table,
    "vehicle": library.add_vehicle,
    "part": library.add_product,
    "price": shop.price,
    "piece": shop.piece,
    "engine goes in": kept.move_engine,
    "health": health.add_entry,
    "scatter of the dyno": scatter.fit_scatter,
}
ON_THE_BENCH: dict[str, Verb] = {
    "dossier": shop.dossier,
    "element": path.save_element,
    "size readings": path.add_readings,
    "face": desk.face,
    "faces lie": faces.keep_lay,
    "photo": desk.photo,
    "fit": fit.save_fit,
    "spot": fit.add_spot,
    "wheel sheet": timing.add_sheet,
    "rung": desk.rung,
    "usual build": desk.usual_build,
    "build sheet": desk.build_sheet,
    "fixture": bench.save_fixture,
    "bench day": bench.open_session,
    "trace": bench.add_trace,
    "trace is": bench.change_trace,
    "trace runs in": bench.choose_section,
    "reading": desk.reading,
    "take back": desk.take_back,
    "take out": desk.take_out,
    "map": desk.face_map,
    "map point": desk.map_point,
    "porting": porting.save_job,
    "bout": porting.add_bout,
}
BEFORE_AND_ON_THE_DYNO: dict[str, Verb] = {
    "expect": office.expect,
    "expect by school": office.expect_by_school,
    "target": targets.save_target,
    "candidate": candidates.save_candidate,
    "answer": office.answer,
    "variant": cell.variant,
    "test card": cell.card_of_test,
    "dyno day": cell.dyno_day,
    "log": cell.log,
    "logs": cell.take_logs,
    "live pulls": cell.live_pulls,
    "conditions": cell.conditions,
    "tuning round": tuning.record_round,
    "weigh the day": cell.weigh_day,
    "weigh the dossier": verdict.renew,
    "close the day": cell.close_day,
}
IN_THE_OFFICE: dict[str, Verb] = {
    "trial": office.trial,
    "kit": kits.save_kit,
    "ledger": office.ledger,
    "house rules": house.set_rules,
    "notes": house.write_notes,
    "approval": claims.state_approval,
    "certificate": road.add_certificate,
    "vehicle covered": road.cover_vehicle,
    "draft": office.draft,
    "submit": office.submit,
    "publish": office.publish,
    "withdraw": claims.withdraw_claim,
    "bundle": office.make_bundle,
    "look again": watch.look,
    "selling text": words.save_text,
    "settle": office.settle,
    "share out": office.share_out,
    "late part": office.late_part,
}
VERBS: dict[str, Verb] = {**OF_THE_SHOP, **ON_THE_BENCH, **BEFORE_AND_ON_THE_DYNO, **IN_THE_OFFICE}
