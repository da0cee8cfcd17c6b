"""Sweeping: files that nothing names any more, and uploads that nobody ended."""

from __future__ import annotations

from datetime import datetime, timedelta

from jade_ladder.store.files import files as store
from jade_ladder.store.files.contents import Contents
from jade_ladder.store.files.keeping import named_by_kept
from jade_ladder.store.shared.connection import Database

KEPT_FOR = timedelta(days=1)


def sweep(database: Database, now: datetime, disk_time: datetime) -> int:
    """Remove what nothing names and was touched more than a day ago; gives how many files. What is
    there while a backup is made stays, and what a database names that a restoring put aside. The
    disk has a clock of its own, by which files were touched.
    """
    before = now - KEPT_FOR
    kept = named_by_kept(database.path)
    if kept is None:
        return 0
    with database.transaction() as db:
        store.forget_unnamed(db, before)
        named, uploads = store.named_hashes(db), store.upload_ids(db)
    return Contents.of(database).sweep(
        kept.union(named), uploads, (disk_time - KEPT_FOR).timestamp()
    )
