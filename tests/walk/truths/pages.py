"""Pages as people see them at one moment, each read once; and the truths that are held of them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any

from tests.walk.asking import School


@dataclass(slots=True)
class Pages:
    """The pages of a school at one moment."""

    school: School
    read: dict[tuple[int, str], Any] = field(default_factory=dict)

    def see(self, who: int, path: str) -> Any:
        """A page that is there for somebody."""
        found = self.may_see(who, path)
        if found is None:
            answer = self.school.look(who, path)
            raise AssertionError(f"{who} cannot read {path}: {answer.status} {answer.content!r}")
        return found

    def may_see(self, who: int, path: str) -> Any:
        """A page, or None where it is not there for them."""
        if (who, path) not in self.read:
            self.read[who, path] = self.school.get(who, path)
        return self.read[who, path]

    def text(self, who: int, path: str) -> str:
        """A page that is a file of text."""
        answer = self.school.look(who, path)
        assert answer.done, f"{who} cannot read {path}: {answer.content!r}"
        return answer.content.decode("utf-8-sig")

    # Who and what is there, as the pages have it.

    def teachers(self) -> list[int]:
        """Everybody who teaches and can sign in."""
        return [one["id"] for one in self.see(self.administrator(), "/colleagues")]

    def administrator(self) -> int:
        """An administrator; who can be told only by asking the database."""
        return int(
            self.school.rows(
                "SELECT id FROM person WHERE administrator = 1 AND ended_at IS NULL ORDER BY id"
            )[0]
        )

    def classes(self) -> Iterator[tuple[int, dict[str, Any]]]:
        """Each class once, with the first teacher that has it."""
        told = set()
        for who in self.teachers():
            for klass in self.see(who, "/classes"):
                if klass["id"] not in told:
                    told.add(klass["id"])
                    yield who, klass

    def tasks(self) -> Iterator[tuple[int, dict[str, Any], dict[str, Any]]]:
        """Each task once, as its page is: a teacher, its class and it."""
        for who, klass in self.classes():
            for line in self.see(who, f"/classes/{klass['id']}/tasks"):
                yield who, klass, self.see(who, f"/tasks/{line['id']}")

    def students(self) -> Iterator[int]:
        """Everybody who is or was a student of a class."""
        told: set[int] = set()
        for who, klass in self.classes():
            for one in self.see(who, f"/classes/{klass['id']}/students"):
                if one["id"] not in told:
                    told.add(one["id"])
                    yield one["id"]

    def own_tasks(self) -> Iterator[tuple[int, dict[str, Any]]]:
        """Each student with each task on their list."""
        for student in self.students():
            for task in self.see(student, "/my/tasks"):
                yield student, task


Truth = Callable[[Pages], None]
TRUTHS: dict[str, Truth] = {}
"""What is true of the pages at every moment, by its name in docs/truths.md."""


def truth(held: Truth) -> Truth:
    """Say that a function holds a truth of docs/truths.md; it has the truth's name."""
    TRUTHS[held.__name__] = held
    return held


def agree(what: str, **said: Any) -> None:
    """All of these say the same."""
    first, *others = said.values()
    assert all(one == first for one in others), f"{what}: {said}"
