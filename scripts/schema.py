"""Write the present schema of the database, all migrations done, to docs/schema.sql."""

from __future__ import annotations

import tempfile
from pathlib import Path

from jade_ladder.store.shared.connection import Database

SCHEMA = Path(__file__).parent.parent / "docs" / "schema.sql"
_HEAD = """\
-- The database as it is once all migrations are done: made by `make schema`, never changed by hand.
-- Each table stands with its indexes and triggers; why it is so is told in its migration
-- (src/jade_ladder/store/shared/migrations).
"""


def present_schema() -> str:
    """Give it as it is in a new database, table by table."""
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder) / "new.sqlite3")
        with database.reading() as db:
            rows = db.execute(
                """SELECT sql FROM sqlite_schema WHERE sql IS NOT NULL AND name NOT LIKE 'sqlite_%'
                   ORDER BY tbl_name, CASE type WHEN 'table' THEN 1 WHEN 'view' THEN 1
                                                WHEN 'index' THEN 2 ELSE 3 END, name"""
            ).fetchall()
        database.close()
    return "\n".join([_HEAD, *(f"{sql};\n" for (sql,) in rows)])


if __name__ == "__main__":
    SCHEMA.write_text(present_schema(), "utf-8")
