"""A preview of a scale, against loading and working a class out once from its marks."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from statistics import median

from scripts.bench.class_of_40 import OUTCOMES, PIECES, STUDENTS, fill, worked_out
from scripts.bench.timing import timed

from jade_ladder.core.scale import Scale
from jade_ladder.outside import clock
from jade_ladder.service.changes import scales as scale_changes
from jade_ladder.service.outcomes import scales
from jade_ladder.service.shared.caller import Administrator
from jade_ladder.store.shared.connection import Database


def bench_preview(folder: Path) -> None:
    """Values and cut scores move, so that every cell of every map is made anew."""
    database = Database.in_folder(folder / "preview")
    class_id, _ = fill(database)
    caller = Administrator(database, 1, clock.now())
    stored = scales.scales(caller)[0].stored
    levels = [replace(one, value=one.value * 10, cut=one.cut * 10) for one in stored.scale.levels]
    levels[2] = replace(levels[2], cut=levels[2].value)
    changed = Scale(tuple(levels), stored.scale.mastery_level)

    def preview() -> None:
        shown = scale_changes.preview_scale(caller, stored.id, stored.version, "Changed", changed)
        assert shown.cells == OUTCOMES * len(levels)

    pairs = [
        (timed(preview), timed(lambda: worked_out(database, caller, class_id))) for _ in range(11)
    ]
    database.close()
    own, load = (median(pair[which] for pair in pairs) for which in (0, 1))
    what = f"preview of a scale, {STUDENTS} × {OUTCOMES} × {PIECES}"
    print(f"{what}: {own * 1000:.0f} ms, one load and calculation {load * 1000:.0f} ms")
    print(f"  ratio {median(pair[0] / pair[1] for pair in pairs):.1f} (at or under 2.5)")
