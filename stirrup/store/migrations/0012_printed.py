"""What is set as PDF by a worker: the page that was asked for, and then its file."""

from typing import Any


def up(migrator: Any, db: Any) -> None:
    for statement in (
        "CREATE TABLE printed (id bigserial PRIMARY KEY, shop_id integer NOT NULL REFERENCES shop (id),"
        " digest text NOT NULL, name text NOT NULL, html text NOT NULL, pdf bytea, failed text,"
        " at timestamptz NOT NULL, UNIQUE (shop_id, digest))",
    ):
        db.execute_sql(statement)
