"""How a class combines criteria: what another way would change, and changing it."""

from __future__ import annotations

from jade_ladder.core.evidence import Combining
from jade_ladder.service.changes.what_if import Effects, what_if_changes
from jade_ladder.service.evidence.class_evidence import WhatIf
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.forms import check_version
from jade_ladder.service.shared.guards import own_class
from jade_ladder.store.classes import classes as store
from jade_ladder.store.evidence.choices import outcomes_of_class
from jade_ladder.store.shared.log import LogSubject
from jade_ladder.store.work import tasks as task_store


def combining_effects(caller: Teacher, class_id: int, combining: Combining) -> Effects:
    """Say whose level would change if the class combined the criteria of an attempt in this way
    (docs/calculations.md, “Marks, attempts, evidence”). Nothing is changed.
    """
    with caller.reading() as db:
        own_class(db, caller, class_id)
        combined = {row.id: combining for row in task_store.class_tasks(db, class_id)}
        what = WhatIf(combined=combined)
        return what_if_changes(db, caller, outcomes_of_class(db, class_id), what)


def change_combining(caller: Teacher, class_id: int, based_on: int, combining: Combining) -> None:
    """Combine the criteria of an attempt in another way, in all tasks of the class and altogether.
    Its evidence is worked out anew with it; what was carried over stays carried over.
    """
    with caller.transaction() as db:
        klass = own_class(db, caller, class_id)
        check_version(based_on, klass.version, "The class")
        if klass.combining is combining:
            return
        store.change_combining(db, class_id, combining)
        caller.log(db, LogSubject.COMBINING, class_id, klass.combining, combining)
