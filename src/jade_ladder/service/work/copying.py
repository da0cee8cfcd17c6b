"""Copying a task, into its own class or another one."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jade_ladder.service.rubrics import library, rubrics
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.guards import own_class, own_task
from jade_ladder.service.work.setting import still_asked
from jade_ladder.store.work import task_files as file_store
from jade_ladder.store.work import tasks as store


@dataclass(frozen=True, slots=True)
class CopiedTask:
    """The copy, and the codes of outcomes of its rubric that the class there does not teach."""

    task_id: int
    unmatched: tuple[str, ...]


def copy_task(caller: Teacher, task_id: int, class_id: int) -> CopiedTask:
    """Copy a task as a draft without times, for all of a class, with its files. Where the class
    teaches other outcomes than the rubric is aligned to, the rubric is copied with it, and aligned
    to those with the same codes.
    """
    with caller.transaction() as db:
        row, klass = own_task(db, caller, task_id)
        own_class(db, caller, class_id)
        revision_id = store.newest_revision(db, row.revision_id)
        unmatched: tuple[str, ...] = ()
        if row.rubric_id is not None:
            fit = library.fit_rubric(caller, class_id, row.rubric_id)
            if klass.id != class_id and (fit.matched or fit.unmatched):
                revision_id, unmatched = _for_class(caller, class_id, row.rubric_id)
        fields = replace(
            row.fields(),
            revision_id=revision_id,
            title=f"{row.title} (copy)" if klass.id == class_id else row.title,
            due_at=None,
            closes_at=None,
            set_at=None,
            for_all=True,
            asked=still_asked(db, revision_id, row.asked),
        )
        made = store.add_task(db, class_id, fields, caller.now)
        store.copy_instructions(db, task_id, made)
        file_store.copy_task_files(db, task_id, made)
        return CopiedTask(made, unmatched)


def _for_class(
    caller: Teacher, class_id: int, rubric_id: int
) -> tuple[int | None, tuple[str, ...]]:
    """Copy a rubric for a class and finalise it; give its revision, and the codes of the outcomes
    that the class does not teach.
    """
    number, fit = library.copy_for_class(caller, class_id, rubric_id)
    version = rubrics.get_rubric(caller, number).row.version
    return rubrics.make_final(caller, number, version).row.final_revision_id, fit.unmatched
