// What the hand needs: keys, dialogs, and where the eye goes after a capture. Everything works without it but the keys.
import htmx from "htmx.org";
import "./tools.js";

window.htmx = htmx;

const byId = (id) => document.getElementById(id);
const isTyping = (target) => target.closest("input:not([type=radio]):not([type=checkbox]):not([type=range]), textarea, select, [contenteditable]");

function openDialog(id) {
  const dialog = byId(id);
  if (dialog && !dialog.open) dialog.showModal();
}

function toggleWorking() {
  const close = document.querySelector("[data-close-working]");
  const figure = document.activeElement?.closest(".fig") ?? document.querySelector("main .fig");
  (close ?? figure)?.click();
}

const keys = {
  "?": () => openDialog("keys"),
  "/": () => openDialog("find"),
  u: () => byId("units-switch")?.click(),
  t: () => byId("theme-switch")?.click(),
  w: toggleWorking,
};

document.addEventListener("keydown", (event) => {
  if (event.key === "Escape") document.querySelector("dialog[open]")?.close();
  if (event.ctrlKey || event.metaKey || event.altKey || (isTyping(event.target) && !event.target.closest("dialog:not([open])")) || document.querySelector("dialog[open]")) return;
  const step = document.querySelector(`[data-key="${CSS.escape(event.key)}"]`);
  const act = step ? () => step.click() : keys[event.key];
  if (act) {
    event.preventDefault();
    act();
  }
});

document.addEventListener("click", (event) => {
  const opener = event.target.closest("[data-open]");
  if (opener) openDialog(opener.dataset.open);
});

// a form that is sent twice by a nervous hand is sent once
document.addEventListener("submit", (event) => {
  const form = event.target;
  if (form.method === "post" && form.dataset.sent && !form.hasAttribute("hx-post")) event.preventDefault();
  form.dataset.sent = "yes";
  setTimeout(() => delete form.dataset.sent, 1500);
});

// what the server could not do is said on the page that asked, and nothing on it is replaced
document.addEventListener("htmx:responseError", (event) => {
  const { xhr } = event.detail;
  if (xhr.status < 500 || !xhr.responseText.startsWith("<p class=\"flash")) return;
  document.querySelectorAll("#main > .flash.is-outage").forEach((old) => old.remove());
  document.getElementById("main").insertAdjacentHTML("afterbegin", xhr.responseText);
  document.querySelector("#main > .flash").classList.add("is-outage");
});

// stop and inspect: it sounds once, is told to whoever listens on this page, and fills the screen until it is read
function sound() {
  const audio = new AudioContext();
  [0, 0.35, 0.7].forEach((start) => {
    const tone = audio.createOscillator();
    tone.type = "square";
    tone.frequency.value = 880;
    tone.connect(audio.destination);
    tone.start(audio.currentTime + start);
    tone.stop(audio.currentTime + start + 0.22);
  });
}

let alarmed = "";

function alarm() {
  const screen = document.querySelector("[data-alarm]");
  if (!screen) return;
  screen.hidden = sessionStorage.getItem("read-on") === screen.dataset.of;
  if (screen.hidden || alarmed === screen.dataset.of) return;
  alarmed = screen.dataset.of;
  document.dispatchEvent(new CustomEvent("longbreath:alarm", { detail: screen.dataset.alarm }));
  document.documentElement.dataset.alarmed = screen.dataset.alarm;
  try {
    sound();
  } catch {
    // no sound on this machine: the screen says it
  }
  screen.querySelector("[autofocus], a, button")?.focus();
}

document.addEventListener("click", (event) => {
  const screen = event.target.closest("[data-dismiss]")?.closest("[data-alarm]");
  if (!screen) return;
  screen.hidden = true; // until another pull says stop; what it says stands on the page
  sessionStorage.setItem("read-on", screen.dataset.of);
});

document.addEventListener("htmx:afterSettle", alarm);

document.addEventListener("DOMContentLoaded", () => {
  alarm();
  document.querySelector("[aria-invalid=true]")?.focus();
});

/* the coverage map: arrow keys walk from mark to mark, empty cells are stepped over */
document.addEventListener("keydown", (event) => {
  const step = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[event.key];
  const here = step && event.target.closest && event.target.closest("[data-map] td");
  if (!here) return;
  const rows = [...here.closest("tbody").rows];
  let row = rows.indexOf(here.parentElement) + step[0], cell = here.cellIndex + step[1];
  while (rows[row] && cell > 0 && cell < rows[row].cells.length) {
    const spot = rows[row].cells[cell].querySelector("a");
    if (spot) { event.preventDefault(); spot.focus(); return; }
    row += step[0]; cell += step[1];
  }
});
