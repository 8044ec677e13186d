/* What a careful eye would find on a page: words cut in a list, letters of a drawing past its edge, words over words. */
() => {
  const found = [];
  const named = (one) => `${one.tagName.toLowerCase()}.${String(one.className.baseVal ?? one.className).split(" ")[0]}`;
  const short = (text) => text.trim().slice(0, 40);
  const shown = (one) => one.checkVisibility({ opacityProperty: true, visibilityProperty: true });
  const letters = document.createElement("canvas").getContext("2d");
  for (const list of document.querySelectorAll("main select")) {
    if (!shown(list) || !list.selectedOptions[0]) continue;
    const style = getComputedStyle(list);
    letters.font = style.font;
    const room = list.clientWidth - parseFloat(style.paddingLeft) - parseFloat(style.paddingRight);
    const words = list.selectedOptions[0].text;
    if (letters.measureText(words).width > room + 2) found.push(`cut in a list: ${short(words)}`);
  }
  for (const drawing of document.querySelectorAll("main svg")) {
    const box = drawing.getBoundingClientRect();
    if (!shown(drawing) || box.width < 60 || getComputedStyle(drawing).overflow === "visible") continue;
    for (const text of drawing.querySelectorAll("text")) {
      const at = text.getBoundingClientRect();
      if (at.width && shown(text) && (at.left < box.left - 2 || at.right > box.right + 2 || at.top < box.top - 3 || at.bottom > box.bottom + 3)) {
        found.push(`past the edge of ${named(drawing)}: ${short(text.textContent)}`);
      }
    }
  }
  /* What of a box lies within every box that clips it; null: nothing. */
  const inSight = (box, one) => {
    let { left, right, top, bottom } = box;
    for (let over = one.parentElement; over && over !== document.body; over = over.parentElement) {
      const style = getComputedStyle(over);
      if (style.overflowX === "visible" && style.overflowY === "visible") continue;
      const edge = over.getBoundingClientRect();
      [left, right, top, bottom] = [Math.max(left, edge.left), Math.min(right, edge.right), Math.max(top, edge.top), Math.min(bottom, edge.bottom)];
    }
    return right - left > 1 && bottom - top > 1 ? { left, right, top, bottom, height: bottom - top } : null;
  };
  const floats = (one) => {
    for (let over = one; over; over = over.parentElement) {
      const style = getComputedStyle(over);
      if (["fixed", "sticky"].includes(style.position) || (style.position === "absolute" && style.zIndex !== "auto")) return true;
    }
    return false;
  };
  const pieces = [];
  const walk = document.createTreeWalker(document.querySelector("main"), NodeFilter.SHOW_TEXT);
  while (walk.nextNode()) {
    const one = walk.currentNode.parentElement;
    if (!walk.currentNode.textContent.trim() || one.closest("script, style, title, desc, option, .visually-hidden") || !shown(one) || floats(one)) continue;
    const range = document.createRange();
    range.selectNodeContents(walk.currentNode);
    for (const whole of range.getClientRects()) {
      const box = inSight(whole, one);
      if (box) pieces.push({ box, one, words: short(walk.currentNode.textContent) });
    }
  }
  pieces.sort((a, b) => a.box.top - b.box.top);
  pieces.forEach((a, number) => {
    for (const b of pieces.slice(number + 1)) {
      if (b.box.top > a.box.bottom) break;
      if (a.one === b.one) continue;
      const across = Math.min(a.box.right, b.box.right) - Math.max(a.box.left, b.box.left);
      const down = Math.min(a.box.bottom, b.box.bottom) - Math.max(a.box.top, b.box.top);
      if (across > 2 && down > 0.35 * Math.min(a.box.height, b.box.height)) found.push(`one over the other: ${a.words} / ${b.words}`);
    }
  });
  return found;
}
