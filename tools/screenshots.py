"""Take the pictures in docs/screenshots from the demo data: each page, light and some dark, and each main command."""

import os
import shlex
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright
from rich.console import Console
from rich.text import Text

from sealpacket.client import PageBox, SealPacket
from sealpacket.demo import evidence
from sealpacket.demo.cluster import Cluster
from sealpacket.demo.example import ANSWERS, NOTE, TITLE
from sealpacket.demo.house import RunningHouse

ROOT = Path(__file__).parent.parent
PICTURES = ROOT / "docs/screenshots"
BROWSER = {
    "executable_path": "/usr/bin/chromium",
    "args": ["--no-sandbox", "--disable-background-networking", "--disable-component-update", "--disable-sync"],
}


@contextmanager
def fresh_house() -> Iterator[RunningHouse]:
    """A house of its own for the pictures, gone afterwards."""
    folder = ROOT / "var/screenshots"
    Cluster.at(folder / "postgres").remove()
    shutil.rmtree(folder, ignore_errors=True)
    try:
        with RunningHouse(folder, console=ROOT / "console/dist") as house:
            yield house
    finally:
        Cluster.at(folder / "postgres").remove()
        shutil.rmtree(folder, ignore_errors=True)


def prepare(client: SealPacket) -> None:
    """Packets in the states that the pictures need: P-0001 asks back, P-0002 was refused, P-0003 is being worked on."""
    asked = client.packets.note("Controller 1 of the shelf array restarts", NOTE, asset="TN4-20933-C")
    began = time.strftime("%Y-%m-%dT07:40+00:00", time.gmtime())
    answers = {**ANSWERS, "category": "controller/restart", "began_at": began}
    client.packets.answer(asked.number, **answers)
    client.packets.seal(asked.number)
    client.packets.lodge(asked.number)
    client.packets.wait(asked.number)
    refused = client.packets.note("Array B reports a failed drive", NOTE, asset="TN9-44121-B")
    client.packets.answer(refused.number, **{**answers, "category": "drive/failed", "severity": "3"})
    client.packets.note(TITLE, NOTE, asset="TN9-44120-A")
    client.packets.answer("P-0003", **{k: v for k, v in answers.items() if k not in ("severity", "began_at")})
    client.packets.answer("P-0003", category="volume/latency")
    with tempfile.TemporaryDirectory() as folder:
        log = evidence.write_controller_log(Path(folder, "controller.log"))
        configuration = evidence.write_configuration(Path(folder, "array.cfg"))
        for path in (configuration, log):
            client.exhibits.add("P-0003", path)
        client.packets.wait("P-0003")
    client.packets.note(
        "Card reader dead since opening", "The kiosk at Fennel Lane reads no cards.", asset="LK40-7731-0927"
    )
    with tempfile.TemporaryDirectory() as folder:
        client.exhibits.add("P-0004", evidence.write_kiosk_screen(Path(folder, "service-screen.png")))
        client.packets.wait("P-0004")
        client.exhibits.draw_boxes(
            "P-0004", "service-screen.png", [PageBox(1, 0.79, 0.16, 0.98, 0.55)], reason="a reader's face"
        )
        client.packets.wait("P-0004")
    client.packets.seal(refused.number)
    capacity = client.packets.note(
        "Cores for the failover test", "The failover test of December, until the new year.", asset="HM-204471",
        need="capacity",
    )  # fmt: skip
    rows = "north-1 | general cores | 64 | 160\nnorth-2 | general cores | 0 | 96\nwest-1 | memory cores | 16 | 64"
    client.packets.answer(capacity.number, wanted=rows, by="2026-12-14", told="teo")


LIST = """S/N;Part No;Label;Location;Installed;Colour
LK40-7731-0926;LK-40;Kiosk by the door;Fennel Lane;23.11.2023;red
LK40-7731-0930;LK-40;Kiosk 1;Kettle Wharf;01.12.2023;red
LK40-7731-0990;LK-40;Kiosk 2;Mill Green;31.10.2026;blue
LK40-7731-0991;LK-41;Kiosk 2;Bellfield;31.10.2026;blue
LK40-7731-0992;LK-40;Kiosk 2;Nowhere Lane;31.10.2026;blue
LK40-7731-0993;LK-40;Kiosk 3;Mill Green;31.02.2026;blue
"""


def begin_import(client: SealPacket) -> str:
    """A list as a branch would send it, previewed; the import's id."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder, "kiosks-2026.csv")
        path.write_text(LIST)
        begun = client.imports.begin("asset", path, fixed={"vendor": "lumenlathe"})
    return client.imports.wait(begun.id).id


def refuse(house: RunningHouse, client: SealPacket) -> None:
    """Let the desk refuse P-0002."""
    import httpx

    port = house.standin_ports["tarnfell"]
    httpx.post(f"http://127.0.0.1:{port}/control", json={"refuse": "not_entitled"}, trust_env=False)
    client.packets.lodge("P-0002")
    client.packets.wait("P-0002")
    client.packets.follow("P-0001")


def pages(house: RunningHouse, page: Page, client: SealPacket, listed: str) -> None:
    """The console's pages."""

    def take(name: str) -> None:
        page.wait_for_load_state("networkidle")
        page.wait_for_timeout(250)
        page.screenshot(path=str(PICTURES / f"{name}.png"))

    order = next(one for one in client.order_documents.list().items if one.name.endswith(".pdf"))
    page.goto(house.address)
    page.get_by_label("Name").wait_for()
    page.get_by_label("Name").fill("marit")
    page.get_by_label("Password").fill(house.sign_ins["marit"])
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Our turn").wait_for()
    for path, name in (
        ("/", "today"),
        ("/assets?vendor=lumenlathe", "assets"),
        ("/contracts/88-4107", "contract"),
        ("/ahead", "ahead"),
        (f"/imports/{listed}", "import"),
        (f"/order-documents/{order.id}", "order-document"),
        (f"/statements/{client.statements.list().items[0].id}", "statement"),
        ("/packets/P-0003/questions", "packet-questions"),
        ("/packets/P-0003/exhibits/array.cfg", "packet-exhibit"),
        ("/packets/P-0003/ruling", "packet-ruling"),
        ("/packets/P-0001/replies", "packet-replies"),
        ("/packets/P-0005/questions", "packet-capacity"),
        ("/desks/pellwick-intake", "desk-sheet"),
    ):
        page.goto(house.address + path)
        if name == "import":
            page.get_by_role("tab", name="rejected").click()
        take(name)
    page.goto(house.address + "/assets")
    page.get_by_label("Serial, model, host name, site or words").fill("array a")
    page.get_by_role("link", name="TN9-44120-A").click()
    page.get_by_text("Cover today").wait_for()
    take("asset")
    page.evaluate("localStorage.setItem('sealpacket-theme', 'dark')")
    page.goto(house.address + "/packets/P-0004/exhibits/service-screen.png")
    page.get_by_text("box 1 of").wait_for()
    page.keyboard.press("j")
    take("packet-picture-dark")
    page.evaluate("localStorage.setItem('sealpacket-theme', 'light')")


def files_to_redact(folder: Path) -> Path:
    """A folder with logs, a configuration, an archive of them, and something that nobody can look into."""
    shutil.rmtree(folder, ignore_errors=True)
    logs = folder / "logs"
    logs.mkdir(parents=True)
    evidence.write_controller_log(logs / "controller.log", size=20_000_000)
    evidence.write_configuration(logs / "array.cfg")
    shutil.make_archive(str(folder / "diag"), "gztar", logs, base_dir="array.cfg")
    (folder / "diag.tar.gz").rename(logs / "diag.tar.gz")
    (logs / "core.dump").write_bytes(bytes(range(256)) * 64)
    (folder / "hosts.csv").write_text("kind,value\nhost,br07-kiosk2.quillmere.example\nperson,Ines Harrowgate\n")
    return logs


def terminal(browser: Browser, house: RunningHouse, name: str, *commands: str) -> None:
    """Run commands as a user would and picture what came back."""
    console = Console(width=118, record=True, file=open(os.devnull, "w"))  # noqa: SIM115, PTH123
    with tempfile.TemporaryDirectory() as folder:
        environment = {
            **os.environ, "SEALPACKET_CONFIG": folder, "FORCE_COLOR": "1", "COLUMNS": "116", "TERM": "xterm-256color",
        }  # fmt: skip
        binary = str(Path(sys.executable).with_name("sealpacket"))
        subprocess.run(
            [binary, "sign-in", house.address, "marit"], input=house.sign_ins["marit"], text=True, env=environment,
            check=True, capture_output=True,
        )  # fmt: skip
        for command in commands:
            console.print(Text(f"$ {command}", style="bold"))
            done = subprocess.run(
                [binary, *shlex.split(command)[1:]], env=environment, capture_output=True, check=False
            )
            console.print(Text.from_ansi((done.stdout + done.stderr).decode()))
    plain = browser.new_page(viewport={"width": 1280, "height": 800})  # one that no policy of the console's binds
    plain.set_content(console.export_html(inline_styles=True))
    plain.add_style_tag(
        content="body{background:#fffdf8;margin:20px} pre,code{font:13px/1.4 'DejaVu Sans Mono',monospace!important}"
    )
    plain.screenshot(path=str(PICTURES / f"{name}.png"))
    plain.close()


def main() -> None:
    """All of them."""
    PICTURES.mkdir(parents=True, exist_ok=True)
    for old in PICTURES.glob("*.png"):
        old.unlink()
    with fresh_house() as house, house.client() as client, sync_playwright() as playwright:
        prepare(client)
        time.sleep(3)
        refuse(house, client)
        browser = playwright.chromium.launch(**BROWSER)
        kiosks = client.contracts.get("88-4107")
        client.contracts.renew(kiosks.id, kiosks.version, ends_on=kiosks.ends_on.replace(year=kiosks.ends_on.year + 1))
        page = browser.new_page(viewport={"width": 1280, "height": 800}, locale="en-GB", timezone_id="Europe/London")
        pages(house, page, client, begin_import(client))
        terminal(
            browser, house, "command-desk", "sealpacket desk list",
            "sealpacket desk lint src/sealpacket/demo/sheets/ovenbird-support.yaml",
            "sealpacket desk try src/sealpacket/demo/sheets/ovenbird-support.yaml --asset OBS4-551203",
        )  # fmt: skip
        terminal(browser, house, "command-packet", "sealpacket packet show P-0003")
        terminal(
            browser, house, "command-coverage", "sealpacket coverage LK40-7731-0927",
            "sealpacket coverage TN9-44120-A --since 2023-01-01 --until 2027-12-31",
            "sealpacket ahead aligned --vendor lumenlathe",
        )  # fmt: skip
        logs = files_to_redact(Path(tempfile.gettempdir(), "evidence"))
        redacted = f"sealpacket redact {logs} --out {logs.parent}/outgoing --terms {logs.parent}/hosts.csv"
        terminal(
            browser, house, "command-redact", redacted,
            "sealpacket packet bag P-0001 --out /tmp/P-0001.zip",
            "sealpacket verify /tmp/P-0001.zip", "sealpacket custody verify",
        )  # fmt: skip
        browser.close()


if __name__ == "__main__":
    main()
