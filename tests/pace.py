"""How quick this machine is just now: times in tests are held against a fixed piece of work like a page's."""

import time

from jinja2 import Template
from sqlalchemy import create_engine, select
from sqlalchemy.orm import DeclarativeBase, Mapped, Session, mapped_column
from sqlalchemy.pool import StaticPool

USUAL_PACE_S = 0.039  #: What `worked` takes on a common machine of two cores. [s]


class Rows(DeclarativeBase):
    """Records of no meaning."""


class Row(Rows):
    """One of them, about as wide as a household's."""

    __tablename__ = "row"
    id: Mapped[int] = mapped_column(primary_key=True)
    a: Mapped[str]
    b: Mapped[str]
    c: Mapped[float]
    d: Mapped[float]
    e: Mapped[int]


ROWS = Template("{% for row in rows %}<td>{{ row.a }} {{ '%.2f'|format(row.c) }} {{ row.e }}</td>{% endfor %}")


def worked():
    """Time the work: records read by the library that pages use, and put into a template. [s of CPU]"""
    engine = create_engine("sqlite://", poolclass=StaticPool)
    Rows.metadata.create_all(engine)
    with Session(engine) as session, session.begin():
        session.add_all(Row(a=f"a{i}", b="b" * 20, c=i * 1.1, d=0.5, e=i) for i in range(300))
    started = time.process_time()
    for _ in range(5):
        for part in range(10):
            with Session(engine) as session:
                rows = list(session.scalars(select(Row).where(Row.id % 10 == part).order_by(Row.id)))
                assert len(ROWS.render(rows=rows)) > 500
    spent = time.process_time() - started
    engine.dispose()
    return spent


def slower():
    """How many times as long this machine takes as a common one; never under 1, so that a quick one has no less to keep to."""
    return max(1.0, min(worked() for _ in range(5)) / USUAL_PACE_S)
