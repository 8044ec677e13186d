// Build Bootstrap from bootstrap.scss; copy htmx and fonts, each with its licence and version, into static/vendor.
import { mkdirSync, copyFileSync, writeFileSync, readFileSync } from "node:fs";
import * as sass from "sass";

const out = "../src/kyklos/web/static/vendor";
const version = (name) => JSON.parse(readFileSync(`node_modules/${name}/package.json`)).version;
const copy = (from, to) => copyFileSync(`node_modules/${from}`, `${out}/${to}`);
for (const folder of ["bootstrap", "htmx", "fonts"]) mkdirSync(`${out}/${folder}`, { recursive: true });

const css = sass.compile("bootstrap.scss", {
  style: "compressed", loadPaths: ["node_modules"], quietDeps: true, silenceDeprecations: ["import", "global-builtin"],
}).css;
writeFileSync(`${out}/bootstrap/bootstrap.css`, css.replace(/\/\*# sourceMappingURL=.*?\*\//g, ""));
copy("bootstrap/LICENSE", "bootstrap/LICENSE.txt");
copy("htmx.org/dist/htmx.min.js", "htmx/htmx.min.js");
copy("htmx.org/LICENSE", "htmx/LICENSE.txt");

const fonts = { "atkinson-hyperlegible-next": "Atkinson Hyperlegible Next Variable", "brygada-1918": "Brygada 1918 Variable" };
let faces = "/* Made by frontend/build.mjs from the fonts' own packages (SIL Open Font License 1.1). */\n";
for (const [name, family] of Object.entries(fonts)) {
  copy(`@fontsource-variable/${name}/LICENSE`, `fonts/${name}-LICENSE.txt`);
  const index = readFileSync(`node_modules/@fontsource-variable/${name}/index.css`, "utf8");
  for (const subset of ["latin-ext", "latin"]) {
    copy(`@fontsource-variable/${name}/files/${name}-${subset}-wght-normal.woff2`, `fonts/${name}-${subset}.woff2`);
    const face = index.split("@font-face").find((part) => part.includes(`files/${name}-${subset}-wght`));
    const field = (key) => face.match(new RegExp(`${key}: ([^;]+);`))[1];
    faces += `@font-face { font-family: "${family}"; font-style: normal; font-display: swap; font-weight: ${field("font-weight")}; ` +
      `src: url("${name}-${subset}.woff2") format("woff2"); unicode-range: ${field("unicode-range")}; }\n`;
  }
}
writeFileSync(`${out}/fonts/fonts.css`, faces);
// Printed sheets: letters beyond Western Europe. No page loads these.
for (const weight of ["", "-Bold"]) copy(`dejavu-fonts-ttf/ttf/DejaVuSansCondensed${weight}.ttf`, `fonts/DejaVuSansCondensed${weight}.ttf`);
copy("dejavu-fonts-ttf/LICENSE", "fonts/dejavu-LICENSE.txt");
const names = ["bootstrap", "htmx.org", "dejavu-fonts-ttf", ...Object.keys(fonts).map((name) => `@fontsource-variable/${name}`)];
const rows = names.map((name) => `${name} ${version(name)}`);
writeFileSync(`${out}/VERSIONS.txt`, `Shipped with Kyklos, by npm package name and version; licences stand beside each.\n${rows.join("\n")}\n`);
