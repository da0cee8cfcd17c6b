"""The walk as a state machine of Hypothesis, which chooses all there is to choose."""

from __future__ import annotations

import itertools
import random
import tempfile
from pathlib import Path
from typing import Any

from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, rule

from tests.walk.asking import School, the_same_each_time
from tests.walk.school import START
from tests.walk.script import shrunk, walk_again, write_script
from tests.walk.truths import TRUTHS
from tests.walk.trying import TRIALS
from tests.walk.walking import Met, Untrue, Walk, let_time_pass, step
from tests.walk.ways import NothingThere, Walker

_folders = itertools.count()


class Drawn:
    """Dice that Hypothesis throws. It begins with the lowest of everything and comes back to it,
    which would be the same few calls again and again: each throw is turned on by a number of ours.
    """

    def __init__(self, data: st.DataObject, turns: random.Random) -> None:
        self._data = data
        self._turns = turns

    def number(self, low: int, high: int) -> int:
        if low == high:
            return low
        thrown = self._data.draw(st.integers(low, high))
        return low + (thrown - low + self._turns.getrandbits(32)) % (high - low + 1)


class SchoolWalk(RuleBasedStateMachine):
    """A walk through a school of its own. A subclass says where the school is that it begins with
    and how much is looked at on the way.
    """

    template: Path
    met: Met
    looks: int = 12
    """Of a hundred steps, after how many a truth is held, or something is tried."""
    turns: int = 0
    """The seed of what turns its dice on."""
    at_the_end: tuple[str, ...] = tuple(TRUTHS)

    @initialize()
    def begin(self) -> None:
        """Begin with a copy of the school."""
        self.same = the_same_each_time()
        self.same.__enter__()
        self.folder = tempfile.TemporaryDirectory()
        folder = Path(self.folder.name) / f"walk-{next(_folders)}"
        self.walk = Walk(School.copied(self.template, folder, START), self.met)
        self.ended = False
        self.turned = random.Random(self.turns)

    def teardown(self) -> None:
        """Hold everything at the end of a walk, and let the school go."""
        if not hasattr(self, "walk"):
            return
        try:
            if not self.ended:
                self._told(lambda: self.walk.look_at_what_was_handed_back())
                self._told(lambda: self.walk.check(self.at_the_end))
        finally:
            self.walk.school.close()
            self.same.__exit__(None, None, None)
            self.folder.cleanup()

    @rule(data=st.data())
    def somebody_does_something(self, data: st.DataObject) -> None:
        """One call, and now and then a look at what is true."""
        if self.ended:
            return
        walker = self._walker(data)
        if walker.chance(12):
            let_time_pass(walker)
        self.walk.tick(walker.pick([1, 1, 1, 0, 40]))
        self._told(lambda: step(self.walk, walker))
        if not self.ended and walker.chance(self.looks):
            self._look(walker)

    def _walker(self, data: st.DataObject) -> Walker:
        if not hasattr(self, "walker"):
            self.walker = Walker(self.walk.school, Drawn(data, self.turned))
        self.walker.dice = Drawn(data, self.turned)
        return self.walker

    def _look(self, walker: Walker) -> None:
        match walker.dice.number(0, 4):
            case 0:
                self._told(lambda: self.walk.look_at_what_was_handed_back())
            case 1 | 2 | 3:
                kind = walker.pick(sorted(TRIALS))
                self._told(lambda: self._try(walker, kind))
            case _:
                name = walker.pick(sorted(TRUTHS))
                self._told(lambda: self.walk.check([name]))

    def _try(self, walker: Walker, kind: str) -> None:
        """Try something with a call that is drawn; what is untrue of it ends the script."""
        try:
            call = TRIALS[kind].drawn(walker)
        except NothingThere:
            return
        self.met.checked[TRIALS[kind].truth] += 1
        self.walk.try_(kind, call)

    def _told(self, does: Any) -> None:
        """Do it; what is untrue is told with a script, as short as it can be."""
        try:
            does()
        except Untrue as error:
            self.ended = True
            script = self._shortest(str(error))
            raise AssertionError(f"{error}\n{write_script(script, str(error))}") from error

    def _shortest(self, told: str) -> list[dict[str, Any]]:
        """The shortest script that is known after which the same is untrue."""
        script = self.walk.script
        name = told.split(":")[0]

        def fails(some: Any) -> bool:
            folder = Path(self.folder.name) / f"again-{next(_folders)}"
            try:
                walk_again(self.template, folder, some, only=name)
            except Untrue as error:
                return str(error).split(":")[0] == name
            return False

        return shrunk(script, fails) if fails(script) else script
