"""The service's log: JSON lines on standard error. Tracebacks come without the values of variables."""

from __future__ import annotations

import logging
import sys

import structlog


def set_up_log() -> None:
    """JSON lines on standard error, for our own events and for libraries alike."""
    logging.basicConfig(
        level=logging.WARNING, stream=sys.stderr, format="%(levelname)s %(name)s %(message)s"
    )
    structlog.configure(
        processors=[
            structlog.processors.add_log_level,
            structlog.processors.TimeStamper(fmt="iso", utc=True),
            structlog.processors.format_exc_info,
            structlog.processors.JSONRenderer(),
        ],
        logger_factory=structlog.PrintLoggerFactory(sys.stderr),
    )
