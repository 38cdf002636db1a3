"""Labels on the command line: find a thing by a photo of its label, print labels."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from sealpacket.cli import session, show
from sealpacket.core.words import count

app = typer.Typer(no_args_is_help=True, help="QR and bar codes on assets.")


@app.command("read")
def read(
    photo: Annotated[
        Path, typer.Argument(exists=True, dir_okay=False, help="JPEG, PNG, WebP or TIFF.")
    ],
    json: show.Json = False,
) -> None:
    """Read the codes on a photo and list the assets that they name.

    Example: `sealpacket label read IMG_2041.jpg`

    Ends with 3 if no code names an asset.
    """
    with session.client() as client:
        found = client.read_label(photo).items
    if json:
        show.as_json(found)
    else:
        if not found:
            show.line(
                "There is no code on it that can be read. Go nearer, and keep it flat and in the light."
            )
        for code in found:
            show.heading(code.text, code.symbology)
            for asset in code.assets:
                words = "perhaps " if code.likely else ""
                show.line(
                    f"  {words}{asset.serial}  {asset.name or asset.product_name}, {asset.site_name or 'no site'}"
                )
            if code.proposed and not code.assets:
                new = code.proposed
                what = (
                    f"vendor={new.vendor} product={new.product}"
                    if new.product
                    else "vendor=… product=…"
                )
                show.line(
                    f"  Not in the register. Add it: sealpacket asset add {what} serial={new.serial}"
                )
    if not any(code.assets for code in found):
        raise typer.Exit(3)


@app.command("print")
def print_labels(
    assets: Annotated[list[str], typer.Argument(help="Serials or ids.")],
    out: Annotated[Path, typer.Option(help="Where to save the PDF.")] = Path("labels.pdf"),
    skip: Annotated[
        int, typer.Option(min=0, max=23, help="Number of labels already used on the first sheet.")
    ] = 0,
) -> None:
    """Save a PDF with a label for each asset: A4, 3 × 8 labels of 70 × 37 mm.

    Example: `sealpacket label print TN9-44120-A TN9-44121-B --out labels.pdf`
    """
    with session.client() as client:
        client.print_labels(assets, out, skip=skip)
    show.line(f"Saved {out}: {count(len(assets), 'label')}.")
