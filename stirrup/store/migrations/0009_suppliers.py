"""Suppliers of a shop, and what they ask for packs: every price stays, with its day. And of each item of
the catalogue the packs that its suppliers have."""

from typing import Any


def up(migrator: Any, db: Any) -> None:
    for statement in (
        "CREATE TABLE supplier (id serial PRIMARY KEY, shop_id integer NOT NULL REFERENCES shop (id),"
        ' "key" text NOT NULL, "values" jsonb NOT NULL, columns jsonb, UNIQUE (shop_id, "key"))',
        "CREATE TABLE offer (id bigserial PRIMARY KEY, shop_id integer NOT NULL REFERENCES shop (id),"
        " supplier text NOT NULL, ref text NOT NULL, name text NOT NULL, number text NOT NULL, item text,"
        " quantity double precision NOT NULL, price numeric(14, 4) NOT NULL,"
        ' "day" text NOT NULL, source text NOT NULL,'
        ' UNIQUE (shop_id, supplier, ref, quantity, "day"))',
        "CREATE INDEX offer_item ON offer (shop_id, item) WHERE item IS NOT NULL",
        "ALTER TABLE price ADD COLUMN offered jsonb",
    ):
        db.execute_sql(statement)
