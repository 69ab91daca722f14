"""The register of kinds: every statement that can leave the house is of one of them."""

from __future__ import annotations

from longbreath.core.claim.kinds import airflow, fuel, power, response
from longbreath.core.claim.kinds.kind import ClaimKind, Quantity
from longbreath.core.claim.kinds.looks import DURABILITY, FITMENT
from longbreath.core.claim.kinds.readings import MASS, NOISE, TEMPERATURE

KINDS: dict[str, ClaimKind] = {
    kind.name: kind
    for kind in (power.KIND, response.KIND, airflow.KIND, TEMPERATURE, fuel.KIND, NOISE, MASS, FITMENT, DURABILITY)
}
"""Every kind of statement by its name, in the order they are offered."""
QUANTITIES: dict[str, Quantity] = {q.name: q for kind in KINDS.values() for q in kind.quantities}
"""Every quantity that facts are of, by its name."""
