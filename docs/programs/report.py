"""What has waited for us longest: report.py"""

import os

from sealpacket.client import SealPacket

with SealPacket(os.environ["SEALPACKET_ADDRESS"], os.environ["SEALPACKET_TOKEN"]) as client:
    for packet in sorted(client.packets.list(turn="ours"), key=lambda one: one.turn_since):
        print(
            f"{packet.turn_since:%Y-%m-%d}  {packet.number}  {packet.owner}  {packet.status_text}"
        )
