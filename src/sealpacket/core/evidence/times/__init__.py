"""Times in logs: recognise how a log writes them, then read them line by line.

form = recognise(lines, near=written_last)
reader = Reader(form)
moments = [reader.moment(line) for line in lines]
"""

from sealpacket.core.evidence.times.reading import Reader
from sealpacket.core.evidence.times.recognition import TimeFormat, recognise

__all__ = ["Reader", "TimeFormat", "recognise"]
