// @ts-check
// Requests of a page to the studio that are no acts, and how an act is sent.
import { confirmed } from "./acts.js";
import { page } from "./page.js";

/** @type {Record<number, string>} */
const WHY = { 0: "The studio does not answer. Try it again.", 413: "This is too large at once." };

/**
 * Asked once. Never throws: where the studio does not answer, or not in words, `told` says so as its problem.
 * @param {string} path
 * @param {{ method?: string, json?: unknown, body?: BodyInit | null }} [how]
 */
export async function asked(
  path,
  { method = "POST", json = null, body = json === null ? null : JSON.stringify(json) } = {},
) {
  const headers = { "Moss-Page": page, ...(json !== null && { "Content-Type": "application/json" }) };
  const answer = await fetch(path, { method, body, headers }).catch(() => null);
  const told = await answer?.json().catch(() => null);
  const ok = answer !== null && answer.ok;
  return { ok, told: told ?? (ok ? {} : { problem: why(answer) }) };
}

const why = (/** @type {Response | null} */ answer) => WHY[answer?.status ?? 0] ?? "The studio could not do this.";

/**
 * Sends an act once.
 * @param {import("./acts.js").Act} act @param {string} path
 * @param {(act: import("./acts.js").Act) => Promise<FormData | null> | null} [bodyOf]  makes its body where that is
 *   more than fields
 * @returns {Promise<import("./acts.js").Answer>}
 */
export async function sendAct(act, path, bodyOf = () => null) {
  /** @type {Record<string, string>} */
  const headers = { "Moss-Page": page, "Moss-Act": act.id, "Moss-After": confirmed().join(",") };
  const own = await bodyOf(act);
  /** @type {BodyInit | null} */
  let body = own;
  if (!own && act.json !== undefined) {
    body = JSON.stringify(act.json);
    headers["Content-Type"] = "application/json";
  } else if (!own && act.form) body = new URLSearchParams(act.form);
  const answer = await fetch(path, { method: "POST", body, headers }).catch(() => null);
  return { status: answer?.status ?? 0, told: (await answer?.json().catch(() => null)) ?? null };
}

/** A picture that an act carries as a data address, as a file for its request. */
export function blobOf(/** @type {string} */ address) {
  const [head, data] = address.split(",");
  const bytes = Uint8Array.from(atob(data), (letter) => letter.charCodeAt(0));
  return new Blob([bytes], { type: head.slice(5, head.indexOf(";")) });
}
