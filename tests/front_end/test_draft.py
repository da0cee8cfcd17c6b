"""A form over something that others may change: nothing typed is lost, nothing written unseen."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.front_end.conftest import node

# What is there changes by `change`; by `other` the other thing is shown; the rest is the teacher.
Ask = Callable[[Any], list[list[Any]]]


@pytest.fixture(scope="session")
def draft(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Ask]:
    with node(
        tmp_path_factory.mktemp("draft"),
        ["shared/forms/useDraft.ts"],
        "browser.mjs draft.mjs",
        ["vue"],
    ) as ask:
        yield lambda events: ask({"events": events})


@dataclass
class Form:
    """What a teacher sees of a form over one of two things: plainly, without a watcher."""

    at: int = 1
    there: dict[int, tuple[str, int]] = field(
        default_factory=lambda: {1: ("first", 1), 2: ("second", 1)}
    )
    """Of each thing what it is, and its version."""
    kept: dict[int, tuple[str, int]] = field(default_factory=dict)
    """Of each thing what is typed over it and not saved, and over which version."""
    filled: tuple[str, int] = ("first", 1)
    """What the form was filled with, and of which version that was."""

    def do(self, name: str, text: str) -> None:
        now, version = self.there[self.at]
        if name == "type":
            self._typed(text, self.based)
        elif name == "change":
            self.there[self.at] = (text, version + 1)
            if self.at not in self.kept:
                self.filled = (text, version + 1)
        elif name == "other":
            self.at = 3 - self.at
            self.filled = self.there[self.at]
            if self.at in self.kept:
                self._typed(*self.kept[self.at])
        elif name == "showTheirs":
            self.kept.pop(self.at, None)
            self.filled = (now, version)
        elif name == "keepMine":
            if self.at in self.kept:
                self.kept[self.at] = (self.shown, version)
            self.filled = (self.filled[0], version)
        elif name == "save" and not self.meanwhile:
            self.there[self.at] = self.filled = (self.shown, version + 1)
            self.kept.pop(self.at, None)

    def _typed(self, text: str, based: int) -> None:
        self.kept.pop(self.at, None)
        if text != self.filled[0]:
            self.kept[self.at] = (text, based)

    @property
    def based(self) -> int:
        return self.kept[self.at][1] if self.at in self.kept else self.filled[1]

    @property
    def meanwhile(self) -> bool:
        return self.based != self.there[self.at][1]

    @property
    def shown(self) -> str:
        return self.kept[self.at][0] if self.at in self.kept else self.filled[0]


TEXTS = st.sampled_from(["first", "mine", "theirs", ""])
EVENTS = st.tuples(
    st.sampled_from(["type", "change", "other", "showTheirs", "keepMine", "save"]), TEXTS
)


@settings(max_examples=60, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(EVENTS, max_size=12))
def test_a_form_keeps_what_is_typed_and_saves_only_over_what_was_seen(
    draft: Ask, events: list[tuple[str, str]]
) -> None:
    form = Form()
    for (name, text), seen in zip(events, draft(events), strict=True):
        form.do(name, text)
        typed = form.at in form.kept
        assert seen == [form.shown, typed, form.meanwhile, form.there[form.at][0]]
