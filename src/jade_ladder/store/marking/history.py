"""What a mark was, version by version, and making it so again."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from datetime import datetime

from jade_ladder.store.marking.adjustments import next_version
from jade_ladder.store.shared.rows import fetch


@dataclass(frozen=True, slots=True)
class ChangeRow:
    """What was said in a version at one place of a mark, by whom and when. `what` is choice,
    remark, passage, recording, file, line, waived or by-hand; `text` the words, `amount`
    hundredths; all empty: nothing.
    """

    what: str
    version: int
    made_at: datetime
    given_name: str
    family_name: str
    criterion_id: int | None
    criterion_key: str | None
    criterion: str | None
    level: str | None
    half_way: bool
    not_assessed: bool
    text: str
    amount: int
    key: str
    until: int | None


def changes(db: sqlite3.Connection, mark_id: int) -> list[ChangeRow]:
    """List all that was ever said in a mark, the oldest first."""
    return fetch(
        db,
        ChangeRow,
        """SELECT x.what, x.since_version AS version, x.made_at, p.given_name, p.family_name,
                  x.criterion_id, x.criterion_key, x.title AS criterion, x.level, x.half_way,
                  x.not_assessed, x.text, x.amount, x.key, x.until_version AS until
           FROM (
             SELECT 'choice' AS what, c.since_version, c.made_at, c.made_by, c.criterion_id,
                    k.key AS criterion_key, k.title, l.name AS level, c.half_way, c.not_assessed,
                    '' AS text, 0 AS amount, '' AS key, c.until_version, c.id
             FROM mark_choice c JOIN criterion k ON k.id = c.criterion_id
             LEFT JOIN criterion_level l ON l.id = c.level_id WHERE c.mark_id = ?1
             UNION ALL
             SELECT 'remark', r.since_version, r.made_at, r.made_by, r.criterion_id, k.key, k.title,
                    NULL, 0, 0, r.text, 0, '', r.until_version, r.id
             FROM mark_remark r LEFT JOIN criterion k ON k.id = r.criterion_id
             WHERE r.mark_id = ?1
             UNION ALL
             SELECT 'passage', s.since_version, s.made_at, s.made_by, NULL, s.criterion_key, NULL,
                    NULL, 0, 0, s.text, 0, s.key, s.until_version, s.id
             FROM passage s WHERE s.mark_id = ?1
             UNION ALL
             SELECT f.kind, f.since_version, f.made_at, f.made_by, NULL, f.criterion_key, NULL,
                    NULL, 0, 0, CASE WHEN f.file_id IS NULL THEN '' ELSE f.name END, 0, f.key,
                    f.until_version, f.id
             FROM mark_file f WHERE f.mark_id = ?1
             UNION ALL
             SELECT j.kind, j.since_version, j.made_at, j.made_by, NULL, NULL, NULL, NULL, 0, 0,
                    j.reason, j.amount, '', j.until_version, j.id
             FROM mark_adjustment j WHERE j.mark_id = ?1) x
           JOIN person p ON p.id = x.made_by ORDER BY x.since_version, x.what, x.id""",
        (mark_id,),
    )


@dataclass(frozen=True, slots=True)
class HandedBackVersion:
    """A version that was handed back, and when."""

    version: int
    at: datetime


def handed_back_versions(db: sqlite3.Connection, mark_id: int) -> list[HandedBackVersion]:
    """List the versions of a mark that were handed back, the first first."""
    return fetch(
        db,
        HandedBackVersion,
        "SELECT version, made_at AS at FROM hand_back WHERE mark_id = ? ORDER BY id",
        (mark_id,),
    )


# Of each table: by what a place in a mark is known, what is said there, and nothing said there.
_SAID = (
    (
        "mark_choice",
        "criterion_id",
        "criterion_id, level_id, half_way, not_assessed, carried_from",
        "criterion_id, NULL, 0, 0, NULL",
    ),
    ("mark_remark", "coalesce(criterion_id, 0)", "criterion_id, text", "criterion_id, ''"),
    (
        "passage",
        "key",
        "key, part_id, criterion_key, text, place",
        "key, part_id, NULL, '', ''",
    ),
    (
        "mark_file",
        "key",
        "key, kind, criterion_key, passage_key, name, words, seconds, file_id",
        "key, kind, NULL, NULL, '', '', 0, NULL",
    ),
    ("mark_adjustment", "kind", "kind, amount, reason", None),
)


def restore(
    db: sqlite3.Connection, mark_id: int, version: int, now: datetime, person_id: int
) -> int:
    """Append a version of a mark in which all stands as it did in an earlier one; gives it. What
    stands now and did not then is taken back by a row of its own, so that another tab is told; what
    stood all the time is not touched. Where all does, there is no new version (0).
    """
    if not _differs(db, mark_id, version):
        return 0
    new = next_version(db, mark_id, now)
    of = {"mark": mark_id, "then": version, "new": new, "now": now, "person": person_id}
    later = """mark_id = :mark AND until_version IS NULL
               AND since_version > :then AND since_version < :new"""
    then = "mark_id = :mark AND since_version <= :then AND until_version > :then"
    for table, place, said, nothing in _SAID:
        put = f"INSERT INTO {table} (mark_id, {said}, since_version, made_at, made_by)"
        if nothing is not None:
            db.execute(
                f"""{put} SELECT mark_id, {nothing}, :new, :now, :person FROM {table}
                    WHERE {later} AND {place} NOT IN (SELECT {place} FROM {table} WHERE {then})""",
                of,
            )
        db.execute(
            f"""{put} SELECT mark_id, {said}, :new, :now, :person FROM {table}
                WHERE {then} AND until_version < :new ORDER BY id""",
            of,
        )
        db.execute(f"UPDATE {table} SET until_version = :new WHERE {later}", of)
    return new


def _differs(db: sqlite3.Connection, mark_id: int, version: int) -> bool:
    """Whether something stands now that did not stand in an earlier version, or the reverse."""
    return any(
        db.execute(
            f"""SELECT 1 FROM {table} WHERE mark_id = ?1
                AND (since_version > ?2) <> (since_version <= ?2 AND until_version > ?2)
                AND (until_version IS NULL OR since_version <= ?2) LIMIT 1""",
            (mark_id, version),
        ).fetchone()
        for table, *_ in _SAID
    )
