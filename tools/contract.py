"""Ask a fresh house everything that its OpenAPI document allows, and more, with schemathesis."""

from __future__ import annotations

import subprocess
import sys
import tempfile
from pathlib import Path

from sealpacket.client import make_token
from sealpacket.demo.cluster import Cluster
from sealpacket.demo.house import RunningHouse

ENDS_THE_RUN = (
    "end_session",
    "revoke_token",
    "change_password",
    "change_account",
    "sign_out_everywhere",
)
"""What ends the token that the run itself uses."""
CHECKS = "not_a_server_error,status_code_conformance,content_type_conformance,response_schema_conformance"


def main() -> int:
    """The exit code of schemathesis."""
    folder = Path(tempfile.mkdtemp(prefix="sealpacket-contract-"))
    folder.chmod(0o755)
    try:
        with RunningHouse(folder / "house", durable=False) as house:
            token = make_token(house.address, "marit", house.sign_ins["marit"], "contract").token
            command = [
                str(Path(sys.executable).with_name("st")),
                *(
                    "run",
                    f"{house.address}/openapi.json",
                    "--header",
                    f"Authorization: Bearer {token}",
                ),
                *(
                    "--checks",
                    CHECKS,
                    "--max-examples",
                    "20",
                    "--workers",
                    "2",
                    "--request-timeout",
                    "30",
                ),
                *(part for name in ENDS_THE_RUN for part in ("--exclude-operation-id", name)),
            ]
            return subprocess.run(command, check=False).returncode
    finally:
        Cluster.at(folder / "house/postgres").remove()


if __name__ == "__main__":
    sys.exit(main())
