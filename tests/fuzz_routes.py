"""Strange requests to every address, by the ten thousand: whatever is sent, the answer is a page or a sentence, never a fault.

Run by hand: `python tests/fuzz_routes.py [how many] [seed]`; `make bench` does.
"""

import faulthandler
import html
import io
import logging
import random
import re
import shutil
import sys
import tempfile
from pathlib import Path

from kyklos.demo.day import DEMO_NOW
from kyklos.demo.sample import unpacked
from kyklos.serving.app import create_app
from kyklos.store.file.database import Database

FRESH_EVERY = 400  #: So many requests later the household is the sample again.
NUMBERS = ["0", "1", "7", "-1", "9" * 9, "9" * 20, "9" * 5000, "²", "٣", "1e9", "nan", "inf", "-inf", "1e999", "0x10", " 7 ", "3,4", "½", ""]
WORDS = ["", " ", "\x00", "\ud7ff", "é", "<script>alert(1)</script>", "{{ 7*7 }}", "%s%n", "../../etc/passwd", "a\r\nSet-Cookie: b=c", "'; DROP TABLE brew; --", "x" * 3000, "0001-01-01T00:00", "9999-12-31T23:59", "2027-02-30T10:00", "plain", "meter", "brew-7", "hotel-²", "lot-" + "9" * 30]  # fmt: skip
START = ["/", "/brews/7", "/brews/8", "/brews/7/harvest", "/brews/7/inspect", "/brews/7/happened", "/cellar/", "/cellar/park", "/cultures/", "/cultures/1", "/vessels/", "/vessels/new", "/vessels/1", "/settings/", "/settings/import", "/instruments/", "/brew-day/", "/brew-day/tools", "/brew-day/recipes", "/brew-day/clock", "/flavours/", "/flavours/new", "/almanac/", "/almanac/away", "/tasters/", "/tasters/blind", "/day-book/", "/bin/", "/brews/going", "/begin/"]  # fmt: skip
FORM = re.compile(r"<form[^>]*>.*?</form>", re.S)


class Faults(logging.Handler):
    """Collects what the application wrote down as a fault."""

    def __init__(self):
        super().__init__(logging.ERROR)
        self.found = []

    def emit(self, record):
        """Keep it."""
        self.found.append(self.format(record))


class House:
    """The sample household, made fresh now and then."""

    def __init__(self, folder, sample):
        self.folder, self.sample, self.database, self.count = Path(folder), sample, None, 0
        self.faults = Faults()
        self.fresh()

    def fresh(self):
        """Begin again."""
        if self.database is not None:
            self.database.close()
        self.count += 1
        path = self.folder / f"{self.count % 2}.db"
        for end in ("", "-wal", "-shm"):
            path.with_name(path.name + end).unlink(missing_ok=True)
        shutil.copy(self.sample, path)
        self.database = Database(path)
        self.app = create_app(self.database, lambda: DEMO_NOW, "x", WTF_CSRF_ENABLED=False, PROPAGATE_EXCEPTIONS=False)
        self.app.logger.handlers = [self.faults]
        self.app.logger.propagate = False
        self.client = self.app.test_client()


def forms_of(client):
    """Forms of the pages: where they are sent, and their fields with a value each."""
    found = {}
    for path in START:
        for form in FORM.findall(client.get(path, follow_redirects=True).get_data(as_text=True)):
            head = form.split(">", 1)[0]
            actions = re.findall(r'(?:form)?action="([^"]+)"|hx-(?:post|get)="([^"]+)"', form)
            names = dict(re.findall(r'name="([^"]+)"(?:[^>]*value="([^"]*)")?', form[len(head) :]))
            names |= {name: value for value, name in re.findall(r'value="([^"]*)"[^>]*name="([^"]+)"', form)}
            for action in actions or [(path, "")]:
                address = html.unescape(next(filter(None, action), path)).split("?")[0]
                found.setdefault(address, {}).update({html.unescape(k): html.unescape(v or "1") for k, v in names.items() if k not in {"csrf_token", "once"}})
    return sorted(found.items())


def strange(chance, usual):
    """A value for a field: often as usual, else a strange number or word."""
    kind = chance.random()
    return usual if kind < 0.45 else chance.choice(NUMBERS) if kind < 0.75 else chance.choice(WORDS)


def address(rule, chance):
    """An address of a route, with a strange number or word in each gap."""
    gap = lambda found: chance.choice(["1", "7", "2", "20", *NUMBERS]) if ":" in found[0] else chance.choice(["1", "start", *WORDS])  # noqa: E731
    return re.sub(r"<[^>]+>", gap, rule.rule).replace("\ud7ff", "")


def one(house, rules, forms, chance):
    """Send one request; gives what it was and the status of its answer."""
    if chance.random() < 0.6:
        path, fields = chance.choice(forms)
    else:
        path, fields = address(chance.choice(rules), chance), {}
    sent = {name: strange(chance, usual) for name, usual in fields.items() if chance.random() < 0.9}
    for name in chance.sample(["share", "every", "celsius", "litres", "vessel", "brew", "at", "back", "node", "weeks", "count"], chance.randint(0, 2)):
        sent[name] = chance.choice(NUMBERS + WORDS)
    if chance.random() < 0.1 and sent:
        name = chance.choice(list(sent))
        sent[name] = [chance.choice(NUMBERS) for _ in range(chance.choice([2, 50]))]
    headers = chance.choice([{}, {}, {"HX-Request": "true"}, {"X-Waited": chance.choice(NUMBERS).encode("ascii", "replace").decode()}])
    path = path.split("\x00")[0].replace("\r", "%0D").replace("\n", "%0A") or "/"
    allowed = house.app.url_map.bind("127.0.0.1").allowed_methods(path)
    if "GET" in allowed and ("POST" not in allowed or chance.random() < 0.4):
        return ("GET", path, sent), house.client.get(path, query_string=sent, headers=headers).status_code
    if chance.random() < 0.05:
        sent["file"] = sent["photo"] = (io.BytesIO(chance.randbytes(chance.choice([0, 3, 400]))), "a.jpg")
    return ("POST", path, sent), house.client.post(path, data=sent, headers=headers).status_code


def run(many, chance, sample, say=lambda _: None):
    """Send so many to a copy of a sample household; gives the faults."""
    with tempfile.TemporaryDirectory() as folder:
        house, wrong = House(folder, sample), []
        rules = [rule for rule in house.app.url_map.iter_rules() if rule.endpoint != "static"]
        forms = forms_of(house.client)
        house.fresh()
        for number in range(many):
            if number and number % FRESH_EVERY == 0:
                house.fresh()
                say(number)
            request, status = one(house, rules, forms, chance)
            if status >= 500 or house.faults.found:
                wrong.append((request, status, house.faults.found[-1][-800:] if house.faults.found else ""))
                house.faults.found.clear()
        house.database.close()
        return wrong


if __name__ == "__main__":
    faulthandler.enable()
    MANY, SEED = (int(told) for told in (*sys.argv[1:3], *("30000", "20270301")[len(sys.argv) - 1 :]))
    FOUND = run(MANY, random.Random(SEED), unpacked(), lambda number: print(number, flush=True) if number % 4000 == 0 else None)
    for request_, status_, fault_ in FOUND[:20]:
        print(status_, str(request_)[:400], fault_[-600:], sep="\n", end="\n\n")
    print(f"{MANY} requests with seed {SEED}: {len(FOUND)} faults")
    sys.exit(1 if FOUND else 0)
