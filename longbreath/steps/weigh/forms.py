"""Form by which any band may be asked about."""

from __future__ import annotations

from longbreath.core.basis.constants import RPM
from longbreath.web.forms import AskForm, QuantityField


class BandForm(AskForm):
    """A band of speeds. Kept in the address."""

    low = QuantityField("From", "speed", 100 * RPM, 30000 * RPM)
    high = QuantityField("to", "speed", 100 * RPM, 30000 * RPM)
