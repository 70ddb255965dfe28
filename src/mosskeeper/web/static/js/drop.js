// Pictures come in by drop, by paste and by button.
const shot = document.querySelector("[data-shot]").dataset.shot;

function send(file) {
  htmx.ajax("POST", `/shots/${shot}/pictures`, { source: document.getElementById("main"), swap: "none", values: { picture: file } });
}

let depth = 0;
const hasFiles = (event) => [...(event.dataTransfer?.types ?? [])].includes("Files");
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
  for (const file of event.target.files) send(file);
  event.target.value = "";
}, true);
