"""Articles: what we have written down."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Literal

import typer

from sealpacket.cli import session, show
from sealpacket.cli.packet_options import vendors

app = typer.Typer(no_args_is_help=True, help="Your own articles, in Markdown.")

Key = Annotated[str, typer.Argument(help="Its key, such as mirror-link.")]


@app.command("list")
def list_articles(json: show.Json = False) -> None:
    """List articles, the newest first."""
    with session.client() as client:
        found = client.articles.list()
    if json:
        show.as_json(found)
        return
    show.table(
        ("Key", "Title", "Sort", "Written", ">Solved"),
        ((one.key, one.title, one.sort, one.written_on, one.solved) for one in found),
        nothing="No articles.",
    )


@app.command("show")
def show_article(key: Key, json: show.Json = False) -> None:
    """Show an article."""
    with session.client() as client:
        article = client.articles.get(key)
    if json:
        show.as_json(article)
        return
    show.heading(article.title, f"{article.sort}, {article.written_on}")
    show.line(article.text)


@app.command("put")
def put_article(
    key: Key,
    file: Annotated[
        Path, typer.Argument(exists=True, dir_okay=False, help="Its text, in Markdown.")
    ],
    title: Annotated[str, typer.Option(help="Its title; else its first heading.")] = "",
    sort: Annotated[
        Literal["note", "how-to", "vendor"], typer.Option(help="The kind of article.")
    ] = "note",
    vendor: Annotated[
        str, typer.Option(help="Only for this vendor's assets, by its key.", autocompletion=vendors)
    ] = "",
    model: Annotated[
        list[str] | None, typer.Option(help="Only about this model; repeatable.")
    ] = None,
) -> None:
    """Save an article under its key.

    Example: `sealpacket article put mirror-link mirror-link.md --vendor tarnfell --model TN9`
    """
    text = file.read_text("utf-8", "replace")
    headings = (line.lstrip("# ").strip() for line in text.splitlines() if line.startswith("#"))
    with session.client() as client:
        client.articles.put(
            key, title=title or next(headings, file.stem), text=text, sort=sort, vendor=vendor,
            models=model or [],
        )  # fmt: skip
    show.line(f"{key} kept.")


@app.command("remove")
def remove_article(key: Key) -> None:
    """Delete an article."""
    with session.client() as client:
        client.articles.remove(key)
    show.line(f"{key} removed.")
