"""A sample class, to be looked at: made through the same services as a teacher's own, and deleted
whole with what came with it.
"""

from __future__ import annotations

import sqlite3
from datetime import date, datetime, time, timedelta
from typing import TypedDict

from jade_ladder.core.errors import NotFound, Refused
from jade_ladder.core.rubric import Criterion, CriterionLevel
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.service.classes import classes, students
from jade_ladder.service.marking import desk, saving
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.outcomes import outcomes, strands
from jade_ladder.service.outcomes.outcomes import OutcomeWords
from jade_ladder.service.rubrics import rubrics
from jade_ladder.service.rubrics.drafts import AlignmentDraft, CriterionDraft
from jade_ladder.service.sample import words
from jade_ladder.service.sample.words import SampleTask
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.days import today
from jade_ladder.service.work import attempts, tasks
from jade_ladder.service.work.setting import TaskWords
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.exchange import frameworks as outcome_store
from jade_ladder.store.outcomes import strands as strand_store
from jade_ladder.store.people import people as person_store
from jade_ladder.store.rubrics import rubrics as rubric_store
from jade_ladder.store.rubrics.criteria import StoredCriterion
from jade_ladder.store.sample import sample as store
from jade_ladder.store.sample.sample import SampleSize
from jade_ladder.store.shared import log
from jade_ladder.store.shared.log import LogSubject

FIRST_DAY, LAST_DAY = -60, 120
"""The days of the class, from today."""
SUBJECT = LogSubject.SAMPLE_CLASS


class _Parts(TypedDict):
    """What came with a sample class, as the log keeps it."""

    students: list[int]
    outcomes: list[int]
    strands: list[int]
    rubric: int


def make_sample_class(caller: Teacher) -> int:
    """Make a class with students, outcomes, a rubric, tasks, work and marks to look at; gives its
    number. What was made is kept in the log, by which it is deleted. Refused for who has one.
    """
    with caller.transaction() as db:
        if store.sample_of(db, caller.person_id) is not None:
            raise Refused("You have a sample class already")
        day = today(db, caller)
        class_id = classes.make_class(
            caller, words.NAME, day + timedelta(days=FIRST_DAY), day + timedelta(days=LAST_DAY)
        )
        store.mark_as_sample(db, class_id)
        made = [
            students.add_student(caller, class_id, StudentLine(line, given, family, from_list=True))
            for line, (given, family) in enumerate(words.STUDENTS, start=1)
        ]
        made_strands, codes = _outcomes(caller, class_id)
        rubric_id = _rubric(caller, codes)
        for task in words.TASKS:
            _task(caller, class_id, rubric_id, made, task, day)
        parts: _Parts = {
            "students": made,
            "outcomes": list(codes.values()),
            "strands": made_strands,
            "rubric": rubric_id,
        }
        caller.log(db, SUBJECT, class_id, None, parts)
        return class_id


def sample_size(caller: Teacher, class_id: int) -> SampleSize:
    """Say how much is deleted with a sample class."""
    with caller.reading() as db:
        _check_sample(db, caller, class_id)
        return store.sample_size(db, class_id)


def delete_sample_class(caller: Teacher, class_id: int) -> None:
    """Delete a sample class whole: its tasks with all work and marks, the students who are in no
    other class, and the outcomes, strands and rubric that came with it. What another class, task or
    rubric has taken over since is kept. NotFound for a class that is no sample of the caller's.
    """
    with caller.transaction() as db:
        _check_sample(db, caller, class_id)
        made: _Parts | None = log.after_of(db, SUBJECT, class_id)
        if made is None:
            raise NotFound("There is no such sample class among yours")
        people = store.delete_class(db, class_id, made["students"])
        person_store.forget_people(db, people)
        rubric = rubric_store.rubric(db, made["rubric"], caller.person_id)
        if rubric is not None and not rubric.tasks:
            rubric_store.delete_rubric(db, rubric.id)
        free = outcome_store.unused_outcomes(db, made["outcomes"])
        outcome_store.delete_outcomes(db, free)
        for strand_id in made["strands"]:
            if not strand_store.strand_is_used(db, strand_id):
                strand_store.delete_strand(db, strand_id)
        caller.log(db, LogSubject.SAMPLE_CLASS_DELETED, class_id, None, None)


def _check_sample(db: sqlite3.Connection, caller: Teacher, class_id: int) -> None:
    # One that was set aside, too: it is no change to it that it goes.
    found = class_store.class_of_teacher(db, class_id, caller.person_id)
    if found is None or not found.sample:
        raise NotFound("There is no such sample class among yours")


def _outcomes(caller: Teacher, class_id: int) -> tuple[list[int], dict[str, int]]:
    """Add the outcomes; gives the strands that were made for them, and the outcomes by code."""
    known = {one.title.casefold(): one.id for one in strands.strands(caller)}
    made_strands, codes = [], {}
    for title, of_strand in words.OUTCOMES.items():
        strand_id = known.get(title.casefold())
        if strand_id is None:
            strand_id = strands.add_strand(caller, title)
            made_strands.append(strand_id)
        for code, outcome, description in of_strand:
            said = OutcomeWords(code, outcome, description, strand_id)
            codes[code] = outcomes.add_outcome(caller, class_id, said)
    return made_strands, codes


def _rubric(caller: Teacher, codes: dict[str, int]) -> int:
    number = rubrics.make_rubric(caller, words.RUBRIC)
    drafts = []
    for at, one in enumerate(words.CRITERIA):
        levels = tuple(
            CriterionLevel(f"c{at}l{place}", name, place * 100, descriptor)
            for place, (name, descriptor) in enumerate(
                zip(words.LEVELS, one.descriptors, strict=True), start=1
            )
        )
        tie = AlignmentDraft(codes[one.outcome], 1, (None,) * len(levels))
        drafts.append(CriterionDraft(Criterion(f"c{at}", one.title, levels), (tie,)))
    view = rubrics.save_draft(caller, number, 1, words.RUBRIC, drafts)
    rubrics.make_final(caller, number, view.row.version)
    return number


def _task(
    caller: Teacher,
    class_id: int,
    rubric_id: int,
    made: list[int],
    task: SampleTask,
    day: date,
) -> None:
    due = datetime.combine(day + timedelta(days=task.due), time(16))
    task_id = tasks.make_task(
        caller,
        class_id,
        TaskWords(
            task.title,
            task.instructions,
            TaskKind.HANDED_IN,
            rubric_id,
            due,
            None,
            practice=False,
        ),
    )
    if not task.levels:
        return
    criteria = desk.desk(caller, task_id).criteria
    for student_id, levels in zip(made, task.levels, strict=True):
        if levels is None:
            continue
        done_at = due - timedelta(hours=1)
        attempts.enter_work(caller, task_id, student_id, words.WORK, done_at=done_at)
        if levels:
            _mark(caller, task_id, student_id, criteria, levels)


def _mark(
    caller: Teacher,
    task_id: int,
    student_id: int,
    criteria: tuple[StoredCriterion, ...],
    levels: tuple[int, ...],
) -> None:
    for stored, level in zip(criteria, levels, strict=True):
        choice = Choice(stored.level_ids[level - 1])
        saving.choose(caller, task_id, student_id, stored.id, choice, 10_000)
    remark = words.REMARKS[levels[0]]
    saving.remark(caller, task_id, student_id, criteria[0].id, remark, 10_000)
    saving.finish(caller, task_id, student_id)
