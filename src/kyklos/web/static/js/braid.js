/* The braid: one bead at a time by arrow keys, its card and descent lit, the newest end in sight. */
(() => {
  "use strict";
  const braid = document.querySelector(".braid");
  if (!braid) return;
  const scroll = braid.closest(".braid-scroll"), card = document.getElementById("bead-card");
  const beads = [...braid.querySelectorAll("a")];
  const byKey = new Map(beads.map((bead) => [bead.getAttribute("href").split("/").slice(-2).join("-"), bead]));
  const place = new Map(beads.map((bead) => {
    const shape = bead.firstElementChild;
    return [bead, [Number(shape.getAttribute("cx")), Number(shape.getAttribute("cy"))]];
  }));
  const inOrder = beads.slice().sort((a, b) => place.get(a)[0] - place.get(b)[0] || place.get(a)[1] - place.get(b)[1]);
  scroll.scrollLeft = scroll.scrollWidth;
  for (const bead of beads) bead.setAttribute("tabindex", "-1");
  if (inOrder.length) inOrder[inOrder.length - 1].setAttribute("tabindex", "0");

  const names = [...braid.querySelectorAll(".ribbon-name")];
  const ribbons = names.map((name) => [Number(name.getAttribute("x")), name.getAttribute("y"), name.textContent, Number(name.dataset.end)]);
  const fixed = [...document.querySelectorAll(".braid-names text")];
  const nameRows = () => {
    for (const text of fixed) {
      const gone = ribbons.filter(([x, y, , end]) => y === text.getAttribute("y") && x < scroll.scrollLeft && end > scroll.scrollLeft).sort((a, b) => b[0] - a[0]);
      text.textContent = gone.length ? gone[0][2] : "";
    }
    names.forEach((name, at) => name.classList.toggle("is-behind", ribbons[at][0] < scroll.scrollLeft));
  };
  if (fixed.length) { nameRows(); scroll.addEventListener("scroll", () => requestAnimationFrame(nameRows), { passive: true }); }

  let lit = [], asked = "", timer = 0;
  const light = () => {
    const told = card.querySelector("[data-lit]");
    if (!told) return;
    for (const bead of lit) bead.classList.remove("is-lit");
    lit = told.dataset.lit.split(" ").map((key) => byKey.get(key)).filter(Boolean);
    for (const bead of lit) bead.classList.add("is-lit");
    braid.classList.add("is-lit");
  };
  lit = beads.filter((bead) => bead.classList.contains("is-lit"));
  const ask = (bead, now) => {
    const address = bead.getAttribute("href");
    if (address === asked) return;
    clearTimeout(timer);
    timer = setTimeout(async () => {
      asked = address;
      const answer = await fetch(address, { headers: { "HX-Request": "true" } }).catch(() => null);
      if (!answer || !answer.ok || asked !== address) return;
      card.innerHTML = await answer.text();
      light();
    }, now ? 0 : 120);
  };
  const move = (from, key) => {
    const index = inOrder.indexOf(from);
    if (key === "ArrowLeft") return inOrder[index - 1];
    if (key === "ArrowRight") return inOrder[index + 1];
    const [x, y] = place.get(from), down = key === "ArrowDown";
    let best = null, least = Infinity;
    for (const [bead, [bx, by]] of place) {
      const away = down ? by - y : y - by;
      if (away <= 1) continue;
      const cost = away * 2 + Math.abs(bx - x);
      if (cost < least) { least = cost; best = bead; }
    }
    return best;
  };
  braid.addEventListener("keydown", (event) => {
    const from = event.target.closest(".braid a");
    if (!from || !["ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown", "Home", "End", "Enter"].includes(event.key)) return;
    event.preventDefault();
    if (event.key === "Enter") {
      const way = card.querySelector("a");
      if (way) location.href = way.getAttribute("href");
      return;
    }
    const to = event.key === "Home" ? inOrder[0] : event.key === "End" ? inOrder[inOrder.length - 1] : move(from, event.key);
    if (!to) return;
    from.setAttribute("tabindex", "-1");
    to.setAttribute("tabindex", "0");
    to.focus();
  });
  braid.addEventListener("focusin", (event) => { const bead = event.target.closest(".braid a"); if (bead) ask(bead, true); });
  braid.addEventListener("pointerover", (event) => { const bead = event.target.closest(".braid a"); if (bead) ask(bead, false); });
  braid.addEventListener("click", (event) => {
    const bead = event.target.closest(".braid a");
    if (bead) { event.preventDefault(); ask(bead, true); }
  });

  let held = null;
  scroll.addEventListener("pointerdown", (event) => {
    if (event.pointerType === "mouse" && !event.target.closest(".braid a")) held = [event.clientX, scroll.scrollLeft];
  });
  addEventListener("pointermove", (event) => { if (held) scroll.scrollLeft = held[1] - (event.clientX - held[0]); });
  addEventListener("pointerup", () => { held = null; });
})();
