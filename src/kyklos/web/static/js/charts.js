/* A chart to take along: as a drawing (SVG) with its own styles and letters, or as a picture (PNG), both made here. */
(() => {
  "use strict";
  const LOOKS = ["fill", "fill-opacity", "stroke", "stroke-width", "stroke-dasharray", "stroke-linecap", "stroke-linejoin", "stroke-opacity", "opacity",
    "font-family", "font-size", "font-weight", "font-style", "text-anchor", "display", "visibility", "paint-order"];
  const FONTS = document.currentScript.dataset.fonts;
  const SHARP = 2; // pixels of the picture for each of the screen

  const inked = (from, to) => {
    const look = getComputedStyle(from);
    for (const name of LOOKS) to.setAttribute(name, look.getPropertyValue(name));
    to.removeAttribute("style");
    [...from.children].forEach((child, i) => inked(child, to.children[i]));
  };

  /* What a drawing refers to stands elsewhere on the page: patterns and what they are made of. */
  const borrowed = (copy) => {
    const defs = document.createElementNS("http://www.w3.org/2000/svg", "defs");
    const wanted = new Set([...copy.outerHTML.matchAll(/url\(["']?[^"')#]*#([\w-]+)/g)].map((found) => found[1]));
    for (const id of wanted) {
      const known = document.getElementById(id);
      if (!known || copy.querySelector(`#${id}`)) continue;
      const one = known.cloneNode(true);
      inked(known, one);
      defs.append(one);
    }
    copy.prepend(defs);
    copy.innerHTML = copy.innerHTML.replace(/url\((?:&quot;|["'])?[^"')#&]*#([\w-]+)(?:&quot;|["'])?\)/g, "url(#$1)");
  };

  const letters = async () => {
    const sheet = await (await fetch(FONTS)).text();
    const faces = sheet.match(/@font-face\s*{[^}]*}/g) || [];
    const out = [];
    for (const face of faces) {
      const url = face.match(/url\(["']?([^"')]+)/);
      if (!url || url[1].includes("-ext") || !document.fonts.check(`16px ${(face.match(/font-family:\s*([^;]+)/) || ["", "x"])[1]}`)) continue;
      const bytes = new Uint8Array(await (await fetch(new URL(url[1], new URL(FONTS, location.href)))).arrayBuffer());
      let text = "";
      for (const byte of bytes) text += String.fromCharCode(byte);
      out.push(face.replace(/src:[^;}]*/, `src: url(data:font/woff2;base64,${btoa(text)}) format("woff2")`));
    }
    return out.join("\n");
  };

  const drawn = async (svg) => {
    const copy = svg.cloneNode(true);
    inked(svg, copy);
    borrowed(copy);
    const { width, height } = svg.viewBox.baseVal;
    copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
    copy.setAttribute("width", width);
    copy.setAttribute("height", height);
    copy.setAttribute("display", "block");
    copy.removeAttribute("class");
    const paper = document.createElementNS("http://www.w3.org/2000/svg", "rect");
    for (const [name, value] of Object.entries({ x: svg.viewBox.baseVal.x, y: svg.viewBox.baseVal.y, width, height, fill: getComputedStyle(document.body).backgroundColor })) {
      paper.setAttribute(name, value);
    }
    const style = document.createElementNS("http://www.w3.org/2000/svg", "style");
    style.textContent = await letters();
    copy.prepend(style, paper);
    return new XMLSerializer().serializeToString(copy);
  };

  const give = (blob, name) => {
    const link = Object.assign(document.createElement("a"), { href: URL.createObjectURL(blob), download: name });
    document.body.append(link);
    link.click();
    link.remove();
    setTimeout(() => URL.revokeObjectURL(link.href), 60000);
  };

  const pictured = async (svg) => {
    const text = await drawn(svg);
    const image = new Image();
    image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`;
    await image.decode();
    const { width, height } = svg.viewBox.baseVal;
    const canvas = Object.assign(document.createElement("canvas"), { width: width * SHARP, height: height * SHARP });
    canvas.getContext("2d").drawImage(image, 0, 0, canvas.width, canvas.height);
    return new Promise((done) => canvas.toBlob(done, "image/png"));
  };

  document.addEventListener("click", async (event) => {
    const button = event.target.closest("[data-takes]");
    if (!button) return;
    const svg = document.querySelector(`svg[data-chart="${button.dataset.of}"]`);
    if (!svg) return;
    const name = `${button.dataset.of}.${button.dataset.takes}`;
    button.disabled = true;
    try {
      if (button.dataset.takes === "svg") give(new Blob([await drawn(svg)], { type: "image/svg+xml" }), name);
      else give(await pictured(svg), name);
    } finally {
      button.disabled = false;
    }
  });
})();
