"""What people do: own things only, stale saves, nothing half done."""

from __future__ import annotations

import importlib
import inspect
import pkgutil
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import replace
from datetime import date, datetime, timedelta

import pytest

from jade_ladder import service
from jade_ladder.core.errors import NotAllowed, NotFound, NotSignedIn, Refused, RefusedMany, Stale
from jade_ladder.core.evidence import Combining
from jade_ladder.core.methods import Method, MethodKind
from jade_ladder.core.passage import Place, Quote, Span
from jade_ladder.core.rollup import StrandRollup
from jade_ladder.core.scale import Scale
from jade_ladder.core.task_kinds import TaskKind
from jade_ladder.core.total import Adjustments, ByHand
from jade_ladder.formats.case import Framework, FrameworkOutcome
from jade_ladder.formats.class_list import StudentLine
from jade_ladder.formats.table import read_table
from jade_ladder.service.changes import (
    combining,
    excusing,
    many_outcomes,
    revision_effects,
    revisions,
    task_effects,
    times,
)
from jade_ladder.service.changes import methods as method_changes
from jade_ladder.service.changes import scales as scale_changes
from jade_ladder.service.changes.many_outcomes import OutcomeChanges
from jade_ladder.service.classes import class_list, classes, joining, slips, students
from jade_ladder.service.classes import teachers as class_teachers
from jade_ladder.service.exchange import framework_import, frameworks, outcome_lists
from jade_ladder.service.marking import (
    adjusting,
    again,
    desk,
    exemplars,
    feedback_files,
    handing_back,
    history,
    passages,
    pile,
    remark_bank,
    reminders,
    saving,
    spread,
    task_marks,
)
from jade_ladder.service.marking.choices import Choice
from jade_ladder.service.marking.feedback_files import NewFeedback
from jade_ladder.service.marking.passages import NewPassage
from jade_ladder.service.marking.reminders import Audience, Reminder
from jade_ladder.service.mastery import (
    comparison,
    coverage,
    expectation,
    imagining,
    judgements,
    outcome_page,
    own_ladder,
    setting_aside,
    student_page,
    trail,
)
from jade_ladder.service.mastery import wall as mastery
from jade_ladder.service.mastery.judgements import Judged
from jade_ladder.service.notes import note_files, notes
from jade_ladder.service.notes.notes import NoteWords
from jade_ladder.service.observing import class_at_hand, finishing, taps
from jade_ladder.service.observing.taps import Tap
from jade_ladder.service.outcomes import methods, outcomes, scales, strands
from jade_ladder.service.outcomes.outcomes import OutcomeWords
from jade_ladder.service.overview import all_classes, class_outcomes, class_tasks
from jade_ladder.service.people import accounts, sessions
from jade_ladder.service.people.accounts import NewTeacher, add_teacher
from jade_ladder.service.reports import exports, sheets
from jade_ladder.service.reports.work_archive import work_archive
from jade_ladder.service.rubrics import library, rubrics
from jade_ladder.service.sample import sample_class
from jade_ladder.service.search import find
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.student import results, taken_along
from jade_ladder.service.work import (
    attempts,
    collecting,
    copying,
    handing_in,
    next_class,
    parts,
    setting,
    task_files,
    tasks,
)
from jade_ladder.service.work.next_class import NextClass
from jade_ladder.service.work.setting import TaskWords
from jade_ladder.store.evidence.evidence import evidence_faults
from jade_ladder.store.marking.feedback_files import FeedbackKind
from jade_ladder.store.outcomes import scales as scale_store
from jade_ladder.store.people import notices as notice_store
from jade_ladder.store.people import teachers as teacher_store
from jade_ladder.store.shared.connection import Database
from tests.builders import (
    Small,
    arrived,
    at,
    draft,
    everything,
    final_rubric,
    school_day,
    second_class,
    small,
)
from tests.samples import pdf

WORDS = OutcomeWords("N1", "New", "", None)
METHOD = Method(MethodKind.LATEST)
FRAMEWORK = Framework("d", "D", "", (), (FrameworkOutcome("o", "N1", "New"),))
REMINDER = Reminder(Audience.ALL, "Soon", "It is due")
LINE = StudentLine(1, "Kai", "Nord")

Operation = Callable[[Teacher, Small], object]
OPERATIONS: dict[str, Operation] = {
    "write notes": lambda c, s: notes.write_notes(
        c, s.class_id, "a-new-note", s.students, s.outcomes[0], NoteWords(1)
    ),
    "note": lambda c, s: notes.get_note(c, NOTE),
    "change note": lambda c, s: notes.change_note(c, NOTE, NoteWords(3), 1),
    "withdraw note": lambda c, s: notes.withdraw_note(c, NOTE, 1),
    "set note aside": lambda c, s: notes.set_note_aside(c, NOTE, "Mixed up"),
    "show note": lambda c, s: notes.show_note(c, NOTE, True),
    "attach to note": lambda c, s: note_files.attach_to_note(
        c, NOTE, "another-file", UPLOAD, recording=False
    ),
    "delete note file": lambda c, s: note_files.delete_note_file(c, NOTE, NOTE_FILE),
    "note file": lambda c, s: note_files.note_file(c, NOTE_FILE),
    "note effects": lambda c, s: times.note_effects(
        c, s.class_id, s.students, s.outcomes[0], NoteWords(1)
    ),
    "time effects": lambda c, s: times.time_effects(c, PAPER, s.students[1:], None),
    "class at hand": lambda c, s: class_at_hand.class_at_hand(c, WALK),
    "seats": lambda c, s: class_at_hand.arrange_seats(c, s.class_id, s.students),
    "tap": lambda c, s: taps.tap(
        c, WALK, s.students[1], Tap("a-new-tap", timedelta(), absent=True)
    ),
    "finish observed": lambda c, s: finishing.finish_observed(c, WALK),
    "change_class": lambda c, s: classes.change_class(
        c, s.class_id, 1, "X", date(2026, 1, 1), date(2026, 2, 1)
    ),
    "change_strand_roll_up": lambda c, s: classes.change_strand_roll_up(
        c, s.class_id, 1, StrandRollup.LOWEST
    ),
    "students": lambda c, s: students.students(c, s.class_id),
    "add_student": lambda c, s: students.add_student(c, s.class_id, LINE),
    "change_student": lambda c, s: students.change_student(c, s.class_id, s.students[0], LINE),
    "set_left": lambda c, s: students.set_left(c, s.class_id, s.students[0], school_day(c)),
    "class list": lambda c, s: class_list.import_class_list(
        c, s.class_id, read_table("Name\nKai Nord\n")
    ),
    "outcomes": lambda c, s: outcomes.outcomes_of_class(c, s.class_id),
    "add_outcome": lambda c, s: outcomes.add_outcome(c, s.class_id, WORDS),
    "change_outcome": lambda c, s: outcomes.change_outcome(c, s.class_id, s.outcomes[0], WORDS),
    "outcome whole": lambda c, s: method_changes.change_outcome_whole(
        c, s.class_id, s.outcomes[0], 1, WORDS, METHOD, 2
    ),
    "retire_outcome": lambda c, s: outcomes.retire_outcome(c, s.class_id, s.outcomes[0], True),
    "place_outcome": lambda c, s: outcomes.place_outcome(
        c, s.class_id, s.outcomes[1], None, s.outcomes[0]
    ),
    "bulk": lambda c, s: many_outcomes.change_outcomes(
        c, s.class_id, list(s.outcomes), OutcomeChanges(minimum=2)
    ),
    "preview bulk": lambda c, s: many_outcomes.preview_changes(
        c, s.class_id, list(s.outcomes), OutcomeChanges(minimum=2)
    ),
    "framework out": lambda c, s: frameworks.class_framework(c, s.class_id),
    "framework": lambda c, s: frameworks.compare_framework(c, s.class_id, FRAMEWORK),
    "framework in": lambda c, s: framework_import.import_framework(c, s.class_id, FRAMEWORK, True),
    "elsewhere": lambda c, s: outcomes.outcomes_elsewhere(c, s.class_id),
    "coverage": lambda c, s: coverage.coverage(c, s.class_id),
    "outcome page": lambda c, s: outcome_page.outcome_page(c, s.class_id, s.outcomes[0]),
    "school's outcome": lambda c, s: outcomes.set_schools_outcome(
        c, s.class_id, s.outcomes[0], True
    ),
    "order_outcomes": lambda c, s: outcomes.order_outcomes(c, s.class_id, list(s.outcomes[::-1])),
    "outcome list": lambda c, s: outcome_lists.import_outcome_list(
        c, s.class_id, read_table("Code,Title,Strand\nN1,New,Strand\n")
    ),
    "class method": lambda c, s: methods.change_class_method(c, s.class_id, 1, METHOD),
    "outcome method": lambda c, s: methods.change_outcome_method(
        c, s.class_id, s.outcomes[0], METHOD, 2
    ),
    "outcome scale": lambda c, s: scale_changes.put_on_scale(
        c, s.class_id, s.outcomes[0], s.scale_id
    ),
    "class scale": lambda c, s: scales.choose_class_scale(c, s.class_id, 1, 1),
    "preview outcome": lambda c, s: method_changes.preview_outcome(
        c, s.class_id, s.outcomes[0], METHOD, 2, 1
    ),
    "outcome methods": lambda c, s: methods.change_outcome_methods(
        c, s.class_id, {s.outcomes[0]: 1, s.outcomes[1]: 1}, METHOD, school_day(c)
    ),
    "undo methods": lambda c, s: methods.undo_method_changes(
        c, s.class_id, [methods.change_class_method(c, s.class_id, 1, METHOD, school_day(c)) or 0]
    ),
    "comparison": lambda c, s: comparison.comparison(c, s.class_id),
    "trail under": lambda c, s: imagining.trail_under(
        c, s.class_id, s.students[0], s.outcomes[0], METHOD
    ),
    "imagine": lambda c, s: imagining.imagine(
        c, s.class_id, s.students[0], s.outcomes[0], [imagining.ImaginedPiece(2)]
    ),
    "judge": lambda c, s: judgements.judge(
        c, s.class_id, [Judged(s.students[1], s.outcomes[0], 2)], "Seen at sea"
    ),
    "undo judging": lambda c, s: judgements.undo_judging(
        c,
        s.class_id,
        judgements.judge(c, s.class_id, [Judged(s.students[0], s.outcomes[1], 2)], "Why"),
    ),
    "lift judgement": lambda c, s: judgements.lift_judgement(c, s.class_id, JUDGEMENT),
    "undo lifting": lambda c, s: judgements.undo_lifting(
        c, s.class_id, judgements.lift_judgement(c, s.class_id, JUDGEMENT)
    ),
    "keep judgement": lambda c, s: judgements.keep_judgement(c, s.class_id, JUDGEMENT),
    "not expected": lambda c, s: expectation.lift_outcome(
        c, s.class_id, s.students[0], s.outcomes[0], "Why"
    ),
    "combining effects": lambda c, s: combining.combining_effects(c, s.class_id, Combining.LOWEST),
    "combining": lambda c, s: combining.change_combining(c, s.class_id, 1, Combining.LOWEST),
    "excuse effects": lambda c, s: excusing.excuse_effects(c, s.task_id, s.students[0]),
    "preview method": lambda c, s: method_changes.preview_class_method(c, s.class_id, METHOD),
    "rubric": lambda c, s: rubrics.get_rubric(c, s.rubric_id),
    "copy_rubric": lambda c, s: rubrics.copy_rubric(c, s.rubric_id),
    "revise": lambda c, s: revisions.revise(c, s.rubric_id, 3),
    "discard": lambda c, s: revisions.discard_revision(
        c, s.rubric_id, revisions.revise(c, s.rubric_id, 3).row.version
    ),
    "side by side": lambda c, s: revisions.side_by_side(c, s.rubric_id),
    "revision effects": lambda c, s: revision_effects.revision_effects(c, s.rubric_id, 1),
    "apply revision": lambda c, s: revisions.apply_revision(c, s.rubric_id, 1, 3, []),
    "tags": lambda c, s: library.set_tags(c, s.rubric_id, ["Maps"]),
    "archive": lambda c, s: library.archive_rubric(c, s.rubric_id, True),
    "share": lambda c, s: library.share_rubric(c, s.rubric_id, True),
    "fit": lambda c, s: library.fit_rubric(c, s.class_id, s.rubric_id),
    "copy for class": lambda c, s: library.copy_for_class(c, s.class_id, s.rubric_id),
    "make_task": lambda c, s: replace(s, caller=c).new_task(),
    "change_task": lambda c, s: tasks.change_task(
        c, s.task_id, 1, TaskWords("T", "", TaskKind.OBSERVED, s.rubric_id, None, None, True)
    ),
    "copy task": lambda c, s: copying.copy_task(c, s.task_id, s.class_id),
    "own times": lambda c, s: setting.set_own_times(
        c, s.task_id, [s.students[0]], datetime(2026, 12, 1, 16), None
    ),
    "delete_task": lambda c, s: tasks.delete_task(c, s.task_id),
    "enter_work": lambda c, s: attempts.enter_work(c, s.task_id, s.students[0], "Words"),
    "excuse": lambda c, s: attempts.excuse(c, s.task_id, s.students[0], True),
    "pile": lambda c, s: pile.pile(c, s.class_id),
    "desk": lambda c, s: desk.desk(c, s.task_id),
    "read mark": lambda c, s: desk.work_at_desk(c, s.task_id, s.students[0]),
    "mark": lambda c, s: s.mark(s.students[0], 3, 3, caller=c),
    "remark": lambda c, s: saving.remark(c, s.task_id, s.students[0], None, "Fine", 0),
    "wall": lambda c, s: mastery.wall(c, s.class_id),
    "trail": lambda c, s: trail.trail(c, s.class_id, s.students[0], s.outcomes[0]),
    "student_page": lambda c, s: student_page.student_page(c, s.class_id, s.students[0]),
    "get_class": lambda c, s: classes.get_class(c, s.class_id),
    "class list sheet": lambda c, s: sheets.class_list_sheet(c, s.class_id),
    "wall sheet": lambda c, s: sheets.wall_sheet(c, s.class_id),
    "student sheet": lambda c, s: sheets.student_sheet(c, s.class_id, s.students[0]),
    "coverage sheet": lambda c, s: sheets.coverage_sheet(c, s.class_id),
    "task sheet": lambda c, s: sheets.task_sheet(c, s.task_id),
    "rubric sheet": lambda c, s: sheets.rubric_sheet(c, s.rubric_id),
    "all classes": lambda c, s: all_classes.outcome_in_all_classes(c, s.class_id, s.outcomes[0]),
    "class outcomes": lambda c, s: class_outcomes.class_outcomes(c, s.class_id),
    "class tasks over term": lambda c, s: class_tasks.class_tasks_over_term(c, s.class_id),
    "class export": lambda c, s: exports.class_export(c, s.class_id).__enter__(),
    "task export": lambda c, s: exports.task_export(c, s.task_id).__enter__(),
    "class teachers": lambda c, s: class_teachers.class_teachers(c, s.class_id),
    "add teacher": lambda c, s: class_teachers.add_class_teacher(
        c, s.class_id, teacher_named(s, "Ola")
    ),
    "remove teacher": lambda c, s: class_teachers.remove_class_teacher(
        c, s.class_id, teacher_named(s, "Mei")
    ),
    "hand over": lambda c, s: class_teachers.hand_over_class(
        c, s.class_id, teacher_named(s, "Mei")
    ),
    "copy class": lambda c, s: next_class.copy_class(c, s.class_id, NEXT),
    "set aside": lambda c, s: next_class.set_class_aside(c, s.class_id, True),
    "undo class list": lambda c, s: class_list.undo_class_list(
        c,
        s.class_id,
        class_list.import_class_list(c, s.class_id, read_table("Name\nA B\n")).entry,
    ),
    "preview class list": lambda c, s: class_list.preview_class_list(
        c, s.class_id, read_table("Name\nKai Nord\n")
    ),
    "bring back": lambda c, s: (
        students.set_left(c, s.class_id, s.students[0], school_day(c)),
        students.bring_back_student(c, s.class_id, s.students[0]),
    ),
    "expect again": lambda c, s: (
        expectation.lift_outcome(c, s.class_id, s.students[0], s.outcomes[0], "Why"),
        expectation.expect_again(c, s.class_id, s.students[0], s.outcomes[0]),
    ),
    "undo framework": lambda c, s: framework_import.undo_framework_import(
        c, s.class_id, framework_import.import_framework(c, s.class_id, FRAMEWORK, False)
    ),
    "preview outcome list": lambda c, s: outcome_lists.preview_outcome_list(
        c, s.class_id, read_table("Code,Title\nN1,New\n")
    ),
    "teach": lambda c, s: outcomes.teach_outcomes(
        c, second_class(s.caller, s) if c is s.caller else s.class_id, list(s.outcomes)
    ),
    "copy": lambda c, s: outcomes.copy_outcomes(
        c, second_class(s.caller, s) if c is s.caller else s.class_id, list(s.outcomes)
    ),
    "change_scale": lambda c, s: scale_changes.change_scale(c, 1, 1, "Other", steeper(s)),
    "preview_scale": lambda c, s: scale_changes.preview_scale(c, 1, 1, "Other", steeper(s)),
    "remove_scale": lambda c, s: scales.remove_scale(c, s.scale_id),
    "change_strand": lambda c, s: strands.change_strand(c, STRAND, "Other"),
    "delete_strand": lambda c, s: strands.delete_strand(c, STRAND),
    "save_draft": lambda c, s: rubrics.save_draft(c, DRAFT, 1, "T", [draft("z", [])]),
    "share_weights": lambda c, s: rubrics.share_weights(
        c, DRAFT, rubrics.save_draft(c, DRAFT, 1, "T", [draft("z", [])]).row.version, True
    ),
    "make_final": lambda c, s: rubrics.make_final(
        c, DRAFT, rubrics.save_draft(c, DRAFT, 1, "T", [draft("z", [])]).row.version
    ),
    "delete_rubric": lambda c, s: rubrics.delete_rubric(c, DRAFT),
    "correct_times": lambda c, s: (
        s.mark(s.students[0], 3, 3, caller=c),
        attempts.correct_times(c, s.task_id, [s.students[0]], c.now - timedelta(days=2)),
    ),
    "delete sample": lambda c, s: sample_class.delete_sample_class(c, sample_number(c, s)),
    "sample size": lambda c, s: sample_class.sample_size(c, sample_number(c, s)),
    "slips": lambda c, s: slips.make_slips(c, s.class_id, [s.students[0]]),
    "ask for slips": lambda c, s: slips.ask_for_slips(
        Teacher(c.database, c.person_id, c.now), s.class_id, [student_named(s, "Uma")]
    ),
    "grant slips": lambda c, s: slips.grant_slips(c, ASKED),
    "undo joining": lambda c, s: joining.undo_joining(c, JOINED),
    "signing in": lambda c, s: slips.signing_in(c, s.class_id),
    "handing back": lambda c, s: handing_back.handing_back(c, s.task_id),
    "hand back": lambda c, s: (
        s.mark(s.students[0], 3, 3, caller=c),
        handing_back.hand_back(c, s.task_id, [s.students[0]], True),
    ),
    "take back": lambda c, s: (
        s.mark(s.students[0], 3, 3, caller=c),
        handing_back.hand_back(c, s.task_id, None, False),
        handing_back.take_back(c, s.task_id, [s.students[0]]),
    ),
    "grant": lambda c, s: (
        s.mark(s.students[0], 3, 3, caller=c),
        handing_back.hand_back(c, s.task_id, None, False),
        handing_back.answer_wish(c, s.task_id, s.students[0], True, "Again"),
    ),
    "result of student": lambda c, s: (
        tasks.get_task(c, s.task_id),
        s.mark(s.students[0], 3, 3, caller=c),
        results.result_of_student(c, s.task_id, s.students[0]),
    ),
    "remind": lambda c, s: reminders.send_reminder(c, s.task_id, REMINDER, [s.students[0]]),
    "preview reminder": lambda c, s: reminders.preview_reminder(c, s.task_id, REMINDER),
    "sent": lambda c, s: reminders.sent_messages(c, s.task_id),
    "own ladder of student": lambda c, s: own_ladder.ladder_of_student(
        c, s.class_id, s.students[0]
    ),
    "how far": lambda c, s: handing_in.handing_in(c, s.task_id),
    "class tasks": lambda c, s: tasks.class_tasks(c, s.class_id),
    "get_task": lambda c, s: tasks.get_task(c, s.task_id),
    "choose": lambda c, s: saving.choose(
        c, s.task_id, s.students[0], 1, Choice(None, not_assessed=True), 0
    ),
    "add work file": lambda c, s: parts.add_work_file(c, s.task_id, s.students[0], UPLOAD),
    "arrived files": lambda c, s: (
        tasks.get_task(c, s.task_id),
        collecting.arrived_files(c, s.task_id, [UPLOAD] if c is s.caller else []),
    ),
    "collect file": lambda c, s: collecting.collect_file(
        c, s.task_id, s.students[0], UPLOAD, 0, "a-batch-of-files"
    ),
    "undo collecting": lambda c, s: (
        collecting.collect_file(c, s.task_id, s.students[0], UPLOAD, 0, "a-batch-of-files"),
        collecting.undo_collecting(c, s.task_id, "a-batch-of-files"),
    ),
    "parts of task": lambda c, s: parts.parts_of_task(c, s.task_id),
    "marked work": lambda c, s: taken_along.marked_work_of_student(
        c, PAPER, s.students[1]
    ).__enter__(),
    "work archive": lambda c, s: work_archive(c, s.task_id).__enter__(),
    "attach file": lambda c, s: task_files.attach_file(c, s.task_id, UPLOAD, False),
    "detach file": lambda c, s: task_files.detach_file(c, FILE),
    "task file": lambda c, s: task_files.task_file(c, FILE),
    "remove work part": lambda c, s: parts.remove_work_part(c, PART),
    "part file": lambda c, s: parts.part_file(c, PART),
    "part shown": lambda c, s: parts.part_shown(c, PART),
    "open attempts": lambda c, s: again.open_attempts(c, PAPER, [s.students[1]], "Once more"),
    "withdraw attempt": lambda c, s: (
        again.open_attempts(c, PAPER, [s.students[1]], "Once more"),
        again.withdraw_attempt(c, PAPER, s.students[1]),
    ),
    "set evidence aside": lambda c, s: setting_aside.set_evidence_aside(
        c, PAPER, [s.students[1]], "Noisy"
    ),
    "count evidence again": lambda c, s: (
        setting_aside.set_evidence_aside(c, PAPER, [s.students[1]], "Noisy"),
        setting_aside.count_evidence_again(c, PAPER, [s.students[1]]),
    ),
    "set aside at task": lambda c, s: setting_aside.set_aside_at_task(c, PAPER),
    "below mastery": lambda c, s: again.who_again(c, PAPER),
    "adjust total": lambda c, s: adjusting.adjust_total(
        c, s.task_id, s.students[0], Adjustments(by_hand=ByHand(300, "Spoken")), 0
    ),
    "remark on passage": lambda c, s: passages.remark_on_passage(
        c,
        PAPER,
        s.students[1],
        "some-passage",
        NewPassage(PART, None, "Where?", Place(Quote("Words"), Span(0, 5))),
        0,
    ),
    "offers of the bank": lambda c, s: remark_bank.offers(c, s.task_id, s.students[0], None, None),
    "change in bank": lambda c, s: remark_bank.change_in_bank(c, BANKED, "Clear", True),
    "delete from bank": lambda c, s: remark_bank.delete_from_bank(c, BANKED, True),
    "attach feedback": lambda c, s: feedback_files.attach(
        c,
        s.task_id,
        s.students[0],
        "a-file-of-mine",
        NewFeedback(UPLOAD, FeedbackKind.FILE, None, None, "", 0),
    ),
    "change feedback": lambda c, s: feedback_files.change_feedback(
        c, PAPER, s.students[1], "a-feedback-file", "Look here", 2
    ),
    "feedback file": lambda c, s: feedback_files.feedback_file(c, FEEDBACK),
    "history": lambda c, s: history.history(c, s.task_id, s.students[0]),
    "version beside": lambda c, s: history.version_beside(c, PAPER, s.students[1], 1),
    "go back": lambda c, s: (
        saving.remark(c, PAPER, s.students[1], None, "Fine, then", 4),
        history.go_back(c, PAPER, s.students[1], 1, 5),
    ),
    "exemplars": lambda c, s: exemplars.exemplars(c, s.task_id),
    "pin exemplar": lambda c, s: (
        s.mark(s.students[0], 3, 3, caller=c),
        exemplars.pin_exemplar(c, s.task_id, s.students[0], "A clear one"),
    ),
    "unpin exemplar": lambda c, s: exemplars.unpin_exemplar(c, EXEMPLAR),
    "spread": lambda c, s: spread.spread(c, s.task_id),
    "task effects": lambda c, s: task_effects.task_effects(
        c, s.task_id, TaskWords("T", "", TaskKind.HANDED_IN, s.rubric_id, None, None, True)
    ),
    "own times effects": lambda c, s: task_effects.own_times_effects(
        c, s.task_id, [s.students[0]], None, None
    ),
    "totals of task": lambda c, s: task_marks.totals_of_task(c, s.task_id),
    "work link": lambda c, s: parts.add_work_link(
        c, s.task_id, s.students[0], "https://tern.example/route"
    ),
    "entries": lambda c, s: attempts.entries(c, s.task_id),
    "delete entry": lambda c, s: attempts.delete_entry(c, TALKS, s.students[0], 1),
    "finish": lambda c, s: (
        s.mark(s.students[0], 3, 3, caller=c),
        saving.finish(c, s.task_id, s.students[0]),
    ),
}
OWN = {
    "classes.classes": "first_steps make_class my_classes",
    "classes.students": "present_by_class",
    "classes.teachers": "assign_class",
    "files.recordings": "bring_in_recording",
    "files.showing": "shown_of",
    "files.uploads": (
        "archive_in begin_upload bring_in bring_in_entry end_upload give_up receive standing_upload"
    ),
    "marking.pile": "whole_pile",
    "marking.remark_bank": "add_to_bank bank",
    "messages.messages": "kinds_off own_messages see_message set_kind_off",
    "messages.outbox": "outbox",
    "outcomes.outcomes": "own_outcomes",
    "outcomes.scales": "add_scale may_change owner_of_new",
    "outcomes.strands": "add_strand order_strands",
    "overview.first_page": "first_page",
    "people.colleagues": (
        "accounts add_colleagues colleagues end_account new_link restore_account "
        "set_administrator untaught_classes"
    ),
    "people.log": "read_log",
    "people.notices": "notices see_notice",
    "people.own_account": (
        "change_own_account change_own_email change_own_password end_own_session "
        "own_account own_sessions student_account"
    ),
    "people.school": "change_school",
    "rubrics.rubrics": "make_rubric",
    "sample.sample_class": "make_sample_class",
    "search.find": "everything",
    "student.results": "ask_again own_result read_result",
    "student.taken_along": "own_marked_work",
    "student.task_page": "task_page",
    "work.attempts": "first_time",
    "work.handing_in": (
        "draft hand_in open_task own_tasks save_draft take_back undo_taking_back write_on"
    ),
    "work.parts": "add_own_file add_own_link part_picture put_own_part_back remove_own_part",
    "work.tasks": "make_task to_mark_by_class",
}
"""Operations by module that take nothing of anybody else: what they give or make is the caller's
own, or the school's and for its administrators by type (test_who_may walks their routes). Those of
students are tried in tests/service/student.
"""


def steeper(made: Small) -> Scale:
    """The school's scale with another value at the top."""
    with made.caller.reading() as db:
        now = scale_store.scales(db)[1].scale
    return replace(now, levels=(*now.levels[:-1], replace(now.levels[-1], value=450)))


def sample_number(caller: Teacher, made: Small) -> int:
    """A sample class of the caller's; for anybody else, a class that is not theirs."""
    return sample_class.make_sample_class(caller) if caller is made.caller else made.class_id


STRAND, DRAFT = 1, 2
PART, FILE, FEEDBACK, EXEMPLAR, UPLOAD = 1, 1, 1, 1, 5
NOTE, NOTE_FILE, JUDGEMENT = 1, 1, 1
JOINED, ASKED = 1, 4
PAPER, TALKS, WALK, BANKED = 2, 3, 4, 2
NEXT = NextClass("Chart Room, next year", date(2027, 9, 1), date(2028, 6, 30), True, True)


def teacher_named(made: Small, given_name: str) -> int:
    """The number of a colleague: Mei teaches the small class, too, Ola does not."""
    with made.caller.reading() as db:
        return next(one.id for one in teacher_store.teachers(db) if one.given_name == given_name)


def prepared(caller: Teacher) -> Small:
    """A small class with a strand and the draft of a rubric beside it."""
    made = small(caller)
    assert strands.add_strand(caller, "Strand") == STRAND
    assert rubrics.make_rubric(caller, "Draft") == DRAFT
    for given in ("Mei", "Ola"):
        add_teacher(
            caller.database, NewTeacher(given, "Tan", f"{given}@tern.example", "a long password")
        )
    class_teachers.add_class_teacher(caller, made.class_id, teacher_named(made, "Mei"))
    on_paper = made.new_task("On paper")
    arriving = arrived(caller, "plan.pdf", pdf(["Leg one"]))
    parts.add_work_file(caller, on_paper, made.students[1], arriving)
    assert made.new_task("Talks", kind=TaskKind.OTHER_EVIDENCE) == TALKS
    attempts.enter_work(caller, TALKS, made.students[0], "Led the talk", number=1)
    saving.remark(caller, on_paper, made.students[1], None, "Fine", 0)
    assert remark_bank.add_to_bank(caller, "Very clear").id == BANKED
    sheet = arrived(caller, "sheet.txt", b"Gull Head")
    task_files.attach_file(caller, on_paper, sheet, True)
    given = arrived(caller, "marked.txt", b"See the second leg")
    feedback = NewFeedback(given, FeedbackKind.FILE, None, None, "", 0)
    args = (caller, on_paper, made.students[1], "a-feedback-file", feedback)
    assert feedback_files.attach(*args).version == 2
    replace(made, task_id=on_paper).mark(made.students[1], 2, 2, caller=caller)
    exemplars.pin_exemplar(caller, on_paper, made.students[1], "A start")
    assert made.new_task("Walk", kind=TaskKind.OBSERVED) == WALK
    seen = desk.desk(caller, WALK).criteria[0]
    choice = Choice(seen.level_ids[2])
    taps.tap(
        caller,
        WALK,
        made.students[0],
        Tap("a-first-tap", timedelta(), criterion_id=seen.id, choice=choice),
    )
    note = notes.write_notes(
        caller, made.class_id, "a-first-note", made.students[:1], made.outcomes[0], NoteWords(2)
    )[0]
    assert note.id == NOTE
    photograph = arrived(caller, "beacon.txt", b"The beacon")
    note_files.attach_to_note(caller, NOTE, "a-note-file", photograph, recording=False)
    assert arrived(caller, "map.txt", b"North is up") == UPLOAD
    level = Judged(made.students[0], made.outcomes[0], 2)
    judgements.judge(caller, made.class_id, [level], "Seen at sea")
    _in_two_classes(made)
    return made


def _in_two_classes(made: Small) -> None:
    """Let Ola take a student of the small class into hers and ask for a slip for them, and the
    caller take one of Ola's.
    """
    caller = made.caller
    ola = Teacher(caller.database, teacher_named(made, "Ola"), caller.now)
    hers = classes.make_class(ola, "Reef Room", date(2026, 9, 1), date(2027, 6, 30))
    students.add_student(ola, hers, StudentLine(1, "Zoe", "Anders", "S2"))
    students.add_student(ola, hers, StudentLine(1, "Uma", "Reef", "S7"))
    with caller.transaction() as db:
        db.execute("UPDATE person SET password_hash = '' WHERE identifier IN ('S2', 'S7')")
    students.add_student(caller, made.class_id, StudentLine(1, "Uma", "Reef", "S7"))
    slips.ask_for_slips(ola, hers, [made.students[1]])
    with caller.reading() as db:
        mine = {row.kind: row.id for row in notice_store.unseen(db, caller.person_id)}
    assert mine == {"joined": JOINED, "slips-asked": ASKED}


def student_named(made: Small, given_name: str) -> int:
    """The number of a student of the small class."""
    return next(
        one.id
        for one in students.students(made.caller, made.class_id)
        if one.given_name == given_name
    )


READS = {
    *("task file", "part file", "part shown", "arrived files", "parts of task", "work archive"),
    *("marked work", "below mastery", "set aside at task", "class at hand"),
    *("note", "note file", "note effects", "time effects"),
    *("preview reminder", "sent"),
    *("signing in", "handing back", "own ladder of student", "how far"),
    *(f"{kind} sheet" for kind in ("class list", "wall", "student", "coverage", "task", "rubric")),
    *("class export", "task export", "class outcomes", "class tasks over term"),
    "all classes",
    "class teachers",
    "combining effects",
    "excuse effects",
    "students",
    "outcomes",
    "preview method",
    "preview outcome",
    "preview bulk",
    "elsewhere",
    "framework out",
    "framework",
    "coverage",
    "outcome page",
    "rubric",
    "side by side",
    "revision effects",
    "fit",
    "pile",
    "desk",
    "read mark",
    "wall",
    *("trail", "trail under", "imagine", "comparison"),
    "student_page",
    "get_class",
    "preview class list",
    "preview outcome list",
    "preview_scale",
    "class tasks",
    "get_task",
    *("entries", "offers of the bank", "spread", "history", "version beside"),
    *("feedback file", "exemplars"),
    *("task effects", "own times effects", "totals of task"),
}


@pytest.mark.parametrize("name", OPERATIONS)
def test_an_operation_is_refused_to_another_teacher_and_changes_nothing(
    name: str, caller: Teacher, other_teacher: Teacher
) -> None:
    made = prepared(caller)
    before = everything(caller.database)
    with pytest.raises((NotFound, NotAllowed)):
        OPERATIONS[name](other_teacher, made)
    assert everything(caller.database) == before


@pytest.mark.parametrize("name", [name for name in OPERATIONS if name not in READS])
def test_a_failure_at_the_end_of_an_operation_leaves_nothing(name: str, caller: Teacher) -> None:
    made = prepared(caller)
    before = everything(caller.database)
    with pytest.raises(RuntimeError, match="the power went"), caller.database.transaction():
        OPERATIONS[name](caller, made)
        raise RuntimeError("the power went")
    assert everything(caller.database) == before
    OPERATIONS[name](caller, made)
    assert everything(caller.database) != before


# They are of a teacher's library or of the class as a whole, whatever becomes of the class.
NOT_OF_THE_CLASS = {
    *("copy class", "set aside", "teach", "copy", "change_scale", "remove_scale"),
    *("change_strand", "delete_strand", "copy_rubric", "revise", "discard", "apply revision"),
    *("tags", "archive", "share", "save_draft", "share_weights", "make_final", "delete_rubric"),
    *("delete sample", "sample size"),
    *("change in bank", "delete from bank", "unpin exemplar", "grant slips", "undo joining"),
}


@pytest.mark.parametrize(
    "name", [name for name in OPERATIONS if name not in READS | NOT_OF_THE_CLASS]
)
def test_a_class_that_is_set_aside_is_only_looked_at(name: str, caller: Teacher) -> None:
    made = prepared(caller)
    next_class.set_class_aside(caller, made.class_id, True)
    before = everything(caller.database)
    with pytest.raises(Refused, match="is set aside"):
        OPERATIONS[name](caller, made)
    assert everything(caller.database) == before


@pytest.mark.parametrize("name", sorted(READS))
def test_what_is_set_aside_is_still_seen(name: str, caller: Teacher) -> None:
    made = prepared(caller)
    next_class.set_class_aside(caller, made.class_id, True)
    OPERATIONS[name](caller, made)


@pytest.mark.parametrize("name", [name for name in OPERATIONS if name not in READS])
def test_the_evidence_and_the_walls_that_are_kept_are_right_after_every_operation(
    name: str, caller: Teacher
) -> None:
    made = prepared(caller)
    earlier = at(caller, -1)
    for student in made.students:
        made.mark(student, 3, 2, caller=earlier)
    mastery.wall(caller, made.class_id)
    with suppress(Refused, RefusedMany, Stale):
        OPERATIONS[name](caller, made)
    with suppress(NotFound):
        # Another database object on the same file has kept nothing.
        anew = replace(caller, database=Database(caller.database.path, read_only=True))
        assert mastery.wall(caller, made.class_id) == mastery.wall(anew, made.class_id)
        anew.database.close()
    with caller.reading() as db:
        assert evidence_faults(db) == []
        assert len(db.execute("SELECT * FROM evidence").fetchall()) > 0


def test_no_operation_is_forgotten_here() -> None:
    """Every function of the services that takes a caller is tried above, or is one's own."""
    tried = {function for one in OPERATIONS.values() for function in called_by(one)}
    for module in pkgutil.walk_packages(service.__path__, f"{service.__name__}."):
        for name, function in inspect.getmembers(
            importlib.import_module(module.name), inspect.isfunction
        ):
            takes = next(iter(inspect.signature(function).parameters), "")
            if function.__module__ == module.name and name[0] != "_" and takes == "caller":
                own = OWN.get(module.name.removeprefix(f"{service.__name__}."), "").split()
                assert function in tried or name in own, f"{module.name}.{name}"


def called_by(operation: Callable[..., object]) -> Iterator[object]:
    """The functions that a lambda names: by themselves, or as those of a module."""
    names = operation.__code__.co_names
    for name in names:
        found = globals().get(name)
        if inspect.isfunction(found):
            yield found
        elif inspect.ismodule(found):
            yield from (getattr(found, one) for one in names if hasattr(found, one))


def test_a_failure_in_the_middle_of_an_operation_leaves_nothing_of_it(
    caller: Teacher, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Two people are stored, but not that they are in the class: they are not there either."""
    made = small(caller)

    def failing(*arguments: object) -> None:
        raise sqlite3.OperationalError("disk full")

    monkeypatch.setattr(class_list.student_store, "add_members", failing)
    before = everything(caller.database)
    with pytest.raises(sqlite3.OperationalError):
        class_list.import_class_list(caller, made.class_id, read_table("Name\nA B\nC D\n"))
    assert everything(caller.database) == before


def test_sign_in_and_out(database: Database, caller: Teacher) -> None:
    number = sessions.check_password(database, " ILSE@tern.example ", "a long password")
    token = sessions.begin_session(database, number, caller.now)
    assert sessions.person_of_session(database, token, caller.now).name == "Ilse Varga"
    sessions.end_session(database, token)
    with pytest.raises(NotSignedIn):
        sessions.person_of_session(database, token, caller.now)


@pytest.mark.parametrize(
    ("email", "password"),
    [
        ("ilse@tern.example", "a wrong password"),
        ("nobody@tern.example", "a long password"),
        ("", ""),
    ],
)
def test_a_wrong_sign_in_does_not_tell_what_was_wrong(
    database: Database, caller: Teacher, email: str, password: str
) -> None:
    with pytest.raises(NotSignedIn, match=r"^This name and password do not belong together$"):
        sessions.check_password(database, email, password)


def test_a_session_ends_by_itself(database: Database, caller: Teacher) -> None:
    token = sessions.begin_session(database, 1, caller.now)
    with pytest.raises(NotSignedIn):
        sessions.person_of_session(database, token, caller.now + sessions.SESSION_LASTS)


def test_neither_password_nor_token_is_kept(database: Database, caller: Teacher) -> None:
    token = sessions.begin_session(database, 1, caller.now)
    dump = everything(database)
    assert "a long password" not in dump
    assert token not in dump


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"email": "nobody"}, "email"),
        ({"given_name": " "}, "given_name"),
        ({"password": "short"}, "password"),
        ({"password": "x" * 201}, "password"),
    ],
)
def test_a_first_teacher_is_refused_at_the_field(
    database: Database, changes: dict[str, str], field: str
) -> None:
    teacher = accounts.NewTeacher("Ilse", "Varga", "ilse@tern.example", "a long password")
    with pytest.raises(Refused) as refused:
        accounts.make_first_teacher(database, "School", "UTC", replace(teacher, **changes))
    assert refused.value.field == field
    assert accounts.needs_first_teacher(database)


def test_there_is_one_first_teacher(database: Database, caller: Teacher) -> None:
    teacher = accounts.NewTeacher("Eve", "Late", "eve@tern.example", "a long password")
    with pytest.raises(Refused, match="There is a teacher already"):
        accounts.make_first_teacher(database, "School", "UTC", teacher)


def test_a_class_list_says_what_each_line_would_do(caller: Teacher) -> None:
    made = small(caller)
    other = classes.make_class(caller, "Other", date(2026, 9, 1), date(2027, 6, 1))
    students.add_student(caller, other, StudentLine(1, "Kai", "Nord", "S9"))
    table = read_table(
        "Given name,Family name,ID\nAino,Berg,S1\nKai,Nord,S9\nNew,One,S7\nNew,Two,S7\n"
        "Else,Who,S2\nZoe,Anders,\n,,S4\n"
    )
    preview = class_list.preview_class_list(caller, made.class_id, table)
    assert [str(read.status) for read in preview.lines] == [
        "already-there",
        "joins",
        "new",
        "problem",
        "problem",
        "already-there",
        "problem",
    ]
    assert [problem.message for problem in preview.problems] == [
        "The identifier S7 is in line 4 already",
        "S2 belongs to somebody else at the school",
        "There is no name",
    ]
    with pytest.raises(RefusedMany):
        class_list.import_class_list(caller, made.class_id, table)


def test_a_student_who_joins_brings_evidence_along(caller: Teacher) -> None:
    """Evidence follows the student and the outcome, not the class."""
    made = small(caller)
    made.mark(made.students[0], 3, 3)
    other = classes.make_class(caller, "Other", date(2026, 9, 1), date(2027, 6, 1))
    class_list.import_class_list(caller, other, read_table("Name,ID\nAino Berg,S1\n"))
    with caller.transaction() as db:
        outcomes.store.teach_outcome(db, other, made.outcomes[0], date(2026, 9, 1))
    seen = mastery.wall(caller, other)
    assert seen.cells[0][0].mastery.value == 300


def test_a_student_who_leaves_is_there_in_the_past_and_can_come_back(caller: Teacher) -> None:
    made = small(at(caller, -10))
    today = school_day(caller)
    students.set_left(caller, made.class_id, made.students[0], today - timedelta(days=2))
    for days_ago, there in ((0, 1), (2, 1), (3, 2)):
        day = today - timedelta(days=days_ago)
        assert len(mastery.wall(caller, made.class_id, day).students) == there
    students.bring_back_student(caller, made.class_id, made.students[0])
    assert len(mastery.wall(caller, made.class_id).students) == 2
    assert len(mastery.wall(caller, made.class_id, today - timedelta(days=1)).students) == 1
    with pytest.raises(Refused):
        students.bring_back_student(caller, made.class_id, made.students[0])


def test_that_a_student_left_is_undone_as_if_it_had_never_been_said(caller: Teacher) -> None:
    made = small(at(caller, -10))
    student = made.students[0]
    before = students.students(caller, made.class_id)
    students.set_left(caller, made.class_id, student, school_day(caller))
    students.set_left(caller, made.class_id, student, None)
    assert students.students(caller, made.class_id) == before


@pytest.mark.parametrize(("days", "words"), [(1, "still to come"), (-20, "They came on")])
def test_a_day_on_which_nobody_can_leave_is_refused(caller: Teacher, days: int, words: str) -> None:
    made = small(at(caller, -10))
    day = school_day(caller) + timedelta(days=days)
    with pytest.raises(Refused, match=words) as refused:
        students.set_left(caller, made.class_id, made.students[0], day)
    assert refused.value.field == "left_on"


def test_who_has_left_is_labelled_on_a_task_and_in_no_count(caller: Teacher) -> None:
    """Their work stays to be seen and marked, but nobody waits for it."""
    made = small(at(caller, -10))
    leaver, stays = made.students
    for one in made.students:
        attempts.enter_work(caller, made.task_id, one, "My route")
    (line,) = tasks.class_tasks(caller, made.class_id)
    assert (line.counts.total(), line.handed_in, line.to_mark) == (2, 2, 2)
    today = school_day(caller)
    students.set_left(caller, made.class_id, leaver, today)
    (line,) = tasks.class_tasks(caller, made.class_id)
    assert (line.counts.total(), line.handed_in, line.to_mark) == (1, 1, 1)
    assert tasks.to_mark_by_class(caller)[made.class_id] == 1
    view = tasks.get_task(caller, made.task_id)
    assert (view.counts, view.handed_in, view.to_mark) == (line.counts, 1, 1)
    assert {one.row.student_id: one.row.left_on for one in view.students} == {
        leaver: today,
        stays: None,
    }
    # Marking it all the same moves no count.
    first = desk.desk(caller, made.task_id).criteria[0]
    choice = Choice(first.level_ids[0])
    saved = saving.choose(caller, made.task_id, leaver, first.id, choice, 0)
    assert (saved.waits, saved.waited) == (False, False)


@pytest.mark.parametrize(
    ("words", "field"),
    [
        (OutcomeWords("", "Title", "", None), "code"),
        (OutcomeWords("w1", "Title", "", None), "code"),
        (OutcomeWords("N1", "", "", None), "title"),
        (OutcomeWords("N" * 31, "Title", "", None), "code"),
    ],
)
def test_an_outcome_is_refused_at_its_field(
    caller: Teacher, words: OutcomeWords, field: str
) -> None:
    made = small(caller)
    with pytest.raises(Refused) as refused:
        outcomes.add_outcome(caller, made.class_id, words)
    assert refused.value.field == field


def test_order_names_each_once(caller: Teacher) -> None:
    made = small(caller)
    first, second = made.outcomes
    outcomes.order_outcomes(caller, made.class_id, [second, first])
    assert [row.id for row in outcomes.outcomes_of_class(caller, made.class_id).outcomes] == [
        second,
        first,
    ]
    for order in ([first], [first, first], [first, second, 99]):
        with pytest.raises(Refused):
            outcomes.order_outcomes(caller, made.class_id, order)


def test_a_retired_outcome_leaves_the_wall_but_not_the_past(caller: Teacher) -> None:
    made = small(at(caller, -10))
    outcomes.retire_outcome(caller, made.class_id, made.outcomes[0], True)
    yesterday = (caller.now - timedelta(days=1)).date()
    assert len(mastery.wall(caller, made.class_id).outcomes) == 1
    assert len(mastery.wall(caller, made.class_id, yesterday).outcomes) == 2
    outcomes.retire_outcome(caller, made.class_id, made.outcomes[0], False)
    assert len(mastery.wall(caller, made.class_id).outcomes) == 2


def test_an_outcome_is_changed_whole_or_not_at_all(caller: Teacher) -> None:
    made = small(caller)
    before = everything(caller.database)
    twice = replace(WORDS, code="w2")
    with pytest.raises(RefusedMany) as refused:
        method_changes.change_outcome_whole(
            caller, made.class_id, made.outcomes[0], 1, twice, METHOD, 99
        )
    assert [problem.field for problem in refused.value.problems] == ["minimum", "code"]
    assert everything(caller.database) == before


@pytest.mark.parametrize(
    "operation",
    [
        lambda c, s: classes.change_class(
            c, s.class_id, 7, "X", date(2026, 1, 1), date(2026, 2, 1)
        ),
        lambda c, s: method_changes.change_outcome_whole(
            c, s.class_id, s.outcomes[0], 7, WORDS, METHOD, 1
        ),
        lambda c, s: methods.change_class_method(c, s.class_id, 7, METHOD),
        lambda c, s: combining.change_combining(c, s.class_id, 7, Combining.LOWEST),
        lambda c, s: rubrics.make_final(c, s.rubric_id, 1),
        lambda c, s: revisions.revise(c, s.rubric_id, 1),
        lambda c, s: revisions.apply_revision(c, s.rubric_id, 1, 1, []),
        lambda c, s: scale_changes.change_scale(c, 1, 7, "S", scales.starting_scale()),
        lambda c, s: tasks.change_task(
            c, s.task_id, 7, TaskWords("T", "", TaskKind.OBSERVED, s.rubric_id, None, None, True)
        ),
    ],
)
def test_a_stale_save_is_refused_and_says_what_is_there(
    caller: Teacher, operation: Operation
) -> None:
    made = small(caller)
    before = everything(caller.database)
    with pytest.raises(Stale) as stale:
        operation(caller, made)
    assert stale.value.current > 0
    assert everything(caller.database) == before


def test_a_method_shows_whose_level_changes_before_and_is_logged_after(caller: Teacher) -> None:
    made = small(caller)
    second = made.new_task()
    made.mark(made.students[0], 4, 4)
    made.mark(made.students[0], 1, 1, task_id=second, caller=at(caller, 1))
    later = at(caller, 2)
    preview = method_changes.preview_class_method(later, made.class_id, Method(MethodKind.HIGHEST))
    assert [
        (c.outcome.code, c.before.value, c.after.value, c.direction) for c in preview.changes
    ] == [
        ("W1", 220, 400, "up"),
        ("W2", 220, 400, "up"),
    ]
    methods.change_class_method(later, made.class_id, 1, Method(MethodKind.HIGHEST))
    assert mastery.wall(later, made.class_id).cells[1][0].mastery.value == 400
    assert '"highest"' in everything(caller.database)


def test_an_averaging_method_on_a_scale_cut_at_the_values_is_explained(caller: Teacher) -> None:
    made = small(caller)
    scale = scales.starting_scale()
    at_values = replace(scale, levels=tuple(replace(one, cut=one.value) for one in scale.levels))
    scale_changes.change_scale(caller, 1, 1, "Hard", at_values)
    decaying = method_changes.preview_class_method(
        caller, made.class_id, Method(MethodKind.DECAYING_AVERAGE)
    )
    assert [(cut.below, cut.level, cut.pieces) for cut in decaying.hard_cuts] == [
        ("On the way", "Arrived", 6)
    ]
    latest = method_changes.preview_class_method(caller, made.class_id, METHOD)
    assert latest.hard_cuts == ()


def test_cells_that_follow_the_scale_move_with_it_and_those_by_hand_stay(caller: Teacher) -> None:
    made = small(caller)
    by_hand = draft("h", [made.outcomes[0]], hand=[100, None, 250, 300])
    number = final_rubric(caller, [draft("a", [made.outcomes[0]]), by_hand], "Other")
    old = scales.starting_scale()
    levels = (*old.levels[:3], replace(old.levels[3], value=450))
    scale_changes.change_scale(caller, 1, 1, "Wider", replace(old, levels=levels))
    follows, hand = rubrics.get_rubric(caller, number).criteria
    assert [cell.value for cell in follows.alignments[0].map.cells] == [100, 200, 300, 450]
    assert [cell.value for cell in hand.alignments[0].map.cells] == [100, None, 250, 300]
    with pytest.raises(Refused, match="keeps its 4 levels"):
        scale_changes.change_scale(caller, 1, 2, "Fewer", replace(old, levels=old.levels[:3]))


def test_find_lists_what_is_ones_own(caller: Teacher, other_teacher: Teacher) -> None:
    small(caller)
    kinds = sorted(str(found.kind) for found in find.everything(caller))
    assert kinds == ["outcome", "outcome", "rubric", "student", "student", "task"]
    assert find.everything(other_teacher) == []


def test_choices_on_different_criteria_never_stand_in_each_others_way(caller: Teacher) -> None:
    made = small(caller)
    a, b = desk.desk(caller, made.task_id).criteria
    student = made.students[0]
    saving.choose(caller, made.task_id, student, a.id, Choice(a.level_ids[0]), 0)
    saving.choose(caller, made.task_id, student, b.id, Choice(b.level_ids[0]), 0)
    with pytest.raises(Stale):
        saving.choose(caller, made.task_id, student, a.id, Choice(a.level_ids[1]), 0)
    again = saving.choose(caller, made.task_id, student, a.id, Choice(a.level_ids[0]), 0)
    assert again.version == 2
