"""All that a step of a drag needs of the store, in one statement."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

from stirrup.core.memo import Memo
from stirrup.core.parts.catalogue import Catalogue
from stirrup.core.plan.model import Plan
from stirrup.store.builds import NotThereError, plan_of
from stirrup.store.models import DATABASE
from stirrup.store.session import reading
from stirrup.store.shop import catalogue, the_shop

# by what lies over what ships, told by its digest
CATALOGUES = Memo(20, common=True)
# whatever was added to or changed in the shop's catalogue changes the digests
STATEMENT = """
SELECT s.id, s.name, s.units, b.number, b.created,
  (SELECT md5(string_agg(o.item || o.entry::text, ',' ORDER BY o.id))
   FROM own_entry o WHERE o.shop_id = s.id),
  (SELECT md5(string_agg(p.item || p.packs::text, ',' ORDER BY p.item))
   FROM price p WHERE p.shop_id = s.id)
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
    shop_id, name, units, number, created, own, paid = row
    known = CATALOGUES.get((shop_id, own, paid), partial(catalogue, shop_id))
    return Glance(shop_id, name, units, number, plan_of(build_id, number, created), known)
