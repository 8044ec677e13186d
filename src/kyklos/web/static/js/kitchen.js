/* The kitchen: timers counted from the server's clock, a sound and the title when one is over, the screen kept awake, keys. */
(() => {
  "use strict";
  let skew = 0;
  let sound = null;
  let lock = null;
  const rung = new Set();
  const title = () => document.querySelector("[data-awake]")?.dataset.title || document.title.replace(/^● /, "");

  const left = (seconds) => {
    if (seconds <= 0) return "done";
    const whole = Math.ceil(seconds);
    const two = (n) => String(n).padStart(2, "0");
    const hours = Math.floor(whole / 3600);
    return (hours ? `${hours}:${two(Math.floor((whole % 3600) / 60))}` : `${Math.floor(whole / 60)}`) + `:${two(whole % 60)}`;
  };

  const beep = () => {
    sound ||= new AudioContext();
    [0, 0.35, 0.7].forEach((at) => {
      const tone = sound.createOscillator();
      const loud = sound.createGain();
      tone.frequency.value = 880;
      loud.gain.setValueAtTime(0.25, sound.currentTime + at);
      loud.gain.exponentialRampToValueAtTime(0.001, sound.currentTime + at + 0.3);
      tone.connect(loud).connect(sound.destination);
      tone.start(sound.currentTime + at);
      tone.stop(sound.currentTime + at + 0.32);
    });
  };

  const tick = () => {
    const over = [];
    document.querySelectorAll("[data-ends]").forEach((row) => {
      const rest = (Number(row.dataset.ends) - Date.now() - skew) / 1000;
      row.querySelector(".timer-left").textContent = left(rest);
      row.classList.toggle("timer-over", rest <= 0);
      if (rest <= 0) {
        over.push(row.dataset.name);
        const key = `${row.dataset.name} ${row.dataset.ends}`;
        if (!rung.has(key)) {
          rung.add(key);
          beep();
          document.dispatchEvent(new CustomEvent("kyklos:says", { detail: `${row.dataset.name}: done` }));
        }
      }
    });
    const said = over.length ? `● ${over.join(", ")}: done` : title();
    if (document.querySelector("[data-ends], [data-awake]") && document.title !== said) document.title = said;
  };

  const stayAwake = async () => {
    if (!document.querySelector("[data-awake]") || document.visibilityState !== "visible") return;
    try {
      if (lock && !lock.released) return;
      lock = await navigator.wakeLock.request("screen");
    } catch {
      document.querySelector("video.awake")?.play().catch(() => {});
    }
  };

  const start = () => {
    const timers = document.getElementById("timers");
    if (timers) skew = Number(timers.dataset.now) - Date.now();
    stayAwake();
    tick();
  };

  document.addEventListener("DOMContentLoaded", start);
  document.addEventListener("htmx:afterSettle", start);
  document.addEventListener("visibilitychange", start);
  document.addEventListener("pointerdown", stayAwake);
  setInterval(tick, 500);

  document.addEventListener("keydown", (event) => {
    if (!document.querySelector("[data-awake]") || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.target.closest("input, textarea, select, button, summary, a")) return;
    const name = event.key === " " || event.key === "Enter" ? "[data-next]" : event.key === "Backspace" || event.key === "ArrowLeft" ? "[data-back]" : "";
    const target = name && document.querySelector(name);
    if (target) { event.preventDefault(); target.click(); }
  });
})();
