"""A preview of a scale, against loading and working a class out once from its marks."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path
from statistics import median

from scripts.bench.class_of_40 import OUTCOMES, PIECES, STUDENTS, fill
from scripts.bench.timing import timed

from jade_ladder.core.mastery import mastery_of
from jade_ladder.core.scale import Scale
from jade_ladder.service.changes import scales as scale_changes
from jade_ladder.service.mastery.class_evidence import ClassEvidence
from jade_ladder.service.outcomes import scales
from jade_ladder.service.shared.caller import Administrator
from jade_ladder.store.classes import classes as class_store
from jade_ladder.store.shared.connection import Database


def bench_preview(folder: Path) -> None:
    """Values and cut scores move, so that every cell of every map is made anew."""
    database = Database.in_folder(folder / "preview")
    class_id, _ = fill(database)
    caller = Administrator(database, 1, datetime.now(UTC))
    stored = scales.scales(caller)[0].stored
    levels = [replace(one, value=one.value * 10, cut=one.cut * 10) for one in stored.scale.levels]
    levels[2] = replace(levels[2], cut=levels[2].value)
    changed = Scale(tuple(levels), stored.scale.mastery_level)

    def preview() -> None:
        shown = scale_changes.preview_scale(caller, stored.id, stored.version, "Changed", changed)
        assert shown.cells == OUTCOMES * len(levels)

    def once() -> None:
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

    pairs = [(timed(preview), timed(once)) for _ in range(11)]
    database.close()
    own, load = (median(pair[which] for pair in pairs) for which in (0, 1))
    what = f"preview of a scale, {STUDENTS} × {OUTCOMES} × {PIECES}"
    print(f"{what}: {own * 1000:.0f} ms, one load and calculation {load * 1000:.0f} ms")
    print(f"  ratio {own / load:.1f} (at or under 2.5)")
