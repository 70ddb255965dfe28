// How this open page calls itself, so that the studio tells its edits from those of other tabs.
export const page = crypto.getRandomValues(new Uint32Array(2)).reduce((id, n) => id + n.toString(36), "").slice(0, 16);

document.addEventListener("htmx:config:request", ({ detail }) => {
  detail.ctx.request.headers["Moss-Page"] = page;
});
