"""The worker: runs the jobs of the queue until it is stopped, whatever happens to the database meanwhile."""

from __future__ import annotations

import asyncio
import signal
import time
from collections.abc import Awaitable, Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from functools import partial
from typing import Any

import procrastinate
import structlog
from prometheus_client import start_http_server

from sealpacket.app.bootstrap import bootstrap
from sealpacket.app.measures import measures
from sealpacket.app.queue import queue_app
from sealpacket.jobs.children import Children
from sealpacket.jobs.tasks import CALLS, FEEDS, add_tasks
from sealpacket.services.liveness import BEAT, SILENT
from sealpacket.services.packets.kit_runs import COLLECT
from sealpacket.settings import Settings, nothing_listens
from sealpacket.traces import set_up_traces, span

log = structlog.get_logger()
COLLECTED_AT_ONCE = 2
"""Kits that are run at the same time, in places of their own: a device that hangs keeps nothing else waiting."""
CALLS_AT_ONCE = 4
"""Calls to desks and mail servers at the same time, likewise: slow desks keep one another waiting, and no redaction."""
FEEDS_AT_ONCE = 2
"""Readings of feeds at the same time, likewise."""
POLL = 2.0
"""Seconds between two looks for jobs whose time has come; those without a time announce themselves."""
FIRST_WAIT, LONGEST_WAIT = 0.5, 15.0
"""Seconds before the worker begins again after it broke off; doubled each time until it has run for a while."""
_RAN_WELL = 60.0
_NAMES = ("packet", "number", "exhibit", "run", "batch", "trial")
"""Arguments of jobs that name what they are about."""
_SPARE_THREADS = 4
"""For what is not in a place, such as giving up a job."""


def work(settings: Settings, jobs: int, monitor: int | None = None) -> None:
    """Run jobs, a limited number at a time, until SIGTERM or SIGINT.

    With `monitor`, measures of this worker can be read at that loopback port. Raises WrongSettings if it is taken.
    """
    children = Children(settings)  # before there are threads
    try:
        if monitor is not None:
            _show_measures(monitor)
        set_up_traces(settings, "worker")
        stopped = asyncio.run(_work(settings, jobs, children))
    finally:
        children.stop()
    log.info("worker ends")
    if not stopped:
        log.error("the process that starts redactions has ended")
        raise SystemExit(1)


def _show_measures(port: int) -> None:
    try:
        start_http_server(port, "127.0.0.1", measures().registry)
    except OSError as error:
        raise nothing_listens(f"127.0.0.1:{port}", error) from error


async def _work(settings: Settings, jobs: int, children: Children) -> bool:
    """Whether it ended because it was stopped, and not because it failed."""
    stop, lost = asyncio.Event(), False
    loop = asyncio.get_running_loop()
    places = jobs + CALLS_AT_ONCE + COLLECTED_AT_ONCE + FEEDS_AT_ONCE
    loop.set_default_executor(ThreadPoolExecutor(places + _SPARE_THREADS))
    for number in (signal.SIGTERM, signal.SIGINT):
        loop.add_signal_handler(number, stop.set)

    def give_up() -> None:
        nonlocal lost
        lost = not stop.is_set()
        stop.set()

    children.lost = partial(loop.call_soon_threadsafe, give_up)
    wait = FIRST_WAIT
    while not stop.is_set():
        begun = loop.time()
        await _run_once(settings, jobs, children, stop)
        if stop.is_set():
            break
        wait = FIRST_WAIT if loop.time() - begun > _RAN_WELL else wait
        log.error("the worker broke off and begins again", seconds=wait)
        await _either(stop.wait(), asyncio.sleep(wait))
        wait = min(wait * 2, LONGEST_WAIT)
    return not lost


async def _run_once(settings: Settings, jobs: int, children: Children, stop: asyncio.Event) -> None:
    """Work until stopped, or until the queue's own worker ends, as it does when its connection breaks."""
    app = queue_app(settings.database_url)
    try:
        context = bootstrap(settings)
        add_tasks(app, context, children)
        async with app.open_async():
            others = {task.queue for task in app.tasks.values()} - {COLLECT, *CALLS, *FEEDS}
            running = [
                asyncio.create_task(_take(app, sorted(others), jobs)),
                asyncio.create_task(_take(app, [*CALLS], CALLS_AT_ONCE)),
                asyncio.create_task(_take(app, [COLLECT], COLLECTED_AT_ONCE)),
                asyncio.create_task(_take(app, [*FEEDS], FEEDS_AT_ONCE)),
            ]
            stopped = asyncio.create_task(stop.wait())
            await asyncio.wait({*running, stopped}, return_when=asyncio.FIRST_COMPLETED)
            if stopped.done():
                children.stop()
            for one in (*running, stopped):
                one.cancel()
            ended = await asyncio.gather(*running, stopped, return_exceptions=True)
            for error in ended:
                if isinstance(error, Exception):
                    log.error("the queue's worker ended", error=type(error).__name__)
    except Exception as error:  # the database is away, above all
        log.error("the worker could not begin", error=type(error).__name__)


async def _take(app: procrastinate.App, queues: list[str], at_once: int) -> None:
    """Run the jobs of some queues, with a maximum number at once."""
    await app.run_worker_async(
        queues=queues,
        concurrency=at_once,
        fetch_job_polling_interval=POLL,
        shutdown_graceful_timeout=5,
        delete_jobs="successful",
        install_signal_handlers=False,
        task_middleware=[_in_log, _in_log_too],
        update_heartbeat_interval=BEAT,
        stalled_worker_timeout=SILENT,
    )


def _in_log(
    call_next: Callable[[], Any], context: procrastinate.JobContext, _worker: object
) -> Any:
    """Run a job whose lines have its id, and write how it ended."""
    with _noted(context):
        return call_next()


async def _in_log_too(
    call_next: Callable[[], Awaitable[Any]], context: procrastinate.JobContext, _worker: object
) -> Any:
    """The same for a task that runs in the event loop."""
    with _noted(context):
        return await call_next()


@contextmanager
def _noted(context: procrastinate.JobContext) -> Iterator[None]:
    job = context.job
    names = {name: value for name, value in job.task_kwargs.items() if name in _NAMES}
    begun, outcome = time.monotonic(), "done"
    about: dict[str, Any] = {"job": job.id, "task": job.task_name, **names}
    with structlog.contextvars.bound_contextvars(**about), span(f"job {job.task_name}", about):
        try:
            yield
        except BaseException as error:
            outcome = type(error).__name__
            raise
        finally:
            seconds = time.monotonic() - begun
            # Rounds that are made again and again, and found nothing amiss, would drown the rest.
            quiet = outcome == "done" and "timestamp" in job.task_kwargs
            write = log.debug if quiet else log.info
            write("job", outcome=outcome, attempt=job.attempts + 1, ms=round(seconds * 1000, 1))
            measures().jobs.labels(job.task_name, outcome).observe(seconds)


async def _either(*waits: object) -> None:
    tasks = [asyncio.ensure_future(wait) for wait in waits]  # type: ignore[call-overload]
    await asyncio.wait(tasks, return_when=asyncio.FIRST_COMPLETED)
    for task in tasks:
        task.cancel()
