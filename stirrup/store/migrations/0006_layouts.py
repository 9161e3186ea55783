"""Layouts that are known or wanted, and the queue of jobs that work them out."""

from typing import Any

from procrastinate.schema import SchemaManager


def up(migrator: Any, db: Any) -> None:
    db.execute_sql(
        "CREATE TABLE layout (id serial PRIMARY KEY,"
        " shop_id integer NOT NULL REFERENCES shop (id),"
        " digest text NOT NULL, build_id integer REFERENCES build (id) ON DELETE SET NULL,"
        " stock text NOT NULL, job jsonb NOT NULL, result jsonb,"
        " asked timestamptz NOT NULL, done timestamptz)"
    )
    db.execute_sql("CREATE UNIQUE INDEX layout_digest ON layout (shop_id, digest)")
    # the queue's own tables and functions, as its package brings them
    db.execute_sql(SchemaManager.get_schema().replace("%", "%%"))
