"""Linting desk sheets: every fault with its place and line."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sealpacket.core.sheets import Finding, lint
from sealpacket.demo.world import sheet_text

GOOD = sheet_text("ovenbird-support")


def told(*changes: tuple[str, str]) -> list[Finding]:
    text = GOOD
    for old, new in changes:
        assert old in text, old
        text = text.replace(old, new, 1)
    return lint(text)[1]


@pytest.mark.parametrize("desk", ["tarnfell-support", "ovenbird-support"])
def test_the_sheets_that_ship_have_nothing_to_mend(desk: str) -> None:
    sheet, found = lint(sheet_text(desk))
    assert sheet is not None and sheet.desk == desk
    assert found == []


@pytest.mark.parametrize(
    ("old", "new", "level", "code", "words"),
    [
        ("take: packet.title", "take: packet.titel", "stop", "unknown-fact", "Is it packet.title?"),
        ("one_of: [sw_fault]", "one_of: [sw_faults]", "stop", "no-choice", "kind has no choice sw_faults"),
        ("question: kind, one_of: [hw", "question: reply_by, one_of: [hw", "stop", "asked-later", "asked later"),
        ("{question: kind, one_of: [sw_fault]}", "{question: kind}", "stop", "empty-condition", "says nothing of it"),
        ("map: {question: how_to}", "map: {question: howto}", "stop", "no-choice", "kind has no choice howto"),
        ("'[0-9]+\\.", "'([0-9]+\\.", "stop", "pattern", "not a valid RE2 pattern"),
        ("answers.contact.name", "answers.contact.nom", "stop", "unknown-fact", "contact has no nom"),
        ("answers.contact.mail", "answers.effect.mail", "stop", "unknown-fact", "effect has no mail"),
        ("take: asset.serial", "take: asset.serial_no", "stop", "unknown-fact", "Is it asset.serial?"),
        ("    error_text: {take: answers.error_text}\n", "", "warn", "never-sent", "error_text is asked and never sent"),
        ("follow: /requests/{reference}", "follow: /requests", "stop", "no-reference", "needs {reference}"),
        ("body: {take: message.text}", "body: hello", "stop", "no-text", "the answer would be empty"),
        ("key: {take: message.id}", "key: {take: packet.number}", "stop", "unknown-fact", "An answer has only message.id"),
        ("status: $.state", "status: state[", "stop", "jsonpath", "not a valid JSONPath"),
        ("status: $.state", "status: \"$.states[?search(@.word, '(a+)+$')]\"", "stop", "jsonpath", "run for ever"),
        ("status: $.state", "status: \"$.states[?@.word =~ /(a+)+$/]\"", "stop", "jsonpath", "run for ever"),
        ("Closed: {life: settled", "Closed: {life: answered", "warn", "never-settled", "open for ever"),
        ("{value: degraded,", "{value: minor,", "stop", "twice", "minor can be chosen twice"),
        ("{value: degraded,", "{value: a/b,", "stop", "slash", "must not hold a slash"),
        ("together: 50000000", "together: 5000", "warn", "limits", "fewer bytes than one"),
        ("[.log, .txt", "[log, .TXT", "stop", "endings", "log, .TXT"),
        ("at_least: 30", "at_least: 3000000", "stop", "limits", "fewest characters are more"),
        ("answers.kind}", "answers.kind, map: {hw_fault: H}}", "warn", "unmapped", "What becomes of sw_fault, how_to"),
        ("example: 12.1.0.8", "example: twelve", "stop", "example", "The example is no answer"),
        ("    example: 12.1.0.8\n", "", "hint", "no-example", "os_version has a pattern and no example"),
        ("channel: http_form", "channel: pigeon", "stop", "shape", "http_form"),
        ("most: 5", "most: many", "stop", "shape", "valid integer"),
    ],
)  # fmt: skip
def test_a_fault_is_told_with_its_level_and_words(
    old: str, new: str, level: str, code: str, words: str
) -> None:
    found = told((old, new))
    assert (level, code) in {(one.level, one.code) for one in found}, found
    assert words in " ".join(one.sentence for one in found)


def test_findings_stand_on_their_lines_in_the_order_of_the_text() -> None:
    found = told(
        ("take: packet.title", "take: packet.titel"),
        ("follow: /requests/{reference}", "follow: /requests"),
    )
    lines = GOOD.splitlines()
    wanted = [
        number
        for number, line in enumerate(lines, 1)
        if "packet.title" in line or "follow:" in line
    ]
    assert [one.line for one in found] == wanted
    assert [one.place for one in found] == ["questions.0.prefill.0.take", "send.follow"]


def test_all_faults_of_the_shape_are_told_at_once() -> None:
    found = told(("most: 5", "most: many"), ("route", "rout"), ("form: long", "form: essay"))
    assert len(found) >= 3
    assert {one.code for one in found} == {"shape"}


@pytest.mark.parametrize(
    ("text", "code"),
    [
        ("a: [", "sheet-yaml"),
        ("a: &x 1\nb: *x", "sheet-alias"),
        ("# " + "x" * (1 << 20), "sheet-too-large"),
        ("", "shape"),
        ("just words", "shape"),
    ],
)
def test_what_is_no_sheet_at_all_is_told_too(text: str, code: str) -> None:
    sheet, found = lint(text)
    assert sheet is None
    assert found[0].code == code
    assert (found[0].line >= 2) == (code == "sheet-alias")


@given(st.text(max_size=300))
def test_no_text_makes_it_stumble(text: str) -> None:
    sheet, found = lint(text)
    assert (sheet is None) == any(one.code.startswith(("sheet-", "shape")) for one in found)


def told_of(desk: str, *changes: tuple[str, str]) -> list[Finding]:
    """What is found in another desk's sheet after some changes."""
    text = sheet_text(desk)
    for old, new in changes:
        assert old in text, old
        text = text.replace(old, new, 1)
    return lint(text)[1]


@pytest.mark.parametrize(
    ("desk", "old", "new", "code", "words"),
    [
        ("lumenlathe-care", "{answers.error_code}", "{answers.eror_code}", "unknown-fact", "does not ask for"),
        ("lumenlathe-care", "{answers.told.mails}", "{answers.told.phones}", "unknown-fact", "told has no phones"),
        ("lumenlathe-care", "  ours: $.your_reference\n", "", "no-way-back", "repeats our number"),
        ("lumenlathe-care", "  by: mail\n  read: labels", "  read: labels", "no-way-back", "answers by mail"),
        ("lumenlathe-care", "zone: Europe/London", "zone: Europe/Quillmere", "zone", "not a time zone"),
        ("lumenlathe-care", "mo: 08:00-18:00", "mo: 8 to 6", "hours", "08:00-18:00"),
        ("lumenlathe-care", "needs: [return]", "needs: [improvement]", "no-kind", "is not a kind here"),
        ("pellwick-intake", "item.version", "answers.components.oldest", "unknown-fact", "components has no oldest"),
        ("pellwick-intake", "files/{name}", "files", "no-reference", "{reference} and {name}"),
        ("pellwick-intake", "type=\"prose\"", "type=\"poem\"", "xsd", "not an XML Schema"),
        ("pellwick-intake", "-----BEGIN CERTIFICATE-----", "-----BEGIN NOTHING-----", "certificate", "not a PEM certificate"),
        ("hollowmere-requests", "{take: row.region}", "{take: row.regoin}", "unknown-fact", "no column regoin"),
        ("hollowmere-requests", "more_than: now", "more_than: then", "no-column", "no column then"),
        ("hollowmere-requests", "country: country", "country: land", "no-country", "neither an earlier question"),
        ("hollowmere-requests", "fact: packet.need, one_of: [capacity]", "fact: packet.ned, one_of: [capacity]",
         "unknown-fact", "Is it packet.need?"),
        ("saddlewick-claims", "    Serial: {take: answers.serial}", "    Serialnumber: {take: answers.serial}", "pdf-field",
         "no field Serialnumber"),
        ("saddlewick-claims", "row.pieces", "row.count", "unknown-fact", "no column count"),
        ("tarnfell-support", "  signature: X-Tarnfell-Signature\n", "", "no-signature", "which header signs"),
        ("tarnfell-support", "  uploads: /uploads\n", "", "no-uploads", "does not say where"),
        ("thornbeck-lifts", "level: P1, noise: P1}", "level: P1}", "no-severity", "yes with noise is not said"),
        ("thornbeck-lifts", "noise: P3}", "noise: P9}", "no-choice", "no level of the scale"),
        ("catmere-software", "redaction: {keep: [ip], because: their search module is asked by address}",
         "redaction: {keep: [ip]}", "shape", "why the desk has to see it"),
        ("catmere-software", "redaction: {keep: [ip]", "redaction: {keep: [secret]", "shape", "'host', 'ip' or 'mac'"),
        ("kestling-lines", "attachments: {most: 2", "evidence: [{what: x, required: true, endings: [.exe]}]\nattachments: {most: 2",
         "never-there", "no such file is taken"),
    ],
)  # fmt: skip
def test_every_part_of_the_language_is_linted(
    desk: str, old: str, new: str, code: str, words: str
) -> None:
    found = told_of(desk, (old, new))
    assert code in {one.code for one in found}, found
    assert words in " ".join(one.sentence for one in found)
    assert all(one.line >= 1 for one in found)


def test_the_line_of_a_finding_is_where_it_stands() -> None:
    text = sheet_text("hollowmere-requests").replace("{take: row.region}", "{take: row.regoin}")
    finding = lint(text)[1][0]
    assert "row.regoin" in text.splitlines()[finding.line - 1]
