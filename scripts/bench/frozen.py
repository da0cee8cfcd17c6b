"""The SELECT that walls were worked out from when evidence was not kept, as it stood on 26 November
2026: what the wall is measured against, so that ratios can be compared over time.
"""

CHOICES_SQL = """
SELECT ts.student_id, ts.task_id, a.id, a.number, c.criterion_id, c.level_id, c.half_way,
       coalesce(a.corrected_done_at, a.done_at) AS done, m.first_finished_at, ts.excused,
       t.practice, t.attempts_rule, k.combining
FROM json_each(?) s
JOIN task_student ts ON ts.student_id = s.value
JOIN task t ON t.id = ts.task_id
JOIN school_class k ON k.id = t.class_id
JOIN attempt a ON a.task_student_id = ts.id
JOIN mark m ON m.attempt_id = a.id
JOIN mark_choice c ON c.mark_id = m.id
WHERE c.level_id IS NOT NULL AND c.since_version <= m.finished_version
  AND (c.until_version IS NULL OR c.until_version > m.finished_version)
ORDER BY ts.student_id, done, m.first_finished_at, a.id, c.criterion_id"""
