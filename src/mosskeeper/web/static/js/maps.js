// Looking at a map of the picture: it is asked for, and shown as soon as it is made.
import { showDepth } from "./depth.js";

const main = document.getElementById("main");
let wanted = "";

export async function look(button) {
  const image = document.getElementById("read-image");
  for (const other of main.querySelectorAll("[data-map]")) other.classList.toggle("on", other === button);
  wanted = button.dataset.map;
  if (!wanted) {
    image.src = image.dataset.picture;
    showDepth("");
    return;
  }
  button.classList.add("waits");
  const answer = await fetch(wanted.replace(/\.png$/, ""), { method: "POST", headers: { "HX-Request": "true" } }).catch(
    () => null,
  );
  if (answer?.status === 204) show(wanted);
  if ([202, 204].includes(answer?.status)) return;
  button.classList.remove("waits");
  document.getElementById("notice").innerHTML = answer
    ? await answer.text()
    : "The studio does not answer. Try it again.";
}

function show(address) {
  for (const button of main.querySelectorAll("[data-map]")) button.classList.remove("waits");
  if (address !== wanted) return;
  document.getElementById("read-image").src = address;
  showDepth(address.endsWith("/depth.png") ? address : "");
}

document.addEventListener("moss:tick", ({ detail }) => {
  const [, sha256, kind] = wanted.match(/pictures\/([0-9a-f]{64})\/maps\/(\w+)\.png/) ?? [];
  if (kind && (detail.made ?? []).includes(`map ${kind}:${sha256}`)) show(wanted);
});
