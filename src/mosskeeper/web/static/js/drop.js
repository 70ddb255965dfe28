// Pictures come in by drop, by paste and by button.
const form = document.getElementById("drop");
const input = form.elements.namedItem("picture");
let sending = Promise.resolve();

// one after the other, so that each answer finds the cue sheet of the one before
function send(file) {
  sending = sending.then(() => new Promise((done) => {
    const carrier = new DataTransfer();
    carrier.items.add(file);
    input.files = carrier.files;
    form.addEventListener("htmx:finally:request", done, { once: true });
    form.requestSubmit();
  }));
}

// Pictures of the page are dragged onto the cue sheet by their name in the library.
const KIND = "application/x-moss-picture";
const shot = document.querySelector("[data-shot]").dataset.shot;
document.addEventListener("dragstart", (event) => {
  const name = event.target.src?.match(/\/pictures\/([0-9a-f]{64})/)?.[1];
  if (!name) return;
  event.dataTransfer.clearData();
  event.dataTransfer.setData(KIND, name);
  event.dataTransfer.effectAllowed = "copy";
});
const onSheet = (event) => event.dataTransfer?.types.includes(KIND) && event.target.closest?.(".sheet");
document.addEventListener("dragover", (event) => onSheet(event) && event.preventDefault());
document.addEventListener("drop", (event) => {
  if (!onSheet(event)) return;
  event.preventDefault();
  htmx.ajax("POST", `/shots/${shot}/cues/${event.dataTransfer.getData(KIND)}`, { source: document.getElementById("drop"), swap: "none" });
});

let depth = 0;
const hasFiles = (event) => {
  const types = [...(event.dataTransfer?.types ?? [])];
  return types.includes("Files") && !types.includes(KIND);
};
document.addEventListener("dragenter", (event) => {
  if (hasFiles(event)) document.body.classList.toggle("dragging", ++depth > 0);
});
document.addEventListener("dragleave", (event) => {
  if (hasFiles(event)) document.body.classList.toggle("dragging", --depth > 0);
});
document.addEventListener("dragover", (event) => hasFiles(event) && event.preventDefault());
document.addEventListener("drop", (event) => {
  if (!hasFiles(event)) return;
  event.preventDefault();
  depth = 0;
  document.body.classList.remove("dragging");
  for (const file of event.dataTransfer.files) send(file);
});
document.addEventListener("paste", (event) => {
  for (const file of event.clipboardData?.files ?? []) send(file);
});
document.addEventListener("change", (event) => {
  if (event.target.id !== "cue-file") return;
  event.stopPropagation(); // not a change of the recipe: that comes with the answer
  for (const file of event.target.files) send(file);
  event.target.value = "";
}, true);
