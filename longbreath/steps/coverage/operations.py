"""Opening an application."""

from __future__ import annotations

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from longbreath.core.basis.errors import InputError
from longbreath.store.models import Application, Revision, Vehicle


def open_application(db: Session, vehicle_id: int, revision_id: int, stock_revision_id: int) -> Application:
    """Open the dossier of one product on one vehicle. Raises InputError if there is one, or the parts do not fit."""
    vehicle = db.get(Vehicle, vehicle_id)
    revision, stock = db.get(Revision, revision_id), db.get(Revision, stock_revision_id)
    if vehicle is None:
        raise InputError("There is no such vehicle.", "vehicle_id")
    if revision is None or stock is None or revision.product.side != stock.product.side:
        raise InputError("Choose a stock part of the same side (intake or exhaust).", "stock_revision_id")
    application = Application(vehicle_id=vehicle_id, revision_id=revision_id, stock_revision_id=stock_revision_id)
    application.vehicle, application.revision, application.stock_revision = vehicle, revision, stock
    try:
        with db.begin_nested():
            db.add(application)
            db.flush()
    except IntegrityError:
        raise InputError("This revision already has an application on this vehicle.", "revision_id") from None
    return application
