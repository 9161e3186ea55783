"""A revision can carry the name of who made it."""

from typing import Any


def up(migrator: Any, db: Any) -> None:
    db.execute_sql("ALTER TABLE revision ADD COLUMN author text")
