// The library: filters act at once, pictures come in by drop, paste and button, all files in one go.
const seek = document.getElementById("seek");
const go = () => {
  const asked = new URLSearchParams([...new FormData(seek)].filter(([, value]) => value));
  location.search = asked;
};
seek.addEventListener("change", (event) => {
  if (event.target.matches("[data-colour]")) seek.elements.namedItem("colour").value = event.target.value;
  go();
});
seek.addEventListener("click", (event) => {
  if (!event.target.matches("[data-no-colour]")) return;
  seek.elements.namedItem("colour").value = "";
  go();
});

const form = document.getElementById("bring-in");
const input = form.elements.namedItem("pictures");
function bring(files) {
  if (!files.length) return;
  const carrier = new DataTransfer();
  for (const file of files) carrier.items.add(file);
  input.files = carrier.files;
  form.requestSubmit();
}
input.addEventListener("change", () => input.files.length && form.requestSubmit());
let depth = 0;
const hasFiles = (event) => [...(event.dataTransfer?.types ?? [])].includes("Files");
document.addEventListener("dragenter", (event) => hasFiles(event) && document.body.classList.toggle("dragging", ++depth > 0));
document.addEventListener("dragleave", (event) => hasFiles(event) && document.body.classList.toggle("dragging", --depth > 0));
document.addEventListener("dragover", (event) => hasFiles(event) && event.preventDefault());
document.addEventListener("drop", (event) => {
  if (!hasFiles(event)) return;
  event.preventDefault();
  depth = 0;
  document.body.classList.remove("dragging");
  bring(event.dataTransfer.files);
});
document.addEventListener("paste", (event) => bring(event.clipboardData?.files ?? []));
