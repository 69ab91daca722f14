// The dyno cell: live figures and trace over server-sent events, the one key, tones. All reckoning is the server's.
const SILENCE = 2000; // ms without any event before the page itself says that the line is gone

const cell = document.getElementById("cell");
const board = () => document.getElementById("board");
const byId = (id) => document.getElementById(id);
const isTyping = (target) => target.closest("input:not([type=hidden]), textarea, select");

let last = Date.now();
let tone = null;
let trace = "";
let asked = 0;
let events = null;
let told = board().dataset.last ?? "";

function put(name, text) {
  cell.querySelectorAll(`[data-live=${name}]`).forEach((place) => { place.textContent = text ?? "–"; });
}

function draw() {
  byId("trace")?.setAttribute("points", trace);
}

function refresh() {
  if (Date.now() - asked < 150) return;
  asked = Date.now();
  window.htmx.ajax("GET", cell.dataset.boardUrl, { target: "#board", swap: "outerHTML" });
}

function show(values) {
  if (values.open === false) return location.reload();
  if (!board()) return;
  last = values.over ? Number.MAX_SAFE_INTEGER : Date.now();
  if (values.over) return events.close();
  cell.dataset.state = values.lines.dyno?.state ?? "lost";
  if (!values.figures) return lost();
  for (const place of cell.querySelectorAll("[data-live]")) place.textContent = values.figures[place.dataset.live] ?? "–";
  const knobs = byId("stand-in");
  if (knobs) knobs.hidden = !values.lines.dyno?.stand_in;
  if (values.points) {
    trace = values.begins ? values.points : `${trace} ${values.points}`;
    draw();
  }
  const { turn, line, key } = board().dataset;
  const waits = key === "wait" && Date.now() - asked > 2000;
  if (String(values.turn) !== turn || values.line !== line || waits) refresh();
}

function lost() {
  cell.dataset.state = "lost";
  for (const place of cell.querySelectorAll("[data-live]")) place.textContent = "–";
}

function sound(name) {
  document.dispatchEvent(new CustomEvent("longbreath:sound", { detail: name }));
  document.documentElement.dataset.sounded = name;
  if (!tone) return;
  const pitches = { good: [660, 880], out: [220, 220], armed: [520] }[name] ?? [440];
  pitches.forEach((pitch, place) => {
    const beep = tone.createOscillator();
    beep.frequency.value = pitch;
    beep.connect(tone.destination);
    beep.start(tone.currentTime + 0.18 * place);
    beep.stop(tone.currentTime + 0.18 * place + 0.14);
  });
}

function settled() {
  const now = board();
  if (now.dataset.phase !== "pulling" && now.dataset.last !== told) trace = "";
  draw();
  if ((now.dataset.last ?? "") !== told) {
    told = now.dataset.last ?? "";
    document.dispatchEvent(new CustomEvent("longbreath:verdict", { detail: now.dataset.verdict }));
    if (now.dataset.verdict !== "stop") sound(now.dataset.verdict);
  } else if (now.dataset.key === "armed") {
    sound("armed");
  }
}

function press(anyway) {
  const form = byId("press");
  if (!form) return;
  byId("anyway").value = anyway ? "yes" : "";
  form.requestSubmit();
}

function turn(words) {
  const body = new URLSearchParams({ words, csrf_token: cell.dataset.token });
  fetch(cell.dataset.standIn, { method: "POST", body }).catch(() => {});
}

function toggle(id) {
  if (!byId(id)) return false;
  const on = byId(id).getAttribute("aria-pressed") !== "true";
  byId(id).setAttribute("aria-pressed", on);
  return on;
}

const keys = {
  " ": () => press(false),
  r: () => press(true),
  m: () => { tone = toggle("tone") ? new AudioContext() : null; },
  b: () => document.body.classList.toggle("is-stand-off", toggle("stand-off")),
  p: () => { if (byId("stand-in") && !byId("stand-in").hidden) turn("pull"); },
};

function listen() {
  events?.close();
  events = new EventSource(`${cell.dataset.liveUrl}?scale=${board().dataset.scale}`);
  events.onmessage = (event) => show(JSON.parse(event.data));
}

listen();
setInterval(() => { if (board() && Date.now() - last > SILENCE) lost(); }, 250);
document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target) || document.querySelector("dialog[open]")) return;
  if (event.key === " " && (event.repeat || event.target.closest("button, a[href]:not(.skip)")?.closest(".stop-screen"))) return;
  const act = keys[event.key];
  if (act) { event.preventDefault(); act(); }
});
byId("tone")?.addEventListener("click", keys.m);
byId("stand-off")?.addEventListener("click", keys.b);
document.querySelectorAll("[data-words]").forEach((button) => button.addEventListener("click", () => turn(button.dataset.words)));
byId("fault")?.addEventListener("change", (event) => turn(`fault ${event.target.value}`));
cell.addEventListener("click", (event) => { if (event.target.closest("[data-anyway]")) press(true); });
let scale = board().dataset.scale;
document.addEventListener("htmx:afterSettle", (event) => {
  if (event.target.id !== "board") return;
  settled();
  if (board().dataset.scale !== scale) { scale = board().dataset.scale; listen(); }
});
document.addEventListener("visibilitychange", () => { if (!document.hidden && cell.dataset.boardUrl) refresh(); });
addEventListener("pagehide", () => events.close());
