// Builds longbreath/static/dist from src and from packages. Run by bin/assets; the result is committed.
import { execFileSync } from "node:child_process";
import { createHash } from "node:crypto";
import { copyFileSync, mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { build } from "esbuild";

const dist = "../longbreath/static/dist";
rmSync(dist, { recursive: true, force: true });
mkdirSync(dist, { recursive: true });

await build({
  entryPoints: { app: "src/app.js", chart: "src/chart.js", desk: "src/desk.js", path: "src/path.js", faces: "src/faces.js", cell: "src/cell.js" },
  bundle: true, minify: true, outdir: dist, target: "es2022", legalComments: "none", logLevel: "warning",
});
execFileSync("npx", ["tailwindcss", "-i", "src/app.css", "-o", `${dist}/app.css`, "--minify"], { stdio: ["ignore", "ignore", "inherit"] });
copyFileSync("src/mark.svg", `${dist}/mark.svg`);
for (const [pack, file] of [
  ["archivo", "archivo-latin-standard-normal.woff2"],
  ["martian-mono", "martian-mono-latin-standard-normal.woff2"],
]) copyFileSync(`node_modules/@fontsource-variable/${pack}/files/${file}`, join(dist, file));

const shipped = ["htmx.org", "vega", "vega-lite", "vega-embed", "vega-interpreter", "tailwindcss", "@fontsource-variable/archivo", "@fontsource-variable/martian-mono"];
writeFileSync(join(dist, "LICENSES.txt"), shipped.map((pack) => `== ${pack}\n\n${readFileSync(`node_modules/${pack}/LICENSE`)}`).join("\n\n"));

const hash = (path) => createHash("sha256").update(readFileSync(path)).digest("hex");
const list = (folder) => Object.fromEntries(readdirSync(folder).sort().map((name) => [name, hash(join(folder, name))]));
const manifest = { files: list(dist), sources: { ...list("src"), "build.mjs": hash("build.mjs"), "package-lock.json": hash("package-lock.json") } };
writeFileSync(join(dist, "manifest.json"), JSON.stringify(manifest, null, 1) + "\n");
