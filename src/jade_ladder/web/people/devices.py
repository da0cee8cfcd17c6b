"""On what somebody is signed in, in words that they know it by."""

from __future__ import annotations

# What a browser says of itself names others, too: the first that fits is it.
_BROWSERS = (("Edg", "Edge"), ("Firefox", "Firefox"), ("Chrom", "Chrome"), ("Safari", "Safari"))
_SYSTEMS = (
    ("Android", "Android"),
    ("iPhone", "iPhone"),
    ("iPad", "iPad"),
    ("Windows", "Windows"),
    ("CrOS", "ChromeOS"),
    ("Mac OS", "Mac"),
    ("Linux", "Linux"),
)


def device_of(user_agent: str) -> str:
    """Say which browser on what a header names; empty where it names none that is known."""
    found = [
        next((name for word, name in names if word in user_agent), "")
        for names in (_BROWSERS, _SYSTEMS)
    ]
    return " on ".join(filter(None, found))
