"""Photos of places and scan meshes that belong to a build."""

from typing import Any


def up(migrator: Any, db: Any) -> None:
    for statement in (
        "CREATE TABLE upload (id serial PRIMARY KEY,"
        " shop_id integer NOT NULL REFERENCES shop (id),"
        " build_id integer NOT NULL REFERENCES build (id) ON DELETE CASCADE,"
        " kind text NOT NULL, name text NOT NULL, media text NOT NULL,"
        " content bytea NOT NULL, created timestamptz NOT NULL)",
        "CREATE INDEX upload_build ON upload (build_id, kind)",
        "CREATE INDEX upload_shop ON upload (shop_id)",
    ):
        db.execute_sql(statement)
