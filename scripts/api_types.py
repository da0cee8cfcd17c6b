"""Make the front end's types from the API's document; --check says whether they are current."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path

from jade_ladder.web.application import api_document

FRONTEND = Path(__file__).parent.parent / "frontend"
TYPES = FRONTEND / "src" / "api" / "schema.d.ts"


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


def main() -> int:
    """Write the types, or compare them."""
    types = made_types()
    if "--check" not in sys.argv:
        TYPES.write_text(types, "utf-8")
        return 0
    if TYPES.read_text("utf-8") == types:
        return 0
    print("frontend/src/api/schema.d.ts is not what the API says now: make types")
    return 1


if __name__ == "__main__":
    sys.exit(main())
