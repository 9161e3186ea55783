"""A shop's own entries of the catalogue, over those that ship."""

from typing import Any


def up(migrator: Any, db: Any) -> None:
    for statement in (
        "CREATE TABLE own_entry (id serial PRIMARY KEY,"
        " shop_id integer NOT NULL REFERENCES shop (id),"
        " item text NOT NULL, entry jsonb NOT NULL)",
        "CREATE UNIQUE INDEX own_entry_item ON own_entry (shop_id, item)",
    ):
        db.execute_sql(statement)
