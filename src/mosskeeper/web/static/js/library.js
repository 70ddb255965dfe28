// The library: filters act at once, pictures come in by drop, paste and button.
import { onFiles, sent } from "./incoming.js";

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
const AT_ONCE = 8; // what is in stays in, whatever becomes of the rest, and the count moves on
let bringing = Promise.resolve();

async function bring(files) {
  const count = (name) => form.elements.namedItem(name);
  const total = document.getElementById("total");
  const before = Number(total.textContent);
  const told = () => document.querySelector("#taken [data-came]").dataset;
  [count("came").value, count("missed").value, count("of").value] = [0, 0, files.length];
  Object.assign(told(), { came: 0, missed: 0 });
  document.getElementById("refused").replaceChildren();
  for (let n = 0; n < files.length; n += AT_ONCE) {
    await sent(form, input, files.slice(n, n + AT_ONCE));
    if (Number(told().came) + Number(told().missed) < Math.min(n + AT_ONCE, files.length)) {
      document
        .getElementById("taken")
        .append(`The connection broke after ${n} of ${files.length}. What came in stays; bring the rest in again.`);
      break;
    }
    [count("came").value, count("missed").value] = [told().came, told().missed];
    total.textContent = before + Number(told().came);
  }
  input.value = "";
}
const takeIn = (files) => {
  const all = [...files];
  if (all.length) bringing = bringing.then(() => bring(all));
};
input.addEventListener("change", (event) => event.isTrusted && takeIn(input.files));
onFiles(takeIn);
