// The long section: a wall is dragged, or moved with the arrow keys, to try another inside diameter. All reckoning is the server's.
const STEP = 0.0001; // m, one press of an arrow key

let held = null;
let waiting = null;

const grip = (target) => target.closest?.("[data-drag]");
const drawing = (node) => node.closest("svg");
const block = (node) => drawing(node).querySelector(`[data-key="${CSS.escape(node.dataset.drag)}"] polygon`);
const field = (node) => document.getElementById(`try-${node.dataset.drag}`);

function show(node, size) {
  const svg = drawing(node);
  const scale = Number(svg.dataset.scale);
  const middle = Number(svg.dataset.middle);
  const change = size / Number(node.dataset.size);
  const shape = block(node);
  shape.dataset.was ??= shape.getAttribute("points");
  shape.setAttribute("points", shape.dataset.was.split(" ").map((pair) => {
    const [x, y] = pair.split(",").map(Number);
    return `${x},${middle + (y - middle) * change}`;
  }).join(" "));
  node.setAttribute("y", middle - (size * scale) / 2 - 5);
  node.setAttribute("aria-valuenow", (size * 1000).toFixed(1));
  node.setAttribute("aria-valuetext", `${(size * 1000).toFixed(1)} mm, tried`);
  node.dataset.now = size;
  field(node).value = `${(size * 1000).toFixed(1)} mm`;
}

function send(node) {
  field(node).form.requestSubmit();
}

document.addEventListener("pointerdown", (event) => {
  const node = grip(event.target);
  if (!node || !field(node)) return;
  event.preventDefault();
  node.focus();
  node.setPointerCapture(event.pointerId);
  held = { node, from: event.clientY, size: Number(node.dataset.now ?? node.dataset.size), unit: drawing(node).getBoundingClientRect().height / drawing(node).viewBox.baseVal.height };
});

document.addEventListener("pointermove", (event) => {
  if (!held) return;
  const moved = ((held.from - event.clientY) * 2) / held.unit / Number(drawing(held.node).dataset.scale);
  show(held.node, Math.max(0.003, held.size + moved));
});

document.addEventListener("pointerup", () => {
  if (!held) return;
  const { node } = held;
  held = null;
  if (node.dataset.now) send(node);
});

document.addEventListener("keydown", (event) => {
  const node = grip(event.target);
  const way = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
  if (!node || !field(node)) return;
  if (event.key === "Enter" && node.dataset.now) {
    event.preventDefault();
    clearTimeout(waiting);
    return send(node);
  }
  if (!way) return;
  event.preventDefault();
  show(node, Math.max(0.003, Number(node.dataset.now ?? node.dataset.size) + way * STEP * (event.shiftKey ? 10 : 1)));
  clearTimeout(waiting);
  waiting = setTimeout(() => send(node), 1200);
});

// fields that were left empty stay out of the address
document.addEventListener("submit", (event) => {
  if (event.target.id === "duty") [...event.target.elements].forEach((box) => { if (box.name.startsWith("try-") && !box.value) box.disabled = true; });
});

document.addEventListener("change", (event) => {
  const form = event.target.form;
  if (form?.id === "duty" && event.target.matches("[type=radio], select")) form.requestSubmit();
});
