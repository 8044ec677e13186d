"""One quick line while it is read: its words, which of them are taken, and what was understood so far."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence

from ..liquid.taste import score_word
from .beside import AROUND, CLAUSE_ENDS, GROWING, IS, NOT, NOT_AS_TOLD, SMELLING, TASTING
from .deeds import find_deed
from .openings import Opening, opening_of
from .said import ON_BOTTLES, Context, DeedKind, Named, NamedShelf, Quick, QuickDoubt
from .time import PARTS_OF_DAY, When
from .words import FILLERS, LEAST_FORGIVEN, Token, near_name, tokens

LONGEST = 300  #: A line is cut here. [characters]


class Reader:
    """Reads one line from left to right; each rule takes what it understands."""

    def __init__(self, line: str, context: Context) -> None:
        self.line, self.context, self.out = line[:LONGEST], context, Quick()
        self.tokens: list[Token] = tokens(self.line)
        self.words = [token.word for token in self.tokens]
        self.taken = [False] * len(self.tokens)
        self.when = When()
        self.waiting: tuple[Named, ...] = ()  #: Tasters named, whose taste is still to come.
        self.given_to = 0  #: The word behind a taster to whom a taste before it was given.
        self.depth_at: range = range(0)  #: Words that tell where a sample came from.
        self.tool_at: set[int] = set()  #: Words that tell what measured.
        self.kept: set[int] = set()  #: Words that stay a note, whatever else they might mean.
        self.thing: range = range(0)  #: The one word that names what was seen: "disc".
        self.poured: range = range(0)  #: A volume beside which nothing says what became of it.
        self.tasted: range = range(0)  #: A taste before which no taster is named.

    def word(self, at: int) -> str:
        """Return a word, or nothing past the end."""
        return self.words[at] if 0 <= at < len(self.words) else ""

    def number(self, at: int) -> float | None:
        """Read a number that stands alone; a sign is part of it."""
        return float(self.word(at)) if re.fullmatch(r"[+-]?\d{1,5}(\.\d+)?", self.word(at)) else None

    def said(self, at: int, count: int) -> str:
        """Return a piece of the line as typed."""
        return self.line[self.tokens[at].start : self.tokens[at + count - 1].end]

    def ask(self, at: int, count: int, question: str) -> None:
        """Note a doubt."""
        self.out.doubts.append(QuickDoubt(self.said(at, count), question))

    def keep(self, at: int, count: int) -> int:
        """Leave some words as a note, whatever else they might mean; gives none taken."""
        self.kept |= set(range(at, at + count))
        return 0

    def once(self, name: str, value: float | str, at: int, count: int) -> int:
        """Set a field that may be said once; a second one is kept as a note, and asked about."""
        if getattr(self.out, name) not in (None, ""):
            self.ask(at, count, "Said twice. The first one counts; this one is kept as a note.")
            return 0
        setattr(self.out, name, value)
        return count

    def run(self, rules: Sequence[Rule], beside: Sequence[Rule], on_bottles: Sequence[Rule]) -> Quick:
        """Read all of it.

        Args:
            rules: For a line about a brew.
            beside: For a line that tells a deed on a brew or vessel.
            on_bottles: For a line about bottles.
        """
        found = find_deed(self.words, self.context)
        if found is not None:
            self.out.deed = found.deed
            for place in found.taken:
                self.taken[place] = True
            rules = on_bottles if found.deed.kind in ON_BOTTLES else beside
        at = 0
        while at < len(self.words):
            if self.taken[at]:
                at += 1
                continue
            count = next((n for rule in rules if at not in self.kept and (n := rule(self, at))), 0)
            for place in range(at, min(at + count, len(self.taken))):
                self.taken[place] = True
            at += count or 1
        self.finish()
        return self.out

    def unclear(self, span: range, clear: set[str]) -> bool:
        """Return whether what is said of a thing is not understood: "the disc didn't grow" is no disc as it should be.

        Args:
            span: The words that name the thing; empty where there is none.
            clear: Words beside it that say no more than that it is there.
        """
        first = last = next(iter(span), -1)
        if first < 0:
            return False

        def ends(at: int) -> bool:
            return self.words[at] in CLAUSE_ENDS or (self.taken[at] and self.number(at) is not None)

        while first and not ends(first - 1):
            first -= 1
        while last + 1 < len(self.words) and not ends(last + 1):
            last += 1
        after = span.stop + (self.word(span.stop) in IS)
        return self.word(after) in NOT or bool((SMELLING | NOT_AS_TOLD) & set(self.words[after : last + 1])) or any(
            not self.taken[at] and at not in self.kept and word.isalpha() and word not in FILLERS | clear for at, word in enumerate(self.words) if first <= at <= last
        )

    def drop(self, span: range, question: str) -> None:
        """Make a note of what was read, and ask."""
        self.out.doubts = [doubt for doubt in self.out.doubts if doubt.text != self.said(span.start, len(span))]
        self.ask(span.start, len(span), question)
        for place in span:
            self.taken[place] = False

    def finish(self) -> None:
        """Settle the time, what measured, and the note."""
        out = self.out
        if self.unclear(self.thing, GROWING):
            out.surface = ""
            self.drop(self.thing, "Kept as a note: it is not clear how it looks.")
        if any(who is None for who, _ in out.tastes) and not self.waiting and self.unclear(self.tasted, TASTING):
            out.tastes = [one for one in out.tastes if one[0] is not None]
            self.drop(self.tasted, "A taste? Kept as a note: write who tasted before it.")
        if self.unclear(self.poured, AROUND):
            out.amounts = [one for one in out.amounts if one.put or one.what != "drunk"]
            self.drop(self.poured, "Taken out of it? Kept as a note: write “took” or “added” before it.")
        out.at = self.when.settle(self.context.now)
        if self.when.doubt:
            out.doubts.append(QuickDoubt("the time", self.when.doubt))
        if out.at is not None and out.at > self.context.now:
            out.doubts.append(QuickDoubt("the time", "That lies in the future; kept as now."))
            out.at = None
        again = next((d for d in out.doubts if d.question.startswith("Said twice")), None)
        of_brew = {self.word(at + 1) for at, word in enumerate(self.words) if word == "day" and self.number(at + 1) is not None}  # "day 2", "day 5"
        parts = {PARTS_OF_DAY[word] for word in self.words if word in PARTS_OF_DAY}  # "morning", "evening"
        if max(len(self.when.days), len(of_brew), len(parts)) > 1 and (again is not None or out.amounts):
            doubt = QuickDoubt(again.text if again is not None else "the time", "Two times at once: kept as a note. Write a line for each.")
            # What was seen counts, whichever day it was.
            self.out = out = Quick(vessels=out.vessels, surface=out.surface, signs=out.signs, smell=out.smell, leads=out.leads, doubts=[doubt])
            self.taken, self.kept = [False] * len(self.tokens), set(range(len(self.tokens)))
        self.tasters()
        self.deed_asks()
        if out.depth and not (out.measured or out.tastes):
            out.depth = ""  # "leaking at the tap" is no sample
            out.doubts = [doubt for doubt in out.doubts if not doubt.question.startswith("Taken as a sample")]
            for place in self.depth_at:
                self.taken[place] = False
        for place in self.tool_at if not out.measured else ():
            self.taken[place] = False  # "covered with paper towel"
        out.read = [(t.start, t.end) for t, taken in zip(self.tokens, self.taken, strict=True) if taken]
        out.note = (out.note + self.rest()).strip()
        if out.deed is None and out.leads is None:
            out.leads = opening_of(self.words, self.context.now, (out.measured and bool(out.vessels)) or bool(out.tastes or out.amounts or out.surface or out.signs or out.smell))
        if out.leads is not None and out.leads.to is Opening.AWAY:
            out.ph = out.celsius = out.low_c = out.high_c = None
            out.at, out.vessels, out.doubts = None, (), [d for d in out.doubts if d.text != "the time"]

    def another_kind(self, meant: Named | NamedShelf) -> int | None:
        """Return where other bottles are named than those of a deed; None: nowhere."""
        for at, word in enumerate(self.words):
            named = [] if self.taken[at] or word in FILLERS or len(word) < LEAST_FORGIVEN - 1 else near_name([word], self.context.shelves)
            if len(named) == 1 and named[0].key != meant.key:
                return at
        return None

    def deed_asks(self) -> None:
        """Ask what a deed leaves open."""
        deed = self.out.deed
        if deed is None or deed.kind not in ON_BOTTLES:
            return
        if deed.kind is DeedKind.OPENED and deed.hiss is None:
            self.out.doubts.append(QuickDoubt("the bottle", "How did it open?"))
        if len(deed.things) == 1 and (other := self.another_kind(deed.things[0])) is not None:
            self.ask(other, 1, f"Two kinds at once: this is kept for {deed.things[0].name} alone. Write a line for each.")
        if len(deed.things) > 1 and not deed.whole:
            self.out.doubts.append(QuickDoubt("the bottles", "Which bottles?"))

    def tasters(self) -> None:
        """Give each taste its taster: named before it, named last, or the only one there is."""
        out, known = self.out, self.context.tasters
        if self.waiting:
            if out.tastes and out.tastes[-1][0] is None:
                score = out.tastes.pop()[1]
                out.tastes += [(who, score) for who in self.waiting]
            else:
                out.note = " ".join(who.name for who in self.waiting) + " "
        nameless = [score for taster, score in out.tastes if taster is None]
        named: list[tuple[Named | None, int]] = [pair for pair in out.tastes if pair[0] is not None]
        spare = nameless if named else nameless[1:]
        if spare:
            out.doubts.append(QuickDoubt("two tastes", "One taster says one thing: the first counts, the other is a note."))
            out.note += "".join(f"{score_word(score)} " for score in spare)
        first = [(known[0] if len(known) == 1 else None, nameless[0])] if nameless and not named else []
        out.tastes = list({(t.key if t else 0): (t, score) for t, score in reversed(first + named)}.values())[::-1]
        if first and first[0][0] is None:
            out.doubts.append(QuickDoubt("the taste", "Who tasted?"))

    def rest(self) -> str:
        """Return what was not understood, word for word; fillers only between two such words."""
        left = [i for i, taken in enumerate(self.taken) if not taken]
        signs = {i for i in left if re.fullmatch(r"[.,;:!?/°~()–-]", self.words[i])}
        real = [i for i in left if i not in signs and (i in self.kept or self.words[i] not in FILLERS)]
        if not real:
            return ""
        kept = set(real) | {
            i for i in left if any(i - 1 == r or i + 1 == r for r in real) and real[0] < i <= real[-1] + 1
        }
        pieces, last = [], None
        for i in sorted(kept):
            token = self.tokens[i]
            glue = "" if last is None or (last == i - 1 and self.tokens[last].end == token.start) else " "
            pieces.append(glue + token.text)
            last = i
        return "".join(pieces).strip(" ,;:")


Rule = Callable[[Reader, int], int]
