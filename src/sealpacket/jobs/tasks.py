"""The tasks of the queue. Each is a thin step to a service function."""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from typing import Any

import procrastinate
import structlog

from sealpacket.app.context import AppContext
from sealpacket.core.errors import DatabaseUnreachable
from sealpacket.jobs.children import ChildDied, Children, ChildStopped
from sealpacket.services import (
    ahead,
    digests,
    liveness,
    order_documents,
    statements,
    vendor_health,
    webhooks,
)
from sealpacket.services.notices import news, reading, sending
from sealpacket.services.packets import batches, exhibits, kit_runs, lines, retention, tickets
from sealpacket.services.packets.follow import cases, outbox
from sealpacket.services.packets.inbound_mail import poll
from sealpacket.services.packets.lodge import deliveries, trials, waiting
from sealpacket.services.packets.redaction import legends, redactions
from sealpacket.services.register import applying, intake, preview
from sealpacket.store.register_cache import forget_old_changes

log = structlog.get_logger()
DEATHS = 3
"""So often a job is begun that takes its worker or its process down; then it ends, and says so."""
FOLLOW_ALL, READ_MAILBOX, REPORT_TICKETS = "follow_all", "read_mailbox", "report_tickets"
SEND_EVENTS = "send_events"
RENEW_LINES = "renew_lines"
SEND_NOTICES, READ_NEWS, READ_HEALTH = "send_notices", "read_news", "read_health"
CALLS = (
    waiting.LODGE, waiting.SEND, cases.FOLLOW, trials.TRY, digests.SEND, FOLLOW_ALL, READ_MAILBOX, REPORT_TICKETS,
    SEND_EVENTS, SEND_NOTICES,
)  # fmt: skip
"""The queues of what calls desks and mail servers, which may take their time."""
FEEDS = (READ_NEWS, READ_HEALTH)
"""The queues of what reads vendors' feeds; a feed that drips delays no call of a desk."""
RETRY = procrastinate.RetryStrategy(
    max_attempts=100, wait=3, retry_exceptions={DatabaseUnreachable, ChildStopped, ChildDied}
)
"""Retries: every task may run twice."""


def add_tasks(app: procrastinate.App, context: AppContext, children: Children) -> None:
    """Register all tasks on the queue's application. Redactions and kits are done by `children`."""
    _add_packet_tasks(app, context, children)
    _add_collecting(app, context, children)
    _add_register_tasks(app, context)
    _add_rounds(app, context)
    _add_readings(app, context)
    _add_reviving(app, context)


def _task(
    app: procrastinate.App, name: str, *, alone: bool = False, **more: Any
) -> Callable[[Callable[..., Any]], Any]:
    """A task in the queue that is called as itself; `alone`: once it waits there, it is not put in again."""
    lock = name if alone else None
    return app.task(name=name, queue=name, queueing_lock=lock, retry=RETRY, **more)


def _add_packet_tasks(app: procrastinate.App, context: AppContext, children: Children) -> None:

    @_task(app, exhibits.REDACT, pass_context=True)
    def redact_exhibit(run: procrastinate.JobContext, exhibit: str) -> None:
        try:
            children.redact(exhibit)
        except ChildDied:
            if run.job.attempts + 1 < DEATHS:
                raise
            redactions.give_up(context, exhibit)

    @_task(app, waiting.LODGE)
    def lodge_packet(packet: str, tried: int) -> None:
        deliveries.deliver(context, packet, tried)

    @_task(app, batches.NOTE_BATCH)
    def note_batch(batch: str, account: str) -> None:
        batches.work_through(context, batch, account)

    @_task(app, waiting.SEND)
    def send_messages(packet: str, tried: int) -> None:
        outbox.send(context, packet, tried)

    @_task(app, cases.FOLLOW)
    def follow_packet(number: str) -> None:
        cases.look(context, number)

    @_task(app, trials.TRY)
    def try_sheet(trial: str) -> None:
        trials.run_trial(context, trial)


def _add_collecting(app: procrastinate.App, context: AppContext, children: Children) -> None:
    @_task(app, kit_runs.COLLECT, pass_context=True)
    def collect_evidence(job: procrastinate.JobContext, run: str) -> None:
        try:
            children.collect(run)
        except ChildDied:
            if job.job.attempts + 1 < DEATHS:
                raise
            kit_runs.give_up(context, run)


def _add_register_tasks(app: procrastinate.App, context: AppContext) -> None:
    @_task(app, intake.PREVIEW)
    def preview_import(intake_id: str) -> None:
        preview.preview(context, intake_id)

    @_task(app, intake.APPLY)
    def apply_import(intake_id: str, by: str) -> None:
        applying.apply(context, intake_id, by)

    @_task(app, intake.UNDO)
    def undo_import(intake_id: str, by: str) -> None:
        applying.undo(context, intake_id, by)

    @_task(app, order_documents.READ)
    def read_order_document(document_id: str) -> None:
        order_documents.read(context, document_id)

    @_task(app, statements.COMPARE)
    def compare_statement(statement_id: str, chosen: bool) -> None:
        statements.compare_statement(context, statement_id, chosen)

    @_task(app, ahead.WORK_OUT, alone=True)
    def work_out_ahead() -> None:
        ahead.work_out(context)


def _add_rounds(app: procrastinate.App, context: AppContext) -> None:
    """Periodic tasks."""

    @app.periodic(cron="*/15 * * * *")
    @_task(app, digests.SEND, alone=True)
    def send_digests(timestamp: int) -> None:
        digests.send_due(context)
        sending.send_digests(context)

    @app.periodic(cron="* * * * *")
    @_task(app, FOLLOW_ALL, alone=True)
    def follow_all(timestamp: int) -> None:
        cases.follow_all(context)
        exhibits.forget_broken_uploads(context)

    @app.periodic(cron="* * * * *")
    @_task(app, REPORT_TICKETS, alone=True)
    def report_tickets(timestamp: int) -> None:
        tickets.report_all(context)

    @app.periodic(cron="* * * * * */10")
    @_task(app, SEND_EVENTS, alone=True)
    def send_events(timestamp: int) -> None:
        webhooks.send_all(context)

    @app.periodic(cron="* * * * * */10")
    @_task(app, SEND_NOTICES, alone=True)
    def send_notices(timestamp: int) -> None:
        sending.send_all(context)

    @app.periodic(cron="* * * * * */10")
    @_task(app, RENEW_LINES, alone=True)
    def renew_lines(timestamp: int) -> None:
        lines.renew_due(context)

    @app.periodic(cron="23 * * * *")
    @_task(app, "destroy_legends", alone=True)
    def destroy_legends(timestamp: int) -> None:
        legends.destroy_due(context)
        retention.delete_due(context)
        trials.forget_trials(context)
        reading.forget_old(context)
        with context.database.transaction() as session:
            forget_old_changes(session)


def _add_readings(app: procrastinate.App, context: AppContext) -> None:
    """Periodic reading of what comes from outside."""

    @app.periodic(cron="* * * * *")
    @_task(app, READ_MAILBOX, alone=True)
    def read_mailbox(timestamp: int) -> None:
        poll.read_mailbox(context)

    @app.periodic(cron="* * * * *")
    @_task(app, READ_NEWS, alone=True)
    def read_news(timestamp: int) -> None:
        news.read_all(context)

    @app.periodic(cron="* * * * *")
    @_task(app, READ_HEALTH, alone=True)
    def read_health(timestamp: int) -> None:
        vendor_health.read_all(context)


def _add_reviving(app: procrastinate.App, context: AppContext) -> None:
    @app.periodic(cron="* * * * * */10")
    @_task(app, "revive_jobs", alone=True)
    async def revive_jobs(timestamp: int) -> None:
        """Jobs whose worker died are put back, unless they died too often."""
        for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=liveness.SILENT):
            if job.attempts + 1 < DEATHS:
                await app.job_manager.retry_job(job)
                continue
            log.error("a job died too often", task=job.task_name, job=job.id)
            await asyncio.to_thread(_give_up, context, job)
            await app.job_manager.finish_job(
                job, procrastinate.jobs.Status.FAILED, delete_job=False
            )


def _give_up(context: AppContext, job: procrastinate.jobs.Job) -> None:
    """Say where a person sees it that a job is not tried again."""
    match job.task_name:
        case exhibits.REDACT:
            redactions.give_up(context, str(job.task_kwargs["exhibit"]))
        case kit_runs.COLLECT:
            kit_runs.give_up(context, str(job.task_kwargs["run"]))
        case waiting.LODGE:
            deliveries.give_up(context, str(job.task_kwargs["packet"]))
        case cases.FOLLOW:
            cases.give_up_looking(context, str(job.task_kwargs["number"]))
        case waiting.SEND:
            outbox.give_up(context, str(job.task_kwargs["packet"]))
        case _:
            log.error("nobody sees that it ended", task=job.task_name)


__all__ = ["add_tasks"]
