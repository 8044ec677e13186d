"""The core asked by name: one JSON object in, one out. `answer` is what `kyklos calc` and every *why?* call."""

from .answers import CALCULATIONS, answer, listing
from .keys import CalcError

__all__ = ["CALCULATIONS", "CalcError", "answer", "listing"]
