"""The front door of the client library."""

from __future__ import annotations

import base64
import ssl
from collections.abc import Iterator, Mapping, Sequence
from datetime import date, datetime
from pathlib import Path
from types import TracebackType
from typing import Any

from pydantic import BaseModel

from sealpacket.client import models
from sealpacket.client.accounts import Accounts, OwnPasskeys, OwnTokens, ReleaseRuleList
from sealpacket.client.agreed import Levels, Licences, Limits, Lots, Prices, Releases
from sealpacket.client.articles import ArticleShelf
from sealpacket.client.batches import BatchShelf
from sealpacket.client.errors import ClientError
from sealpacket.client.following import TrayBox
from sealpacket.client.intake import Imports
from sealpacket.client.kits import KitShelf, Reaching, Safe
from sealpacket.client.known_issues import Known
from sealpacket.client.notices import NoticeList
from sealpacket.client.order_documents import OrderDocuments
from sealpacket.client.packets import Exhibits, Packets
from sealpacket.client.polling import poll
from sealpacket.client.register import (
    Assets,
    Contracts,
    Entitlements,
    Logins,
    People,
    Products,
    Sites,
    Vendors,
)
from sealpacket.client.statements import Statements
from sealpacket.client.webhooks import WebhookList
from sealpacket.client.wire import Wire, part

_WAIT = 20
"""Seconds that one request waits for the next event."""


class SealPacket:
    """The service at `address`, seen through an API token. Several threads may share one.

    `timeout` is in seconds without a byte. What the service cannot do just now is tried again `retries` times. `verify`
    has the authorities to trust instead of the system's, `proxy` is the address of a proxy.
    """

    def __init__(
        self,
        address: str,
        token: str | None = None,
        *,
        timeout: float = 60.0,
        retries: int = 2,
        verify: ssl.SSLContext | None = None,
        proxy: str | None = None,
    ) -> None:
        self._wire = wire = Wire(
            address, token, timeout, retries=retries, verify=verify, proxy=proxy
        )
        self.vendors = Vendors(wire, "/vendors", models.VendorShown)
        self.people = People(wire, "/people", models.PersonShown)
        self.sites = Sites(wire, "/sites", models.SiteShown)
        self.products = Products(wire, "/products", models.ProductShown)
        self.assets = Assets(wire, "/assets", models.AssetShown)
        self.contracts = Contracts(wire, "/contracts", models.ContractShown)
        self.entitlements = Entitlements(wire, "/entitlements", models.EntitlementShown)
        self.logins = Logins(wire, "/logins", models.LoginShown)
        self.limits = Limits(wire, "/limits", models.LimitShown)
        self.levels = Levels(wire, "/levels", models.LevelShown)
        self.lots = Lots(wire, "/lots", models.LotShown)
        self.prices = Prices(wire, "/prices", models.PriceShown)
        self.licences = Licences(wire, "/licences", models.LicenceShown)
        self.releases = Releases(wire, "/releases", models.ReleaseShown)
        self.imports = Imports(wire)
        self.order_documents = OrderDocuments(wire)
        self.statements = Statements(wire)
        self.packets = Packets(wire)
        self.batches = BatchShelf(wire)
        self.exhibits = Exhibits(wire)
        self.tray = TrayBox(wire)
        self.accounts = Accounts(wire)
        self.articles = ArticleShelf(wire)
        self.known_issues = Known(wire)
        self.kits = KitShelf(wire)
        self.safe = Safe(wire)
        self.reach = Reaching(wire)
        self.tokens = OwnTokens(wire)
        self.passkeys = OwnPasskeys(wire)
        self.release_rules = ReleaseRuleList(wire)
        self.webhooks = WebhookList(wire)
        self.notices = NoticeList(wire)

    def __enter__(self) -> SealPacket:
        return self

    def __exit__(
        self,
        kind: type[BaseException] | None,
        error: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        self.close()

    def close(self) -> None:
        """Close all connections."""
        self._wire.close()

    @property
    def last_answer(self) -> BaseModel | None:
        """The newest answer of the service, whichever method got it; None before the first."""
        return self._wire.last_answer

    def me(self) -> models.Me:
        """Who is signed in."""
        return self._wire.call(models.Me, "GET", "/me")

    def sign_out(self) -> None:
        """End the token."""
        self._wire.call(models.Done, "POST", "/sign-out")

    def change_password(self, current: str, new: str) -> None:
        """Change your own password; all sessions and tokens end, this one too."""
        self._wire.call(models.Done, "PUT", "/me/password", json={"current": current, "new": new})

    def today(self, *, mine: bool = False) -> models.Today:
        """Today: everything that needs attention now; with `mine`, without packets that others look after."""
        return self._wire.call(models.Today, "GET", "/today", params={"mine": mine})

    def find(
        self,
        query: str,
        *,
        kind: str = "",
        vendor: str = "",
        product: str = "",
        since: datetime | None = None,
        limit: int = 0,
    ) -> models.Found:
        """Find records of every kind by words or a number; of each kind `limit`, or a few."""
        narrow = {
            "kind": kind,
            "vendor": vendor,
            "product": product,
            "since": since.astimezone().isoformat() if since else "",
            "limit": limit,
        }
        given = {name: value for name, value in narrow.items() if value}
        return self._wire.call(models.Found, "GET", "/find", params={"q": query, **given})

    def read_label(self, photo: Path) -> models.CodesRead:
        """The codes on a photo, and the assets that they name."""
        return self._wire.send_file(models.CodesRead, "/labels/read", photo, {})

    def print_labels(self, assets: Sequence[str], target: Path, *, skip: int = 0) -> Path:
        """Save a PDF with a label for each asset, by id or serial; `skip` labels stay empty on the first sheet."""
        answer = self._wire.send("POST", "/labels/sheet", json={"assets": [*assets], "skip": skip})
        target.write_bytes(answer.content)
        return target

    def duplicates(self) -> models.Groups:
        """Assets whose serials only look different."""
        return self._wire.call(models.Groups, "GET", "/duplicates")

    def often_used(self) -> list[models.UsedItem]:
        """Assets, contacts and desks that you have pinned or used last."""
        return self._wire.call(models.UsedList, "GET", "/often-used").items

    def pin(self, kind: str, handle: str) -> list[models.UsedItem]:
        """Pin an asset, a person or a desk, so that it is offered first."""
        path = f"/pins/{part(kind)}/{part(handle)}"
        return self._wire.call(models.UsedList, "PUT", path).items

    def unpin(self, kind: str, handle: str) -> list[models.UsedItem]:
        """Unpin a record."""
        path = f"/pins/{part(kind)}/{part(handle)}"
        return self._wire.call(models.UsedList, "DELETE", path).items

    def views(self, plural: str = "") -> models.Views:
        """One's own views of the register and those that are shared."""
        return self._wire.call(models.Views, "GET", "/views", params={"plural": plural})

    def keep_view(
        self, plural: str, name: str, query: str, *, shared: bool = False
    ) -> models.ViewShown:
        """Keep a view of a list under a name."""
        body = {"plural": plural, "name": name, "query": query, "shared": shared}
        return self._wire.call(models.ViewShown, "POST", "/views", json=body)

    def drop_view(self, ident: str) -> None:
        """Forget one of one's own views."""
        self._wire.call(models.Done, "DELETE", f"/views/{part(ident)}")

    def coverage(
        self, asset: str, need: str = "fault", *, day: date | None = None, login: str | None = None
    ) -> models.Ruling:
        """The ruling on an asset for a need on a day (today), through a login."""
        parameters = _given(asset=asset, need=need, day=day, login=login)
        return self._wire.call(models.Ruling, "GET", "/coverage", params=parameters)

    def coverage_list(
        self, assets: Sequence[str], need: str = "fault", *, day: date | None = None
    ) -> models.CoveredList:
        """In short what covers each of up to 1000 assets."""
        body = _given(assets=list(assets), need=need, day=day)
        return self._wire.call(models.CoveredList, "POST", "/coverage/list", json=body)

    def cover_everything(
        self,
        need: str = "fault",
        *,
        day: date | None = None,
        vendor: str = "",
        site: str = "",
        status: str = "",
        route: str = "",
    ) -> Iterator[models.Covered]:
        """In short what covers every asset on a day, as it is worked out; retired ones only if asked for by status."""
        parameters = _given(
            need=need, day=day, vendor=vendor, site=site, status=status, route=route
        )
        with self._wire.stream("/coverage/everything", params=parameters) as response:
            for line in response.iter_lines():
                yield models.Covered.model_validate_json(line)

    def export_coverage(
        self,
        target: Path,
        form: str = "csv",
        *,
        need: str = "fault",
        day: date | None = None,
        vendor: str = "",
        site: str = "",
        status: str = "",
        route: str = "",
    ) -> Path:
        """Save in short what covers every asset on a day as csv, xlsx or jsonl."""
        query = _given(
            need=need, day=day, vendor=vendor, site=site, status=status, route=route, form=form
        )
        return self._wire.save("/coverage/export", target, query)

    def timeline(
        self, asset: str, need: str = "fault", *, since: date, until: date
    ) -> models.Timeline:
        """The cover of an asset on each day between two."""
        parameters = _given(asset=asset, need=need, since=since, until=until)
        return self._wire.call(models.Timeline, "GET", "/coverage/timeline", params=parameters)

    def overview(
        self,
        *,
        since: date | None = None,
        until: date | None = None,
        vendor: str = "",
        site: str = "",
        part: str = "",
    ) -> models.Overview:
        """How packets went in a period (the last year, if none is given), and what is open now; one part, or all."""
        query = _given(since=since, until=until, vendor=vendor, site=site, part=part)
        return self._wire.call(models.Overview, "GET", "/overview", params=query)

    def export_overview(
        self,
        target: Path,
        form: str = "csv",
        *,
        since: date | None = None,
        until: date | None = None,
        vendor: str = "",
        site: str = "",
        part: str = "",
    ) -> Path:
        """Save the numbers of the overview as csv, xlsx or jsonl."""
        query = _given(since=since, until=until, vendor=vendor, site=site, part=part, form=form)
        return self._wire.save("/overview/export", target, query)

    def ahead(self, *, vendor: str = "", site: str = "", days: int = 90) -> models.Ahead:
        """Contracts and assets that end, lapse, overlap or are not covered."""
        return self._wire.call(
            models.Ahead, "GET", "/ahead", params={"vendor": vendor, "site": site, "days": days}
        )

    def expiring(self, *, vendor: str = "", days: int = 90) -> list[models.ExpiringSoon]:
        """Licences that end and prepaid units that would lapse, the earliest first."""
        params = {"vendor": vendor, "days": days}
        return self._wire.call(models.Expiring, "GET", "/expiring", params=params).items

    def export_ahead(
        self, target: Path, form: str = "csv", *, vendor: str = "", site: str = "", days: int = 90
    ) -> Path:
        """Save the same as xlsx or jsonl, or as csv: a zip with a file for each part."""
        query = {"vendor": vendor, "site": site, "days": days, "form": form}
        return self._wire.save("/ahead/export", target, query)

    def aligned(
        self, *, vendor: str = "", contracts: Sequence[str] = (), on: date | None = None
    ) -> models.Aligned:
        """The cost of letting contracts end on one day."""
        query = _given(vendor=vendor, contracts=list(contracts), on=on)
        return self._wire.call(models.Aligned, "GET", "/ahead/aligned", params=query)

    def digest(self) -> models.DigestShown:
        """Your digest settings."""
        return self._wire.call(models.DigestShown, "GET", "/digest")

    def choose_digest(
        self, every: str, *, sites: Sequence[str] = (), vendors: Sequence[str] = ()
    ) -> models.DigestShown:
        """Set how often (never, daily, weekly, monthly) and about what you get a digest by mail."""
        body = {"every": every, "sites": list(sites), "vendors": list(vendors)}
        return self._wire.call(models.DigestShown, "PUT", "/digest", json=body)

    def new_calendar(self) -> str:
        """A new private calendar address; an older one ends."""
        return self._wire.call(models.CalendarAddress, "POST", "/digest/calendar").address

    def end_calendar(self) -> models.DigestShown:
        """End the private calendar address."""
        return self._wire.call(models.DigestShown, "DELETE", "/digest/calendar")

    def export(
        self,
        what: str,
        form: str,
        target: Path,
        *,
        query: str = "",
        vendor: str = "",
        site: str = "",
        status: str = "",
    ) -> Path:
        """Save a kind of record in the plural, or everything, as csv, xlsx or jsonl (everything as csv: a zip).

        One kind of record can be narrowed as its list.
        """
        given = _given(form=form, q=query, vendor=vendor, site=site, status=status)
        return self._wire.save(f"/export/{part(what)}", target, given)

    def archive(self, year: int, target: Path) -> Path:
        """Save a zip with all packets that ended in a year: bags, threads as they were sent, and an index."""
        return self._wire.save(f"/archive/{year}", target)

    def export_custody(self, target: Path, form: str = "csv", *, subject: str = "") -> Path:
        """Save the custody log as csv, xlsx or jsonl."""
        return self._wire.save("/custody/export", target, _given(form=form, subject=subject))

    def desks(self) -> list[models.DeskShown]:
        """List desks."""
        return self._wire.call(models.DeskList, "GET", "/desks").items

    def desk(self, key: str) -> models.DeskWithSheet:
        """One desk with its sheet."""
        return self._wire.call(models.DeskWithSheet, "GET", f"/desks/{key}")

    def ask_first(self, desk: str, ask: str, needs: Sequence[str] = ()) -> models.DeskShown:
        """Put a question that the desk asks back again and again into its sheet: drafts ask it first."""
        body = {"ask": ask, "needs": list(needs)}
        return self._wire.call(
            models.DeskShown, "POST", f"/desks/{part(desk)}/asked-back", json=body
        )

    def lint_sheet(self, yaml: str) -> models.SheetFindings:
        """Findings of the linter in a desk sheet, by line."""
        return self._wire.call(models.SheetFindings, "POST", "/desks/lint", json={"yaml": yaml})

    def preview_sheet(self, yaml: str, *, seed: int = 0, need: str = "") -> models.SheetPreview:
        """Findings in a desk sheet, and a sample packet written by it."""
        body = {"yaml": yaml, "seed": seed, "need": need}
        return self._wire.call(models.SheetPreview, "POST", "/desks/preview", json=body)

    def begin_sheet(self, name: str, content: bytes, *, operation: str = "", root: str = "") -> str:
        """The text of a sheet, begun from what a vendor has: a form, a schema, a sample. Nothing is kept."""
        given = {"name": name, "content": base64.b64encode(content).decode()}
        body = {**given, "operation": operation, "root": root}
        return self._wire.call(models.SheetBegun, "POST", "/desks/begin", json=body).yaml

    def read_replies(self, yaml: str, replies: Mapping[str, str]) -> list[models.ReadReply]:
        """Read recorded replies of a desk by its sheet, given as texts by file name. Nothing is stored."""
        given = [{"name": name, "text": text} for name, text in replies.items()]
        body = {"yaml": yaml, "replies": given}
        return self._wire.call(models.RepliesRead, "POST", "/desks/read", json=body).items

    def try_sheet(
        self,
        yaml: str,
        asset: str = "",
        *,
        need: str = "fault",
        seed: int = 0,
        recorded: Mapping[str, str] | None = None,
    ) -> models.TrialShown:
        """Let a sample packet of a desk sheet play a whole life at a desk made from it, and wait for what comes of it.

        With an asset it is lodged at the configured stand-in as well. `recorded` are texts that the desk has really
        sent, by file name: the sheet has to understand each.
        """
        given = [{"name": name, "text": text} for name, text in (recorded or {}).items()]
        body = {"yaml": yaml, "asset": asset, "need": need, "seed": seed, "recorded": given}
        trial = self._wire.call(models.TrialShown, "POST", "/desks/trials", json=body)
        return poll(
            lambda: self._wire.call(models.TrialShown, "GET", f"/desks/trials/{part(trial.id)}"),
            lambda shown: shown.done,
            seconds=120,
            overdue=lambda _: ClientError(
                "The trial is still under way.", "Look whether the worker runs."
            ),
            has_worker=self._wire.has_worker,
        )

    def put_sheet(self, yaml: str) -> models.DeskShown:
        """Upload a desk sheet; a changed sheet becomes a new version."""
        return self._wire.call(models.DeskShown, "POST", "/desks", json={"yaml": yaml})

    def redaction_plan(self) -> models.RedactionPlanShown:
        """The organisation's redaction plan."""
        return self._wire.call(models.RedactionPlanShown, "GET", "/redaction-plan")

    def put_redaction_plan(self, yaml: str, number: int) -> models.RedactionPlanShown:
        """Put a new version of the plan, made from version `number`."""
        return self._wire.call(
            models.RedactionPlanShown,
            "PUT",
            "/redaction-plan",
            json={"yaml": yaml, "number": number},
        )

    def try_redaction_rules(self, rules: str, sample: str = "") -> models.RulesTried:
        """Try rules in TOML on a sample and on the frozen files; nothing is kept."""
        body = {"rules": rules, "sample": sample}
        return self._wire.call(models.RulesTried, "POST", "/redaction-plan/try", json=body)

    def custody(self, subject: str = "", *, limit: int = 50) -> list[models.CustodyEntryShown]:
        """The custody log, newest first."""
        parameters: dict[str, Any] = {"subject": subject, "limit": limit}
        return self._wire.call(models.CustodyPage, "GET", "/custody", params=parameters).items

    def events(
        self, after: int | None = None, *, packet: str = "", follow: bool = False
    ) -> Iterator[models.EventShown]:
        """Events after that number, the oldest first; without a number, those from now on.

        With `follow` it waits for the next one for ever. Keep the `seq` of the last one that you have dealt with.
        """
        query: dict[str, Any] = {"packet": packet, "wait": _WAIT if follow else 0}
        while True:
            given = query if after is None else {**query, "after": after}
            page = self._wire.call(models.EventPage, "GET", "/events", params=given)
            yield from page.items
            is_first, after = after is None, page.next
            if not page.items and not follow and not is_first:
                return

    def verify_custody(self) -> models.Chain:
        """Verify the whole custody log."""
        return self._wire.call(models.Chain, "GET", "/custody/chain")

    def seal_keys(self) -> models.SealKeysShown:
        """The public seal keys, for verifying bags: the one that seals now, then former ones."""
        return self._wire.call(models.SealKeysShown, "GET", "/seal-keys")

    def health(self) -> models.Health:
        """Whether the service can work."""
        return self._wire.call(models.Health, "GET", "/health")


def make_token(
    address: str,
    name: str,
    password: str,
    purpose: str,
    *,
    rights: Sequence[str] | None = None,
    days: int = 90,
) -> models.Token:
    """Sign in once for a token. Raises Refused (code wrong-sign-in) if name or password is wrong.

    `rights` of "read", "prepare", "send" and "keep" are what it may do, so far as the account may; None: all of them.
    """
    body = {
        "name": name,
        "password": password,
        "purpose": purpose,
        "days": days,
        **({"rights": [*rights]} if rights else {}),
    }
    return Wire(address, None, 30.0).call(models.Token, "POST", "/tokens", json=body)


def _given(**fields: Any) -> dict[str, Any]:
    """The given values, with dates as text."""
    return {
        name: value.isoformat() if isinstance(value, date) else value
        for name, value in fields.items()
        if value
    }
