// Painting over a depth map: bright is near. Every stroke is saved when it ends.
import { brush } from "./brush.js";

const canvas = () => document.getElementById("depth-canvas");

// Shows a depth map on the canvas, to be painted on, or hides it.
export function showDepth(address) {
  canvas().hidden = !address;
  document.getElementById("depth-tools").hidden = !address;
  if (!address) return;
  const map = new Image();
  map.onload = () => {
    canvas().getContext("2d").drawImage(map, 0, 0, canvas().width, canvas().height);
    canvas().dataset.ready = "yes";
  };
  map.src = address;
  if (canvas().dataset.brush) return;
  canvas().dataset.brush = "yes";
  brush(canvas(), settings, save);
}

function settings() {
  const grey = document.getElementById("depth-value").value;
  const size = (document.getElementById("depth-size").value * canvas().width) / canvas().clientWidth;
  return { size, colour: `rgb(${grey} ${grey} ${grey})`, erase: false };
}

async function save() {
  const blob = await new Promise((done) => canvas().toBlob(done, "image/png"));
  const body = new FormData();
  body.append("depth", blob, "depth.png");
  body.append("painted", "true");
  const answer = await fetch(canvas().dataset.address, {
    method: "POST",
    body,
    headers: { "HX-Request": "true" },
  }).catch(() => null);
  if (answer?.ok) canvas().dataset.saved = String(1 + Number(canvas().dataset.saved ?? 0));
  else
    document.getElementById("notice").innerHTML = answer
      ? await answer.text()
      : "The studio does not answer: what you painted is still here. Paint on to keep it.";
}
