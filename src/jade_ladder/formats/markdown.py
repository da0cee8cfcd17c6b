"""Instructions in Markdown, as HTML that is safe to show."""

from __future__ import annotations

from functools import cache

import nh3
from markdown_it import MarkdownIt

_TAGS = {
    *("p", "br", "hr", "strong", "em", "s", "code", "pre", "blockquote", "a"),
    *("h2", "h3", "h4", "h5", "h6", "ul", "ol", "li"),
    *("table", "thead", "tbody", "tr", "th", "td"),
}
_SCHEMES = {"http", "https", "mailto"}


@cache
def _reader() -> MarkdownIt:
    # No pictures: one from elsewhere would tell its server who reads this, and when.
    return MarkdownIt("js-default").disable("image")


def to_html(text: str) -> str:
    """Give a text in Markdown as HTML: no scripts, no pictures, links to http, https and mail only.
    What is no Markdown is text. A heading of the first level is one of the second, since the page
    has one of its own.
    """
    html = _reader().render(text).replace("<h1>", "<h2>").replace("</h1>", "</h2>")
    return nh3.clean(
        html,
        tags=_TAGS,
        attributes={"a": {"href"}, "ol": {"start"}},
        url_schemes=_SCHEMES,
        link_rel="noopener noreferrer",
    )
