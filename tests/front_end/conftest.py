"""Front-end modules that need no page, run by Node: given and answered as JSON, line by line."""

from __future__ import annotations

import json
import subprocess
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest

FRONT_END = Path(__file__).parent.parent.parent / "frontend"
RUNNER = """
import readline from 'node:readline'
import * as module from './module.mjs'
for await (const line of readline.createInterface({ input: process.stdin })) {
  const { given, calls } = JSON.parse(line)
  const answers = calls.map(([name, ...values]) => module[name](given, ...values) ?? null)
  console.log(JSON.stringify({ given, answers }))
}
"""
Run = Callable[..., tuple[Any, list[Any]]]


@pytest.fixture(scope="session")
def criteria_module(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Run]:
    """Call functions of criteria.ts one after another with the same first argument; gives that as
    they left it, and what each gave back.
    """
    folder = tmp_path_factory.mktemp("node")
    subprocess.run(
        [
            FRONT_END / "node_modules" / ".bin" / "rolldown",
            *("src/features/rubrics/criteria.ts", "--format", "esm"),
            *("--tsconfig", "tsconfig.json", "--file", folder / "module.mjs"),
        ],
        cwd=FRONT_END,
        check=True,
        capture_output=True,
    )
    (folder / "runner.mjs").write_text(RUNNER)
    node = subprocess.Popen(
        ["node", folder / "runner.mjs"],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
    )

    def run(given: Any, *calls: list[Any]) -> tuple[Any, list[Any]]:
        assert node.stdin is not None
        assert node.stdout is not None
        node.stdin.write(json.dumps({"given": given, "calls": calls}) + "\n")
        node.stdin.flush()
        answer = json.loads(node.stdout.readline())
        return answer["given"], answer["answers"]

    yield run
    node.communicate()
