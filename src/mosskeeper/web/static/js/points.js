import { drag } from "./drag.js";
import { look } from "./maps.js";
import { near } from "./near.js";

// Joints of a figure, dragged by mouse, touch or keys; saved as soon as one was moved.
const main = document.getElementById("main");
const STEP = 0.004;

const skeleton = () => document.getElementById("skeleton");
const joints = () => [...skeleton().querySelectorAll(".joint")];

function move(joint, x, y) {
  const box = skeleton().viewBox.baseVal;
  joint.setAttribute("cx", Math.min(Math.max(x, 0), box.width));
  joint.setAttribute("cy", Math.min(Math.max(y, 0), box.height));
  joint.classList.remove("unsure");
  for (const bone of skeleton().querySelectorAll(
    `[data-a="${joint.dataset.joint}"], [data-b="${joint.dataset.joint}"]`,
  )) {
    const end = bone.dataset.a === joint.dataset.joint ? "1" : "2";
    bone.setAttribute(`x${end}`, joint.getAttribute("cx"));
    bone.setAttribute(`y${end}`, joint.getAttribute("cy"));
  }
}

function save() {
  const box = skeleton().viewBox.baseVal;
  const points = joints().map((j) =>
    j.classList.contains("unsure") ? null : [+j.getAttribute("cx") / box.width, +j.getAttribute("cy") / box.height],
  );
  const focused = document.activeElement?.dataset?.joint;
  htmx
    .ajax("POST", skeleton().dataset.address, { target: "#main", values: { points: JSON.stringify(points) } })
    .then(() => {
      if (focused !== undefined) joints()[focused]?.focus();
    });
}

main.addEventListener("pointerdown", (event) => {
  const joint = event.target.closest("#skeleton") && near(event, joints());
  if (!joint || event.button) return;
  joint.focus();
  const [x, y] = ["cx", "cy"].map((name) => +joint.getAttribute(name));
  const shown = skeleton().getScreenCTM();
  drag(event, {
    move: (dx, dy) => move(joint, x + dx / shown.a, y + dy / shown.d),
    end: (moved) => moved && save(),
    cancel: () => move(joint, x, y),
  });
});

main.addEventListener("pointermove", (event) => {
  const over = event.target.closest("#skeleton");
  if (over) over.style.cursor = near(event, joints()) ? "grab" : "";
});

main.addEventListener("keydown", (event) => {
  const joint = event.target.closest?.(".joint");
  if (!joint) return;
  const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
  if (by) {
    event.preventDefault();
    const box = skeleton().viewBox.baseVal;
    const step = STEP * (event.shiftKey ? 5 : 1) * Math.max(box.width, box.height);
    move(joint, +joint.getAttribute("cx") + by[0] * step, +joint.getAttribute("cy") + by[1] * step);
    joint.dataset.moved = "yes";
  } else if (event.key === "Delete" || event.key === "Backspace") {
    event.preventDefault();
    joint.classList.add("unsure");
    save();
  }
});

main.addEventListener("keyup", (event) => {
  const joint = event.target.closest?.(".joint");
  if (joint?.dataset.moved && event.key.startsWith("Arrow")) {
    delete joint.dataset.moved;
    save();
  }
});

main.addEventListener("click", (event) => {
  const map = event.target.closest("[data-map]");
  if (map) look(map);
  const bones = event.target.closest("[data-bones]");
  if (bones) skeleton().classList.toggle("hidden", !bones.classList.toggle("on"));
  const copy = event.target.closest("[data-copy]");
  if (copy) copyWords(copy);
});

/** A browser may keep its clipboard shut: then the words are selected, ready to be copied by keys. */
async function copyWords(button) {
  const words = button.parentElement.querySelector(".written-words");
  const done = navigator.clipboard
    ? await navigator.clipboard.writeText(words.textContent).then(
        () => true,
        () => false,
      )
    : false;
  if (!done) getSelection().selectAllChildren(words);
  button.textContent = done ? "copied" : "selected: Ctrl C";
}
