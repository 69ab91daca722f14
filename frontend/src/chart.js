// Draws every [data-chart] from its Vega-Lite specification, with the interpreter that needs no eval.
import embed from "vega-embed";
import { expressionInterpreter } from "vega-interpreter";

async function draw(place) {
  const answer = await fetch(place.dataset.chart, { headers: { Accept: "application/json" } });
  if (!answer.ok) {
    place.textContent = (await answer.json().catch(() => ({}))).error ?? "The picture could not be drawn. Reload the page.";
    return;
  }
  const spec = await answer.json();
  place.textContent = "";
  const { view } = await embed(place, spec, {
    mode: "vega-lite", ast: true, expr: expressionInterpreter, renderer: "svg", actions: false, defaultStyle: false, tooltip: false,
  });
  place.querySelector("svg")?.setAttribute("aria-hidden", "true"); // the place itself is the image and carries the words
  place.dataset.drawn = "yes";
  askByBrush(view);
}

// a band dragged across the lower picture is asked about
function askByBrush(view) {
  const form = document.getElementById("band-form");
  if (!form) return;
  let latest = null;
  try {
    view.addSignalListener("asked_rpm", (_, range) => { latest = range; });
  } catch {
    return; // this picture has no brush
  }
  view.container().addEventListener("pointerup", () => setTimeout(() => {
    if (!latest || Math.abs(latest[1] - latest[0]) < 100) return;
    const [low, high] = [...latest].sort((a, b) => a - b).map((v) => `${Math.round(v / 10) * 10} rpm`);
    form.elements.low.value = low;
    form.elements.high.value = high;
    form.requestSubmit();
  }));
}

document.querySelectorAll("[data-chart]").forEach(draw);
