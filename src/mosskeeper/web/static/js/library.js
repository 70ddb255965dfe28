// The library: filters act at once, pictures come in by drop, paste and button, all files in one go.
import { onFiles } from "./incoming.js";

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
onFiles(bring);
