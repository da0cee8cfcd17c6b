"""Run all that is measured."""

from __future__ import annotations

import tempfile
from pathlib import Path

from scripts.bench.calculation import bench_calculate
from scripts.bench.class_of_40 import bench_revision, bench_wall
from scripts.bench.files import bench_files
from scripts.bench.frameworks import bench_framework
from scripts.bench.front_end import bench_desk, bench_editor, bench_pages, bench_print
from scripts.bench.lists import bench_lists
from scripts.bench.load import bench_load
from scripts.bench.marking import bench_marking
from scripts.bench.preview import bench_preview
from scripts.bench.remarks import bench_remarks
from scripts.bench.students import bench_students
from scripts.bench.turning import bench_turning


def main() -> None:
    """Run all of them."""
    with tempfile.TemporaryDirectory() as folder:
        bench_calculate(Path(folder))
        bench_wall(Path(folder))
        bench_marking(Path(folder))
        bench_revision(Path(folder))
        bench_preview(Path(folder))
        bench_framework(Path(folder))
        bench_lists(Path(folder))
        bench_load(Path(folder))
        bench_students(Path(folder))
        bench_files(Path(folder))
        bench_editor(Path(folder))
        bench_desk(Path(folder))
        bench_turning(Path(folder))
        bench_remarks(Path(folder))
        bench_print(Path(folder))
    bench_pages()


if __name__ == "__main__":
    main()
