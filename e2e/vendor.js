// Fonts, styles and scripts of others that ship with the application: copied from their packages, Bootstrap cut down to what a page
// uses. Writes them; with --check says what is not as it would be.
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { PurgeCSS } from "purgecss";

const from = "e2e/node_modules/",
  to = "crates/web/assets/vendor/";
const copies = {
  "htmx.min.js": "htmx.org/dist/htmx.min.js",
  "idiomorph.min.js": "idiomorph/dist/idiomorph.min.js",
  "archivo-latin-wdth-normal.woff2": "@fontsource-variable/archivo/files/archivo-latin-wdth-normal.woff2",
  "archivo-latin-ext-wdth-normal.woff2": "@fontsource-variable/archivo/files/archivo-latin-ext-wdth-normal.woff2",
  "ibm-plex-mono-latin-400-normal.woff2": "@fontsource/ibm-plex-mono/files/ibm-plex-mono-latin-400-normal.woff2",
  "ibm-plex-mono-latin-500-normal.woff2": "@fontsource/ibm-plex-mono/files/ibm-plex-mono-latin-500-normal.woff2",
  "LICENSE-bootstrap.txt": "bootstrap/LICENSE",
  "LICENSE-htmx.org.txt": "htmx.org/LICENSE",
  "LICENSE-idiomorph.txt": "idiomorph/LICENSE",
  "LICENSE-archivo.txt": "@fontsource-variable/archivo/LICENSE",
  "LICENSE-ibm-plex-mono.txt": "@fontsource/ibm-plex-mono/LICENSE",
};

process.chdir(new URL("..", import.meta.url).pathname);
const wanted = Object.fromEntries(Object.entries(copies).map(([name, path]) => [name, readFileSync(from + path)]));
const [bootstrap] = await new PurgeCSS().purge({
  content: ["crates/web/src/**/*.html", "crates/web/assets/js/*.js", "crates/*/src/**/*.rs"],
  css: [from + "bootstrap/dist/css/bootstrap.min.css"],
  // A class is any word of a page or of the code that makes one.
  defaultExtractor: text => text.match(/[A-Za-z0-9_-]+/g) ?? [],
  variables: true,
  keyframes: true,
  fontFace: true,
});
wanted["bootstrap.min.css"] = Buffer.from(bootstrap.css.replace(/\n?\/\*# sourceMappingURL=.*?\*\//, ""));

const other = Object.entries(wanted).filter(([name, bytes]) => !existsSync(to + name) || !readFileSync(to + name).equals(bytes));
if (process.argv.includes("--check")) {
  if (other.length) {
    console.error(`Not as in their packages: ${other.map(([name]) => name).join(", ")}. Run node e2e/vendor.js.`);
    process.exit(1);
  }
} else other.forEach(([name, bytes]) => writeFileSync(to + name, bytes));
