"""Linting desk sheets: every fault with its place and line."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sealpacket.core.sheets import Condition, Finding, Question, lint
from sealpacket.core.sheets.asking import Choice
from sealpacket.core.sheets.lint.reachable import Scope, can_hold
from sealpacket.demo.world import sheet_text

GOOD = sheet_text("ovenbird-support")


def told(*changes: tuple[str, str]) -> list[Finding]:
    return told_of("ovenbird-support", *changes)


def told_of(desk: str, *changes: tuple[str, str]) -> list[Finding]:
    """What is found in a desk's sheet after some changes."""
    text = sheet_text(desk)
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
        ("prefill: packet.title", "prefill: packet.titel", "stop", "unknown-fact", "Is it packet.title?"),
        ("one_of: [sw_fault]", "one_of: [sw_faults]", "stop", "no-choice", "kind has no choice sw_faults. Is it sw_fault?"),
        ("question: kind, one_of: [hw", "question: reply_by, one_of: [hw", "stop", "asked-later", "asked later"),
        ("{question: kind, one_of: [sw_fault]}", "{question: kind}", "stop", "empty-condition", "says nothing of it"),
        ("question: how_to}", "question: howto}", "stop", "no-choice", "kind has no choice howto. Is it how_to?"),
        ("map: {question: how_to}", "map: {questoin: how_to}", "stop", "never", "Is it question?"),
        ("'[0-9]+\\.", "'([0-9]+\\.", "stop", "pattern", "not a valid pattern (missing )"),
        ("name: contact_name", "nom: contact_name", "stop", "unknown-part", "person has no nom. Is it name?"),
        ("to: effect\n", "to: {mail: effect}\n", "stop", "unknown-part", "There are label."),
        ("    to: error_text\n", "", "warn", "never-sent", "error_text is asked and never sent"),
        ("to: error_text", "to: effect", "stop", "collision", "error_text writes effect, which effect writes too"),
        ("to: error_text", "to: your_reference", "stop", "collision", "which the body writes too"),
        ("follow: /requests/{reference}", "follow: /requests", "stop", "no-reference", "needs {reference}"),
        ("follow: /requests/{reference}", "follow: /requests/{refrence}", "stop", "brace", "Is it reference?"),
        ("body: {take: message.text}", "body: hello", "stop", "no-text", "the answer would be empty"),
        ("key: {take: message.id}", "key: {take: packet.number}", "stop", "unknown-fact", "There are message.text"),
        ("status: $.state", "status: $.state[", "stop", "jsonpath", "not a valid JSONPath"),
        ("status: $.state", "status: state", "stop", "jsonpath", "A path begins with $: $.state"),
        ("status: $.state", "status: \"$.states[?search(@.word, '(a+)+$')]\"", "stop", "jsonpath", "run for ever"),
        ("status: $.state", "status: \"$.states[?@.word =~ /(a+)+$/]\"", "stop", "jsonpath", "run for ever"),
        ("Closed: settled", "Closed: answered", "warn", "never-settled", "open for ever"),
        ("Closed: settled", "Closed: setled", "stop", "unknown-value", "Is it settled?"),
        ("{value: degraded,", "{value: minor,", "stop", "twice", "minor can be chosen twice"),
        ("{value: degraded,", "{value: a/b,", "stop", "slash", "must not hold a slash"),
        ("max_total: 50 MB", "max_total: 5 kB", "warn", "limits", "fewer bytes than one"),
        ("max_size: 10 MB", "max_size: 10 MByte", "stop", "value", "a size such as 8 MB"),
        ("[.log, .txt", "[log, .TXT", "stop", "endings", "Write .log, in small letters."),
        ("min_length: 30", "min_length: 3000000", "stop", "limits", "fewest characters are more"),
        ("example: \"12.1.0.8\"", "example: twelve", "stop", "example", "The example of os_version is no answer"),
        ("    example: \"12.1.0.8\"\n", "", "hint", "no-example", "os_version has a pattern and no example"),
        ("channel: http", "channel: pigeon", "stop", "unknown-value", "It is http, mail, sftp or hand."),
        ("format: form", "format: mail", "stop", "missing", "`subject` is missing in `write`"),
        ("max_files: 5", "max_files: many", "stop", "value", "“many”: write a number"),
        ("act: reopen", "act: banana", "stop", "unknown-value", "It is reopen, lodge"),
        ("    form: long\n", "    form: lnog\n", "stop", "unknown-value", "Is it long?"),
        ("    ask: What happens?\n", "    aks: What happens?\n", "stop", "unknown-word", "Is it ask?"),
        ("your_reference: {take: packet.number}", "your_reference: {tak: packet.number}", "stop", "not-taken",
         "would be sent as these very words"),
        ("your_reference: {take: packet.number}", "your_reference: {take: packet.number, othrwise: x}", "stop",
         "unknown-word", "Is it otherwise?"),
        ("your_reference: {take: packet.number}", "your_reference: {take: packet.number, as: text}", "stop",
         "unknown-word", "There is no `as`"),
        ("your_reference: {take: packet.number}", "your_reference: \"{packet.nummer}\"", "stop", "unknown-fact",
         "Is it packet.number?"),
        ("your_reference: {take: packet.number}", "your_reference: \"{Packet Number}\"", "stop", "brace", "{{ for a brace"),
        ("your_reference: {take: packet.number}", "your_reference: {take: packet.need, map: {fault: F, 1: 1}}", "stop",
         "no-choice", "packet.need is never 1"),
        ("your_reference: {take: packet.number}", "your_reference: {take: packet.need, map: {fault: F}}", "warn",
         "unmapped", "Nothing is written for question"),
        ("your_reference: {take: packet.number}",
         "your_reference: {when: {question: kind, one_of: [hw_falt]}, value: x}", "stop", "no-choice", "Is it hw_fault?"),
        ("your_reference: {take: packet.number}",
         "your_reference: {when: {question: knd, answered: true}, value: x}", "stop", "asked-later", "knd"),
        ("your_reference: {take: packet.number}",
         "your_reference: {wehn: {question: kind, answered: true}, value: x}", "stop", "half-operator", "would be sent as it is"),
        ("your_reference: {take: packet.number}",
         "your_reference: {when: {question: kind, answered: true}, valu: x}", "stop", "half-operator", "'\\when'"),
        ("your_reference: {take: packet.number}", "your_reference: {a: {b: c}}", "stop", "nested",
         "The field your_reference has one text"),
        ("your_reference: {take: packet.number}",
         "your_reference: {take: answers.contact}", "stop", "unknown-part", "Add .name, .mail or .phone."),
        ("vendor: ovenbird\n", "vendor: ovenbird\nvendor: tarnfell\n", "stop", "doubled", "`vendor` is written twice"),
        ("required: {question: kind, one_of: [sw_fault]}", "required: {question: os_version, minimum: 3}", "stop",
         "asked-later", "asked later"),
        ("{value: site_down, label: A site is cut off}", "{value: site_down, label: A site, is cut off}", "stop",
         "unknown-word", "A comma within braces begins a new entry"),
    ],
)  # fmt: skip
def test_a_fault_is_told_with_its_level_and_words(
    old: str, new: str, level: str, code: str, words: str
) -> None:
    found = told((old, new))
    assert (level, code) in {(one.level, one.code) for one in found}, found
    assert words in " ".join(f"{one.sentence} {one.remedy}" for one in found)


@pytest.mark.parametrize(
    ("old", "new", "code", "words"),
    [
        ("field: level", "field: levels", "no-field", "changes levels of a record of this kind. Is it level?"),
        ("record: entitlement", "record: asset", "no-field", "There are registered_on, software_version."),
        ("take: answers.level", "take: answers.levl", "no-value", "There is no answers.levl. Is it answers.level?"),
        ("from_on: answers.from_day", "from_on: soon", "no-value", "Take answers.QUESTION, or facts.LABEL."),
        ("      when: [granted]", "      when: [given]", "no-status", "given is none of `statuses`."),
    ],
)  # fmt: skip
def test_a_consequence_is_of_what_is_there(old: str, new: str, code: str, words: str) -> None:
    (found,) = [one for one in told_of("hollowmere-requests", (old, new)) if one.level == "stop"]
    assert found.code == code
    assert words in f"{found.sentence} {found.remedy}"


@pytest.mark.parametrize(
    ("condition", "sentence"),
    [
        ("{all: [{question: kind, one_of: [hw_fault]}, {question: kind, one_of: [how_to]}]}", "never holds"),
        ("{all: [{fact: packet.need, one_of: [fault]}, {fact: packet.need, one_of: [question]}]}", "never holds"),
        ("{question: kind, one_of: []}", "this never holds"),
        ("{fact: packet.need, one_of: [return]}", "packet.need is never return at this desk"),
        ("{fact: packet.need, one_of: [falt]}", "Is it fault?"),
        ("{fact: ruling.route, one_of: [suport]}", "Is it support?"),
        ("{none: [{question: kind, answered: true}, {question: kind, answered: false}]}", "never holds"),
        ("{question: effect, minimum: 3}", "effect is no number"),
        ("{question: kind, answerd: true}", "Is it answered?"),
        ("maybe", "write true or false, or a condition"),
    ],
)  # fmt: skip
def test_a_condition_that_can_never_hold_is_a_stop(condition: str, sentence: str) -> None:
    found = told(("    to: reply_by\n", f"    to: reply_by\n    shown: {condition}\n"))
    assert any(
        one.level == "stop" and sentence in f"{one.sentence} {one.remedy}" for one in found
    ), found


def test_a_question_of_a_question_that_is_not_asked_then_is_never_asked() -> None:
    text = sheet_text("hollowmere-requests").replace(
        "shown: {question: topic, one_of: [invoice, credit]}",
        "shown: {all: [{question: topic, one_of: [invoice]}, {fact: packet.need, one_of: [change]}]}",
    )
    assert [(one.code, one.question) for one in lint(text)[1]] == [("never", "invoice")]


@pytest.mark.parametrize(
    ("written", "read"),
    [
        ("NO: refused", ("NO", "refused")),
        ("no: refused", ("no", "refused")),
        ("1: asked", ("1", "asked")),
        ("1.10: asked", ("1.10", "asked")),
        ("08:30: asked", ("08:30", "asked")),
        ("2026-11-23: asked", ("2026-11-23", "asked")),
        ("~: asked", ("~", "asked")),
    ],
)
def test_yaml_reads_what_the_author_meant(written: str, read: tuple[str, str]) -> None:
    sheet, found = lint(GOOD.replace("Received: lodged", written))
    assert found == []
    assert sheet is not None
    meaning = sheet.replies.statuses[read[0]]
    assert (meaning.life, meaning.turn) == {
        "refused": ("refused", "ours"), "asked": ("lodged", "ours")
    }[read[1]]  # fmt: skip


def test_constants_of_a_body_are_what_is_written() -> None:
    old = "your_reference: {take: packet.number}"
    more = 'a: 5, b: "5", c: true, d: NO, e: 1.50, f: 08'
    sheet, found = lint(GOOD.replace(old, f"{old}, {more}"))
    assert found == []
    assert sheet is not None
    body = sheet.body_for("fault")
    assert [body[name] for name in "abcdef"] == [5, "5", True, "NO", 1.5, "08"]


def test_findings_stand_on_their_lines_in_the_order_of_the_text() -> None:
    found = told(
        ("prefill: packet.title", "prefill: packet.titel"),
        ("follow: /requests/{reference}", "follow: /requests"),
    )
    lines = GOOD.splitlines()
    wanted = [
        number
        for number, line in enumerate(lines, 1)
        if "packet.title" in line or "follow:" in line
    ]
    assert [one.line for one in found] == wanted
    assert [one.place for one in found] == ["questions.0.prefill.0", "send.follow"]


def test_marks_cover_the_wrong_word_and_a_fix_replaces_it() -> None:
    text = (
        GOOD.replace("prefill: packet.title", "prefill: packet.titel")
        .replace("[sw_fault]", "[sw_faults]", 1)
        .replace("  max_files: 5", "  max_flies: 5")
    )
    found = lint(text)[1]
    assert found
    lines = text.splitlines()
    for one in found:
        marked = lines[one.line - 1][one.column - 1 : one.end_column - 1]
        assert (marked, one.fix) in {("max_flies", "max_files")}
    mended = text.replace("max_flies", "max_files")
    marks = {
        (
            mended.splitlines()[one.line - 1][one.column - 1 : one.end_column - 1],
            one.fix,
            one.question,
        )
        for one in lint(mended)[1]
    }
    assert marks == {
        ("packet.titel", "packet.title", "subject"),
        ("sw_faults", "sw_fault", "os_version"),
    }


def test_all_faults_of_the_shape_are_told_at_once() -> None:
    found = told(
        ("max_files: 5", "max_files: many"), ("routes", "rout"), ("form: long", "form: essay")
    )
    assert {one.code for one in found} == {"value", "missing", "unknown-word", "unknown-value"}


@pytest.mark.parametrize(
    ("text", "code"),
    [
        ("a: [", "sheet-yaml"),
        ("a: &x 1\nb: *x", "sheet-alias"),
        ("# " + "x" * (1 << 20), "sheet-too-large"),
        ("", "value"),
        ("just words", "value"),
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
    assert sheet is None
    assert found
    assert all(one.sentence and "pydantic" not in one.sentence for one in found)


@pytest.mark.parametrize(
    ("desk", "old", "new", "code", "words"),
    [
        ("lumenlathe-care", "{answers.error_code}", "{answers.eror_code}", "unknown-question", "does not ask for"),
        ("lumenlathe-care", "{mails: Also tell}", "{mials: Also tell}", "unknown-part", "Is it mails?"),
        ("lumenlathe-care", "  our_number: $.your_reference\n", "", "no-way-back", "way in which a reply finds its packet"),
        ("lumenlathe-care", "  arrive: mail\n", "", "no-way-back", "answers by mail"),
        ("lumenlathe-care", "zone: Europe/London", "zone: Europe/Londn", "zone", "Is it Europe/London?"),
        ("lumenlathe-care", "holidays_of: GB-ENG", "holidays_of: GB-ENK", "holidays", "No holidays are known"),
        ("lumenlathe-care", '"08:00-18:00"', '"8 to 6"', "hours", "08:00-18:00"),
        ("lumenlathe-care", "needs: [return]", "needs: [improvement]", "no-kind", "is not a kind here"),
        ("pellwick-intake", "item.version", "item.oldest", "unknown-part", "has no oldest"),
        ("pellwick-intake", "item.version", "answers.components.oldest", "unknown-part", "components has no oldest"),
        ("pellwick-intake", "files/{name}", "files", "no-reference", "needs {name}"),
        ("pellwick-intake", "type=\"prose\"", "type=\"poem\"", "xsd", "not an XML Schema"),
        ("pellwick-intake", "licence: {take", "licnce: {take", "no-element", "Is it licence?"),
        ("pellwick-intake", "root: intake", "root: intakes", "xsd-root", "no element intakes"),
        ("pellwick-intake", "-----BEGIN CERTIFICATE-----", "-----BEGIN NOTHING-----", "certificate", "not a PEM certificate"),
        ("hollowmere-requests", "{take: row.region}", "{take: row.regoin}", "no-column", "no column regoin. Is it region?"),
        ("hollowmere-requests", "more_than: now", "more_than: then", "no-column", "no column then"),
        ("hollowmere-requests", "country: country", "country: land", "no-country", "neither an earlier question"),
        ("hollowmere-requests", "fact: packet.need, one_of: [capacity]", "fact: packet.ned, one_of: [capacity]",
         "unknown-fact", "Is it packet.need?"),
        ("saddlewick-claims", "to: Serial", "to: Serialnumber", "pdf-field", "no field Serialnumber. Is it Serial?"),
        ("saddlewick-claims", "row.pieces", "row.count", "no-column", "no column count"),
        ("saddlewick-claims", "rows: goods", "rows: fault", "no-rows", "fault has no rows"),
        ("tarnfell-support", "  signature: X-Tarnfell-Signature\n", "", "no-signature", "which header signs"),
        ("tarnfell-support", "  files: {sent: before, by: tus, path: /uploads, list_in: attachments}\n", "", "no-files",
         "does not say how"),
        ("tarnfell-support", "path: /uploads", "path: \"/uploads/{reference}\"", "brace", "There is no {reference} here"),
        ("tarnfell-support", ", list_in: attachments", "", "files", "which files belong to it"),
        ("tarnfell-support", "sets: severity", "sets: serverity", "unknown-value", "It is severity"),
        ("thornbeck-lifts", "level: P1, noise: P1}", "level: P1}", "no-severity", "no level for yes with noise"),
        ("thornbeck-lifts", "noise: P3}", "noise: P9}", "no-level", "There is no level P9"),
        ("catmere-software", "  because: their search module is asked by address\n", "", "shape",
         "why the desk has to see it"),
        ("catmere-software", "keep: [ip]", "keep: [secret]", "unknown-value", "host, ip or mac"),
        ("kestling-lines", "attachments:\n", "evidence: [{what: x, required: true, endings: [.exe]}]\nattachments:\n",
         "never-there", "no such file is taken"),
        ("kestling-lines", "to: loss_percent\n    type: number", "to: loss_percent\n    type: boolean", "type",
         "cannot be read as boolean"),
        ("chimewell-telephony", "countries: [GB, IE, US]", "countries: [GB, IE, UK]", "country", "UK is no country"),
        ("chimewell-telephony", "form: language\n", "form: language\n    languages: [dutch]\n", "language",
         "dutch is no language tag"),
    ],
)  # fmt: skip
def test_every_part_of_the_language_is_linted(
    desk: str, old: str, new: str, code: str, words: str
) -> None:
    found = told_of(desk, (old, new))
    assert code in {one.code for one in found}, found
    assert words in " ".join(f"{one.sentence} {one.remedy}" for one in found)
    assert all(one.line >= 1 and one.column >= 1 for one in found)


def test_the_line_of_a_finding_is_where_it_stands() -> None:
    text = sheet_text("hollowmere-requests").replace("{take: row.region}", "{take: row.regoin}")
    finding = lint(text)[1][0]
    assert "row.regoin" in text.splitlines()[finding.line - 1]


def test_a_hostile_sheet_tries_no_more_cases_than_all_conditions_may() -> None:
    choices = [Choice(value=f"c{n}", label="x") for n in range(18)]
    asked = {
        name: Question(id=name, ask="?", form="choice", choices=tuple(choices)) for name in "abc"
    }
    parts = [{"question": name, "one_of": [one.value for one in choices]} for name in asked]
    never = {"question": "a", "one_of": ["c0"]}, {"question": "a", "one_of": ["c1"]}
    costly = Condition.model_validate({"all": [*never, *parts]})
    scope = Scope(("fault",))
    held = [can_hold(costly, asked, scope) for _ in range(60)]
    assert held[0] is False
    assert held[-1] is True, "it is not known any more"
    assert 0 <= scope.cases < 10_000
