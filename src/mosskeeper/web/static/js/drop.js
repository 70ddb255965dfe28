// Pictures come in by drop, by paste and by button.
import { OF_PAGE, onFiles, sent } from "./incoming.js";
import { goesOnOnce } from "./acts.js";

const form = document.getElementById("drop");
const input = form.elements.namedItem("picture");
let sending = Promise.resolve();
let left = 0;

// one after the other, so that each answer finds the cue sheet of the one before
function send(file) {
  left += 1;
  waits();
  sending = sending
    .then(() => sent(form, input, [file]))
    .finally(() => {
      left -= 1;
      waits();
    });
}

/** Says what a run waits for. */
function waits() {
  const told = document.getElementById("waits");
  if (told)
    told.textContent = left ? `A run waits for ${left === 1 ? "a picture" : `${left} pictures`} on the way.` : "";
}
goesOnOnce(() => (left ? sending.then(() => !document.querySelector("#problem-cues .problem")) : null));

// Pictures of the page are dragged onto the cue sheet by their name in the library.
const shot = document.querySelector("[data-shot]").dataset.shot;
document.addEventListener("dragstart", (event) => {
  // some browsers drag the link about it
  const image = event.target.src ? event.target : event.target.querySelector?.("img");
  const name = image?.src.match(/\/pictures\/([0-9a-f]{64})/)?.[1];
  if (!name) return;
  event.dataTransfer.clearData();
  event.dataTransfer.setData(OF_PAGE, name);
  event.dataTransfer.effectAllowed = "copy";
});
const onSheet = (event) => event.dataTransfer?.types.includes(OF_PAGE) && event.target.closest?.(".sheet");
document.addEventListener("dragover", (event) => onSheet(event) && event.preventDefault());
document.addEventListener("drop", (event) => {
  if (!onSheet(event)) return;
  event.preventDefault();
  htmx.ajax("POST", `/shots/${shot}/cues/${event.dataTransfer.getData(OF_PAGE)}`, {
    source: document.getElementById("drop"),
    swap: "none",
  });
});

onFiles((files) => {
  for (const file of files) send(file);
});
function takeFrom(chooser) {
  for (const file of chooser.files) send(file);
  chooser.value = "";
}
document.addEventListener(
  "change",
  (event) => {
    if (event.target.id !== "cue-file") return;
    event.stopPropagation(); // not a change of the recipe: that comes with the answer
    takeFrom(event.target);
  },
  true,
);
takeFrom(document.getElementById("cue-file")); // chosen before this script ran
