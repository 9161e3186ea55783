"""All that a step of a drag needs of the store, in one statement."""

from __future__ import annotations

from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.plan.model import Plan
from stirrup.core.record import dataclass
from stirrup.store.builds import NotThereError, plan_of
from stirrup.store.models import DATABASE
from stirrup.store.session import reading
from stirrup.store.shop import DIGESTS, catalogue_of, the_shop

STATEMENT = f"""
SELECT s.id, s.name, s.units, b.number, b.created, {DIGESTS}
FROM shop s LEFT JOIN build b ON b.shop_id = s.id AND b.id = %s
ORDER BY s.id LIMIT 1
"""


@dataclass(frozen=True)
class Glance:
    """The shop, its catalogue, and a build's latest revision."""

    shop_id: int
    shop_name: str
    units: str
    number: int
    plan: Plan
    catalogue: Catalogue


@reading()
def at_a_glance(build_id: int) -> Glance:
    """The shop and a build of it. Raises NotThereError."""
    row = DATABASE.execute_sql(STATEMENT, (build_id,)).fetchone()
    if row is None:
        the_shop()  # made on first use
    if row is None or row[3] is None:
        raise NotThereError(f"there is no build {build_id}")
    shop_id, name, units, number, created, *digests = row
    known = catalogue_of(shop_id, tuple(digests))
    return Glance(shop_id, name, units, number, plan_of(build_id, number, created), known)
