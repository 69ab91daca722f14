// Hand tools: what one sends goes into the field that is lit, and the next field lights by itself. One that types like a keyboard
// ends with Enter or Tab: a burst of keys no hand can type, closed by Enter, goes on to the next field instead of sending the form.
const BURST = 45; // ms between two keys of a tool at most
const fields = () => [...document.querySelectorAll("main input[data-dimension], main textarea[data-dimension]")].filter((f) => f.offsetParent && !f.disabled);
let keys = [];

function next(field) {
  const all = fields().filter((f) => f.form === field.form);
  const after = all[all.indexOf(field) + 1];
  (after ?? field.form?.querySelector("button.strong"))?.focus();
  after?.select?.();
}

function put(field, text) {
  const list = field.dataset.list;
  if (list && field.value.trim()) field.value = `${field.value.trimEnd()}${list === "line" ? "\n" : "; "}${text}`;
  else field.value = text;
  field.dispatchEvent(new Event("input", { bubbles: true }));
  field.dispatchEvent(new Event("change", { bubbles: true }));
  if (!list) next(field);
}

function say(words) {
  const place = document.getElementById("hand-tool-words");
  if (place) place.textContent = words;
}

function take(values) {
  if (!values.text) return say(values.words || "The tool is there.");
  const field = document.activeElement?.matches?.("[data-dimension]") ? document.activeElement : null;
  if (!field) return say(`${values.text} came, but no field is lit.`);
  if (field.dataset.dimension !== "any" && field.dataset.dimension !== values.dimension) return say(`${values.text} is ${values.word}; the lit field asks for something else.`);
  put(field, values.text);
  say(`${values.text} written.`);
}

document.addEventListener("keydown", (event) => {
  const field = event.target;
  if (!field.matches?.("input[data-dimension]")) return;
  if (event.key === "Enter") {
    if (keys.length >= 3 && event.timeStamp - keys.at(-1) < BURST) {
      event.preventDefault();
      field.dispatchEvent(new Event("change", { bubbles: true }));
      next(field);
    }
    keys = [];
  } else if (event.key.length === 1) {
    keys = keys.length && event.timeStamp - keys.at(-1) < BURST ? [...keys, event.timeStamp] : [event.timeStamp];
  }
});

let events = null;

function listen(address) {
  events?.close();
  localStorage.setItem("tool", address);
  if (!address) return say("");
  events = new EventSource(`/tools/readings?address=${encodeURIComponent(address)}`);
  events.onmessage = (event) => take(JSON.parse(event.data));
  events.onerror = () => say("The tool’s line is down. Type meanwhile.");
}

async function offer() {
  const strip = document.getElementById("hand-tool");
  if (!strip || !fields().length) return;
  const answer = await fetch("/tools").catch(() => null);
  const known = answer?.ok ? await answer.json() : [];
  if (!known.length) return;
  const select = strip.querySelector("select");
  known.forEach(({ address, what }) => select.add(new Option(what, address)));
  const kept = localStorage.getItem("tool") ?? "";
  select.value = known.some(({ address }) => address === kept) ? kept : "";
  strip.hidden = false;
  select.addEventListener("change", () => listen(select.value));
  if (select.value) listen(select.value);
}

addEventListener("pagehide", () => events?.close());
document.addEventListener("DOMContentLoaded", offer);
