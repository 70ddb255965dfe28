// Painting over a depth map: bright is near. Every stroke is saved when it ends.
const main = document.getElementById("main");
const canvas = () => document.getElementById("depth-canvas");

// Shows the map on the canvas, to be painted on, or hides both.
export function showDepth(shown) {
  canvas().hidden = !shown;
  document.getElementById("depth-tools").hidden = !shown;
  if (!shown) return;
  const map = new Image();
  map.onload = () => {
    canvas().getContext("2d").drawImage(map, 0, 0, canvas().width, canvas().height);
    canvas().dataset.ready = "yes";
  };
  map.src = document.querySelector("[data-map$='/depth.png']").dataset.map;
}

async function save() {
  const blob = await new Promise((done) => canvas().toBlob(done, "image/png"));
  const body = new FormData();
  body.append("depth", blob, "depth.png");
  body.append("painted", "true");
  const answer = await fetch(canvas().dataset.address, { method: "POST", body, headers: { "HX-Request": "true" } });
  if (answer.ok) canvas().dataset.saved = String(1 + Number(canvas().dataset.saved ?? 0));
  else document.getElementById("notice").innerHTML = await answer.text();
}

main.addEventListener("pointerdown", (event) => {
  if (event.target !== canvas() || event.button) return;
  event.preventDefault();
  const brush = canvas().getContext("2d");
  const grey = document.getElementById("depth-value").value;
  const scale = canvas().width / canvas().clientWidth;
  brush.lineCap = brush.lineJoin = "round";
  brush.strokeStyle = `rgb(${grey} ${grey} ${grey})`;
  brush.lineWidth = document.getElementById("depth-size").value * scale;
  const at = (e) => {
    const box = canvas().getBoundingClientRect();
    return [(e.clientX - box.left) * scale, (e.clientY - box.top) * scale];
  };
  canvas().setPointerCapture(event.pointerId);
  brush.beginPath();
  brush.moveTo(...at(event));
  brush.lineTo(...at(event));
  brush.stroke();
  const follow = (e) => {
    for (const step of e.getCoalescedEvents?.() ?? [e]) brush.lineTo(...at(step));
    brush.stroke();
  };
  const end = () => {
    canvas().removeEventListener("pointermove", follow);
    save();
  };
  canvas().addEventListener("pointermove", follow);
  canvas().addEventListener("pointerup", end, { once: true });
  canvas().addEventListener("pointercancel", end, { once: true });
});
