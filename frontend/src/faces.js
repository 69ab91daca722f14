// Two faces: the heavy one is dragged or moved with the arrow keys. A photo: the scale and the rim are picked point by point.
const STEP = 0.0001; // m, one press of an arrow key

const mm = (size) => `${(size * 1000).toFixed(2)} mm`;
const lay = document.getElementById("lay");
const moving = document.querySelector(".overlay .moves");

if (lay && moving) {
  const svg = moving.closest("svg");
  const start = { x: Number(svg.dataset.right ?? 0), y: Number(svg.dataset.up ?? 0) };
  const place = { ...start };
  let held = null;
  let waiting = null;
  moving.setAttribute("tabindex", "0");
  moving.setAttribute("role", "button");
  moving.setAttribute("aria-label", "Move the downstream face with the arrow keys");

  const unit = () => (svg.getBoundingClientRect().width / svg.viewBox.baseVal.width) * Number(svg.dataset.scale);
  function show() {
    const scale = Number(svg.dataset.scale);
    moving.setAttribute("transform", `translate(${(place.x - start.x) * scale} ${-(place.y - start.y) * scale})`);
    lay.elements.right.value = mm(place.x);
    lay.elements.up.value = mm(place.y);
  }
  moving.addEventListener("pointerdown", (event) => {
    event.preventDefault();
    moving.focus();
    moving.setPointerCapture(event.pointerId);
    held = { x: event.clientX, y: event.clientY, ...{ from: { ...place } } };
  });
  moving.addEventListener("pointermove", (event) => {
    if (!held) return;
    place.x = held.from.x + (event.clientX - held.x) / unit();
    place.y = held.from.y - (event.clientY - held.y) / unit();
    show();
  });
  moving.addEventListener("pointerup", () => {
    if (held) lay.requestSubmit();
    held = null;
  });
  moving.addEventListener("keydown", (event) => {
    const way = { ArrowUp: [0, 1], ArrowDown: [0, -1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] }[event.key];
    if (event.key === "Enter") return lay.requestSubmit();
    if (!way) return;
    event.preventDefault();
    place.x += way[0] * STEP;
    place.y += way[1] * STEP;
    show();
    clearTimeout(waiting);
    waiting = setTimeout(() => lay.requestSubmit(), 1200);
  });
}

const tracing = document.getElementById("tracing");

if (tracing) {
  const svg = tracing.querySelector("svg");
  const byId = (id) => document.getElementById(id);
  const scaled = JSON.parse(byId("scaled").value || "[]");
  const picked = JSON.parse(byId("picked").value || "[]");
  const cross = { x: svg.viewBox.baseVal.width / 2, y: svg.viewBox.baseVal.height / 2, shown: false };
  const size = svg.viewBox.baseVal.width / 160;
  const make = (name, values) => {
    const node = document.createElementNS("http://www.w3.org/2000/svg", name);
    Object.entries(values).forEach(([key, value]) => node.setAttribute(key, value));
    return node;
  };

  function show() {
    byId("scaled").value = JSON.stringify(scaled);
    byId("picked").value = JSON.stringify(picked);
    const line = tracing.querySelector(".trace-scale");
    if (scaled.length === 2) Object.entries({ x1: scaled[0][0], y1: scaled[0][1], x2: scaled[1][0], y2: scaled[1][1] }).forEach(([k, v]) => line.setAttribute(k, v));
    else ["x1", "y1", "x2", "y2"].forEach((key) => line.removeAttribute(key));
    tracing.querySelector(".trace-rim").setAttribute("points", picked.map((pair) => pair.join(",")).join(" "));
    const points = [...scaled, ...picked].map(([x, y]) => make("circle", { cx: x, cy: y, r: size }));
    if (cross.shown) points.push(make("path", { d: `M${cross.x - size * 3} ${cross.y} h${size * 6} M${cross.x} ${cross.y - size * 3} v${size * 6}` }));
    tracing.querySelector(".trace-points").replaceChildren(...points);
    byId("trace-says").textContent = ["Pick the first end of the scale.", "Pick the other end of the scale."][scaled.length]
      ?? (picked.length < 3 ? `Now the rim, point by point: ${picked.length} so far.` : `${picked.length} points on the rim. Go once round, then keep the outline.`);
  }
  function pick(x, y) {
    (scaled.length < 2 ? scaled : picked).push([Math.round(x * 10) / 10, Math.round(y * 10) / 10]);
    show();
  }
  svg.addEventListener("click", (event) => {
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    pick(at.x, at.y);
  });
  svg.addEventListener("keydown", (event) => {
    const way = { ArrowUp: [0, -1], ArrowDown: [0, 1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] }[event.key];
    if (event.key === "Enter" || event.key === " ") { event.preventDefault(); return pick(cross.x, cross.y); }
    if (!way) return;
    event.preventDefault();
    const reach = event.shiftKey ? size * 6 : size;
    cross.x += way[0] * reach;
    cross.y += way[1] * reach;
    cross.shown = true;
    show();
  });
  byId("trace-back").addEventListener("click", () => {
    (picked.length ? picked : scaled).pop();
    show();
  });
  show();
}
