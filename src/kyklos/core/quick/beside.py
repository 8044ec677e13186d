"""Words that say how another one is meant: what is denied, asked, still to be done, or a thing rather than a taste."""

from .openings import ASKING, COLOURED, COLOURS
from .words import WEEKDAYS

TO_DO = {"remind", "remember", "todo", "must", "should", "need", "plan"} | ASKING
NEW = {"batch", "started", "brewed", "brewing"}  #: A volume beside these is of a new brew.
WISHED = {"wants", "want", "wanted", "prefers", "prefer", "wishes", "needs"}  #: What is wished for is not there yet.
NOT = {"no", "not", "never", "without", "isn't", "isnt", "wasn't", "wasnt", "hasn't", "doesn't", "don't", "didn't", "didnt", "nor", "nobody", "none"} | WISHED
PERHAPS = {"could", "might", "maybe", "perhaps", "possibly", "unsure"}  #: What is only perhaps seen, the guided look settles.
DENIED_VERBS = {"didn't", "didnt", "don't", "doesn't", "nobody", "none"} | WISHED  #: Before "think it was too sour": what is thought is denied too.
LEFT = {"gave", "given", "gifted", "tossed", "threw", "thrown", "chucked", "binned", "dumped", "composted", "dried", "discarded", "sold", "sent",
        "split", "parted", "peeled", "cut", "halved", "trimmed", "fell", "sank", "sunk"}  # fmt: skip
#: Verbs by which a disc leaves, or is worked on: nothing is seen on the brew.
TAKEN_OUT = {"moved", "put", "took", "taken", "removed", "pulled", "lifted", "skimmed", "scooped", "strained"}  #: Just before a disc: it was taken out.
USED = {"poured", "used", "use", "threw", "tossed", "dumped", "made", "kept", "bottled", "turned", "saved", "clean", "cleaned", "tipped", "added", "add"}
#: Beside these vinegar is a thing, not a taste.
SPLASH = {"splash", "dash", "drop", "drops", "spoon", "spoonful", "glug"}  #: Of vinegar: a thing as well.
GOOD = {"good", "nice", "great", "lovely", "perfect"}  #: Before what is seen they say nothing of the taste.
LOOKS = {"new", "thick", "thin", "healthy", "even", "clean", "white", "young", "big", "little", "small", "smooth", "pale", "fresh"}  #: Of a disc or film.
GROWING = LOOKS | GOOD | COLOURS | COLOURED | {
    "forming", "formed", "growing", "grows", "grew", "there", "here", "seen", "visible", "covers", "covering", "covered", "whole", "full", "all", "over", "surface", "across",
    "top", "thicker", "thickening", "finally", "already", "yet", "looks", "look", "looking", "well", "beautiful", "has", "have", "got", "cream", "creamy", "nicely", "i", "see",
    "very", "really", "quite", "mm", "cm", "some", "first", "another", "my", "our", "for", "day", "strong", "solid", "round", "complete", "completely", "edge", "between", "bit", "fine", "ok", "okay", "sg", "og", "fg", "brix", "ta", "acidity", "temp", "room",
}  #: Beside a disc or film these say no more than that it is there.
TASTING = {
    "tastes", "taste", "tasted", "tasting", "already", "still", "today", "very", "quite", "really", "pretty", "rather", "bit", "little", "getting", "too", "again", "for", "me", "us",
    "my", "finally", "i", "think", "we", "day", "yet", "much", "more", "now", "nice", "lovely", "good", "fine", "ok", "okay", "fizzy", "bubbly", "bubbles", "flat", "both", "all",
    "as", "than", "last", "time", "week", "brew", "tea", "glass", "sip", "after", "days", "some", "this", "morning", "evening", "night", "meter", "strip", "smells", "looks", "almost", "better", "though", "but",
}  #: Beside a taste these say no more than that it was tasted.
AROUND = {"lunch", "dinner", "breakfast", "off", "out", "minus", "less", "for", "me", "us", "my", "together"}  #: Beside a volume these say that it was drunk.
NO_MORE = {"gone", "disappeared", "vanished", "went", "cleared"}  #: Behind what was seen: it is seen no more.
MARKED = {"sweet", "sour", "tart", "bitter", "fizz", "fizzy", "smell", "colour", "color", "score"}  #: A whole number behind these is a mark.
COMPARED = {"sourer", "sweeter", "tarter", "sharper"}  #: No taste of their own: than what, is not said.
IS = {"is", "was", "has", "does", "did"}
NOT_AS_TOLD = NOT - {"no", "without", "nor", "none", "nobody"}  #: Anywhere behind a disc: it is not there, or not so.
BUFFERS = {"buffer", "buffers", "calibration"}  #: Numbers beside these are a meter's, and no brew's.
CLAUSE_ENDS = {",", ";", ".", ":", "-", "–", "and", "but", "(", ")"}
FILLING = {"bottling", "bottles", "flavouring", "flavoring"}  #: A volume beside these goes into bottles, and is none drunk.
NOT_YET = {"tomorrow", "soon", "in", "by", "next", "around", "about", *WEEKDAYS}  #: Behind "ready" they say that it is not yet.
DAYS = {"today", "yesterday", "tonight", *WEEKDAYS}  #: Beside one of these "at 22" is a time.
AFTER_HOUR = {"c", "f", "°", "deg", "degrees", "to", "brix", "o'clock", "oclock", "am", "pm"}  #: These say what a number is.
VESSELS = {"jar", "jars", "crock", "vessel", "carboy", "demijohn", "pot", "bucket", "bottle", "bottles"}
DRY = {"sugar", "honey", "salt", "raisins", "ginger", "fruit", "berries", "leaves", "flour"}  #: A cup of it is no liquid.
STOOD = {"sat", "stood", "stayed", "held", "kept", "was"}
SOFTENED = {"sign", "signs", "of", "any", "yet", "so", "really", "too", "very", "quite", "a", "the", "that", "bit", "at", "all",
            "more", "even", "longer", "as", "much", "like"}  # fmt: skip
SAYING = {":", "says", "finds", "thinks", "said", "found", "thought", "reckons", "it", "it's", "its", "is", "still", "say",
          "think", "find", "as", "likes"}  # fmt: skip
SMELLING = {"smells", "smell", "smelled", "smelt", "smelling", "reeks", "reek"}
SMELL_LIKE = {"like", "of", "a", "bit", "slightly", "quite", "really", "very", "strongly", "strong", "little", "is", "the",
              "faintly", "more", "still", "so", "now", "kinda", "kind", "sort", "somewhat", "rather", "pretty"}  # fmt: skip
TITRATED = {"titrated", "titration", "titrating", "burette", "naoh", "lye"}  #: Beside these a volume is what the burette gave.
