"""The tasks of the queue. Each is a thin step to a service function."""

from __future__ import annotations

import procrastinate

from sealpacket.services import ahead, digests, papers, statements
from sealpacket.services.house import House
from sealpacket.services.packets import exhibits, following, legends, lodging, redaction
from sealpacket.services.register import applying, intake, preview


def add_tasks(app: procrastinate.App, house: House) -> None:
    """Register all tasks on the queue's application."""

    @app.task(name=exhibits.REDACT, queue="redact")
    def redact_exhibit(exhibit: str) -> None:
        redaction.redact_exhibit(house, exhibit)

    @app.task(name=lodging.LODGE, queue="send")
    def lodge_packet(packet: str, tried: int) -> None:
        lodging.deliver(house, packet, tried)

    @app.task(name=following.SEND, queue="send")
    def send_message(message: str, tried: int, case: int = 0) -> None:
        following.send(house, message, tried, case)

    @app.task(name=following.FOLLOW, queue="send")
    def follow_packet(number: str) -> None:
        following.follow_if_open(house, number)

    @app.task(name=intake.PREVIEW, queue="register")
    def preview_import(intake_id: str) -> None:
        preview.preview(house, intake_id)

    @app.task(name=intake.APPLY, queue="register")
    def apply_import(intake_id: str, by: str) -> None:
        applying.apply(house, intake_id, by)

    @app.task(name=intake.UNDO, queue="register")
    def undo_import(intake_id: str, by: str) -> None:
        applying.undo(house, intake_id, by)

    @app.task(name=papers.READ, queue="register")
    def read_paper(paper_id: str) -> None:
        papers.read(house, paper_id)

    @app.task(name=statements.COMPARE, queue="register")
    def compare_statement(statement_id: str, chosen: bool) -> None:
        statements.compare_statement(house, statement_id, chosen)

    @app.task(name=ahead.WORK_OUT, queue="register", queueing_lock=ahead.WORK_OUT)
    def work_out_ahead() -> None:
        ahead.work_out(house)

    @app.periodic(cron="*/15 * * * *")
    @app.task(name=digests.SEND, queue="upkeep", queueing_lock=digests.SEND)
    def send_digests(timestamp: int) -> None:
        digests.send_due(house)

    @app.periodic(cron="* * * * *")
    @app.task(name="follow_all", queue="send", queueing_lock="follow_all")
    def follow_all(timestamp: int) -> None:
        following.follow_all(house)
        exhibits.forget_broken_uploads(house)

    @app.periodic(cron="23 * * * *")
    @app.task(name="destroy_legends", queue="upkeep", queueing_lock="destroy_legends")
    def destroy_legends(timestamp: int) -> None:
        legends.destroy_due(house)

    @app.periodic(cron="* * * * *")
    @app.task(name="revive_jobs", queue="upkeep", queueing_lock="revive_jobs")
    async def revive_jobs(timestamp: int) -> None:
        """Jobs whose worker died are put back: every task may run twice."""
        for job in await app.job_manager.get_stalled_jobs():
            await app.job_manager.retry_job(job)


__all__ = ["add_tasks"]
