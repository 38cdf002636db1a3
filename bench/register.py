"""The register with 100,000 assets, 5,000 contracts and 20,000 entitlements: import, search, lists and rulings."""

from __future__ import annotations

import os
import random
import shutil
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from datetime import UTC, datetime, timedelta
from functools import partial
from pathlib import Path
from typing import Any

from figures import figure, peak_memory, seconds
from sqlalchemy import text

from sealpacket.app.context import Actor, AppContext
from sealpacket.demo.cluster import Cluster
from sealpacket.services import accounts, coverage, sign_in, survey, tokens
from sealpacket.services.register import KINDS, Narrow, applying, intake, listed, preview
from sealpacket.services.register.acts import found_ids
from sealpacket.services.register.forms import AssetForm
from sealpacket.settings import Settings
from sealpacket.store.migrate import migrate
from sealpacket.web.app import make_app

ASSETS = int(os.environ.get("BENCH_ASSETS", "100000"))
VENDORS, PRODUCTS, SITES = 40, 30, 60
KEEPER = Actor("bench", frozenset({"keeper"}))
TODAY = datetime.now(UTC).date()
TRIED = 300


def serial(number: int) -> str:
    """The serial of an asset."""
    return f"S{number % VENDORS:02d}-{number * 7919 % 10_000_019:07d}"


def asset_rows(count: int) -> Iterator[list[str]]:
    """Rows of a list of assets, as a file holds them."""
    for number in range(count):
        vendor = number % VENDORS
        yield [
            f"v{vendor}",
            f"P{number // VENDORS % PRODUCTS}",
            serial(number),
            f"Machine {number}",
            f"site-{number % SITES}",
            "in_use",
            f"7.{number % 9}.{number % 5}",
            f"h{number}.bench.example",
            f"10.{number >> 16}.{number >> 8 & 255}.{number & 255}",
            (TODAY - timedelta(days=number % 2000)).isoformat(),
        ]


HEADINGS = ["vendor", "product", "serial", "name", "site", "status", "software_version", "host_names", "addresses",
            "installed_on"]  # fmt: skip


def write_list(path: Path, count: int) -> None:
    """The list as CSV."""
    with path.open("w") as file:
        file.write(",".join(HEADINGS) + "\n")
        for row in asset_rows(count):
            file.write(",".join(row) + "\n")


def run_import(house: AppContext, path: Path, kind: str = "asset") -> None:
    """Preview and apply, as the worker does it."""
    blocks = iter([path.read_bytes()])
    begun = intake.receive(
        house,
        KEEPER,
        kind=kind,
        name=path.name,
        source="bench",
        part="",
        choices=intake.Choices(),
        blocks=blocks,
    )
    preview.preview(house, begun.id)
    shown = intake.get(house, begun.id)
    if shown.counts.rejected or shown.state != "ready":
        raise SystemExit(f"the bench's own list is rejected: {shown.status_text} {shown.counts}")
    intake.start_apply(house, KEEPER, begun.id)
    applying.apply(house, begun.id, KEEPER.name)
    done = intake.get(house, begun.id)
    if done.state != "applied":
        raise SystemExit(f"not applied: {done.status_text}")


def prepare(house: AppContext) -> None:
    """Vendors, products and sites."""
    with house.database.transaction() as session:
        for number in range(VENDORS):
            session.execute(
                text(
                    "INSERT INTO vendor (id, key, name, sells_paid_help, notes, version, created_at, updated_at)"
                    " VALUES (:k, :k, :n, false, '', 1, now(), now())"
                ),
                {"k": f"v{number}", "n": f"Vendor {number}"},
            )
            for product in range(PRODUCTS):
                session.execute(
                    text(
                        "INSERT INTO product (id, vendor_id, part_number, name, warranty_months, warranty_needs, version,"
                        " created_at, updated_at) VALUES (:i, :v, :p, :n, 12, '{fault}', 1, now(), now())"
                    ),
                    {
                        "i": f"v{number}-P{product}",
                        "v": f"v{number}",
                        "p": f"P{product}",
                        "n": f"Model {product}",
                    },
                )
        for number in range(SITES):
            session.execute(
                text(
                    "INSERT INTO site (id, key, name, address, postcode, country, time_zone, version, created_at, updated_at)"
                    " VALUES (:k, :k, :n, '', '', 'GB', 'Europe/London', 1, now(), now())"
                ),
                {"k": f"site-{number}", "n": f"Site {number}"},
            )


def add_contracts(house: AppContext) -> None:
    """5,000 contracts with 20,000 entitlements: nine in ten list a few serials, one in ten a product, one a vendor all."""
    with house.database.transaction() as session:
        for statement in (
            """INSERT INTO contract (id, vendor_id, number, title, starts_on, ends_on, grace_days, version, created_at,
                updated_at) SELECT 'c' || n, 'v' || n % :vendors, 'C-' || n, '', current_date - n % 700,
                current_date - n % 700 + 500, n % 3 * 10, 1, now(), now() FROM generate_series(0, :contracts - 1) n""",
            """INSERT INTO entitlement (id, contract_id, reference, level, rank, route, needs, hours, starts_on, ends_on,
                countries, everything, version, created_at, updated_at)
                SELECT 'e' || n, c.id, 'E-' || n, 'Level ' || n % 3, n % 3 * 10, 'support', '{fault,question}', '9x5',
                c.starts_on, c.ends_on, '{}', n % 500 = 499, 1, now(), now()
                FROM generate_series(0, :contracts * 4 - 1) n JOIN contract c ON c.id = 'c' || n % :contracts""",
            """INSERT INTO entitlement_asset (entitlement_id, asset_id) SELECT 'e' || e.n, a.id FROM
                (SELECT n, n % :contracts % :vendors v, row_number() OVER (PARTITION BY n % :contracts % :vendors ORDER BY n) r
                 FROM generate_series(0, :contracts * 4 - 1) n WHERE n % 500 < 450) e
                JOIN (SELECT id, vendor_id, row_number() OVER (PARTITION BY vendor_id ORDER BY serial) r FROM asset) a
                ON a.vendor_id = 'v' || e.v AND a.r BETWEEN e.r * 5 - 4 AND e.r * 5 ON CONFLICT DO NOTHING""",
            """INSERT INTO entitlement_product (entitlement_id, product_id)
                SELECT 'e' || n, 'v' || n % :contracts % :vendors || '-P' || n % :products
                FROM generate_series(0, :contracts * 4 - 1) n WHERE n % 500 BETWEEN 450 AND 498""",
        ):
            session.execute(
                text(statement),
                {"contracts": ASSETS // 20, "vendors": VENDORS, "products": PRODUCTS},
            )
    with house.database.engine.connect().execution_options(
        isolation_level="AUTOCOMMIT"
    ) as connection:
        connection.execute(text("ANALYZE"))


def copy_and_validate(house: AppContext) -> float:
    """Seconds of a bare COPY of the same rows into a table with the same indexes and trigger, and of validating them."""
    raw = house.database.engine.raw_connection()
    try:
        cursor = raw.cursor()
        cursor.execute("CREATE TEMP TABLE bare (LIKE asset INCLUDING ALL)")
        cursor.execute(
            "CREATE TRIGGER t BEFORE INSERT ON bare FOR EACH ROW EXECUTE FUNCTION asset_search_text()"
        )
        begun = time.perf_counter()
        columns = (
            "id, vendor_id, product_id, serial, name, site_id, status, software_version, host_names, addresses,"
            " installed_on, notes, version, created_at, updated_at"
        )
        with cursor.copy(f"COPY bare ({columns}) FROM STDIN") as copy:
            for number, row in enumerate(asset_rows(ASSETS)):
                form = AssetForm(
                    vendor=row[0],
                    product=row[1],
                    serial=row[2],
                    name=row[3],
                    site=row[4],
                    status=row[5],
                    software_version=row[6],
                    host_names=[row[7]],
                    addresses=[row[8]],
                    installed_on=row[9],
                )
                copy.write_row(
                    (
                        f"b{number}",
                        form.vendor,
                        f"{form.vendor}-{form.product}",
                        form.serial,
                        form.name,
                        form.site,
                        form.status,
                        form.software_version,
                        form.host_names,
                        form.addresses,
                        form.installed_on,
                        "",
                        1,
                        "now",
                        "now",
                    )
                )
        raw.commit()
        return time.perf_counter() - begun
    finally:
        raw.close()


def percentile(act: Callable[[Any], Any], things: list[Any]) -> float:
    """The 95th percentile in milliseconds of doing something with each."""
    act(things[0])
    return 1000 * statistics.quantiles([seconds(partial(act, thing)) for thing in things], n=20)[18]


def searches() -> list[str]:
    """What people type, letter after letter: serials, host names, models with a site."""
    chance = random.Random(7)  # noqa: S311
    found = []
    for _ in range(TRIED // 10):
        number = chance.randrange(ASSETS)
        whole = chance.choice(
            [
                serial(number),
                f"h{number}.bench",
                f"Model {number // VENDORS % PRODUCTS} Site {number % SITES}",
            ]
        )
        found += [whole[:length] for length in range(3, len(whole) + 1)]
    return found


def bare_search(house: AppContext, query: str) -> Any:
    """The SQL that a search needs, and nothing else: which assets, and what is shown of them."""
    with house.database.engine.connect() as connection:
        ids = list(connection.scalars(found_ids(query, 8)))
        shown = text("""SELECT a.*, v.name, p.name, s.name FROM asset a JOIN vendor v ON v.id = a.vendor_id
            JOIN product p ON p.id = a.product_id LEFT JOIN site s ON s.id = a.site_id WHERE a.id = ANY(:ids)""")
        return connection.execute(shown, {"ids": ids}).all()


def figures() -> list[dict[str, Any]]:
    """Everything about the register, measured in one run."""
    folder = Path(tempfile.mkdtemp(prefix="sealpacket-bench-"))
    folder.chmod(0o755)
    cluster = Cluster.at(folder / "postgres")
    try:
        cluster.start()
        migrate(cluster.owner_url, cluster.service_url)
        house = bootstrap(cluster, folder)
        prepare(house)
        return measure(house, folder)
    finally:
        cluster.remove()
        shutil.rmtree(folder, ignore_errors=True)


def bootstrap(cluster: Cluster, folder: Path) -> AppContext:
    """The house, without a worker: jobs are called here one by one."""
    key = folder / "key"
    key.write_text("A" * 43 + "=")
    settings = Settings(
        database_url=cluster.owner_url,
        key_file=key,
        seal_key_file=key,
        blobs=(folder / "blobs").as_uri(),
    )
    return AppContext(settings, lambda *_arguments, **_more: None)


def measure(house: AppContext, folder: Path) -> list[dict[str, Any]]:
    """The figures, in the order in which an administrator would meet them."""
    small, large = folder / "small.csv", folder / "large.csv"
    write_list(small, ASSETS // 5)
    write_list(large, ASSETS)
    peaks = [peak_of_preview(house, path) for path in (small, large)]
    bare = copy_and_validate(house)
    whole = seconds(lambda: run_import(house, large))
    add_contracts(house)
    found = [
        figure("assets", ASSETS, "assets"),
        figure("import: bare COPY and validation", bare, "s"),
        figure("import: preview and apply", whole, "s"),
        figure("import : bare COPY and validation", whole / bare, "×", 6),
        figure("import, most memory for all rows : for a fifth", peaks[1] / peaks[0], "×", 1.25),
        figure("import, most memory", peaks[1], "MB"),
    ]
    queries = searches()
    accounts.put(house, "bench", "four-words-to-measure", ["reader"], None)
    token = tokens.create_token(
        house, "bench", "four-words-to-measure", "bench", sign_in.From("127.0.0.1")
    ).token
    client = make_app(house).test_client()
    headers = {"Authorization": f"Bearer {token}"}
    served = percentile(
        lambda query: client.get("/api/v1/find", query_string={"q": query}, headers=headers),
        queries,
    )
    sql = percentile(lambda query: bare_search(house, query), queries)
    found += [
        figure("search as you type, bare SQL, p95", sql, "ms"),
        figure("search as you type, served, p95", served, "ms", 30),
        figure("search as you type : bare SQL", served / sql, "×", 5),
    ]
    chance = random.Random(3)  # noqa: S311
    some = [serial(chance.randrange(ASSETS)) for _ in range(TRIED)]
    ruled = [
        seconds(partial(coverage.coverage, house, name, "fault", TODAY, None)) for name in some
    ][1:]
    rulings = 0

    def all_rulings() -> None:
        nonlocal rulings
        rulings = sum(1 for _ in survey.survey(house, "fault", TODAY, survey.Which()))

    every = seconds(all_rulings)
    found += [
        figure("one ruling, median", 1000 * statistics.median(ruled), "ms", 10),
        figure("one ruling, p95", 1000 * statistics.quantiles(ruled, n=20)[18], "ms"),
        figure("rulings on everything", rulings, "rulings"),
        figure("rulings on everything", every, "s", 20),
    ]
    first, last = depth(house)
    return [
        *found,
        figure("a page of a list, the first", first, "ms"),
        figure("a page of a list, the deepest : the first", last / first, "×", 1.5),
    ]


def depth(house: AppContext) -> tuple[float, float]:
    """Milliseconds of the first and of the deepest page of all assets."""
    kind = KINDS["asset"]
    pages = [""]
    while len(pages) < 2 or pages[-1]:
        pages.append(listed(house, kind, Narrow(), limit=200, cursor=pages[-1]).next or "")
    ends = [pages[0], pages[-2]]
    return tuple(  # type: ignore[return-value]
        1000
        * statistics.median(
            seconds(partial(listed, house, kind, Narrow(), limit=200, cursor=cursor))
            for _ in range(15)
        )
        for cursor in ends
    )


def peak_of_preview(house: AppContext, path: Path) -> float:
    """The most memory (MB) that a process of its own needs to preview and drop a list."""
    program = (
        "import sys; sys.path.insert(0, sys.argv[1])\n"
        "import register as bench; from pathlib import Path\n"
        "from sealpacket.app.context import AppContext; from sealpacket.settings import Settings\n"
        "house = AppContext(Settings(), lambda *a, **b: None); path = Path(sys.argv[2])\n"
        "begun = bench.intake.receive(house, bench.KEEPER, kind='asset', name='x', source='x', part='',\n"
        "    choices=bench.intake.Choices(), blocks=bench.blocks(path))\n"
        "bench.preview.preview(house, begun.id); bench.intake.drop(house, bench.KEEPER, begun.id)\n"
        "print(bench.peak_memory())\n"
    )
    settings = {
        "DATABASE_URL": house.settings.database_url,
        "KEY_FILE": str(house.settings.key_file),
        "SEAL_KEY_FILE": str(house.settings.seal_key_file),
        "BLOBS": house.settings.blobs,
    }
    environment = {
        **os.environ,
        **{f"SEALPACKET_{name}": value for name, value in settings.items()},
    }
    done = subprocess.run(
        [sys.executable, "-c", program, str(Path(__file__).parent), str(path)],
        capture_output=True,
        text=True,
        check=False,
        env=environment,
    )
    if done.returncode:
        raise RuntimeError(done.stderr[-2000:])
    return float(done.stdout)


def blocks(path: Path) -> Iterator[bytes]:
    """A file in blocks."""
    with path.open("rb") as file:
        while block := file.read(1 << 18):
            yield block


__all__ = ["blocks", "figures", "peak_memory"]
