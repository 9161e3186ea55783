"""Quotes, change orders and bills as they were given, numbered without gaps."""

from typing import Any


def up(migrator: Any, db: Any) -> None:
    for statement in (
        "CREATE TABLE paper (id serial PRIMARY KEY, shop_id integer NOT NULL REFERENCES shop (id),"
        " build_id integer REFERENCES build (id) ON DELETE SET NULL, kind text NOT NULL,"
        " number integer NOT NULL, of_id integer REFERENCES paper (id), stage integer,"
        " state text NOT NULL, paid boolean NOT NULL DEFAULT false, content jsonb NOT NULL,"
        " token text, at timestamptz NOT NULL, UNIQUE (shop_id, kind, number), UNIQUE (build_id, token))",
        "CREATE INDEX paper_build ON paper (build_id)",
        # a stage of a paper is billed once
        "CREATE UNIQUE INDEX paper_stage ON paper (of_id, stage) WHERE stage IS NOT NULL",
    ):
        db.execute_sql(statement)
