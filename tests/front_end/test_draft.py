"""A form over something that others may change: nothing typed is lost, nothing written unseen."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.front_end.conftest import node

# What is there changes by `change` and `other` (another thing is shown); the rest is the teacher.
Ask = Callable[[Any], list[list[Any]]]


@pytest.fixture(scope="session")
def draft(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Ask]:
    with node(
        tmp_path_factory.mktemp("draft"), ["shared/useDraft.ts"], "draft.mjs", ["vue"]
    ) as ask:
        yield lambda events: ask({"events": events})


@dataclass
class Form:
    """What a teacher sees of a form: plainly, without a watcher."""

    there: str = "first"
    typed: str | None = None
    """What stands in the field, once it is another text than what it was filled with."""
    filled: str = "first"
    meanwhile: bool = False

    def do(self, name: str, text: str) -> None:
        if name == "type":
            self.typed = None if text == self.filled else text
        elif name == "change":
            self.there = text
            self.meanwhile = self.typed is not None
            if not self.meanwhile:
                self.filled = text
        elif name in ("other", "showTheirs"):
            self.there = text if name == "other" else self.there
            self.typed, self.filled, self.meanwhile = None, self.there, False
        elif name == "keepMine":
            self.meanwhile = False
        elif not self.meanwhile:
            self.there = self.filled = self.shown
            self.typed = None

    @property
    def shown(self) -> str:
        return self.filled if self.typed is None else self.typed


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
        assert seen == [form.shown, form.typed is not None, form.meanwhile, form.there]
