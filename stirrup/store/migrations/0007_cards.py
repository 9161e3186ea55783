"""What the yard shows of a boat, kept with the revision that it was worked out for."""

from typing import Any


def up(migrator: Any, db: Any) -> None:
    db.execute_sql(
        "CREATE TABLE card (build_id integer PRIMARY KEY REFERENCES build (id) ON DELETE CASCADE,"
        " shop_id integer NOT NULL REFERENCES shop (id),"
        " number integer NOT NULL, meaning text NOT NULL, shown jsonb NOT NULL)"
    )
