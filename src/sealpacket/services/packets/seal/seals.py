"""Sealing: freeze the packet, write the bag, sign it; and taking it back."""

from __future__ import annotations

import queue
import threading
from collections.abc import Callable, Iterator
from datetime import UTC, datetime

from sqlalchemy import delete

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict
from sealpacket.core.life import Event
from sealpacket.core.packet import BagFile, SealedBag, write_bag
from sealpacket.core.sheets import Case, cases_of
from sealpacket.core.words import count
from sealpacket.services.desks import show_case
from sealpacket.services.packets import releasing, serialize, workbench
from sealpacket.services.packets.acting import packet_act
from sealpacket.services.packets.bench import Workbench
from sealpacket.services.packets.exhibits import leaving
from sealpacket.services.packets.limits import note_requests
from sealpacket.services.packets.lodge.parcels import file_names
from sealpacket.services.packets.redaction import typed_text
from sealpacket.services.packets.schemas import Letter, PacketShown
from sealpacket.services.packets.seal.bags import BagTexts, bag_texts
from sealpacket.services.packets.units import hold_units
from sealpacket.services.packets.workbench import in_draft
from sealpacket.store.models import Packet, PacketCase, PacketRelease


def letter(app: AppContext, number: str) -> Letter:
    """The cases as the desk will read them so far, or as sealed; with each typed text as typed and as it leaves.

    Raises Conflict without a desk.
    """
    with app.database.transaction() as session:
        bench = workbench.evaluate(
            app, session, workbench.find_packet(session, number), thorough=True
        )
        if bench.sheet is None:
            raise Conflict("No desk has been chosen yet.", "Name the asset first.", code="no-desk")
        sheet, cases = bench.sheet, bench.cases()
        return Letter(
            desk=sheet.name,
            form=sheet.write.format,
            body=cases[0].body if cases else {},
            cases=[show_case(sheet, case) for case in cases],
            files=file_names(bench, sheet).files,
            texts=[typed_text.show_text(bench.typed, one) for one in bench.typed.distinct()],
        )


def seal(app: AppContext, actor: Actor, number: str) -> PacketShown:
    """Seal a draft that nothing stops any more. The seal keeps the version that the releaser has reviewed.

    Raises Conflict with the stops that are left, Stale if the draft has changed since it was reviewed, NotAllowed if a
    rule asks for a second person and the actor has prepared it.
    """
    blob = None
    try:
        with app.transaction(actor, "packet sealed", f"packet {number}") as tx:
            packet = in_draft(tx.session, number)
            reviewed = packet.version
            bench = workbench.evaluate(app, tx.session, packet, thorough=True)
            if bench.stops or bench.sheet is None or bench.ruling is None:
                raise _stopped(bench)
            releasing.refuse_the_same(tx.session, bench, actor)
            packet.sealed_at = datetime.now(UTC).replace(microsecond=0)
            packet.sealed_by = actor.name
            _write_cases(packet, cases_of(bench.sheet, bench.values(bench.sheet)))
            packet.file_names = file_names(bench, bench.sheet).model_dump()
            packet.ruling = bench.ruling.model_dump(mode="json")
            packet.ruling_basis = bench.basis.model_dump(mode="json") if bench.basis else None
            packet.sealed_answers = [answer.model_dump(mode="json") for answer in bench.answers]
            texts = bag_texts(app, tx.session, bench, bench.sheet)
            blob, digest, sealed = _bag(app, packet.number, packet, texts)
            packet.bag_blob, packet.bag_sha256 = blob, digest
            packet.seal = {
                "tag_manifest": sealed.tag_manifest,
                "key": sealed.key,
                "files": sealed.files,
                "octets": sealed.octets,
                "version": reviewed,
            }
            manifest = sealed.tag_manifest
            tx.detail |= {"version": reviewed, "tag_manifest": manifest, "bag_sha256": digest}
            packet.advance(Event.SEAL)
            tx.session.execute(delete(PacketRelease).where(PacketRelease.packet_id == packet.id))
            note_requests(tx.session, bench)
            if units := hold_units(tx.session, bench, actor.name):
                tx.detail["units"] = units
            tx.session.flush()
            return serialize.show(bench)
    except BaseException:
        app.blobs.remove(blob)
        raise


def _stopped(bench: Workbench) -> Conflict:
    return Conflict(
        f"{bench.packet.number} cannot be sealed: {count(len(bench.stops), 'stop is', 'stops are')} left.",
        "Cure them: " + " ".join(check.sentence for check in bench.stops[:3]),
        code="stops-left",
        stops=[check.code for check in bench.stops],
    )


def _write_cases(packet: Packet, cases: tuple[Case, ...]) -> None:
    """Keep the cases to be sent. One that the desk took before, and that is still the same, is not sent again."""
    before = {one.label: one for one in packet.cases if one.reference}
    written: list[PacketCase] = []
    for place, case in enumerate(cases):
        body = case.model_dump(mode="json")
        old = before.get(case.label)
        one = old if old and old.written == body else PacketCase(label=case.label, written=body)
        one.place = place
        written.append(one)
    packet.cases = written


def _bag(
    app: AppContext, number: str, packet: Packet, texts: BagTexts
) -> tuple[str, str, SealedBag]:
    payload = [BagFile.of(path, content) for path, content in texts.documents.items()]
    for exhibit in packet.exhibits:
        blob, _, digest = leaving(exhibit)
        payload.append(BagFile(f"exhibits/{exhibit.goes_as}", reader(app, blob), digest))
    return stored(app, number, dict(texts.info), payload)


def reader(app: AppContext, blob: str) -> Callable[[], Iterator[bytes]]:
    """How a file of the store is read into a bag."""
    return lambda: app.blobs.read(blob)


class _Pipe:
    """A short queue of blocks between the thread that writes a bag and the one that stores it."""

    def __init__(self) -> None:
        self._queue: queue.Queue[bytes | BaseException | None] = queue.Queue(maxsize=16)
        self._abandoned = threading.Event()

    def write(self, data: bytes) -> int:
        """Put a block in; waits while the queue is full. Raises BrokenPipeError once nobody reads."""
        while not self._abandoned.is_set():
            try:
                self._queue.put(bytes(data), timeout=0.5)
                return len(data)
            except queue.Full:
                continue
        raise BrokenPipeError

    def flush(self) -> None:
        """Nothing waits here."""

    def end(self, error: BaseException | None = None) -> None:
        """No more blocks will come, or an error instead of them."""
        self._queue.put(error)

    def abandon(self) -> None:
        """Nobody reads any more."""
        self._abandoned.set()

    def __iter__(self) -> Iterator[bytes]:
        while (item := self._queue.get()) is not None:
            if isinstance(item, BaseException):
                raise item
            yield item


def stored(
    app: AppContext, name: str, info: dict[str, str], payload: list[BagFile]
) -> tuple[str, str, SealedBag]:
    """Write a bag straight into an encrypted blob: a thread fills a short queue, the blob store empties it."""
    pipe = _Pipe()
    result: list[SealedBag] = []

    def fill() -> None:
        try:
            result.append(write_bag(pipe, name, info, payload, app.seal_keys.current))
            pipe.end()
        except BrokenPipeError:
            return
        except BaseException as error:
            pipe.end(error)

    worker = threading.Thread(target=fill, name=f"bag {name}", daemon=True)
    worker.start()
    try:
        stored = app.blobs.put(iter(pipe))
    finally:
        pipe.abandon()
        worker.join(timeout=5)
    return stored.name, stored.sha256, result[0]


def bag(app: AppContext, actor: Actor, number: str) -> tuple[str, Iterator[bytes]]:
    """The sealed bag for download: its SHA-256 (hex) and its blocks. Raises Conflict if the packet is not sealed."""
    with app.transaction(actor, "bag fetched", f"packet {number}") as tx:
        packet = workbench.find_packet(tx.session, number)
        if not packet.bag_blob or not packet.bag_sha256:
            raise Conflict(f"{packet.number} is not sealed.", "Seal it first.", code="not-sealed")
        return packet.bag_sha256, app.blobs.read(packet.bag_blob)


def reopen(app: AppContext, actor: Actor, number: str) -> PacketShown:
    """Take a sealed or refused packet back to drafting. Its bag is deleted; the custody log keeps its sum."""
    with packet_act(app, actor, "packet reopened", number) as act:
        packet = act.packet
        act.detail = {"bag_sha256": packet.bag_sha256 or "", "was": packet.life}
        bag_blob = packet.bag_blob
        packet.advance(Event.REOPEN)
        app.forget(act.session, bag_blob, *(one.blob for one in packet.later_bags))
        packet.later_bags = []
        if not any(one.reference for one in packet.cases):
            packet.cases = []
        for exhibit in packet.exhibits:
            exhibit.upload, exhibit.arrived = None, False
    return act.shown


def withdraw(app: AppContext, actor: Actor, number: str, reason: str) -> PacketShown:
    """Give a packet up before it is with the desk."""
    with packet_act(app, actor, "packet withdrawn", number, reason=reason) as act:
        packet = act.packet
        packet.advance(Event.WITHDRAW)
    return act.shown


def ask_release(app: AppContext, actor: Actor, number: str) -> PacketShown:
    """Ask for a second person to seal a draft. Raises Conflict if no rule asks for one, or if something stops it."""
    with packet_act(app, actor, "release asked for", number) as act:
        workbench.need_draft(act.packet)
        bench = workbench.evaluate(app, act.session, act.packet)
        if not releasing.applying(act.session, bench):
            raise Conflict(
                f"{number} needs no second person.", "Have it sealed.", code="no-second-person"
            )
        if bench.stops:
            raise _stopped(bench)
        asked = act.session.get(PacketRelease, act.packet.id)
        if asked is None:
            act.session.add(PacketRelease(packet_id=act.packet.id, asked_by=actor.name))
            act.session.flush()
        else:
            act.audited = False
    return act.shown
