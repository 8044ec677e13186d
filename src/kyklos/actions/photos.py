"""Photos: made small and upright before anything is written, each content kept once."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.base.errors import Problem
from ..store.file.pictures import Picture, PictureError, prepared
from ..store.records import PhotoContent
from .base import RefusedError


def picture_of(content: bytes) -> Picture:
    """Prepare a picture before anything is written: pages ask it outside any write.

    Raises:
        RefusedError: If it cannot be kept.
    """
    try:
        return prepared(content)
    except PictureError as problem:
        raise RefusedError([Problem("photo", str(problem))]) from problem


def keep_content(session: Session, picture: Picture) -> str:
    """Keep a picture's content, and return its sum, by which rows name it."""
    if session.scalars(select(PhotoContent).where(PhotoContent.sha == picture.sha)).first() is None:
        session.add(PhotoContent(sha=picture.sha, large=picture.large, small=picture.small))
    return picture.sha
