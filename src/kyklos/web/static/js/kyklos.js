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
    details.open = true;
    details.querySelector("[data-first], input:not([type=hidden]), button")?.focus();
  };

  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
    if (event.key === "j") return step(1);
    if (event.key === "k") return step(-1);
    if (event.key === "?") return document.getElementById("keys").showModal();
    if (event.key === "t" || event.key === "p") { event.preventDefault(); return openAt(event.key); }
    const target = document.querySelector(`[data-key="${CSS.escape(event.key)}"]`);
    if (target) { event.preventDefault(); target.matches("input") ? target.focus() : target.click(); }
  });

  document.addEventListener("click", (event) => {
    const opener = event.target.closest("[data-opens]");
    if (opener) document.getElementById(opener.dataset.opens).showModal();
    const closer = event.target.closest("[data-closes]");
    if (closer) closer.closest(".toast-line").remove();
    const print = event.target.closest("[data-print]");
    if (print) window.print();
  });

  document.addEventListener("htmx:afterSwap", (event) => {
    if (event.detail.target.id === "why-body") document.getElementById("why-dialog").showModal();
    const wrong = event.detail.target.querySelector?.(".is-wrong");
    if (wrong) wrong.focus();
  });

  document.addEventListener("toggle", (event) => {
    if (event.target.matches?.("details[data-log]") && event.target.open) {
      event.target.querySelector("[data-first]")?.focus({ preventScroll: true });
      event.target.querySelector(".log-body")?.scrollIntoView({ block: "nearest" });
    }
  }, true);

  document.addEventListener("change", (event) => {
    if (event.target.matches("[data-sends]") && event.target.files.length) event.target.form.requestSubmit();
  });

  const zone = document.querySelector(".welcome input[name=zone]");
  if (zone && !zone.value) zone.value = Intl.DateTimeFormat().resolvedOptions().timeZone || "";

  for (const box of document.querySelectorAll("[data-scroll-to]")) box.scrollLeft = Number(box.dataset.scrollTo);

  const toToday = () => {
    for (const box of document.querySelectorAll(".curve-scroll")) {
      const now = box.querySelector(".now");
      if (now) box.scrollLeft += now.getBoundingClientRect().left - box.getBoundingClientRect().left - box.clientWidth * 0.6;
    }
  };
  toToday();
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
