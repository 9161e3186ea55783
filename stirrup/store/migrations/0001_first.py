"""Shops, builds, revisions, prices."""

from typing import Any


def up(migrator: Any, db: Any) -> None:
    for statement in (
        "CREATE TABLE shop (id serial PRIMARY KEY, name text NOT NULL, units text NOT NULL)",
        "CREATE TABLE build (id serial PRIMARY KEY,"
        " shop_id integer NOT NULL REFERENCES shop (id), name text NOT NULL,"
        " plan jsonb NOT NULL, number integer NOT NULL, undo_top integer, redo_top integer,"
        " created timestamptz NOT NULL, changed timestamptz NOT NULL)",
        "CREATE INDEX build_shop ON build (shop_id)",
        "CREATE TABLE revision (id serial PRIMARY KEY,"
        " shop_id integer NOT NULL REFERENCES shop (id),"
        " build_id integer NOT NULL REFERENCES build (id) ON DELETE CASCADE,"
        " number integer NOT NULL, kind text NOT NULL, words text NOT NULL,"
        " change jsonb, inverse jsonb, plan jsonb NOT NULL, under integer, redo_under integer,"
        " token text, at timestamptz NOT NULL,"
        " UNIQUE (build_id, number), UNIQUE (build_id, token))",
        "CREATE INDEX revision_shop ON revision (shop_id)",
        "CREATE TABLE price (id serial PRIMARY KEY,"
        " shop_id integer NOT NULL REFERENCES shop (id), item text NOT NULL,"
        " packs jsonb NOT NULL, UNIQUE (shop_id, item))",
    ):
        db.execute_sql(statement)
