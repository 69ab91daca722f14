// The bench desk: live values over server-sent events, the column's level, keys and tone. All reckoning is the server's.
const SILENCE = 1500; // ms without any event before the page itself says that the line is gone

const desk = document.getElementById("desk");
const byId = (id) => document.getElementById(id);
const put = (name, text) => desk.querySelectorAll(`[data-live=${name}]`).forEach((place) => { place.textContent = text ?? ""; });
const isTyping = (target) => target.closest("input:not([type=hidden]), textarea, select");

let last = Date.now();
let tone = null;
let greeted = false;

function level(share) {
  const column = byId("column");
  const zero = Number(column.dataset.zero);
  const y = zero - share * (zero - Number(column.dataset.full));
  byId("level").setAttribute("y", y);
  byId("level").setAttribute("height", zero - y);
  byId("meniscus").setAttribute("y1", y);
  byId("meniscus").setAttribute("y2", y);
}

function lost(finding, advice, byHand = true) {
  desk.dataset.state = "lost";
  put("finding", finding);
  put("advice", advice);
  put("flow", "–");
  put("column", "–");
  put("settling", "–");
  byId("settle").value = 0;
  const hand = byId("by-hand");
  if (byHand && hand.dataset.touched !== "yes") { hand.open = true; hand.dataset.offered = "yes"; }
}

function show(values) {
  last = Date.now();
  byId("stand-in").hidden = !values.stand_in;
  if (values.state === "connecting") return lost(values.words, "A moment.", false);
  if (values.state !== "live") return lost("No value from the bench.", values.words);
  if (values.stand_in && !greeted) { greeted = true; turn(`part ${desk.dataset.part}`); sendLift(); }
  const hand = byId("by-hand");
  if (hand.dataset.offered === "yes" && hand.dataset.touched !== "yes") hand.open = false; // the line is back, nobody typed
  delete hand.dataset.offered;
  for (const name of ["flow", "column", "range", "share", "airs"]) put(name, values[name]);
  level(values.level);
  const rest = values.gathered < 1 ? values.gathered * 0.6 : Math.max(0.6, Math.min(1, 1.25 - values.unrest * 0.25));
  byId("settle").value = Number.isFinite(rest) ? rest : 0; // nothing is told of a window without samples
  put("settling", values.gathered < 1 ? "filling" : `${values.unrest} of 1.0 allowed`);
  const first = values.problems[0];
  desk.dataset.state = values.good ? "good" : first.blocks ? "blocked" : "wait";
  put("finding", first ? first.finding : "Settled.");
  put("advice", first ? first.advice : "Capture.");
}

function now() {
  return byId("board").querySelector("tr.is-now");
}

function fill() {
  const rung = now();
  byId("capture-lift").value = rung ? `${rung.dataset.lift} m` : "";
  const hand = byId("lift");
  if (hand && rung && hand.dataset.touched !== "yes") hand.value = `${Number(rung.dataset.mm)} mm`;
  byId("capture-what").textContent = rung ? rung.dataset.words : "– all lifts are read";
}

function move(by) {
  const rungs = [...byId("board").querySelectorAll("tr[data-lift]")];
  const at = rungs.findIndex((row) => row.classList.contains("is-now"));
  const next = rungs[at < 0 ? (by > 0 ? 0 : rungs.length - 1) : Math.max(0, Math.min(rungs.length - 1, at + by))];
  rungs.forEach((row) => { row.classList.toggle("is-now", row === next); row.toggleAttribute("aria-current", row === next); });
  next.scrollIntoView({ block: "nearest" });
  fill();
  sendLift();
}

function capture(anyway) {
  if (!now()) return;
  byId("capture-anyway").value = anyway ? "yes" : "";
  byId("capture-key").value = [...crypto.getRandomValues(new Uint8Array(12))].map((b) => b.toString(16).padStart(2, "0")).join("");
  byId("capture").requestSubmit();
}

function sound(good) {
  if (!tone) return;
  const beep = tone.createOscillator();
  beep.frequency.value = good ? 880 : 220;
  beep.connect(tone.destination);
  beep.start();
  beep.stop(tone.currentTime + (good ? 0.12 : 0.3));
}

function turn(words) {
  const body = new URLSearchParams({ words, csrf_token: byId("capture").elements.csrf_token.value });
  fetch(desk.dataset.standIn, { method: "POST", body }).catch(() => {});
}

function sendLift() {
  const rung = now();
  if (rung && !byId("stand-in").hidden && Number(rung.dataset.mm) > 0) turn(`lift ${rung.dataset.mm}`);
}

function press(id) {
  const button = byId(id);
  const on = button.getAttribute("aria-pressed") !== "true";
  button.setAttribute("aria-pressed", on);
  return on;
}

const keys = {
  " ": () => capture(false),
  r: () => capture(true),
  z: () => byId("take-back").requestSubmit(),
  ArrowDown: () => move(1),
  ArrowUp: () => move(-1),
  h: () => { const hand = byId("by-hand"); hand.dataset.touched = "yes"; hand.open = !hand.open; if (hand.open) hand.querySelector("#percent, #direct_flow, #meter_drop").focus(); },
  m: () => { tone = press("tone") ? new AudioContext() : null; },
  b: () => document.body.classList.toggle("is-stand-off", press("stand-off")),
};
const knobs = { "[": "motor down", "]": "motor up", "{": "motor much down", "}": "motor much up", ",": "range down", ".": "range up" };

function live() {
  const events = new EventSource(desk.dataset.liveUrl);
  events.onmessage = (event) => show(JSON.parse(event.data));
  setInterval(() => {
    if (Date.now() - last > SILENCE) lost("This page has lost its line to Long Breath.", "What was captured is kept. It looks for the line again by itself.");
  }, 250);
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target) || document.querySelector("dialog[open]")) return;
    if (event.key === " " && event.repeat) return event.preventDefault(); // a foot left on the switch is one press
    const act = keys[event.key] ?? (!byId("stand-in").hidden && knobs[event.key] ? () => turn(knobs[event.key]) : null);
    if (act) { event.preventDefault(); act(); }
  });
  byId("capture").addEventListener("submit", () => { if (!byId("capture-key").value) capture(false); });
  document.querySelector(".capture-button").addEventListener("click", (event) => { event.preventDefault(); capture(false); });
  byId("as-it-is").addEventListener("click", keys.r);
  byId("tone").addEventListener("click", keys.m);
  byId("stand-off").addEventListener("click", keys.b);
  byId("by-hand").addEventListener("input", () => { byId("by-hand").dataset.touched = "yes"; });
  byId("by-hand").querySelector("summary").addEventListener("click", () => { byId("by-hand").dataset.touched = "yes"; });
  document.querySelectorAll("[data-words]").forEach((button) => button.addEventListener("click", () => turn(button.dataset.words)));
  document.addEventListener("htmx:afterSettle", (event) => {
    if (event.target.id !== "board") return;
    sound(event.target.dataset.done === "yes");
    fill();
    sendLift();
  });
  document.addEventListener("htmx:responseError", (event) => { if (event.detail.xhr.status >= 500) lost("The capture was not taken.", "Nothing was written. What went wrong stands above; press again, or type it below."); });
  document.addEventListener("htmx:sendError", () => lost("The capture could not be sent.", "Nothing was written. Press again when the line is back, or type it below."));
  byId("lift")?.addEventListener("input", (event) => { event.target.dataset.touched = "yes"; });
  addEventListener("pagehide", () => events.close());
  fill();
}

if (desk?.dataset.liveUrl) live();
