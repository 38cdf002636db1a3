"""Terms of the register: the spellings in which logs write them."""

from __future__ import annotations

import re

import pytest

from sealpacket.core.redact import Catalogue, host_terms, person_terms
from sealpacket.core.redact.terms import Term, shape


def test_a_person_is_written_in_many_ways_but_stays_one() -> None:
    terms = list(person_terms("Ines Harrowgate"))
    assert {t.spelling for t in terms} == {
        "Ines Harrowgate", "I. Harrowgate", "I Harrowgate", "Harrowgate, Ines", "Harrowgate Ines", "Ines.Harrowgate",
        "Ines_Harrowgate",
    }  # fmt: skip
    assert {t.canonical for t in terms} == {"ines harrowgate"}


def test_middle_names_are_left_out_where_people_leave_them_out() -> None:
    spellings = {t.spelling for t in person_terms("Anneke van der Wold")}
    assert {"Anneke van der Wold", "Anneke Wold", "A. Wold"} <= spellings


@pytest.mark.parametrize(("name", "count"), [("Teo", 0), ("Marit", 0), ("Quillmere", 1), ("", 0)])
def test_single_names_count_only_if_they_are_no_plain_words(name: str, count: int) -> None:
    assert len(list(person_terms(name))) == count


def test_a_host_is_known_with_and_without_its_domain() -> None:
    terms = list(host_terms(["BR07-kiosk2.quillmere.example", "bs-fw1", "mail.example"]))
    assert [(t.spelling, t.canonical) for t in terms] == [
        ("BR07-kiosk2.quillmere.example", "br07-kiosk2"),
        ("br07-kiosk2", "br07-kiosk2"),
        ("bs-fw1", "bs-fw1"),
        ("mail.example", "mail"),
    ]


@pytest.mark.parametrize(
    ("spelling", "pattern"),
    [
        (b"br07-kiosk2", rb"[A-Za-z]{2}[0-9]{2}\-[A-Za-z]{5}[0-9]{1}"),
        (b"TN9-44120-A", rb"[A-Za-z]{2}[0-9]{1}\-[0-9]{5}\-[A-Za-z]{1}"),
        (b"a.b.9", rb"[A-Za-z]{1}\.[A-Za-z]{1}\.[0-9]{1}"),
        (b"plainword", None),
        (b"two words", None),
    ],
)
def test_shapes(spelling: bytes, pattern: bytes | None) -> None:
    assert shape(spelling) == pattern
    if pattern:
        assert re.fullmatch(pattern, spelling)


def test_thousands_of_alike_terms_make_one_shape() -> None:
    terms = [Term("asset", f"SN-{number:06d}", f"sn-{number:06d}") for number in range(5000)]
    catalogue = Catalogue.build(terms)
    assert len(catalogue.scanner.pattern) < len(Catalogue.build().scanner.pattern) + 100
    assert catalogue.judge(b"SN-004999") is not None
    assert catalogue.judge(b"SN-005000") is None


@pytest.mark.parametrize(
    ("match", "kind"),
    [(b"10.1.2.3", "ip"), (b"password=x9y8", "secret"), (b"version 10.1.2.3", "leave"), (b"nothing", None)],
)
def test_the_catalogue_judges_a_match(match: bytes, kind: str | None) -> None:
    finding = Catalogue.build().judge(match)
    assert (finding.kind if finding else None) == kind


def test_a_kept_value_is_judged_and_kept() -> None:
    finding = Catalogue.build(keep={"10.1.2.3": "it is the gateway"}).judge(b"10.1.2.3")
    assert finding
    assert finding.kept == "it is the gateway"
