"""Make the front end's types and limits from the API's document, and its table of the kinds of task
from the core; --check compares them.
"""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from dataclasses import asdict
from pathlib import Path

from jade_ladder.core.task_kinds import KINDS
from jade_ladder.web.application import api_document

FRONTEND = Path(__file__).parent.parent / "frontend"
TYPES = FRONTEND / "src" / "api" / "schema.d.ts"
LIMITS = FRONTEND / "src" / "api" / "limits.ts"
TASK_KINDS = FRONTEND / "src" / "api" / "taskKinds.ts"


def made_types() -> str:
    """Run openapi-typescript on the document of the application as it is."""
    with tempfile.TemporaryDirectory() as folder:
        document, types = Path(folder, "openapi.json"), Path(folder, "schema.d.ts")
        document.write_text(json.dumps(api_document()), "utf-8")
        subprocess.run(
            [
                "npx",
                "openapi-typescript",
                str(document),
                "-o",
                str(types),
                "--root-types",
                "--root-types-no-schema-prefix",
            ],
            cwd=FRONTEND,
            check=True,
            capture_output=True,
        )
        return types.read_text("utf-8")


def made_limits() -> str:
    """Write how long texts may be, as the document says, by model and field."""
    schemas = api_document()["components"]["schemas"]
    lines = ["/** How long texts may be: made from the API's document, `make types`. */"]
    lines.append("export const limits = {")
    for name, schema in sorted(schemas.items()):
        fields = schema.get("properties", {}).items()
        longest = {field: one["maxLength"] for field, one in fields if "maxLength" in one}
        if longest:
            inner = ", ".join(f"{field}: {most}" for field, most in longest.items())
            lines.append(f"  {name}: {{ {inner} }},")
    return "\n".join([*lines, "} as const", ""])


def made_kinds() -> str:
    """Write what each kind of task is like."""
    lines = ["/** What each kind of task is like: made from core/task_kinds.py, `make types`. */"]
    lines.append("export const taskKinds = {")
    for kind, like in KINDS.items():
        lines.append(f"  '{kind}': {{" if "-" in kind else f"  {kind}: {{")
        lines += [f"    {name}: {str(has).lower()}," for name, has in asdict(like).items()]
        lines.append("  },")
    return "\n".join([*lines, "} as const", ""])


def main() -> int:
    """Write the files, or compare them."""
    made = {TYPES: made_types(), LIMITS: made_limits(), TASK_KINDS: made_kinds()}
    if "--check" not in sys.argv:
        for path, text in made.items():
            path.write_text(text, "utf-8")
        return 0
    stale = [path for path, text in made.items() if path.read_text("utf-8") != text]
    for path in stale:
        print(f"{path.relative_to(FRONTEND.parent)} is not what the server says now: make types")
    return 1 if stale else 0


if __name__ == "__main__":
    sys.exit(main())
