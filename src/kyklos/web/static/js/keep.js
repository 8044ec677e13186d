/* What is typed survives: ticks of a list, and forms sent while nothing answers. They are kept here and sent once. */
(() => {
  "use strict";
  const STORE = "kyklos-waiting";
  const { alive, here } = document.currentScript.dataset;
  const waiting = () => JSON.parse(localStorage.getItem(STORE) || "[]");
  const keep = (list) => localStorage.setItem(STORE, JSON.stringify(list));
  const newKey = () => [...crypto.getRandomValues(new Uint8Array(12))].map((n) => n.toString(16).padStart(2, "0")).join("");

  /* A page that stood open while somebody signed in elsewhere takes the new sign-in's word against strangers. */
  const renew = async () => {
    const answer = await fetch(here, { headers: { "HX-Request": "true" }, cache: "no-store" });
    if (!answer.ok) return "";
    const token = (await answer.json()).token;
    document.body.setAttribute("hx-headers", JSON.stringify({ "X-CSRFToken": token }));
    for (const field of document.querySelectorAll("input[name=csrf_token]")) field.value = token;
    return token;
  };
  let sending = false;
  let answers = true;

  const say = (text, ...buttons) => {
    const toasts = document.getElementById("toasts");
    if (!toasts) return;
    toasts.querySelector(".toast-kept")?.remove();
    if (!text) return;
    const line = document.createElement("div");
    line.className = "toast-line toast-kept";
    line.append(Object.assign(document.createElement("span"), { textContent: text }));
    for (const [name, act] of buttons) {
      const button = Object.assign(document.createElement("button"), { type: "button", className: "toast-undo", textContent: name });
      button.addEventListener("click", act);
      line.append(button);
    }
    toasts.append(line);
  };

  const typed = (entry) => entry.body.map(([, value]) => value).filter((value) => value.trim()).join(", ");
  const drop = (entry) => keep(waiting().filter((other) => other.key !== entry.key));

  const tell = () => {
    const refused = waiting().find((entry) => entry.refused);
    if (refused) {
      const open = () => { location.href = refused.from; };
      const forget = () => { drop(refused); say(""); tell(); };
      return say(`Not taken: ${typed(refused)}. Enter it again.`, ["Open its page", open], ["Forget it", forget]);
    }
    const count = waiting().length;
    if (count) say(`${count === 1 ? "1 entry waits" : `${count} entries wait`} here until Kyklos answers.`, ["Send now", () => send()]);
  };

  /* Sends what waits, oldest first, with how long ago it was typed; each has its form's key, so that one which arrived after all is not
     written twice. */
  const send = async () => {
    if (sending) return;
    sending = true;
    try {
      let sent = 0;
      const token = await renew();
      for (const entry of token ? waiting().filter((one) => !one.refused) : []) {
        const waited = Math.max(0, Math.round((Date.now() - (entry.at ?? Date.now())) / 1000));
        const answer = await fetch(entry.path, {
          method: "POST", body: new URLSearchParams([...entry.body, ["once", entry.key]]),
          headers: { "X-CSRFToken": token, "X-Waited": waited },
        });
        if ([401, 403, 429].includes(answer.status) || answer.status >= 500) break; // signed out, or in trouble: it waits on
        if (answer.ok) { drop(entry); sent += 1; } else keep(waiting().map((one) => (one.key === entry.key ? { ...one, refused: true } : one)));
      }
      if (waiting().length) tell();
      else if (sent) say(sent === 1 ? "The entry that waited is saved." : `The ${sent} entries that waited are saved.`, ["Show", () => location.reload()]);
    } catch {
      tell();
    } finally {
      sending = false;
    }
  };

  const add = (path, body) => {
    const fields = [...body].filter(([name, value]) => !["csrf_token", "once"].includes(name) && typeof value === "string");
    const key = [...body].find(([name]) => name === "once")?.[1] || newKey();
    keep([...waiting().filter((one) => one.key !== key), { key, path, body: fields, at: Date.now(), from: location.pathname + location.search }]);
    tell();
  };

  /* What is sent by a button of its own has a key too; a form that was taken and stays on the page gets a new one. */
  document.addEventListener("htmx:configRequest", (event) => {
    const asked = event.detail;
    if (asked.verb === "post" && !asked.parameters.once) asked.parameters.once = newKey();
  });
  document.addEventListener("htmx:afterRequest", (event) => {
    if (!event.detail.successful || event.detail.requestConfig.verb !== "post") return;
    for (const field of event.detail.elt.closest("form")?.querySelectorAll("input[name=once]") ?? []) field.value = newKey();
  });

  document.addEventListener("htmx:sendError", (event) => {
    const asked = event.detail.requestConfig;
    answers = false;
    if (asked.verb !== "post") return;
    event.stopImmediatePropagation();
    add(asked.path, asked.formData ?? new URLSearchParams(asked.parameters));
  }, true);

  /* A whole page is not asked for while nobody answers: the browser would show its own page, and what was typed is gone. */
  document.addEventListener("submit", (event) => {
    const form = event.target;
    const button = event.submitter;
    if (event.defaultPrevented || form.method !== "post" || form.closest("[hx-post]") || (answers && navigator.onLine)) return;
    if (form.querySelector("input[type=password]")) return; // never kept
    event.preventDefault();
    if (form.querySelector("input[type=file]")?.files.length) return say("Kyklos does not answer. What you typed is still here.");
    add(new URL(button?.formAction || form.action, location.href).pathname, new FormData(form, button));
  });

  const listen = async () => {
    if (document.visibilityState !== "visible") return;
    try {
      await fetch(alive, { method: "HEAD", cache: "no-store" });
      answers = true;
    } catch {
      answers = false;
    }
    if (answers && waiting().some((entry) => !entry.refused)) send();
  };

  const ticks = () => {
    for (const list of document.querySelectorAll("[data-keeps]")) {
      const key = `kyklos-ticks-${list.dataset.keeps}`;
      const kept = JSON.parse(sessionStorage.getItem(key) || "[]");
      for (const box of list.querySelectorAll("input[type=checkbox]")) {
        box.checked ||= kept.includes(box.id);
        box.onchange = () => sessionStorage.setItem(key, JSON.stringify([...list.querySelectorAll("input:checked")].map((one) => one.id)));
      }
    }
  };

  document.addEventListener("DOMContentLoaded", () => { ticks(); tell(); if (waiting().some((entry) => !entry.refused)) send(); });
  document.addEventListener("htmx:afterSettle", ticks);
  window.addEventListener("online", listen);
  document.addEventListener("visibilitychange", () => {
    if (document.visibilityState === "visible") renew().catch(() => {}); // nobody answers: the next try asks again
  });
  setInterval(listen, 15000);
})();
