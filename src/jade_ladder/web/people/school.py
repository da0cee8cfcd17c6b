"""What holds for the whole school."""

from __future__ import annotations

from pydantic import BaseModel

from jade_ladder.service.people import school as service
from jade_ladder.web.shared.bodies import router_of
from jade_ladder.web.shared.callers import AsAdministrator
from jade_ladder.web.shared.fields import Text, Whole

router = router_of("school", "/school")


class SchoolIn(BaseModel):
    """From how many different sources evidence is no longer thin, and the language by which names
    are sorted; what is left out stays.
    """

    thin: Whole | None = None
    language: Text | None = None


@router.put("", status_code=204)
def change_school(body: SchoolIn, caller: AsAdministrator) -> None:
    """Change what holds for the whole school."""
    service.change_school(caller, body.thin, body.language)
