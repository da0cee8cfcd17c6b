"""Lists of outcomes that come in as tables: held against what is there, applied as one
operation.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass

from jade_ladder.core.errors import Refused
from jade_ladder.formats.case import Framework, FrameworkOutcome, FrameworkStrand
from jade_ladder.formats.outcome_list import OutcomeLine, read_outcome_list
from jade_ladder.formats.table import Choices, Table
from jade_ladder.service.exchange.framework_import import import_framework
from jade_ladder.service.exchange.frameworks import FrameworkComparison, compared
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.guards import own_class
from jade_ladder.service.shared.list_preview import (
    Imported,
    LineStatus,
    ListPreview,
    ReadLine,
    bad,
)
from jade_ladder.store.exchange import frameworks as store
from jade_ladder.store.exchange.frameworks import KnownOutcome
from jade_ladder.store.outcomes import strands as strand_store
from jade_ladder.store.shared.rows import new_guid


@dataclass(frozen=True)
class OutcomeListPreview(ListPreview[OutcomeLine]):
    """What a list of outcomes would do: which strands it would make, what outcomes say now that
    would change (by line), and which the class teaches that the list has not.
    """

    new_strands: tuple[str, ...]
    was: Mapping[int, KnownOutcome]
    gone: tuple[KnownOutcome, ...]
    framework: Framework


def preview_outcome_list(
    caller: Teacher, class_id: int, table: Table, choices: Choices = Choices()
) -> OutcomeListPreview:
    """Read a list of outcomes and say what it would do; nothing is changed. An outcome is known by
    its code in the class; what the list has no column for stays as it is.
    """
    with caller.reading() as db:
        own_class(db, caller, class_id)
        return _preview(db, caller, class_id, table, choices)


def import_outcome_list(
    caller: Teacher,
    class_id: int,
    table: Table,
    choices: Choices = Choices(),
    retire_gone: bool = False,
    leave_out: bool = False,
) -> Imported[OutcomeLine]:
    """Add and change a list's outcomes and strands; a line with a problem keeps all of it out,
    unless such lines are to be left out. With `retire_gone`, outcomes that the list has not are
    retired. It can be undone as the import of a framework is.
    """
    with caller.transaction() as db:
        own_class(db, caller, class_id)
        preview = _preview(db, caller, class_id, table, choices)
        preview.refuse_problems(leave_out)
        gone = bool(retire_gone and preview.gone)
        if not (preview.adding or preview.changing or gone):
            raise Refused("All of this list is there already")
        entry = import_framework(caller, class_id, preview.framework, retire_gone)
        return Imported(entry, len(preview.adding), preview.bad_lines)


def _preview(
    db: sqlite3.Connection,
    caller: Teacher,
    class_id: int,
    table: Table,
    choices: Choices,
) -> OutcomeListPreview:
    read, lines = read_outcome_list(table, choices)
    checked = _checked(lines)
    good = [one.line for one in checked if one.status is not LineStatus.PROBLEM]
    framework = _framework(db, caller, class_id, good, set(read.taken))
    comparison = compared(db, caller, class_id, framework)
    status, was = _standing(comparison)
    return OutcomeListPreview(
        read,
        tuple(
            one
            if one.status is LineStatus.PROBLEM
            else ReadLine(one.line, status.get(one.line.code.casefold(), one.status))
            for one in checked
        ),
        tuple(strand.title for strand in comparison.new_strands),
        {line.number: was[line.code.casefold()] for line in good if line.code.casefold() in was},
        comparison.gone,
        framework,
    )


def _checked(lines: list[OutcomeLine]) -> list[ReadLine[OutcomeLine]]:
    """Find the lines with a problem; a code stands once."""
    seen: dict[str, int] = {}
    read: list[ReadLine[OutcomeLine]] = []
    for line in lines:
        code = line.code.casefold()
        if line.problem:
            read.append(bad(line, line.problem, line.field))
        elif code in seen:
            text = f"The code {line.code} is in line {seen[code]} already"
            read.append(bad(line, text, "code"))
        else:
            read.append(ReadLine(line, LineStatus.ALREADY_THERE))
        seen.setdefault(code, line.number)
    return read


def _standing(
    comparison: FrameworkComparison,
) -> tuple[dict[str, LineStatus], dict[str, KnownOutcome]]:
    """Give by casefolded code what a line would do, and what stands there now where it changes."""
    status = {one.code.casefold(): LineStatus.NEW for one in comparison.new}
    status |= {one.now.code.casefold(): LineStatus.JOINS for one in comparison.joining}
    changed = {one.now.code.casefold(): one.was for one in comparison.changed}
    return status | dict.fromkeys(changed, LineStatus.CHANGES), changed


def _framework(
    db: sqlite3.Connection,
    caller: Teacher,
    class_id: int,
    lines: list[OutcomeLine],
    columns: set[str],
) -> Framework:
    """Make the class's own document of a list, with what it has no column for as it is now."""
    known = {
        one.code.casefold(): one
        for one in store.known_outcomes(db, caller.person_id, class_id)
        if one.in_class
    }
    titles = {row.id: row.title for row in strand_store.strands(db, caller.person_id)}
    strands = {
        titles[number].casefold(): FrameworkStrand(guid, titles[number])
        for guid, number in store.own_guids(db, "strand", caller.person_id).items()
    }
    used: dict[str, FrameworkStrand] = {}
    outcomes = []
    for line in lines:
        there = known.get(line.code.casefold())
        title, description = line.strand, line.description
        if there and "strand" not in columns:
            title = titles.get(there.strand_id or 0, "")
        if there and "description" not in columns:
            description = there.description
        key = title.casefold()
        if title and key not in used:
            used[key] = strands.get(key) or FrameworkStrand(new_guid(), title)
        outcomes.append(
            FrameworkOutcome(
                there.guid if there else new_guid(),
                there.code if there else line.code,
                line.title,
                description,
                used[key].guid if title else None,
            )
        )
    return Framework(
        store.class_guid(db, class_id), "A list", "", tuple(used.values()), tuple(outcomes)
    )
