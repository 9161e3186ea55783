"""Pages that are set as PDF by who works beside the web: asked for once, kept, and forgotten in time."""

from __future__ import annotations

import hashlib
import logging

from stirrup.core.record import dataclass
from stirrup.exchange.book import book_pdf
from stirrup.store.builds import NotThereError
from stirrup.store.models import Printed
from stirrup.store.session import reading, writing

LOG = logging.getLogger("stirrup")
MOST_KEPT = 60  # pages of a shop, the newest


@dataclass(frozen=True)
class Sheet:
    """A page that was asked for. pdf: once it is set; failed: why it cannot be."""

    id: int
    name: str
    pdf: bytes | None
    failed: str


@writing()
def ask(shop_id: int, name: str, html: str) -> tuple[int, bool]:
    """Note that a page is wanted: its id, and whether nobody asked for the same before."""
    digest = hashlib.sha256(html.encode()).hexdigest()
    here = (Printed.shop == shop_id) & (Printed.digest == digest)
    # once more where it went wrong: what was in the way may have passed
    Printed.delete().where(here & Printed.failed.is_null(False)).execute()
    made = Printed.insert(shop=shop_id, digest=digest, name=name, html=html)
    new = list(made.on_conflict_ignore().returning(Printed.id).execute())
    older = Printed.select(Printed.id).where(Printed.shop == shop_id).order_by(Printed.id.desc())
    Printed.delete().where((Printed.shop == shop_id) & Printed.id.in_(older.offset(MOST_KEPT))).execute()
    return int(Printed.get(here).id), bool(new)


@reading()
def sheet(shop_id: int, print_id: int) -> Sheet:
    """A page that was asked for. Raises NotThereError."""
    row = Printed.get_or_none((Printed.shop == shop_id) & (Printed.id == print_id))
    if row is None:
        raise NotThereError(f"there is no page {print_id} to print; ask for it again")
    pdf = None if row.pdf is None else bytes(row.pdf)
    return Sheet(int(row.id), row.name, pdf, row.failed or "")


def set_page(print_id: int) -> None:
    """Set a page, unless that is done or nobody wants it any more."""
    html = _wanted(print_id)
    if not html:
        return
    try:
        pdf, failed = book_pdf(html), None
    except Exception as error:  # whatever a page can do to what sets it is told, and not tried for ever
        LOG.exception("page %s could not be set", print_id)
        pdf, failed = None, f"{type(error).__name__}: {error}"[:300]
    _keep(print_id, pdf, failed)


@reading()
def _wanted(print_id: int) -> str:
    row = Printed.get_or_none((Printed.id == print_id) & Printed.pdf.is_null() & Printed.failed.is_null())
    return "" if row is None else str(row.html)


@writing()
def _keep(print_id: int, pdf: bytes | None, failed: str | None) -> None:
    Printed.update(pdf=pdf, failed=failed, html="").where(Printed.id == print_id).execute()
