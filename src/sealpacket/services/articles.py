"""Articles: what we have written down, in Markdown."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Literal

from pydantic import BaseModel, Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, NotFound
from sealpacket.store.models import Article, Solution

Sort = Literal["note", "how-to", "vendor"]
MOST = 500


class ArticleBrief(BaseModel):
    """An article in a list."""

    key: str
    title: str
    sort: Sort
    vendor: str
    models: list[str]
    written_on: date
    solved: int = Field(description="Number of drafts that it has made needless.")


class ArticleShown(ArticleBrief):
    """An article with its text, in Markdown."""

    text: str
    by: str
    at: datetime


def listed(app: AppContext) -> list[ArticleBrief]:
    """All articles, the newest first."""
    with app.database.transaction() as session:
        query = select(Article).order_by(Article.written_on.desc(), Article.key).limit(MOST)
        counts = _counts(session)
        return [ArticleBrief(**_fields(one, counts)) for one in session.scalars(query)]


def get(app: AppContext, key: str) -> ArticleShown:
    """One article."""
    with app.database.transaction() as session:
        return _show(session, find_article(session, key))


def put(
    app: AppContext,
    actor: Actor,
    key: str,
    *,
    title: str,
    text: str,
    sort: Sort,
    vendor: str,
    models: list[str],
    written_on: date | None,
) -> ArticleShown:
    """Save an article under its key."""
    with app.transaction(actor, "article kept", f"article {key}") as tx:
        article = tx.session.get(Article, key) or Article(key=key)
        article.title, article.text, article.sort = title, text, sort
        article.vendor, article.models = vendor, models
        article.written_on = written_on or datetime.now(UTC).date()
        article.by, article.at = actor.name, datetime.now(UTC)
        tx.session.add(article)
        tx.session.flush()
        return _show(tx.session, article)


def remove(app: AppContext, actor: Actor, key: str) -> None:
    """Delete an article. Raises Conflict for one that has ended drafts: they name it."""
    with app.transaction(actor, "article removed", f"article {key}") as tx:
        article = find_article(tx.session, key)
        if _counts(tx.session).get(key):
            raise Conflict(
                f"{key} has ended drafts, which name it.", "Correct it instead.", code="in-use"
            )
        tx.session.delete(article)


def find_article(session: Session, key: str) -> Article:
    """The article of that key. Raises NotFound."""
    article = session.get(Article, key)
    if article is None:
        raise NotFound(f"There is no article {key}.", "List the articles, then name one of them.")
    return article


def _counts(session: Session) -> dict[str, int]:
    query = select(Solution.article, func.count()).where(Solution.article.is_not(None))
    return {str(key): count for key, count in session.execute(query.group_by(Solution.article))}


def _fields(article: Article, counts: dict[str, int]) -> dict[str, object]:
    fields = ("key", "title", "sort", "vendor", "models", "written_on")
    return {
        **{field: getattr(article, field) for field in fields},
        "solved": counts.get(article.key, 0),
    }


def _show(session: Session, article: Article) -> ArticleShown:
    return ArticleShown(
        **_fields(article, _counts(session)), text=article.text, by=article.by, at=article.at
    )
