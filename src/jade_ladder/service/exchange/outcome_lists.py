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
from jade_ladder.formats.table import Table
from jade_ladder.service.exchange.framework_import import import_framework
from jade_ladder.service.exchange.frameworks import FrameworkComparison, compared
from jade_ladder.service.shared.caller import Teacher
from jade_ladder.service.shared.guards import own_class
from jade_ladder.service.shared.list_preview import LineStatus, ListPreview, ReadLine, bad
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
    caller: Teacher, class_id: int, table: Table, columns: dict[str, str] | None = None
) -> OutcomeListPreview:
    """Read a list of outcomes and say what it would do; nothing is changed. An outcome is known by
    its code in the class; what the list has no column for stays as it is.
    """
    with caller.reading() as db:
        own_class(db, caller, class_id)
        return _preview(db, caller, class_id, table, columns)


def import_outcome_list(
    caller: Teacher,
    class_id: int,
    table: Table,
    columns: dict[str, str] | None = None,
    retire_gone: bool = False,
) -> int:
    """Add and change a list's outcomes and strands, all or, when a line has a problem, none; with
    `retire_gone`, outcomes that the list has not are retired. Gives the number by which it can be
    undone, as that of a framework is.
    """
    with caller.transaction() as db:
        own_class(db, caller, class_id)
        preview = _preview(db, caller, class_id, table, columns)
        preview.refuse_problems()
        gone = bool(retire_gone and preview.gone)
        if not (preview.adding or preview.changing or gone):
            raise Refused("All of this list is there already")
        return import_framework(caller, class_id, preview.framework, retire_gone)


def _preview(
    db: sqlite3.Connection,
    caller: Teacher,
    class_id: int,
    table: Table,
    columns: dict[str, str] | None,
) -> OutcomeListPreview:
    found, lines = read_outcome_list(table, columns)
    checked = _checked(lines)
    good = [read.line for read in checked if read.status is not LineStatus.PROBLEM]
    framework = _framework(db, caller, class_id, good, set(found))
    comparison = compared(db, caller, class_id, framework)
    status, was = _standing(comparison)
    return OutcomeListPreview(
        found,
        tuple(table.headings),
        tuple(
            read
            if read.status is LineStatus.PROBLEM
            else ReadLine(read.line, status.get(read.line.code.casefold(), read.status))
            for read in checked
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
