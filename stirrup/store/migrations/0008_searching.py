"""How far a search for a layout is, and whether it is to stop."""

from typing import Any


def up(migrator: Any, db: Any) -> None:
    for statement in (
        "ALTER TABLE layout ADD COLUMN progress real NOT NULL DEFAULT 0",
        "ALTER TABLE layout ADD COLUMN stop boolean NOT NULL DEFAULT false",
    ):
        db.execute_sql(statement)
