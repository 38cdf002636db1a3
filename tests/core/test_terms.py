"""Terms of the register: the spellings in which logs write them."""

from __future__ import annotations

import io
import re
from collections.abc import Callable
from functools import cache

import pytest

from sealpacket.core.redact import Catalogue, Outcome, Placeholders, host_terms, person_terms
from sealpacket.core.redact.engine import Run
from sealpacket.core.redact.known.terms import Term
from sealpacket.core.redact.readers import copy_file
from sealpacket.core.redact.readers.base import Work

_BETWEEN = (
    " ", "  ", ".", "_", "+", "-", ",", ", ", ";", "; ", "|", " | ", "        | ", "\t", ". ", '","', '", "', "','", "', '", '";"', '" "',
)  # fmt: skip
"""What stands between two names in prose, in accounts, in rows of a table."""


@cache
def people(*names: str) -> Catalogue:
    """A catalogue that knows these people, built once."""
    return Catalogue.build(term for name in names for term in person_terms(name))


@pytest.mark.parametrize("case", [str, str.upper, str.lower])
@pytest.mark.parametrize(
    "names",
    [("Ines", "Harrowgate"), ("Harrowgate", "Ines"), ("I", "Harrowgate"), ("Harrowgate", "I")],
)
def test_a_person_is_written_in_many_ways_but_stays_one(
    names: tuple[str, str], case: Callable[[str], str]
) -> None:
    for between in _BETWEEN:
        found = run(people("Ines Harrowgate"))
        label = found.text(b"by Ines Harrowgate (7)")
        assert b"[person:" in label
        assert found.text(f"by {case(between.join(names))} (7)".encode()) == label


@pytest.mark.parametrize(
    "account", ["InesHarrowgate", "iharrowgate", "HarrowgateI", "ines.harrowgate"]
)
def test_accounts_made_of_a_name_are_the_person(account: str) -> None:
    found = run(people("Ines Harrowgate"))
    assert found.text(f"by {account} ok".encode()) == found.text(b"by Ines Harrowgate ok")


@pytest.mark.parametrize(
    "text",
    ["Ines / Harrowgate", "Ines\nnot Harrowgate", "Ines, or Harrowgate", "Ines,,Harrowgate", "Ines harrowgates",
     "xInes Harrowgate", "Ines" + " " * 60 + "Harrowgate", "Ines orford", "I, a harrow"],
)  # fmt: skip
def test_names_that_do_not_stand_beside_each_other_are_nobody(text: str) -> None:
    found = run(people("Ines Harrowgate"))
    assert found.text(f"x {text} ok".encode()).decode() == f"x {text} ok"


def test_names_that_are_made_of_several_words_or_letters_of_their_own_stand_either_way() -> None:
    for name in ("Anne-Marie O'Brien", "Øystein Ås", "Zoë Dürr", "Пётр Лебедев"):
        first, last = name.split()
        found = run(people(name))
        label = found.text(f"by {name} ok".encode())
        assert b"[person:" in label
        for between in (" ", ", ", ",", ";", "\t", "."):
            for one, other in ((first, last), (last, first)):
                assert found.text(f"by {one}{between}{other} ok".encode()) == label, (
                    one,
                    between,
                    other,
                )


def test_names_that_are_said_again_still_stand_either_way() -> None:
    catalogue = Catalogue.build(
        [*person_terms("Ines Harrowgate"), Term("custom", "Ines Harrowgate", "x")]
    )
    for known in (catalogue, people("Ines Harrowgate")):
        found = run(known.with_values([("person", b"Ines Harrowgate")]))
        for written in (b"Harrowgate, Ines", b"ines.harrowgate", b"Ines Harrowgate"):
            assert found.text(b"x " + written + b" ok").startswith(b"x ["), written
    assert b"Ines" not in found.text(b"xxInes Harrowgatexx")


def test_names_with_digits_stand_either_way_as_well() -> None:
    found = run(people("Ines Harrowgate", "Desk4 Quillmere"))
    for written in (b"Quillmere, Desk4", b"harrowgate.ines"):
        assert found.text(b"by " + written + b" ok").startswith(b"by [person:"), written


def test_a_letter_before_a_name_that_is_a_word_is_a_person_only_in_prose() -> None:
    found = run(people("Bruno Server"))
    assert (
        found.text(b"the b-server and b,server of B. Server")
        .decode()
        .startswith("the b-server and b,server of [person:")
    )


@pytest.mark.parametrize(
    ("name", "written"),
    [
        ("Zoë Dürr", ["Zoe Duerr", "zoe durr", "ZOE.DUERR", "Zo%C3%AB%20D%C3%BCrr", "zoe-durr"]),
        ("Søren Østergård", ["Soren Ostergard", "Soeren Oestergaard", "soren.ostergard"]),
        ("Łukasz Weiß", ["Lukasz Weiss", "LUKASZ WEISS"]),
        ("Пётр Лебедев", ["Петр Лебедев", "ПЁТР ЛЕБЕДЕВ", "Лебедев, Пётр"]),
        ("Siobhan O’Connor", ["Siobhan O'Connor", "siobhan.o'connor"]),
    ],
)
def test_a_person_is_known_without_the_letters_that_a_system_did_not_have(
    name: str, written: list[str]
) -> None:
    found = run(people(name))
    label = found.text(f"by {name} ok".encode())
    for one in written:
        assert found.text(f"by {one} ok".encode()) == label, one


@pytest.mark.parametrize("case", [str, str.upper, str.lower])
def test_a_person_is_known_in_what_systems_make_of_letters_beyond_ascii(
    case: Callable[[str], str],
) -> None:
    found = run(people("Zoë Dürr"))
    label = found.text("by Zoë Dürr ok".encode())
    text = case("Zoë Dürr")
    for made in (
        text.encode("latin-1"), text.encode("utf-8"),
        *([] if case is str.lower else [
            text.encode("cp850"), text.encode("cp437") if case is str else text.encode("mac-roman"),
            text.encode().decode("cp1252").encode(), text.encode().decode("latin-1").encode(),
            text.encode("ascii", "replace"), text.encode("latin-1").decode("utf-8", "replace").encode(),
        ]),
    ):  # fmt: skip
        assert found.text(b"by " + made + b" ok") == label, made


def test_an_account_that_is_an_ordinary_word_is_no_person() -> None:
    spellings = {term.spelling.casefold() for term in person_terms("Ada Ddress")}
    assert "address" not in spellings


def test_hundreds_of_names_that_begin_alike_in_a_script_of_their_own_are_told_apart() -> None:
    letters = "абвгджзклмнопрстуфхцчшщыэюя"
    names = [f"Иван Лебедев{one}{other}" for one in letters for other in letters]
    found = run(people(*names))
    text = "\n".join(f"читатель {name} ждёт" for name in names)
    copy = found.text(text.encode()).decode()
    assert "Лебедев" not in copy
    assert len(set(copy.splitlines())) == len(names)


def test_middle_names_are_left_out_where_people_leave_them_out() -> None:
    found = run(people("Anneke van der Wold"))
    label = found.text(b"by Anneke van der Wold ok")
    for written in (b"Anneke Wold", b"A. Wold", b"wold, anneke"):
        assert found.text(b"by " + written + b" ok") == label


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


def run(catalogue: Catalogue) -> Run:
    """A pass with this catalogue."""
    return Run(catalogue, Placeholders(b"t" * 32), Outcome())


def test_thousands_of_alike_terms_are_told_apart() -> None:
    found = run(
        Catalogue.build(
            [Term("asset", f"SN-{number:06d}", f"sn-{number:06d}") for number in range(5000)]
        )
    )
    assert found.judge(b"SN-004999") is not None
    assert found.judge(b"SN-005000") is None
    copy = found.text(
        b"SN-004999 SN-005000 xSN-004999 SN-0049991 (sn-000007) SN-000008_a\n"
    ).decode()
    assert copy.count("[asset:") == 2
    assert "SN-005000 xSN-004999 SN-0049991" in copy
    assert "SN-000008_a" in copy


@pytest.mark.parametrize(
    "text", ["Åö-é", "+49 (30) 1", "_under_score9", "7-ab", "Ståle Øk", "ﬁx-1"]
)
def test_a_term_is_found_however_it_begins(text: str) -> None:
    found = run(Catalogue.build([Term("custom", text, text)]))
    for around in ("{}", "a {} b", "({})", "x={};y"):
        line = around.format(text)
        assert found.text(line.encode()).decode().replace("[custom:", "").count(text) == 0, line


def test_a_known_secret_is_found_inside_a_longer_word_and_a_name_is_not() -> None:
    catalogue = Catalogue.build(person_terms("Quilla Harrow"))
    found = run(catalogue.with_values([("secret", b"Xy7-hunter2")]))
    copy = found.text(
        b"abcXY7-HUNTER2def aQuilla Harrow / Quilla Harrowgate / Quilla Harrow.\n"
    ).decode()
    assert copy.startswith("abc[secret:")
    assert "aQuilla Harrow / Quilla Harrowgate / [person:" in copy


@pytest.mark.parametrize(
    ("match", "kind"),
    [
        (b"10.1.2.3", "ip"),
        (b"password=x9y8", "secret"),
        (b"version 10.1.2.3", "leave"),
        (b"nothing", None),
    ],
)
def test_the_catalogue_judges_a_match(match: bytes, kind: str | None) -> None:
    finding = run(Catalogue.build()).judge(match)
    assert (finding.kind if finding else None) == kind


def test_a_kept_value_is_judged_and_kept() -> None:
    finding = run(Catalogue.build(keep={"10.1.2.3": "it is the gateway"})).judge(b"10.1.2.3")
    assert finding
    assert finding.kept == "it is the gateway"


@pytest.mark.parametrize(
    ("name", "text", "copy"),
    [
        ("a.csv", '1,"Oswin","Marit",x\n2,Marit,Oswin,y\n', '1,"{}","{}",x\n2,{},{},y\n'),
        ("a.tsv", "id\ta\tb\n1\tMarit\tOswin\n", "id\ta\tb\n1\t{}\t{}\n"),
        ("a.json", '{"a": ["Oswin","Marit", 7]}\n', '{{"a": ["{}","{}", 7]}}\n'),
        ("a.log", "Oswin,Marit|x\nMarit  Oswin\nmarit\toswin 7\n", "{}|x\n{}\n{} 7\n"),
    ],
)
def test_the_two_names_of_a_person_may_stand_in_two_fields(name: str, text: str, copy: str) -> None:
    goes = io.BytesIO()
    copy_file(
        io.BytesIO(text.encode()),
        goes,
        Work(people("Marit Oswin"), Placeholders(b"k" * 32)),
        name,
    )
    made = goes.getvalue().decode()
    label = re.search(r"\[person:[a-z2-7]+\]", made)
    assert label is not None
    assert made == copy.format(*[label[0]] * copy.count("{}"))
