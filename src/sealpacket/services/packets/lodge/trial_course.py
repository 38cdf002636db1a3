"""The whole life of a case against a desk made from its sheet: lodged, asked back, answered, refused, settled."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterator, Sequence
from datetime import UTC, datetime
from functools import partial
from typing import Any

import re2

from sealpacket.channels import Desk, DeskAway, DeskRefused, Outgoing, Parcel, Update, open_desk
from sealpacket.channels.sheet_desk import SheetDesk, desk_of_sheet
from sealpacket.channels.sheet_desk.base import NUMBER
from sealpacket.core.errors import ProblemError
from sealpacket.core.life import Life, Turn
from sealpacket.core.outgoing import OutgoingText
from sealpacket.core.sheets import (
    ByHand,
    ByMail,
    BySftp,
    OverHttp,
    Sample,
    Sheet,
    UpdateKind,
    read_all,
    read_given,
    refused,
)
from sealpacket.core.sheets.by_hand import fields_of
from sealpacket.core.sheets.explained import sample_act
from sealpacket.core.sheets.rendering import fill
from sealpacket.core.sheets.replying import Said, Saying, reply_for, status_for
from sealpacket.services.packets.schemas import TrialStep

_QUESTION = "Which firmware does it run?"
_ANSWER = "It runs 12.1, as it did before."


Outcome = dict[str, Any]
_EVERYTHING = Saying(
    reference="CASE-1001",
    our_number=NUMBER,
    status="x",
    messages=(Said(id="m-0", text=_QUESTION, at=""),),
    refused_as="x",
)


def play(sheet: Sheet, sample: Sample, recorded: Sequence[tuple[str, str]] = ()) -> list[TrialStep]:
    """Play a whole life of a sample packet: every act that the sheet has; what fails is a step that says why.

    `recorded` are things that the desk has really said, by name: each has to be understood.
    """
    if isinstance(sheet.send, ByHand):
        return [*_by_hand(sheet, sample), *_heard(sheet, recorded)]
    steps: list[TrialStep] = []
    try:
        reply_for(sheet, _EVERYTHING)
        with desk_of_sheet(sheet) as made, open_desk(sheet, made.address, made.login()) as way:
            life = _Life(sheet, made, way, sample)
            for act in (
                life.lodge,
                life.ask_back,
                life.answer,
                life.send_more,
            ):
                steps.append(_step(act))
            steps += [
                _step(partial(life.tell, act), act.replace("_", " "))
                for act in sheet.acts
                if act != "comment"
            ]
            steps += [_step(act) for act in (life.solve, life.settle, life.refuse)]
    except (DeskAway, ProblemError) as error:
        steps.append(TrialStep(act="begin", ok=False, sentence=_words(error)))
    return [*steps, *_heard(sheet, recorded)]


def _heard(sheet: Sheet, recorded: Sequence[tuple[str, str]]) -> Iterator[TrialStep]:
    """Read recorded replies of the desk by the sheet, and name values that are in none of them."""
    found = [(name, text, read_given(sheet, name, text.encode())) for name, text in recorded]
    for name, text, read in found:
        news = read.news
        turn = "our turn" if news.turn == Turn.OURS else "their turn"
        said = [
            f"reference {read.reference}" if read.reference else "",
            f"{news.status or 'no status'}: {news.life}, {turn}",
            *(f"{label} {value}" for label, value in news.facts.items()),
            *(f"refused as {one.code}" for one in read.refusals),
            f"{len(news.messages)} message{'s' if len(news.messages) != 1 else ''}",
        ]
        words = "; ".join(part for part in said if part)
        sentence = " ".join((f"{words[:1].upper()}{words[1:]}.", *read.not_understood))
        yield TrialStep(
            act=f"read {name}", ok=not read.not_understood, sentence=sentence, said=text[:4000]
        )
    taken = [read for _, _, read in found if read.news.life != Life.REFUSED]
    rules = sheet.replies
    for what, wanted, there in (
        ("reference", rules.reference, any(read.reference for read in taken)),
        ("status", rules.status, any(read.news.status for read in taken)),
    ):
        if taken and wanted and not there:
            sentence = f"A {what} is in none of what was recorded: {wanted} finds nothing there."
            yield TrialStep(act=what, ok=False, sentence=sentence)


def _by_hand(sheet: Sheet, sample: Sample) -> Iterator[TrialStep]:
    """The steps of a desk reached by hand: the fields that a person would enter."""
    for case in sample.cases:
        fields = fields_of(sheet, case)
        said = "\n".join(f"{one.label}: {one.value}" for one in fields)
        count = f"{len(fields)} field{'s' if len(fields) != 1 else ''}"
        yield TrialStep(
            act="enter", ok=bool(fields), sentence=f"A person enters {count}.", said=said
        )
    replies = sheet.replies
    if replies.reference_form and replies.reference_example:
        fits = re2.fullmatch(replies.reference_form, replies.reference_example) is not None
        words = "fits" if fits else "does not fit"
        yield TrialStep(
            act="reference",
            ok=fits,
            sentence=f"The reference {replies.reference_example} {words} its form.",
        )


def _step(act: Callable[[], Outcome], name: str = "") -> TrialStep:
    name = name or act.__name__.replace("_", " ")
    try:
        return TrialStep(act=name, **act())
    except (DeskAway, DeskRefused, ProblemError) as error:
        return TrialStep(act=name, ok=False, sentence=_words(error))


def _words(error: Exception) -> str:
    if isinstance(error, ProblemError):
        return f"{error.detail} {error.remedy}"
    if isinstance(error, DeskRefused):
        what = error.body if isinstance(error.body, str) else ""
        return f"{error} {what}".strip()
    return str(error)


class _Life:
    """One case at the desk of a sheet; each act gives whether it went well, and a sentence."""

    def __init__(self, sheet: Sheet, made: SheetDesk, way: Desk, sample: Sample) -> None:
        self._sheet, self._made, self._way, self._sample = sheet, made, way, sample
        self._asked, self._sent, self._reference = 0, 0, made.reference

    def lodge(self) -> Outcome:
        """The case and its files arrive, and the desk's reference comes back."""
        word = status_for(self._sheet, Life.LODGED, Turn.VENDOR) or status_for(
            self._sheet, Life.LODGED
        )
        self._made.saying = self._made.saying.model_copy(update={"status": word})
        files = self._files()
        for place, case in enumerate(self._sample.cases):
            self._way.lodge(Parcel(f"{NUMBER}/{place}", NUMBER, case, files))
        news = self._hear()
        cases = len(self._sample.cases)
        came = self._made.count("case"), self._made.count("file")
        if news.reference != self._reference:
            return _bad(
                f"The reference {self._reference} is not found in what the desk says: "
                f"{news.reference or 'nothing'} is. Check `reference`, `reference_form` and `reference_example`.",
                self._said(),
            )
        if came[0] < cases or came[1] < len(files):
            return _bad(f"{came[0]} of {cases} cases and {came[1]} of {len(files)} files arrived.")
        attached = f" with {came[1]} file{'s' if came[1] != 1 else ''}" if files else ""
        return _good(f"The case arrived{attached}; its reference is read.", self._said())

    def ask_back(self) -> Outcome:
        """The desk asks, and it becomes our turn."""
        word = status_for(self._sheet, Life.LODGED, Turn.OURS)
        if self._sheet.replies.messages is None:
            return _skipped("The sheet reads no messages.")
        self._say(word or self._made.saying.status, _QUESTION, asks=True)
        news = self._hear()
        texts = [message.text for message in news.news.messages]
        if _QUESTION not in " ".join(texts):
            return _bad("The desk's question is not found in what it says.", self._said())
        ours = news.news.turn == Turn.OURS or any(
            not want.doubtful for message in news.news.messages for want in message.wants
        )
        if not ours:
            return _bad(
                "The desk asked, and it is not our turn: nothing in the sheet says that it asks.",
                self._said(),
            )
        return _good("The desk's question is read, and it is our turn.", self._said())

    def answer(self) -> Outcome:
        """Our answer arrives."""
        if not _takes_answers(self._sheet):
            return _skipped("The desk takes no answers.")
        before = self._made.count("answer")
        values = {"message.text": OutgoingText(_ANSWER)}
        self._way.tell(Update("m-1", NUMBER, self._reference, "comment", values))
        self._sent += 1
        self._made.listen_to(self._way)
        heard = self._made.last("answer")
        if (
            self._made.count("answer") == before
            or heard is None
            or _ANSWER.encode() not in heard.content
        ):
            return _bad("The answer did not arrive with its words.")
        return _good("Our answer arrived with its words.", heard.content.decode("utf-8", "replace"))

    def send_more(self) -> Outcome:
        """A file follows with an answer."""
        files = self._files()
        if not files or not _takes_more_files(self._sheet):
            return _skipped("The desk takes no files later.")
        before = self._made.count("file")
        values = {"message.text": OutgoingText("Here is the log.")}
        self._sent += 1
        update = Update("m-2", NUMBER, self._reference, "comment", values, files, self._sent)
        self._way.tell(update)
        self._made.listen_to(self._way)
        if self._made.count("file") == before:
            return _bad("The file that followed did not arrive.")
        return _good("A file that followed arrived.")

    def tell(self, act: UpdateKind) -> Outcome:
        """An act after the reference arrives, with what belongs to it."""
        before = self._made.count("answer")
        values = {**sample_act(self._sheet), "message.text": OutgoingText(_ANSWER)}
        self._sent += 1
        update = Update(f"m-{act}", NUMBER, self._reference, act, values, count=self._sent)
        self._way.tell(update)
        self._made.listen_to(self._way)
        heard = self._made.last("answer")
        if self._made.count("answer") == before or heard is None:
            return _bad("It did not arrive.")
        said = heard.content.decode("utf-8", "replace")
        return _good(f"It arrived at {heard.name}.", said)

    def solve(self) -> Outcome:
        """The desk says that it has an answer."""
        return self._becomes(Life.ANSWERED, "The desk has no word for a case that it has answered.")

    def settle(self) -> Outcome:
        """The case is over."""
        if self._sheet.replies.settled_by == "us":
            return _skipped("The desk never says that a case is over: we settle it.")
        return self._becomes(Life.SETTLED, "No status word settles a case.")

    def refuse(self) -> Outcome:
        """The desk refuses a case, and the reason is read with its remedy."""
        rules = self._sheet.replies.refusals
        if rules is None:
            return _skipped("The sheet reads no refusals.")
        code = next(iter(rules.remedies), "refused").replace("*", "x")
        word = status_for(self._sheet, Life.REFUSED)
        self._made.saying = Saying(
            our_number=NUMBER, status=word, refused_as=code, refused_words="It is not right."
        )
        self._made.refusing = True
        found = [reason for reason in self._refusals() if reason.code == code]
        if not found:
            return _bad(f"The refusal {code} is not found in what the desk says.", self._said())
        return _good(f"Refused as {code}. {found[0].cure}", self._said())

    def _refusals(self) -> Any:
        if not isinstance(self._sheet.send, OverHttp):
            return self._hear().refusals
        try:
            self._way.lodge(Parcel(f"{NUMBER}/again", NUMBER, self._sample.cases[0], []))
        except DeskRefused as refusal:
            return refused(self._sheet, refusal.body, refusal.status)
        return ()

    def _becomes(self, life: Life, missing: str) -> Outcome:
        word = status_for(self._sheet, life)
        if not word:
            return _skipped(missing)
        self._say(word, "It is done.", asks=False)
        news = self._hear().news
        if news.life != life:
            return _bad(f"The desk says {word}, and it is read as {news.life}.", self._said())
        return _good(f"The desk says {word}: {life}.", self._said())

    def _say(self, word: str, text: str, *, asks: bool) -> None:
        self._asked += 1
        said = Said(
            id=f"m-{self._asked}",
            text=text,
            at=datetime.now(UTC).isoformat(timespec="seconds"),
            asks=asks,
        )
        self._made.saying = Saying(
            reference=self._reference, our_number=NUMBER, status=word, messages=(said,)
        )

    def _hear(self) -> Any:
        return read_all(self._sheet, self._made.listen_to(self._way))

    def _said(self) -> str:
        return reply_for(self._sheet, self._made.saying).decode("utf-8", "replace")

    def _files(self) -> list[Outgoing]:
        limits = self._sheet.attachments
        if not limits.max_files:
            return []
        name = f"sample{limits.endings[0] if limits.endings else '.log'}"
        if limits.naming.archive:
            name = fill(limits.naming.archive, self._sample.values) or "sample.zip"
        content = b"2026-11-23T08:40:00Z sample: a line of a log\n"[: limits.max_size]
        digest = hashlib.sha256(content).hexdigest()
        return [Outgoing(name, len(content), digest, _from(content), None, lambda _location: None)]


def _from(content: bytes) -> Any:
    def blocks(start: int) -> Iterator[bytes]:
        yield content[start:]

    return blocks


def _takes_answers(sheet: Sheet) -> bool:
    match sheet.send:
        case OverHttp() as way:
            return bool(way.answer)
        case BySftp() as way:
            return bool(way.answer_name)
        case ByMail():
            return True
        case ByHand():
            return False


def _takes_more_files(sheet: Sheet) -> bool:
    match sheet.send:
        case OverHttp() as way:
            return bool(way.answer and way.more_files)
        case BySftp() as way:
            return bool(way.more_files_name)
        case _:
            return isinstance(sheet.send, ByMail)


def _good(sentence: str, said: str = "") -> Outcome:
    return {"ok": True, "sentence": sentence, "said": said}


def _bad(sentence: str, said: str = "") -> Outcome:
    return {"ok": False, "sentence": sentence, "said": said}


def _skipped(sentence: str) -> Outcome:
    return {"ok": None, "sentence": sentence}
