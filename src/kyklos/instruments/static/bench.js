"use strict";
(() => {
  const put = (told) => {
    for (const [name, text] of Object.entries(told)) {
      for (const place of document.querySelectorAll(`[data-live="${name}"]`)) {
        if (place.textContent !== text) place.textContent = text;
      }
    }
    document.querySelector("[data-mat]")?.classList.toggle("mat-on", told.mat === "warms");
    for (const form of document.querySelectorAll("[data-pair]")) {
      const line = told[`line-${form.dataset.pair}`];
      form.hidden = line.startsWith("paired") || told[`code-${form.dataset.pair}`] !== "";
    }
  };
  setInterval(async () => {
    try {
      const answer = await fetch("/live");
      if (answer.ok) put(await answer.json());
    } catch { /* it was stopped */ }
  }, 1000);
})();
