"""Looks and smells in a quick line: what was seen or smelled, and words that only sound like it."""

from __future__ import annotations

from ..judging import OBSERVATIONS
from ..judging.observations import CARRY_ON, ORDER
from . import beside
from .openings import Leads, Opening, has_a_colour
from .reader import Reader
from .said import QuickDoubt
from .tastes import add_taste, is_for_a_taster
from .words import Meaning, phrase_at

JUST_THERE = {"disc", "skin"}  #: Of two looks the other says more.
STILL = "Taken as still a bit sweet."  #: Asked of what is almost right.
VERB_NEAR = 3  #: "took the disc out": so many words back a verb still counts.


def _graver(key: str, before: str) -> bool:
    return not before or (before in JUST_THERE and key not in JUST_THERE) or ORDER.index(OBSERVATIONS[key].verdict) > ORDER.index(OBSERVATIONS[before].verdict)


def _seen(r: Reader, meaning: Meaning) -> None:
    """Keep what was seen or smelled; of two surfaces or smells the graver one counts."""
    out, key = r.out, meaning.key
    if meaning.group == "sign":
        out.signs += [key] if key not in out.signs else []
    elif _graver(key, before := getattr(out, meaning.group)):
        setattr(out, meaning.group, key)
        if before and _graver(key, before) and OBSERVATIONS[before].verdict != CARRY_ON:
            out.doubts.append(QuickDoubt(OBSERVATIONS[before].name, "Two things at once: the graver one counts."))


def _shows(r: Reader, at: int) -> bool:
    """Return whether something that is seen is named at a word: whatever smell is named before it, it counts."""
    found = phrase_at(r.words, at)
    return found is not None and found[1].group in {"surface", "sign"}


def _tool(r: Reader, key: str) -> None:
    if key in {"hydrometer", "refractometer"}:
        r.out.gravity_by = key
    elif not r.out.instrument or key == "uncalibrated":
        r.out.instrument = key


def smell(r: Reader, at: int) -> int:
    """Read a smell: what follows is no taste, and a smell that is not known stays a note."""
    if r.word(at + 1) == "smell" and (found := phrase_at(["smells", "of", r.word(at)], 0)) is not None and found[0] == 3 and found[1].group == "smell":
        _seen(r, found[1])
        return 2
    if r.word(at) in beside.SMELLING and r.word(at - 1) in beside.NOT:
        end = at + 1
        of = r.word(end) == "of"  # only what is smelled of is denied: "no smell of mould", not "no smell, white mould"
        denied = phrase_at(r.words, end + 1) if of else None
        return r.keep(at, 1 + of + (denied[0] if denied is not None else 0))
    if r.word(at) not in beside.SMELLING or phrase_at(r.words, at) is not None:
        return 0
    end = at + 1
    while r.word(end) in beside.SMELL_LIKE or r.words[end : end + 2] == ["and", "more"]:
        end += 1
    for before in (["smells", "of"], ["smells"]):
        found = phrase_at([*before, *r.words[end : end + 4]], 0)
        if found is not None and found[0] > len(before) and found[1].group == "smell":
            _seen(r, found[1])
            return end + found[0] - len(before) - at
    while r.word(end) and r.word(end) not in beside.CLAUSE_ENDS and r.number(end) is None and not _shows(r, end):
        end += 1  # "like fresh cider": nothing of it is a taste
    return r.keep(at, end - at)


def _is_a_thing(r: Reader, meaning: Meaning, at: int, count: int) -> bool:
    """Return whether words that may say a taste or a look name a thing here: the old disc that left, vinegar poured out, good bubbles."""
    words = set(r.words)
    if meaning.group == "surface" and meaning.key == "disc":
        taken = r.word(at + count) in {"moved", "went", "put"} or bool(beside.TAKEN_OUT & set(r.words[max(0, at - VERB_NEAR) : at]))
        return taken or bool(words & beside.LEFT) or (r.word(0) in {"got", "received"} and "from" in words)
    if meaning.key in {"strings", "froth"} and beside.TAKEN_OUT & set(r.words[max(0, at - VERB_NEAR) : at]):
        return True  # "took the sediment out"
    if meaning.group == "taste" and r.word(at + count - 1) == "ready" and r.word(at + count) in beside.NOT_YET:
        return True  # "ready tomorrow"
    if meaning.group == "taste" and r.word(at) == "vinegar":
        return bool(words & (beside.USED | beside.SPLASH))
    if meaning.group == "taste" and count == 1 and r.word(at) in beside.GOOD | {"nicely"} and not is_for_a_taster(r, at):
        if r.word(at) == "nicely" or r.word(at - 1).startswith(("bubbl", "fizz", "ferment")):
            return True
        if beside.SMELLING & set(r.words[:at]) and not words & {"taste", "tastes", "tasted"}:
            return True  # a lovely smell
        if r.word(at + 1) == "and" and r.word(at + 2) in beside.LOOKS:
            return True  # "nice and even"
        thing = at + 2 if r.word(at + 1) in beside.LOOKS else at + 1
        after = phrase_at(r.words, thing)
        return r.word(thing).startswith(("bubbl", "fizz", "film", "disc", "scoby", "colo", "look", "aroma")) or (after is not None and after[1].group in {"sign", "surface"})
    return False


def _is_dry(r: Reader) -> bool:
    """Return whether something of a disc is said to be dry, and not denied."""
    return any(word == "dry" and r.word(at - 1) not in beside.NOT for at, word in enumerate(r.words))


def phrase(r: Reader, at: int) -> int:
    """Read a phrase of the vocabulary: a look, a sign, a smell, a taste, an instrument or where a sample came from."""
    found = phrase_at(r.words, at)
    if found is None:
        return 0
    count, meaning, mended = found
    if meaning.group == "depth" and r.word(at - 1) == "on" and (r.out.surface or r.out.signs):
        return r.keep(at, count)  # "a bit of skin on top"
    if meaning.group == "surface" and meaning.key == "disc" and not r.out.surface and (has_a_colour(r.words, beside.NOT) or _is_dry(r)):
        r.out.leads = Leads(Opening.LOOK)
        return r.keep(at, count)
    gone = at + count + (r.word(at + count) in beside.IS)
    if meaning.group in {"surface", "sign", "smell"} and (r.word(gone) in beside.NO_MORE or r.words[gone : gone + 2] == ["not", "there"]):
        if OBSERVATIONS[meaning.key].verdict != CARRY_ON:
            r.out.leads = Leads(Opening.LOOK)  # what looked grave does not leave by itself
        return r.keep(at, gone + 1 - at)  # "kahm gone"
    if meaning.group == "note" or _is_a_thing(r, meaning, at, count):
        return r.keep(at, count)
    if mended and meaning.key in OBSERVATIONS and OBSERVATIONS[meaning.key].verdict != CARRY_ON:
        r.ask(at, count, f"“{OBSERVATIONS[meaning.key].name}”? Kept as a note: what only resembles it is not taken for it.")
        if meaning.group == "surface":
            r.out.leads = Leads(Opening.LOOK)
        return r.keep(at, count)
    if meaning.group == "surface" and beside.PERHAPS & set(r.words) and OBSERVATIONS[meaning.key].verdict != CARRY_ON:
        r.out.leads = Leads(Opening.LOOK)  # "could be kahm": the drawings tell
    if meaning.group == "taste" and beside.COMPARED & set(r.words[at : at + count]):
        return r.keep(at, count)  # "could be sourer"
    if r.word(at - 1) == "for" and r.word(at - 2) in {"checked", "looked", "checking", "looking", "searched"}:
        return r.keep(at, count)  # "checked for mould, none"
    if meaning.group == "taste" and meaning.doubt == STILL and any((one := phrase_at(r.words, later)) and one[1].group == "taste" for later in range(at + count, len(r.words))):
        return r.keep(at, count)  # "almost right but a bit sour"
    if meaning.group == "taste":
        r.tasted = range(0) if r.waiting else range(at, at + count)
        add_taste(r, int(meaning.key))
    elif meaning.group == "instrument":
        _tool(r, meaning.key)
        r.tool_at |= set(range(at, at + count))
    elif meaning.group == "depth":
        if not r.once("depth", meaning.key, at, count):
            return 0
        r.depth_at = range(at, at + count)
    else:
        _seen(r, meaning)
        if meaning.group == "surface":
            r.thing = range(at, at + 1) if count == 1 and r.out.surface in JUST_THERE else range(0)
    if meaning.doubt:
        r.ask(at, count, meaning.doubt)
    elif mended and meaning.group in {"surface", "smell"}:
        r.ask(at, count, f"Read as “{OBSERVATIONS[meaning.key].name.lower()}”.")
    elif r.word(at + count) == "?" and meaning.group in {"surface", "sign", "smell"}:
        r.ask(at, count, "Not sure? The guided look helps: compare the drawings.")
    return count
