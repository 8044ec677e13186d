/* Kyklos: keys, dialogs, messages. All else is the server's, through htmx. */
(() => {
  "use strict";
  const typing = (target) => target.closest("input, textarea, select, [contenteditable]");
  const stops = () => [...document.querySelectorAll("[data-stop]")];
  let stop = -1;

  const step = (by) => {
    const all = stops();
    if (!all.length) return;
    stop = (stop + by + all.length) % all.length;
    all[stop].focus();
    all[stop].scrollIntoView({ block: "center" });
  };

  const openAt = (name) => {
    const here = document.activeElement?.closest("[data-stop]") || stops()[Math.max(stop, 0)];
    const details = here?.querySelector(`details[data-log="${name}"]`);
    if (!details) return;
    const rest = details.closest("details.rest");
    if (rest) rest.open = true;
    unfolded = details;
    details.open = true;
    details.querySelector("[data-first], input:not([type=hidden]), button")?.focus();
  };

  /* Single keys can be switched off; none leaves the page: places take two, g and their letter. */
  const GO_WITHIN = 1500; // milliseconds
  const KEYS = "keys";
  const keysOn = () => localStorage.getItem(KEYS) !== "off";
  let goes = -GO_WITHIN;
  const box = document.getElementById("keys-on");
  if (box) {
    box.checked = keysOn();
    box.addEventListener("change", () => localStorage.setItem(KEYS, box.checked ? "on" : "off"));
  }

  /* What changed is said in few words to who does not see it: the text of what is marked so, where it is another than before. */
  let spoken = "";
  const say = (text) => {
    const says = document.getElementById("says");
    if (!says || !text || text === spoken) return;
    spoken = text;
    says.textContent = "";
    setTimeout(() => { says.textContent = text; }, 50);
  };
  const marked = () => [...document.querySelectorAll("[data-says]")].map((one) => one.textContent.replace(/\s+/g, " ").trim()).join(" ");
  spoken = marked();
  document.addEventListener("htmx:afterSettle", () => say(marked()));
  document.addEventListener("kyklos:says", (event) => say(event.detail));

  document.addEventListener("keydown", (event) => {
    const rest = event.key === "Escape" && event.target.closest?.("details.rest[open]");
    if (rest) { rest.open = false; rest.querySelector("summary").focus(); return; }
    if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
    if (event.key === "?") return document.getElementById("keys").showModal();
    if (!keysOn() || document.querySelector("dialog[open]")) return;
    const going = event.timeStamp - goes < GO_WITHIN;
    goes = event.key === "g" ? event.timeStamp : -GO_WITHIN;
    if (going) {
      const place = document.querySelector(`[data-go="${CSS.escape(event.key)}"]`);
      if (place) { event.preventDefault(); place.click(); }
      return;
    }
    if (event.key === "j") return step(1);
    if (event.key === "k") return step(-1);
    if (event.key === "t" || event.key === "p") { event.preventDefault(); return openAt(event.key); }
    const target = document.querySelector(`[data-key="${CSS.escape(event.key)}"]`);
    if (target) { event.preventDefault(); target.matches("input") ? target.focus() : target.click(); }
  });

  document.addEventListener("click", (event) => {
    for (const rest of document.querySelectorAll("details.rest[open]")) if (!rest.contains(event.target)) rest.open = false;
    const opener = event.target.closest("[data-opens]");
    if (opener) document.getElementById(opener.dataset.opens).showModal();
    const closer = event.target.closest("[data-closes]");
    if (closer) closer.closest(".toast-line").remove();
    const print = event.target.closest("[data-print]");
    if (print) window.print();
    const fill = event.target.closest("[data-fill]");
    if (fill) {
      const field = document.getElementById(fill.dataset.fill);
      field.value = fill.dataset.text;
      field.focus();
    }
    const share = event.target.closest("[data-share]");
    if (share && navigator.share) {
      event.preventDefault();
      fetch(share.href).then((answer) => answer.text()).then((text) => navigator.share({ text })).catch(() => {});
    }
  });

  /* Where the hand was within something that is replaced: by its id, else by its form, name and value. */
  const spot = (within) => {
    const here = document.activeElement;
    if (!here || here === document.body || !within?.contains?.(here)) return null;
    if (here.id) return `#${CSS.escape(here.id)}`;
    const log = here.closest("[data-log]");
    const taster = here.form?.querySelector("[name=taster]");
    if (here.tagName === "SUMMARY") return log ? `[data-log="${log.dataset.log}"] > summary` : "details.rest > summary";
    if (taster && here.value) return `form:has([name=taster][value="${taster.value}"]) [value="${CSS.escape(here.value)}"]:not([type=hidden])`;
    return here.name ? `[name="${CSS.escape(here.name)}"][value="${CSS.escape(here.value)}"]` : null;
  };
  let hand = null;
  document.addEventListener("htmx:beforeSwap", (event) => {
    const target = event.detail.target;
    hand = target?.id && target.contains(document.activeElement) ? { id: target.id, at: spot(target), top: document.activeElement.getBoundingClientRect().top } : null;
  });
  /* What the hand was on stays where it is on the screen, also where the page is too short for it: a second tap at the same
     place meets the same thing. */
  document.addEventListener("htmx:afterSwap", () => {
    const came = hand?.at && document.getElementById(hand.id);
    const there = came?.querySelector(hand.at);
    if (hand) document.body.style.minHeight = "";
    if (!there?.checkVisibility?.()) return;
    const off = () => there.getBoundingClientRect().top - hand.top;
    document.body.style.minHeight = `${Math.ceil(window.scrollY + off() + window.innerHeight)}px`;
    window.scrollBy({ top: off(), behavior: "instant" });
    if (off() < -1) came.style.marginTop = `${-off()}px`;
  });
  document.addEventListener("htmx:afterSettle", () => {
    if (!hand) return;
    const came = document.getElementById(hand.id);
    const lost = document.activeElement === document.body || document.activeElement === came;
    const there = hand.at && came?.querySelector(hand.at);
    if (came && lost && !came.querySelector(".is-wrong")) {
      if (there && there.checkVisibility?.() !== false) there.focus({ preventScroll: true });
      else { if (!came.hasAttribute("tabindex")) came.tabIndex = -1; came.focus({ preventScroll: true }); }
    }
    hand = null;
  });

  /* While a finger is down on something, and until its click has come, nothing replaces it: the tap would be lost. An answer
     that a newer request for the same place will outdate, or has outdated, is not shown: what is written stands in the newer one. */
  const CLICK_WITHIN = 350; // milliseconds after a finger is lifted: a touch screen sends the click on its own
  let down = null;
  const held = [];
  let sent = 0;
  const asked = new WeakMap(); // request: its number
  const newest = new Map(); // place: number of the newest request for it
  const placeOf = (target) => target?.id || target;
  document.addEventListener("htmx:beforeSend", (event) => {
    asked.set(event.detail.xhr, ++sent);
    newest.set(placeOf(event.detail.target), sent);
  });
  document.addEventListener("htmx:sendError", (event) => newest.delete(placeOf(event.detail.target)));
  const outdated = (xhr, target) => (newest.get(placeOf(target)) ?? 0) > (asked.get(xhr) ?? 0);
  let lifted = null;
  const free = () => {
    clearTimeout(lifted);
    down = null;
    while (held.length) held.shift()();
  };
  document.addEventListener("pointerdown", (event) => { clearTimeout(lifted); down = event.target; }, true);
  document.addEventListener("pointerup", () => { lifted = setTimeout(free, CLICK_WITHIN); }, true);
  document.addEventListener("click", () => setTimeout(free), true);
  document.addEventListener("pointercancel", free, true);
  document.addEventListener("htmx:beforeSwap", (event) => {
    const { target, xhr, shouldSwap } = event.detail;
    if (!shouldSwap) return;
    if (outdated(xhr, target)) { event.detail.shouldSwap = false; return; }
    if (!down || !target?.contains(down)) return;
    event.detail.shouldSwap = false;
    const style = event.detail.swapOverride || target.getAttribute("hx-swap") || "outerHTML";
    held.push(() => {
      const there = target.isConnected ? target : document.getElementById(target.id);
      if (there && !outdated(xhr, there)) htmx.swap(there, xhr.response, { swapStyle: style }, { eventInfo: { ...event.detail, target: there } });
    });
  });

  document.addEventListener("htmx:afterSwap", (event) => {
    if (!event.detail.target) return;
    if (event.detail.target.id === "why-body") document.getElementById("why-dialog").showModal();
    const wrong = event.detail.target.querySelector?.(".is-wrong");
    if (wrong) wrong.focus();
  });

  let unfolded = null; // what a hand opened; what comes open with an answer takes no focus and moves nothing
  document.addEventListener("click", (event) => { unfolded = event.target.closest?.("details[data-log] > summary")?.parentElement ?? unfolded; }, true);
  document.addEventListener("toggle", (event) => {
    if (event.target !== unfolded || !unfolded.open) return;
    if (document.activeElement === unfolded.querySelector("summary")) unfolded.querySelector("[data-first]")?.focus({ preventScroll: true });
    unfolded.querySelector(".log-body")?.scrollIntoView({ block: "nearest" });
  }, true);

  document.addEventListener("htmx:beforeRequest", (event) => {
    const asks = event.target;
    if (asks.matches?.("[data-when-idle]") && asks.querySelector("details[open], :focus")) event.preventDefault();
    if (asks.matches?.("[data-when-seen]") && (asks.offsetParent === null || document.hidden)) event.preventDefault();
  });

  document.addEventListener("click", (event) => {
    const taken = event.target.closest?.("[data-take]");
    if (!taken) return;
    const put = (name, value) => {
      const field = taken.form?.elements.namedItem(name);
      if (!field || !value) return;
      const known = field.options && [value, value.split(":")[0]].find((one) => [...field.options].some((option) => option.value === one));
      if (!field.options || known) field.value = known || value;
    };
    put("ph", taken.dataset.ph);
    put("measured_ph", taken.dataset.ph);
    put("celsius", taken.dataset.celsius);
    put("instrument", taken.dataset.instrument);
    put("millivolts", taken.dataset.millivolts);
    (taken.form?.elements.namedItem("ph") ?? taken.form?.elements.namedItem("measured_ph"))?.focus();
  });

  let lastWeighed = null; // the field for a weight that was touched last
  document.addEventListener("focusin", (event) => {
    if (event.target.matches?.("[data-mass]")) lastWeighed = event.target;
  });

  document.addEventListener("click", (event) => {
    const weighed = event.target.closest?.("[data-weigh], [data-pour]");
    const form = weighed?.form;
    if (!form) return;
    const empty = (name) => [...form.querySelectorAll(`[data-${name}]`)].find((one) => !one.value) ?? form.querySelector(`[data-${name}]`);
    const field = weighed.dataset.pour ? empty("poured")
      : form.elements.namedItem(weighed.dataset.wants || " ") ?? (form.contains(lastWeighed) ? lastWeighed : empty("mass"));
    if (!field) return;
    field.value = weighed.dataset.pour ?? weighed.dataset.weigh;
    field.focus();
  });

  document.addEventListener("input", (event) => {
    const volts = event.target.name === "ph" && event.target.form?.elements.namedItem("millivolts");
    if (volts) volts.value = "";
  });

  document.addEventListener("htmx:afterSwap", (event) => {
    const form = event.target.closest?.("form[data-takes-itself]");
    if (form && !form.dataset.taken && form.querySelector("[data-still]")) {
      form.dataset.taken = "1";
      form.requestSubmit(form.querySelector(".btn-primary"));
    }
  });

  document.addEventListener("change", (event) => {
    if (event.target.matches(".photo-ask input")) {
      event.target.nextElementSibling.textContent = event.target.files.length ? event.target.files[0].name : "a photo";
    }
    if (event.target.matches("[data-sends]") && event.target.files.length) event.target.form.requestSubmit();
  });

  const zone = document.querySelector(".welcome select[name=zone]");
  if (zone?.value === "UTC" && !zone.form.querySelector(".problem")) {
    const here = Intl.DateTimeFormat().resolvedOptions().timeZone; // takes a while: asked only where it is wanted
    if ([...zone.options].some((one) => one.value === here)) zone.value = here;
  }

  const toToday = () => {
    for (const box of document.querySelectorAll(".curve-scroll")) {
      const now = box.querySelector(".now");
      if (now) box.scrollLeft += now.getBoundingClientRect().left - box.getBoundingClientRect().left - box.clientWidth * 0.6;
    }
  };
  /* With the first picture, not before: else the page is laid out twice. */
  requestAnimationFrame(() => {
    for (const box of document.querySelectorAll("[data-scroll-to]")) box.scrollLeft = Number(box.dataset.scrollTo);
    toToday();
  });
  document.addEventListener("htmx:afterSettle", toToday);

  document.addEventListener("htmx:sendError", () => {
    const toasts = document.getElementById("toasts");
    toasts.textContent = "";
    const line = document.createElement("div");
    line.className = "toast-line";
    line.textContent = "Kyklos does not answer. What you typed is still here: try again when it runs.";
    toasts.append(line);
  });
})();
