"""Bring the register up to date with a list of assets: assets.py FILE.csv"""

import os
import sys
from pathlib import Path

from sealpacket.client import SealPacket

with SealPacket(os.environ["SEALPACKET_ADDRESS"], os.environ["SEALPACKET_TOKEN"]) as client:
    given = client.imports.wait(client.imports.begin("asset", Path(sys.argv[1])).id)
    news = given.counts.new + given.counts.changed
    done = client.imports.apply(given.id) if news else client.imports.drop(given.id)
    client.imports.wait(done.id)
    print(
        f"{news} new or changed, {given.counts.unchanged} as before, {given.counts.rejected} refused"
    )
