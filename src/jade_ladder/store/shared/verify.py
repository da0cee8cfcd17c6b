"""Whether a database is whole: the file, the references, and what the rules rest on."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path

from jade_ladder.store.shared.migrations import known_migrations

# Each gives a line for what is at fault; nothing when all is well.
_CHECKS = (
    (
        "a mark's counting version is none of its versions",
        "SELECT 'mark ' || id FROM mark WHERE version < 0 OR finished_version > version "
        "OR finished_version < 0 OR (finished_version IS NULL) <> (first_finished_at IS NULL)",
    ),
    (
        "a choice stands from or until a version that its mark has not",
        "SELECT 'choice ' || c.id FROM mark_choice c JOIN mark m ON m.id = c.mark_id "
        "WHERE c.since_version NOT BETWEEN 1 AND m.version "
        "OR c.until_version NOT BETWEEN c.since_version + 1 AND m.version",
    ),
    (
        "a remark stands from or until a version that its mark has not",
        "SELECT 'remark ' || r.id FROM mark_remark r JOIN mark m ON m.id = r.mark_id "
        "WHERE r.since_version NOT BETWEEN 1 AND m.version "
        "OR r.until_version NOT BETWEEN r.since_version + 1 AND m.version",
    ),
    (
        "two choices stand on one criterion in the same version",
        "SELECT 'choices ' || a.id || ' and ' || b.id FROM mark_choice a JOIN mark_choice b "
        "ON b.mark_id = a.mark_id AND b.criterion_id = a.criterion_id AND b.id > a.id "
        "AND a.since_version < coalesce(b.until_version, 1e9) "
        "AND b.since_version < coalesce(a.until_version, 1e9)",
    ),
    (
        "two remarks stand in one place in the same version",
        "SELECT 'remarks ' || a.id || ' and ' || b.id FROM mark_remark a JOIN mark_remark b "
        "ON b.mark_id = a.mark_id AND b.criterion_id IS a.criterion_id AND b.id > a.id "
        "AND a.since_version < coalesce(b.until_version, 1e9) "
        "AND b.since_version < coalesce(a.until_version, 1e9)",
    ),
    (
        "a choice is a level of another criterion, or a level and not assessed",
        "SELECT 'choice ' || c.id FROM mark_choice c LEFT JOIN criterion_level l "
        "ON l.id = c.level_id WHERE c.level_id IS NOT NULL "
        "AND (l.criterion_id IS NOT c.criterion_id OR c.not_assessed = 1)",
    ),
    (
        "a version of a mark is missing",
        "SELECT 'mark ' || m.id FROM mark m WHERE m.version <> 0 AND NOT EXISTS ("
        "SELECT 1 FROM mark_choice c WHERE c.mark_id = m.id "
        "AND m.version IN (c.since_version, c.until_version)) AND NOT EXISTS ("
        "SELECT 1 FROM mark_remark r WHERE r.mark_id = m.id "
        "AND m.version IN (r.since_version, r.until_version)) AND NOT EXISTS ("
        "SELECT 1 FROM mark_adjustment j WHERE j.mark_id = m.id "
        "AND m.version IN (j.since_version, j.until_version)) AND NOT EXISTS ("
        "SELECT 1 FROM passage p WHERE p.mark_id = m.id "
        "AND m.version IN (p.since_version, p.until_version)) AND NOT EXISTS ("
        "SELECT 1 FROM mark_file f WHERE f.mark_id = m.id "
        "AND m.version IN (f.since_version, f.until_version))",
    ),
    (
        "two remarks stand on one passage in the same version",
        "SELECT 'passages ' || a.id || ' and ' || b.id FROM passage a JOIN passage b "
        "ON b.mark_id = a.mark_id AND b.key = a.key AND b.id > a.id "
        "AND a.since_version < coalesce(b.until_version, 1e9) "
        "AND b.since_version < coalesce(a.until_version, 1e9)",
    ),
    (
        "a remark on a passage is in work of another attempt",
        "SELECT 'passage ' || p.id FROM passage p JOIN mark m ON m.id = p.mark_id "
        "JOIN work_part w ON w.id = p.part_id "
        "WHERE coalesce(w.attempt_id, w.replaced_of) IS NOT m.attempt_id",
    ),
    (
        "a text of a remark bank is counted wrong",
        "SELECT 'text ' || r.id FROM bank_remark r WHERE r.uses <> ("
        "SELECT count(*) FROM bank_use u WHERE u.remark_id = r.id)",
    ),
    (
        "an attempt says wrongly whether its mark is begun",
        "SELECT 'attempt ' || a.id FROM attempt a WHERE a.mark_begun <> EXISTS ("
        "SELECT 1 FROM teachers_mark m WHERE m.attempt_id = a.id)",
    ),
    (
        "a mark is by a criterion of another rubric than its task's",
        "SELECT 'mark ' || m.id FROM mark m JOIN attempt a ON a.id = m.attempt_id "
        "JOIN task_student s ON s.id = a.task_student_id JOIN task t ON t.id = s.task_id "
        "JOIN revision v ON v.id = t.revision_id JOIN mark_choice c ON c.mark_id = m.id "
        "JOIN criterion k ON k.id = c.criterion_id JOIN revision w ON w.id = k.revision_id "
        "WHERE w.rubric_id <> v.rubric_id GROUP BY m.id",
    ),
    (
        "an alignment has not one cell for each level of its criterion",
        "SELECT 'alignment ' || a.id FROM alignment a WHERE "
        "(SELECT count(*) FROM alignment_cell x JOIN criterion_level l ON l.id = x.level_id "
        "WHERE x.alignment_id = a.id AND l.criterion_id = a.criterion_id) <> "
        "(SELECT count(*) FROM criterion_level l WHERE l.criterion_id = a.criterion_id) OR "
        "(SELECT count(*) FROM alignment_cell x WHERE x.alignment_id = a.id) <> "
        "(SELECT count(*) FROM criterion_level l WHERE l.criterion_id = a.criterion_id)",
    ),
    (
        "a cell follows a level that the outcome's scale has not",
        "SELECT 'alignment ' || a.id FROM alignment_cell x JOIN alignment a "
        "ON a.id = x.alignment_id JOIN outcome o ON o.id = a.outcome_id "
        "WHERE x.follows IS NOT NULL AND x.by_hand = 0 AND NOT EXISTS (SELECT 1 FROM scale_level l "
        "WHERE l.scale_id = o.scale_id AND l.position = x.follows AND l.value = x.value)",
    ),
    (
        "attempts are not numbered from 1 without a gap",
        "SELECT 'student at task ' || task_student_id FROM attempt GROUP BY task_student_id "
        "HAVING min(number) <> 1 OR max(number) <> count(*)",
    ),
    (
        "something is carried over from an attempt that is not an earlier one",
        "SELECT 'choice ' || c.id FROM mark_choice c JOIN mark m ON m.id = c.mark_id "
        "JOIN attempt a ON a.id = m.attempt_id WHERE c.carried_from >= a.number "
        "UNION ALL SELECT 'attempt ' || a.id FROM carried_choice c "
        "JOIN attempt a ON a.id = c.attempt_id WHERE c.from_number > a.number",
    ),
    (
        "a note has not one row for each of its versions",
        "SELECT 'note ' || n.id FROM note n WHERE n.version <> ("
        "SELECT count(*) FROM note_version v WHERE v.note_id = n.id) "
        "OR NOT EXISTS (SELECT 1 FROM note_version v WHERE v.note_id = n.id "
        "AND v.version = n.version)",
    ),
    (
        "a time is not written in full",
        "SELECT 'attempt ' || id FROM attempt "
        "WHERE done_at NOT GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9]T*+00:00' "
        "UNION ALL SELECT 'note ' || note_id FROM note_version "
        "WHERE seen_at NOT GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9]T*+00:00' "
        "UNION ALL SELECT 'task ' || id FROM task "
        "WHERE due_at NOT GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9]T*+00:00'",
    ),
)
MOST_TOLD = 20


def faults(path: Path) -> list[str]:
    """Say what is at fault with a database, a line each, at most MOST_TOLD of a kind; empty when it
    is whole. Nothing is changed, and a server may be running on it.
    """
    try:
        with closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)) as db:
            db.execute("BEGIN")
            (version,) = db.execute("PRAGMA user_version").fetchone()
            if version > len(known_migrations()):
                return [f"it is of version {version}, written by a newer Jade Ladder"]
            return [*_of_the_file(db), *_of_the_rules(db)]
    except sqlite3.Error as error:
        return [f"the file cannot be read: {error}"]


def _of_the_file(db: sqlite3.Connection) -> list[str]:
    told = db.execute(f"PRAGMA integrity_check({MOST_TOLD})").fetchall()
    found = [f"the file is damaged: {text}" for (text,) in told if text != "ok"]
    for table, row, other, _ in db.execute("PRAGMA foreign_key_check").fetchmany(MOST_TOLD):
        found.append(f"row {row} of {table} refers to nothing in {other}")
    return found


def _of_the_rules(db: sqlite3.Connection) -> list[str]:
    return [
        f"{what}: {row}" for what, sql in _CHECKS for (row,) in db.execute(sql).fetchmany(MOST_TOLD)
    ]
