"""A long walk: the school of tests/walk, with new seeds, for half an hour or as long as is said.
What it finds untrue is printed as a script of calls, shrunk, and kept in a folder, from where a
script can be run again.

    make walk                        half an hour, from a seed that is another each time
    make walk MINUTES=60 SEED=3      so long, from this seed on
    make walk SCRIPT=found.jsonl     one script again
"""

from __future__ import annotations

import argparse
import re
import secrets
import sys
import tempfile
import time
from pathlib import Path

from hypothesis import HealthCheck, Phase, Verbosity, seed, settings
from hypothesis.stateful import run_state_machine_as_test
from pwdlib import PasswordHash
from pwdlib.hashers.argon2 import Argon2Hasher
from tests.walk.machine import SchoolWalk
from tests.walk.school import make_school
from tests.walk.script import read_script, walk_again
from tests.walk.steps import READS
from tests.walk.walking import ELSEWHERE, Met, Untrue
from tests.walk.ways import OPERATIONS

from jade_ladder.service.people import passwords

WALKS_AT_ONCE, STEPS, LOOKS = 4, 40, 14


def main() -> int:
    """Walk, and say what was met and found. Gives how many things were untrue."""
    arguments = argparse.ArgumentParser(description=__doc__)
    arguments.add_argument("--minutes", type=float, default=30)
    arguments.add_argument("--seed", type=int, default=secrets.randbelow(1_000_000))
    arguments.add_argument("--script", type=Path)
    arguments.add_argument("--found", type=Path, default=Path(".walk"))
    said = arguments.parse_args()
    # Passwords take long to hash, on purpose.
    quick = PasswordHash((Argon2Hasher(time_cost=1, memory_cost=8, parallelism=1),))
    passwords._hasher = lambda: quick
    with tempfile.TemporaryDirectory() as folder:
        template = make_school(Path(folder) / "school")
        if said.script is not None:
            return _again(template, Path(folder), said.script)
        return _walk(template, said.minutes, said.seed, said.found)


def _again(template: Path, folder: Path, script: Path) -> int:
    told, calls = read_script(script.read_text())
    try:
        walk_again(template, folder / "again", calls)
    except Untrue as error:
        print(f"Untrue: {error}")
        return 1
    print(f"True now. It was untrue: {told}")
    return 0


def _walk(template: Path, minutes: float, first: int, found: Path) -> int:
    met = Met()

    class LongWalk(SchoolWalk):
        pass

    LongWalk.template, LongWalk.met, LongWalk.looks = template, met, LOOKS
    begun = time.monotonic()
    faults: dict[str, int] = {}
    number = first
    while time.monotonic() - begun < 60 * minutes:
        LongWalk.turns = number
        try:
            run_state_machine_as_test(
                seed(number)(LongWalk),
                settings=settings(
                    max_examples=WALKS_AT_ONCE,
                    stateful_step_count=STEPS,
                    database=None,
                    deadline=None,
                    phases=[Phase.generate],
                    suppress_health_check=list(HealthCheck),
                    report_multiple_bugs=False,
                    verbosity=Verbosity.quiet,
                    print_blob=False,
                ),
            )
        except AssertionError as error:
            _tell(str(error), number, faults, found)
        number += 1
    _sum_up(met, time.monotonic() - begun, first, number, faults)
    return len(faults)


def _tell(told: str, number: int, faults: dict[str, int], found: Path) -> None:
    """Tell what is untrue the first time, and keep its script."""
    kind = re.sub(r"\d+", "N", told.splitlines()[0])[:120]
    faults[kind] = faults.get(kind, 0) + 1
    if faults[kind] > 1:
        return
    found.mkdir(exist_ok=True)
    first, *script = told.splitlines()
    path = found / f"seed-{number}.jsonl"
    path.write_text("\n".join(script) + "\n")
    print(f"Seed {number}: {first[:2000]}\n  {len(script) - 1} calls, in {path}:")
    for line in script[1:]:
        print(f"  {line[:400]}")
    sys.stdout.flush()


def _sum_up(met: Met, seconds: float, first: int, after: int, faults: dict[str, int]) -> None:
    writes = {
        name for name, (method, _) in OPERATIONS.items() if method != "GET" and name not in READS
    }
    pairs = {pair for pair in met.pairs if set(pair) <= writes}
    print(
        f"Seeds {first} to {after - 1}: {met.steps} steps, {met.steps / seconds:.1f} a second; "
        f"{len(set(met.done) & writes)} of {len(writes)} operations that change something were "
        f"done, {len(set(met.done))} of {len(OPERATIONS)} altogether; {len(pairs)} of "
        f"{len(writes) ** 2} pairs of changes followed each other, {len(met.pairs)} of all."
    )
    never = writes - set(met.done) - ELSEWHERE
    print("Never done:", ", ".join(sorted(never)) or "none")
    for name, times in sorted(met.checked.items()):
        print(f"  {times:6} × {name}")
    for kind, times in sorted(faults.items(), key=lambda one: -one[1]):
        print(f"{times} × {kind}")
    print("Nothing is untrue." if not faults else f"{len(faults)} kinds of thing are untrue.")


if __name__ == "__main__":
    sys.exit(min(1, main()))
