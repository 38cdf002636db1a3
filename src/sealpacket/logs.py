"""The service's log: JSON lines on standard error, from our own code and from libraries alike.

A line names things (account, packet, job, request) and never holds what people typed or what a file contains.
Tracebacks come without the values of variables.
"""

from __future__ import annotations

import logging
import sys

import structlog
from sqlalchemy.engine import make_url

from sealpacket import __version__
from sealpacket.settings import LogLevel, Settings

_SHARED: list[structlog.typing.Processor] = [
    structlog.contextvars.merge_contextvars,
    structlog.stdlib.add_log_level,
    structlog.processors.TimeStamper(fmt="iso", utc=True),
]


def _in_order(
    _logger: object, _method: str, line: structlog.typing.EventDict
) -> structlog.typing.EventDict:
    """When, how serious and what, before all else: lines are read by people too."""
    first = {name: line.pop(name) for name in ("timestamp", "level", "event") if name in line}
    return {**first, **line}


_RENDERED: list[structlog.typing.Processor] = [
    structlog.processors.format_exc_info,
    _in_order,
    structlog.processors.JSONRenderer(),
]


def start_line(what: str, settings: Settings, **more: object) -> None:
    """Write what starts: its version, its database without the password, and the names of the settings that are set."""
    url = make_url(settings.database_url)
    structlog.get_logger().info(
        f"{what} starts",
        version=__version__,
        database=f"{url.host or 'local'}:{url.port or 5432}/{url.database}",
        settings=sorted(name.upper() for name in settings.model_fields_set),
        **more,
    )


def set_up_log(level: LogLevel = "info") -> None:
    """Log lines of `level` and above. Libraries are heard from warnings on: what they say below that names values."""
    lines = logging.StreamHandler(sys.stderr)
    lines.setFormatter(
        structlog.stdlib.ProcessorFormatter(
            foreign_pre_chain=[*_SHARED, structlog.stdlib.add_logger_name],
            processors=[structlog.stdlib.ProcessorFormatter.remove_processors_meta, *_RENDERED],
        )
    )
    number = logging.getLevelNamesMapping()[level.upper()]
    logging.basicConfig(level=max(number, logging.WARNING), handlers=[lines], force=True)
    structlog.configure(
        processors=[*_SHARED, *_RENDERED],
        wrapper_class=structlog.make_filtering_bound_logger(number),
        logger_factory=structlog.PrintLoggerFactory(sys.stderr),
        cache_logger_on_first_use=False,
    )
