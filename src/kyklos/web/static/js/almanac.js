/* Planned days: dragged, or moved by arrow keys and kept by Enter; the form does the rest. Notices while a page is open. */
(() => {
  "use strict";
  const form = document.getElementById("plan-form");
  const shift = (mark, days) => {
    const svg = mark.closest("svg"), width = Number(svg.dataset.dayWidth);
    const [, x, y] = mark.getAttribute("transform").match(/translate\(([-\d.]+) ([-\d.]+)\)/);
    mark.dataset.moved = String(Number(mark.dataset.moved || 0) + days);
    mark.setAttribute("transform", `translate(${Number(x) + days * width} ${y})`);
  };
  const keep = (mark) => {
    const day = new Date(`${form.dataset.today}T12:00:00Z`);
    day.setUTCDate(day.getUTCDate() + Number(mark.dataset.day) + Number(mark.dataset.moved || 0));
    form.elements.kind.value = mark.dataset.plan;
    form.elements.plan.value = mark.dataset.number;
    form.elements.vessel.value = mark.dataset.vessel;
    form.elements.day.value = day.toISOString().slice(0, 10);
    form.submit();
  };
  if (form) {
    document.addEventListener("keydown", (event) => {
      const mark = event.target.closest?.("[data-plan]");
      if (!mark) return;
      if (event.key === "ArrowLeft" || event.key === "ArrowRight") {
        event.preventDefault();
        shift(mark, event.key === "ArrowLeft" ? -1 : 1);
      }
      if (event.key === "Enter") { event.preventDefault(); keep(mark); }
    });
    let held = null, from = 0;
    document.addEventListener("pointerdown", (event) => {
      held = event.target.closest?.("[data-plan]");
      if (!held) return;
      from = event.clientX;
      held.setPointerCapture(event.pointerId);
      event.preventDefault();
    });
    document.addEventListener("pointermove", (event) => {
      if (!held) return;
      const days = Math.round((event.clientX - from) / Number(held.closest("svg").dataset.dayWidth));
      const done = Number(held.dataset.moved || 0);
      if (days !== done) shift(held, days - done);
    });
    document.addEventListener("pointerup", () => {
      const mark = held;
      held = null;
      if (mark && Number(mark.dataset.moved || 0)) keep(mark);
    });
  }

  const lanes = document.querySelector(".almanac-scroll");
  if (lanes) {  // what is put before stays where it was looked at
    let wide = 0;
    lanes.addEventListener("htmx:beforeSwap", () => { wide = lanes.scrollWidth; });
    lanes.addEventListener("htmx:afterSwap", () => { lanes.scrollLeft += lanes.scrollWidth - wide; });
  }

  const button = document.querySelector("[data-notify]");
  const can = "Notification" in window && window.isSecureContext;
  const told = new Set(JSON.parse(localStorage.getItem("told") || "[]"));
  const look = async () => {
    const answer = await fetch("/notices").catch(() => null);
    if (!answer || !answer.ok || !answer.headers.get("content-type").includes("json")) return;
    for (const notice of await answer.json()) {
      if (told.has(notice.key)) continue;
      told.add(notice.key);
      const shown = new Notification(notice.title, { body: notice.body, tag: notice.key });
      shown.onclick = () => { window.focus(); location.href = notice.address; };
    }
    localStorage.setItem("told", JSON.stringify([...told].slice(-60)));
  };
  const begin = () => { look(); setInterval(look, 5 * 60 * 1000); };
  if (can && Notification.permission === "granted") begin();
  if (button && can && Notification.permission === "default") {
    button.hidden = false;
    button.addEventListener("click", async () => {
      if (await Notification.requestPermission() === "granted") { button.hidden = true; begin(); }
    });
  }
})();
