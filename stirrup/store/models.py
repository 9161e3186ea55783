"""Tables. Every table carries shop_id, so that shops can be spread over servers later."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from peewee import (
    BlobField,
    BooleanField,
    DatabaseProxy,
    DateTimeField,
    DecimalField,
    FloatField,
    ForeignKeyField,
    IntegerField,
    JSONField,
    Model,
    TextField,
)

DATABASE = DatabaseProxy()


def now() -> datetime:
    """The time, with its zone."""
    return datetime.now(UTC)


class Base(Model):
    id: Any  # peewee adds it

    class Meta:
        database = DATABASE


class Shop(Base):
    """A workshop: its name and how it reads numbers."""

    name: Any = TextField()
    units: Any = TextField(default="mm")

    class Meta:
        table_name = "shop"


class Build(Base):
    """One build: its plan as it is now, and the tops of its undo and redo stacks.

    The stacks are linked lists through the revisions: `under` below each of them.
    """

    shop: Any = ForeignKeyField(Shop, backref="builds", index=True)
    name: Any = TextField()
    plan: Any = JSONField()
    number: Any = IntegerField(default=0)
    undo_top: Any = IntegerField(null=True)
    redo_top: Any = IntegerField(null=True)
    created: Any = DateTimeField(default=now)
    changed: Any = DateTimeField(default=now)

    class Meta:
        table_name = "build"


class Revision(Base):
    """One acknowledged step: the change, its inverse, the plan after it."""

    shop: Any = ForeignKeyField(Shop, index=True)
    build: Any = ForeignKeyField(Build, backref="revisions", on_delete="CASCADE")
    number: Any = IntegerField()
    kind: Any = TextField()  # import, change, undo, redo
    words: Any = TextField()
    change: Any = JSONField(null=True)
    inverse: Any = JSONField(null=True)
    plan: Any = JSONField()
    under: Any = IntegerField(null=True)  # next lower on the undo stack
    redo_under: Any = IntegerField(null=True)  # next lower on the redo stack
    name: Any = TextField(null=True)  # that somebody gave it
    author: Any = TextField(null=True)  # who made it, if he gave a name
    token: Any = TextField(null=True)  # of the request, so that a repeat is not applied twice
    at: Any = DateTimeField(default=now)

    class Meta:
        table_name = "revision"
        indexes = ((("build", "number"), True), (("build", "token"), True))


class Price(Base):
    """The shop's packs and prices of one catalogue item: [[quantity, "price"], …]."""

    shop: Any = ForeignKeyField(Shop, index=True)
    item: Any = TextField()
    packs: Any = JSONField()
    offered: Any = JSONField(null=True)  # the packs of its suppliers, each at the best price

    class Meta:
        table_name = "price"
        indexes = ((("shop", "item"), True),)


class OwnEntry(Base):
    """An entry of the catalogue that the shop added or changed, as plain values."""

    shop: Any = ForeignKeyField(Shop, index=True)
    item: Any = TextField()
    entry: Any = JSONField()

    class Meta:
        table_name = "own_entry"
        indexes = ((("shop", "item"), True),)


class Upload(Base):
    """A file that belongs to a build: a photo of a place, a scan's mesh."""

    shop: Any = ForeignKeyField(Shop, index=True)
    build: Any = ForeignKeyField(Build, on_delete="CASCADE")
    kind: Any = TextField()  # photo, scan
    name: Any = TextField()
    media: Any = TextField()
    content: Any = BlobField()
    created: Any = DateTimeField(default=now)

    class Meta:
        table_name = "upload"
        indexes = ((("build", "kind"), False),)


class Card(Base):
    """What the yard shows of a boat, of one revision; see `store.cards`."""

    build: Any = ForeignKeyField(Build, primary_key=True, on_delete="CASCADE")
    shop: Any = ForeignKeyField(Shop, index=True)
    number: Any = IntegerField()
    meaning: Any = TextField()
    shown: Any = JSONField()

    class Meta:
        table_name = "card"


class Layout(Base):
    """A layout by what is cut: the job, and its result once it has been worked out."""

    shop: Any = ForeignKeyField(Shop, index=True)
    digest: Any = TextField()
    build: Any = ForeignKeyField(Build, null=True, on_delete="SET NULL")  # that asked last
    stock: Any = TextField()
    job: Any = JSONField()
    result: Any = JSONField(null=True)
    asked: Any = DateTimeField(default=now)
    done: Any = DateTimeField(null=True)
    progress: Any = FloatField(default=0.0)
    stop: Any = BooleanField(default=False)

    class Meta:
        table_name = "layout"


class SupplierRow(Base):
    """A supplier of a shop as plain values, and which columns of its price lists are what."""

    shop: Any = ForeignKeyField(Shop, index=True)
    key: Any = TextField()
    values: Any = JSONField()
    columns: Any = JSONField(null=True)

    class Meta:
        table_name = "supplier"
        indexes = ((("shop", "key"), True),)


class OfferRow(Base):
    """What a supplier asked for a pack on a day; ref: what the supplier knows it by; item: what of the
    catalogue it is, if anybody has said so; instead: how it differs where it only stands in its place."""

    shop: Any = ForeignKeyField(Shop, index=True)
    supplier: Any = TextField()
    ref: Any = TextField()
    name: Any = TextField(default="")
    number: Any = TextField(default="")
    item: Any = TextField(null=True)
    quantity: Any = FloatField()
    price: Any = DecimalField(max_digits=14, decimal_places=4)
    day: Any = TextField()
    source: Any = TextField(default="")
    instead: Any = TextField(default="")

    class Meta:
        table_name = "offer"
        indexes = ((("shop", "supplier", "ref", "quantity", "day"), True),)


class PaperRow(Base):
    """A quote, a change order or a bill: its content never changes, its state does."""

    shop: Any = ForeignKeyField(Shop, index=True)
    build: Any = ForeignKeyField(Build, null=True, on_delete="SET NULL")
    kind: Any = TextField()
    number: Any = IntegerField()
    of: Any = ForeignKeyField("self", null=True)
    stage: Any = IntegerField(null=True)
    state: Any = TextField(default="given")  # given, accepted, declined
    paid: Any = BooleanField(default=False)
    content: Any = JSONField()
    token: Any = TextField(null=True)
    at: Any = DateTimeField(default=now)

    class Meta:
        table_name = "paper"


class Printed(Base):
    """A page that is set as PDF: its HTML until then, its file from then on, or why there is none."""

    shop: Any = ForeignKeyField(Shop, index=True)
    digest: Any = TextField()
    name: Any = TextField()
    html: Any = TextField()
    pdf: Any = BlobField(null=True)
    failed: Any = TextField(null=True)
    at: Any = DateTimeField(default=now)

    class Meta:
        table_name = "printed"
