"""What a supplier has in the place of something of the catalogue, and how it differs."""

from typing import Any


def up(migrator: Any, db: Any) -> None:
    db.execute_sql("ALTER TABLE offer ADD COLUMN instead text NOT NULL DEFAULT ''")
