"""Run all that is measured."""

from __future__ import annotations

import tempfile
from pathlib import Path

from scripts.bench.calculation import bench_calculate
from scripts.bench.class_of_40 import bench_revision, bench_wall
from scripts.bench.exporting import bench_export
from scripts.bench.files import bench_files
from scripts.bench.frameworks import bench_framework
from scripts.bench.front_end import bench_desk, bench_editor, bench_pages, bench_print
from scripts.bench.lists import bench_lists
from scripts.bench.load import bench_load
from scripts.bench.marking import bench_marking
from scripts.bench.mastery import bench_mastery
from scripts.bench.mixed import bench_mixed
from scripts.bench.observing import bench_observing
from scripts.bench.preview import bench_preview
from scripts.bench.remarks import bench_remarks
from scripts.bench.school import bench_new_mark, bench_school
from scripts.bench.students import bench_students
from scripts.bench.turning import bench_turning

BENCHES = (
    *(bench_calculate, bench_wall, bench_marking, bench_revision, bench_preview, bench_framework),
    *(bench_lists, bench_load, bench_mixed, bench_students, bench_files, bench_editor, bench_desk),
    *(bench_turning, bench_remarks, bench_observing, bench_mastery, bench_print),
    *(bench_new_mark, bench_export, bench_school),
)


def main() -> None:
    """Run all of them, each in a folder of its own."""
    with tempfile.TemporaryDirectory() as folder:
        for bench in BENCHES:
            own = Path(folder) / bench.__name__
            own.mkdir()
            bench(own)
    bench_pages()


if __name__ == "__main__":
    main()
