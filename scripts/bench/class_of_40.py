"""A class of 40: the wall's answer, and what a revision would do, against the work beneath."""

from __future__ import annotations

import http.client
import json
import random
from dataclasses import replace
from datetime import timedelta
from pathlib import Path
from statistics import median

from scripts.bench.frozen import CHOICES_SQL
from scripts.bench.serving import serving
from scripts.bench.timing import timed

from jade_ladder.core.alignment import Cell
from jade_ladder.core.marking import MarkRole
from jade_ladder.core.mastery import mastery_of
from jade_ladder.core.rubric import Criterion, CriterionLevel
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.outside import clock
from jade_ladder.service.changes import revisions
from jade_ladder.service.changes.revision_effects import revision_effects
from jade_ladder.service.classes import classes, students
from jade_ladder.service.evidence.class_evidence import ClassEvidence
from jade_ladder.service.marking import desk
from jade_ladder.service.outcomes import outcomes
from jade_ladder.service.outcomes.outcomes import OutcomeWords
from jade_ladder.service.people import accounts, sessions
from jade_ladder.service.rubrics import rubrics
from jade_ladder.service.rubrics.drafts import AlignmentDraft, CriterionDraft
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.work import tasks
from jade_ladder.service.work.setting import TaskWords
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.evidence.evidence import renew_all_evidence
from jade_ladder.store.marking import marks
from jade_ladder.store.shared.connection import Database
from jade_ladder.store.work import attempts as attempt_store
from jade_ladder.store.work import tasks as task_store
from jade_ladder.store.work.attempts import Dating

STUDENTS, OUTCOMES, PIECES = 40, 24, 12
LARGE = 200, 60, 20


def fill(
    database: Database, there: int = STUDENTS, across: int = OUTCOMES, pieces: int = PIECES
) -> tuple[int, list[int]]:
    """Fill a database with a class of so many students, outcomes and pieces of each."""
    now = clock.now()
    teacher = accounts.NewTeacher("Bench", "Mark", "bench@tern.example", "a long password")
    caller = Teacher(database, accounts.make_first_teacher(database, "S", "UTC", teacher), now)
    luck = random.Random(2)
    with database.transaction() as db:
        first = (now - timedelta(days=200)).date()
        class_id = classes.make_class(caller, "Bench", first, first + timedelta(days=300))
        numbers = [
            outcomes.add_outcome(caller, class_id, OutcomeWords(f"O{n}", "Outcome", "", None))
            for n in range(across)
        ]
        members = [
            students.add_student(caller, class_id, StudentLine(n, "S", str(n), from_list=True))
            for n in range(there)
        ]
        levels = tuple(CriterionLevel(f"l{n}", f"Level {n}", n * 100, "") for n in range(1, 5))
        drafts = [
            CriterionDraft(
                Criterion(f"c{number}", "Criterion", levels),
                (AlignmentDraft(number, 1, (None,) * 4),),
            )
            for number in numbers
        ]
        rubric = rubrics.make_rubric(caller, "Bench")
        view = rubrics.save_draft(caller, rubric, 1, "Bench", drafts)
        rubrics.make_final(caller, rubric, view.row.version)
        for piece in range(pieces):
            at = replace(caller, now=now - timedelta(days=150 - piece * 7))
            words = TaskWords("Task", "", TaskKind.HANDED_IN, rubric, None, None, False)
            task_id = tasks.make_task(at, class_id, words)
            criteria = desk.desk(at, task_id).criteria
            for student in members:
                record = task_store.task_student(db, task_id, student)
                attempt = attempt_store.add_attempt(db, record, at.now, Dating.ON_PAPER)
                mark = marks.begin_mark(db, attempt, MarkRole.TEACHER, at.person_id, at.now)
                for stored in criteria:
                    level = luck.choice(stored.level_ids)
                    marks.append_choice(
                        db, mark, stored.id, level, False, False, None, at.now, at.person_id
                    )
                marks.finish(db, mark, at.now)
        renew_all_evidence(db)
    return class_id, members


def bench_wall(folder: Path) -> None:
    """The wall's answer over HTTP, against the SELECT that fetched its choices."""
    _bench_wall(folder, STUDENTS, OUTCOMES, PIECES, "at or under 2")
    _bench_wall(folder / "large", *LARGE, "at or under 1")


def _bench_wall(folder: Path, there: int, across: int, pieces: int, wanted: str) -> None:
    database = Database(folder / "jade-ladder.sqlite3")
    class_id, members = fill(database, there, across, pieces)
    token = sessions.begin_session(database, 1, clock.now())
    with serving(folder) as address:
        connection = http.client.HTTPConnection(address)
        headers = {"cookie": f"jade_ladder_session={token}"}

        def answer(query: str = "") -> None:
            connection.request("GET", f"/api/classes/{class_id}/mastery{query}", headers=headers)
            body = connection.getresponse().read()
            assert len(json.loads(body)["value"]) == there * across

        def select() -> None:
            with database.reading() as db:
                rows = db.execute(CHOICES_SQL, (json.dumps(members),)).fetchall()
            assert len(rows) == there * across * pieces

        def first_answer() -> float:
            # As if all evidence had changed: no cell is what is kept of it.
            with database.transaction() as db:
                db.execute("UPDATE evidence_stamp SET stamp = random()")
            return timed(answer)

        month_ago = (clock.now() - timedelta(days=30)).date()
        earlier = [timed(lambda: answer(f"?as_of={month_ago}")) / timed(select) for _ in range(7)]
        pairs = [(first_answer(), timed(select)) for _ in range(15)]
        again = median(timed(answer) for _ in range(5))
        database.close()
    own, bare = (median(pair[which] for pair in pairs) for which in (0, 1))
    ratio = median(pair[0] / pair[1] for pair in pairs)
    print(f"wall, {there} × {across} × {pieces}: answer {own * 1000:.0f} ms, ", end="")
    print(f"bare SELECT {bare * 1000:.0f} ms\n  ratio {ratio:.1f} ({wanted}); ", end="")
    print(f"as of a month ago {median(earlier):.1f}, unchanged {again / bare:.2f}")


def bench_revision(folder: Path) -> None:
    """What a revision would do to each of all tasks and to all together, against working the class
    out once from its marks: every criterion says another value at its lowest level, so that every
    outcome may move.
    """
    database = Database(folder / "revision" / "jade-ladder.sqlite3")
    class_id, _ = fill(database)
    caller = Teacher(database, 1, clock.now())
    (row,) = rubrics.rubrics(caller)
    view = revisions.revise(caller, row.id, row.version)
    by_hand = (Cell(150, by_hand=True), None, None, None)
    drafts = [
        CriterionDraft(
            stored.criterion,
            tuple(AlignmentDraft(tie.outcome_id, 1, by_hand) for tie in stored.alignments),
        )
        for stored in view.criteria
    ]
    rubrics.save_draft(caller, row.id, view.row.version, row.title, drafts)
    found = revision_effects(caller, row.id, 2)
    assert len(found.tasks) == PIECES
    moved = len(found.together.changes)
    pairs = [
        (
            timed(lambda: revision_effects(caller, row.id, 2)),
            timed(lambda: worked_out(database, caller, class_id)),
        )
        for _ in range(11)
    ]
    database.close()
    own, once = (median(pair[which] for pair in pairs) for which in (0, 1))
    ratio = median(pair[0] / pair[1] for pair in pairs)
    print(f"revision, {PIECES} tasks, {moved} values move: {own * 1000:.0f} ms, ", end="")
    print(f"one load and calculation {once * 1000:.0f} ms\n  ratio {ratio:.1f} (at or under 5)")


def worked_out(database: Database, caller: Teacher, class_id: int) -> None:
    """Load a class that `fill` made, and work all of its mastery out from its marks."""
    with database.reading() as db:
        klass = class_store.class_of_teacher(db, class_id, caller.person_id)
        assert klass is not None
        found = ClassEvidence.load(db, caller, klass, range(1, OUTCOMES + 1))
    count = 0
    for student, outcome in found.places():
        pieces = found.pieces(student.id, found.attempts(student.id, outcome.id))
        mastery_of(pieces, found.rules[outcome.id])
        count += len(pieces)
    assert count == STUDENTS * OUTCOMES * PIECES
