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

from sealpacket.client import SealPacket
from sealpacket.demo import evidence, morning, world, year
from sealpacket.demo.cluster import Cluster
from sealpacket.demo.house import RunningHouse

ROOT = Path(__file__).parent.parent
PICTURES = ROOT / "docs/screenshots"
FLAGS = [
    "--no-sandbox",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


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


REPORTING = ("hollowmere", "ovenbird")
"""Vendors that report something in the morning."""


def pages(house: RunningHouse, page: Page, client: SealPacket, numbers: dict[str, str]) -> None:
    """The console's pages."""

    def take(name: str) -> None:
        page.wait_for_load_state("networkidle")
        # Until nothing is being loaded any more.
        page.get_by_role("status").first.wait_for(state="hidden")
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
        ("/packets", "packets"),
        ("/overview", "overview"),
        ("/ahead", "ahead"),
        (f"/imports/{numbers['import']}", "import"),
        (f"/order-documents/{order.id}", "order-document"),
        (f"/statements/{client.statements.list().items[0].id}", "statement"),
        (f"/packets/{numbers['being prepared']}/questions", "packet-questions"),
        (f"/packets/{numbers['being prepared']}/exhibits/array.cfg", "packet-exhibit"),
        (f"/packets/{numbers['being prepared']}/ruling", "packet-ruling"),
        (f"/packets/{numbers['asks back']}/replies", "packet-replies"),
        (f"/packets/{numbers['being prepared']}/exhibits/controller.log", "log-summary"),
        ("/desks/pellwick-intake", "desk-sheet"),
    ):
        page.goto(house.address + path)
        if name == "import":
            page.get_by_role("tab", name="rejected").click()
        if name == "log-summary":
            page.get_by_role("button", name="What it says").click()
            page.get_by_role("slider").wait_for()
        if name == "desk-sheet":
            page.get_by_role("tab", name="Trial").click()
            page.get_by_role("button", name="Try").click()
            page.get_by_text("It plays to its end.").wait_for()
        take(name)
    page.goto(house.address + "/assets")
    page.get_by_label("Serial, model, host name, site or words").fill("array a")
    page.get_by_role("link", name="TN9-44120-A").click()
    page.get_by_text("Cover today").wait_for()
    take("asset")
    page.evaluate("localStorage.setItem('sealpacket-theme', 'dark')")
    page.goto(house.address + f"/packets/{numbers['not covered']}/exhibits/service-screen.png")
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
    (folder / "hosts.csv").write_text(
        "kind,value\nhost,br07-kiosk2.quillmere.example\nperson,Ines Harrowgate\n"
    )
    return logs


def terminal(browser: Browser, house: RunningHouse, name: str, *commands: str) -> None:
    """Run commands as a user would and picture what came back."""
    console = Console(width=118, record=True, file=open(os.devnull, "w"))  # noqa: SIM115, PTH123
    with tempfile.TemporaryDirectory() as folder:
        environment = {
            **os.environ,
            "SEALPACKET_CONFIG": folder,
            "FORCE_COLOR": "1",
            "COLUMNS": "116",
            "TERM": "xterm-256color",
        }
        binary = str(Path(sys.executable).with_name("sealpacket"))
        subprocess.run(
            [binary, "sign-in", house.address, "marit"],
            input=house.sign_ins["marit"],
            text=True,
            env=environment,
            check=True,
            capture_output=True,
        )
        for command in commands:
            console.print(Text(f"$ {command}", style="bold"))
            done = subprocess.run(
                [binary, *shlex.split(command)[1:]],
                env=environment,
                capture_output=True,
                check=False,
            )
            console.print(Text.from_ansi((done.stdout + done.stderr).decode()))
    plain = browser.new_page(
        viewport={"width": 1280, "height": 800}
    )  # one that no policy of the console's binds
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
        year.fill(house, 60)
        numbers = morning.play(house, log_size=30_000_000)
        client.packets.wait(numbers["not covered"])
        while len(client.notices.vendor_health().items) < len(REPORTING):
            time.sleep(1)
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium-headless-shell", args=FLAGS
        )
        kiosks = client.contracts.get("88-4107")
        client.contracts.renew(
            kiosks.id, kiosks.version, ends_on=kiosks.ends_on.replace(year=kiosks.ends_on.year + 1)
        )
        page = browser.new_page(
            viewport={"width": 1280, "height": 800}, locale="en-GB", timezone_id="Europe/London"
        )
        pages(house, page, client, numbers)
        switch = client.packets.note("Ports 12 to 24 lose their link", asset=world.SWITCH_SERIAL)
        terminal(
            browser,
            house,
            "command-kit",
            f"sealpacket kit offered {switch.number}",
            f"sealpacket kit collect {switch.number} ovenbird-switch --yes",
        )
        terminal(
            browser, house, "command-packet", f"sealpacket packet show {numbers['being prepared']}"
        )
        terminal(
            browser,
            house,
            "command-coverage",
            "sealpacket coverage LK40-7731-0927",
            "sealpacket coverage TN9-44120-A --since 2023-01-01 --until 2027-12-31",
            "sealpacket ahead aligned --vendor lumenlathe",
        )
        logs = files_to_redact(Path(tempfile.gettempdir(), "evidence"))
        redacted = (
            f"sealpacket redact {logs} --out {logs.parent}/outgoing --terms {logs.parent}/hosts.csv"
        )
        terminal(
            browser,
            house,
            "command-redact",
            redacted,
            f"sealpacket packet bag {numbers['asks back']} --out /tmp/{numbers['asks back']}.zip",
            f"sealpacket verify /tmp/{numbers['asks back']}.zip",
            "sealpacket custody verify",
        )
        browser.close()


if __name__ == "__main__":
    main()
