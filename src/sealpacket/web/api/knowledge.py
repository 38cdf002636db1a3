"""Looking before asking: similar packets, and articles."""

from datetime import date
from typing import Any

from pydantic import BaseModel, Field

from sealpacket.services import articles
from sealpacket.services.articles import ArticleBrief, ArticleShown, Sort
from sealpacket.services.packets import similar as looking
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.services.packets.similar import Similar
from sealpacket.web.api.common import Done, Number, OneLine, Strict
from sealpacket.web.guard import ANY_ROLE, actor, current_app, requires_role
from sealpacket.web.idempotency import idempotent
from sealpacket.web.operations import Api

api = Api("knowledge", "What is known already: similar packets, and articles.")


class SimilarQuery(Strict):
    """The text of a note; or with `number`, a draft."""

    title: str = Field("", max_length=200)
    note: str = Field("", max_length=4000)
    asset: str | None = Field(None, max_length=300, description="By id or serial.")
    number: str = Field("", max_length=20)


class Solved(Strict):
    """The solution of a draft: a packet by its number, or an article by its key."""

    packet: str = Field("", max_length=20)
    article: str = Field("", max_length=63)


class Articles(BaseModel):
    """All of them, the newest first."""

    items: list[ArticleBrief]


class ArticlePath(Strict):
    """An article by its key."""

    key: str = Field(max_length=63, pattern=r"^[a-z0-9][a-z0-9-]{0,62}$")


class ArticleBody(Strict):
    """An article, in Markdown."""

    title: OneLine = Field(min_length=3, max_length=200)
    text: str = Field(min_length=1, max_length=100_000)
    sort: Sort = "note"
    vendor: str = Field(
        "", max_length=40, description="Only about this vendor's things, by its key."
    )
    models: list[str] = Field([], max_length=100)
    written_on: date | None = None


@api.get(
    "/similar",
    summary="Search for similar packets and articles",
    responses={200: Similar},
    does=looking.similar,
    problems=(404,),
)
@requires_role(ANY_ROLE)
def find_similar(query: SimilarQuery) -> Similar:
    return looking.similar(current_app(), query.title, query.note, query.asset, query.number)


@api.post(
    "/packets/<number>/solved",
    summary="End a draft that a packet or an article has solved",
    responses={200: PacketShown},
    does=looking.end_as_solved,
    etag=True,
)
@requires_role("preparer")
@idempotent
def end_as_solved(path: Number, body: Solved) -> Any:
    return looking.end_as_solved(
        current_app(), actor(), path.number.upper(), packet=body.packet, article=body.article
    )


@api.get("/articles", summary="List articles", responses={200: Articles}, does=articles.listed)
@requires_role(ANY_ROLE)
def list_articles() -> dict[str, Any]:
    return {"items": articles.listed(current_app())}


@api.get(
    "/articles/<key>", summary="Get an article", responses={200: ArticleShown}, does=articles.get
)
@requires_role(ANY_ROLE)
def get_article(path: ArticlePath) -> ArticleShown:
    return articles.get(current_app(), path.key)


@api.put(
    "/articles/<key>", summary="Save an article", responses={200: ArticleShown}, does=articles.put
)
@requires_role("preparer")
def put_article(path: ArticlePath, body: ArticleBody) -> ArticleShown:
    return articles.put(current_app(), actor(), path.key, **body.model_dump())


@api.delete(
    "/articles/<key>",
    summary="Delete an article",
    responses={200: Done},
    does=articles.remove,
    problems=(409,),
)
@requires_role("preparer")
def remove_article(path: ArticlePath) -> dict[str, Any]:
    articles.remove(current_app(), actor(), path.key)
    return {"done": True}
