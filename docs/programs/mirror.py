"""Keep a copy of every packet that changes, for ever: mirror.py FOLDER"""

import os
import sys
from pathlib import Path

from sealpacket.client import SealPacket

folder = Path(sys.argv[1])
last = folder / "last"
with SealPacket(os.environ["SEALPACKET_ADDRESS"], os.environ["SEALPACKET_TOKEN"]) as client:
    for event in client.events(int(last.read_text()) if last.exists() else 0, follow=True):
        if event.packet:
            packet = client.packets.get(event.packet)
            (folder / f"{event.packet}.json").write_text(packet.model_dump_json())
        last.write_text(str(event.seq))
