"""Which criteria and tasks assess which outcomes."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from jade_ladder.store.shared.rows import fetch


@dataclass(frozen=True, slots=True)
class AssessedIn:
    """That a task of a class assesses an outcome: by how many criteria, up to which value."""

    outcome_id: int
    task_id: int
    criteria: int
    highest: int | None


def assessed_in(
    db: sqlite3.Connection, class_id: int, outcome_id: int | None = None
) -> list[AssessedIn]:
    """List what each task of a class assesses, by outcome and task; all, or one outcome."""
    return fetch(
        db,
        AssessedIn,
        """SELECT a.outcome_id, t.id AS task_id, count(DISTINCT c.id) AS criteria,
                  max(ac.value) AS highest
           FROM task t JOIN criterion c ON c.revision_id = t.revision_id
             AND (t.asked IS NULL OR c.key IN (SELECT value FROM json_each(t.asked)))
           JOIN alignment a ON a.criterion_id = c.id
           JOIN alignment_cell ac ON ac.alignment_id = a.id
           WHERE t.class_id = ?1 AND (?2 IS NULL OR a.outcome_id = ?2)
           GROUP BY a.outcome_id, t.id ORDER BY a.outcome_id, t.id""",
        (class_id, outcome_id),
    )


@dataclass(frozen=True, slots=True)
class AlignedCriterion:
    """A criterion of a teacher's rubric that is aligned to an outcome, in the newest final revision
    or, where there is none yet, in the draft.
    """

    rubric_id: int
    rubric_title: str
    final: bool
    tasks: int
    criterion: str
    highest: int | None


def aligned_criteria(
    db: sqlite3.Connection, owner_id: int, outcome_id: int
) -> list[AlignedCriterion]:
    """List the criteria of a teacher's rubrics aligned to an outcome, rubric by rubric."""
    return fetch(
        db,
        AlignedCriterion,
        """SELECT r.id AS rubric_id, r.title AS rubric_title, v.final_at IS NOT NULL AS final,
                  (SELECT count(*) FROM task t JOIN revision u ON u.id = t.revision_id
                   WHERE u.rubric_id = r.id) AS tasks, c.title AS criterion,
                  max(ac.value) AS highest
           FROM alignment a JOIN criterion c ON c.id = a.criterion_id
           JOIN revision v ON v.id = c.revision_id JOIN rubric r ON r.id = v.rubric_id
           JOIN alignment_cell ac ON ac.alignment_id = a.id
           WHERE a.outcome_id = ? AND r.owner_id = ?
             AND v.id = (SELECT id FROM revision WHERE rubric_id = r.id
                         ORDER BY final_at IS NULL, number DESC LIMIT 1)
           GROUP BY a.id ORDER BY r.title COLLATE NOCASE, r.id, c.position""",
        (outcome_id, owner_id),
    )
