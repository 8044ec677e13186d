"""One place in the house: its numbers as live tables, and the documents that go to another household or come from one."""

from . import documents, record
from .routes import bp

__all__ = ["bp", "documents", "record"]
