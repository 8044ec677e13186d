"""The day on which the sample household stands."""

from __future__ import annotations

from datetime import UTC, datetime

DEMO_NOW = datetime(2027, 2, 18, 8, 30, tzinfo=UTC)  #: A Thursday.
