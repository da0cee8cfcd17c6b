"""What a search finds, and files are matched by: one rule in both languages."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jade_ladder.core.names import searchable
from tests.front_end.conftest import node


@pytest.fixture(scope="module")
def ask(tmp_path_factory: pytest.TempPathFactory) -> Any:
    script = tmp_path_factory.mktemp("search")
    with node(script, ["design/search.ts"], "search.mjs") as asking:
        yield asking


@pytest.mark.parametrize(
    ("wanted", "texts", "found"),
    [
        ("oshau", ["Seán O’Shaughnessy"], True),
        ("o'shau", ["Seán O’Shaughnessy"], True),
        ("sean o‘SHAU", ["Seán O’Shaughnessy"], True),
        ("nguessan", ["Aya N’Guessan"], True),
        ("darblay", ["Fanny d'Arblay"], True),
        ("annemarie", ["Anne-Marie Holm"], True),
        ("holm anne", ["Anne-Marie Holm"], True),
        ("oystein", ["Øystein Lund"], True),
        ("strasse", ["Straße"], True),
        ("thi mai", ["Phan Thị Mai"], True),
        ("t914", ["Farida Nasser", "T914"], True),
        ("Ναυσικα", ["ΝΑΥΣΙΚΆ"], True),
        ("ОЛЬГА", ["Ольга"], True),
        ("नीता", ["नीता देवी"], True),
        ("नाता", ["नीता देवी"], False),
        ("李", ["李 美玲"], True),
        ("فاطمه", ["فَاطِمه"], True),
        ("ann lee", ["Anna Berg"], False),
        ("  ", ["Anna Berg"], True),
    ],
)
def test_what_is_found(ask: Any, wanted: str, texts: list[str], found: bool) -> None:
    assert ask({"wanted": wanted, "texts": texts})["found"] is found


# Of later planes and versions of Unicode the two may know different things.
KNOWN = st.characters(max_codepoint=0x2FFF, exclude_categories=["Cs", "Cn"])


@given(st.text(KNOWN, max_size=30))
@settings(max_examples=300, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_both_languages_read_a_text_alike(ask: Any, text: str) -> None:
    assert ask({"wanted": text, "texts": []})["words"] == " ".join(searchable(text))
