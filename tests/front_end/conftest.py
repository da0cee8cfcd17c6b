"""Front-end modules that need no page, run by Node: given and answered as JSON, line by line."""

from __future__ import annotations

import json
import subprocess
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest

HERE = Path(__file__).parent
FRONT_END = HERE.parent.parent / "frontend"
RUNNER = """
import readline from 'node:readline'
%s
// After the scripts: what they put in place of a browser is there when the modules are read.
const module = await import('./module.mjs')
for await (const line of readline.createInterface({ input: process.stdin })) {
  console.log(JSON.stringify(await answer(JSON.parse(line))))
}
"""
IN_PAGE = ["vue", "pinia", "@pinia/colada"]
Run = Callable[..., tuple[Any, list[Any]]]


@contextmanager
def node(
    folder: Path, modules: list[str], scripts: str, packages: Sequence[str] = ()
) -> Iterator[Callable[[Any], Any]]:
    """Run scripts of this folder, one after the other, in Node with what these modules (and
    packages) export as `module`; their function `answer` is called with whatever is given, and
    gives the answer.
    """
    script = "\n".join((HERE / one).read_text("utf-8") for one in scripts.split())
    (folder / "node_modules").symlink_to(FRONT_END / "node_modules")
    entry = folder / "entry.ts"
    paths = [*(FRONT_END / "src" / one for one in modules), *packages]
    entry.write_text("".join(f"export * from '{path}'\n" for path in paths))
    command = [FRONT_END / "node_modules" / ".bin" / "rolldown", entry, "--format", "esm"]
    command += ["--tsconfig", "tsconfig.json", "--file", folder / "module.mjs"]
    subprocess.run(command, cwd=FRONT_END, check=True, capture_output=True)
    (folder / "runner.mjs").write_text(RUNNER % script)
    process = subprocess.Popen(
        ["node", folder / "runner.mjs"], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
    )
    asked, answers = process.stdin, process.stdout
    assert asked is not None
    assert answers is not None

    def ask(given: Any) -> Any:
        asked.write(json.dumps(given) + "\n")
        asked.flush()
        return json.loads(answers.readline())

    yield ask
    asked.close()
    process.terminate()
    process.wait()
    answers.close()


@pytest.fixture(scope="session")
def criteria_module(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Run]:
    """Call functions of criteria.ts one after another with the same first argument; gives that as
    they left it, and what each gave back.
    """
    folder = tmp_path_factory.mktemp("criteria")
    with node(folder, ["features/rubrics/editor/criteria.ts"], "calls.mjs") as ask:

        def run(given: Any, *calls: list[Any]) -> tuple[Any, list[Any]]:
            answer = ask({"given": given, "calls": calls})
            return answer["given"], answer["answers"]

        yield run
