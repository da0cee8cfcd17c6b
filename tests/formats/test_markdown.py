"""Instructions: Markdown becomes HTML that can do nothing."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jade_ladder.formats.markdown import to_html


@pytest.mark.parametrize(
    ("text", "there", "not_there"),
    [
        ("**Plot** each leg", "<strong>Plot</strong>", "**"),
        ("# One\n\n## Two", "<h2>One</h2>", "<h1>"),
        ("1. a\n2. b", "<ol>", "1."),
        ("| a | b |\n|---|---|\n| 1 | 2 |", "<td>1</td>", "|"),
        ("[tables](https://tern.example/t)", 'href="https://tern.example/t"', "javascript"),
        ("[mail](mailto:a@b.example)", 'href="mailto:a@b.example"', "["),
        ("<script>alert(1)</script>", "&lt;script&gt;", "<script"),
        ("<img src=x onerror=alert(1)>", "&lt;img", "<img"),
        ("[x](javascript:alert(1))", "[x](javascript:alert(1))", "href"),
        ("[x](JaVaScRiPt:alert(1))", "[x]", "href"),
        ("[x](data:text/html,<b>)", "[x]", "href"),
        ("![map](https://elsewhere.example/pixel.png)", "map", "<img"),
        ('[x](https://a.example "onmouseover=alert(1)")', "https://a.example", " onmouseover="),
        ("<a href='https://a.example' style='position:fixed'>x</a>", "&lt;a", "<a"),
    ],
)
def test_what_becomes_of_it(text: str, there: str, not_there: str) -> None:
    html = to_html(text)
    assert there in html
    assert not_there not in html


@given(st.text("<>/=\"'()[]!javscriptonerror:img \n#*`|&;", max_size=80))
def test_no_text_becomes_a_script_a_picture_or_a_handler(text: str) -> None:
    html = to_html(text).casefold()
    for bad in ("<script", "<img", "<iframe", "<style", "<svg", ' onerror="', 'href="javascript'):
        assert bad not in html
