"""A revision can carry a name, so that it is found again."""

from typing import Any


def up(migrator: Any, db: Any) -> None:
    db.execute_sql("ALTER TABLE revision ADD COLUMN name text")
