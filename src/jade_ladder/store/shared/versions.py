"""What of a mark stands in which of its versions, as SQL says it.

A choice, a remark, a passage, a file or an adjustment stands from the version `since_version` on,
up to `until_version`, which it is not in any more; without one it stands now.
"""

from __future__ import annotations


def in_version(alias: str, version: str) -> str:
    """Give the condition that a row stands in a version; where there is no such version (it is
    NULL, as that of a mark that is not finished), nothing does.
    """
    dot = f"{alias}." if alias else ""
    return (
        f"{dot}since_version <= {version} "
        f"AND ({dot}until_version IS NULL OR {dot}until_version > {version})"
    )
