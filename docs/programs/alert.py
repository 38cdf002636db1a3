"""Send the vendor what an alert says, once: alert.py REFERENCE TITLE SERIAL LOG QUESTION=ANSWER…"""

import os
import sys
from pathlib import Path

from sealpacket.client import Refused, SealPacket

reference, title, serial, log, *answers = sys.argv[1:]
with SealPacket(os.environ["SEALPACKET_ADDRESS"], os.environ["SEALPACKET_TOKEN"]) as client:
    try:
        number = client.packets.note(title, title, asset=serial, our_reference=reference).number
    except Refused as refused:  # somebody, or an earlier run, has noted it
        if refused.code != "reference-taken":
            raise
        number = str(refused.facts["number"])
    packet = client.packets.wait(number)
    if packet.life == "drafting":
        client.packets.answer(number, **dict(one.split("=", 1) for one in answers))
        client.exhibits.add(number, Path(log))
        packet = client.packets.wait(number)
        for stop in (check for check in packet.checks if check.level == "stop"):
            sys.exit(f"{number}: {stop.sentence} {stop.remedy}")
        packet = client.packets.seal(number, version=packet.version)
    if packet.life == "sealed":
        client.packets.lodge(number)
    print(number, client.packets.wait(number).reference)
