"""One's own files on their way in."""

from __future__ import annotations

from jade_ladder.web.files.uploads import router_for
from jade_ladder.web.shared.callers import the_student

router = router_for("my/", the_student)
