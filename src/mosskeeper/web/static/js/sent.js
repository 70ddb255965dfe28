// What the studio is told or asked by an overlay's own hand.
import { page } from "./page.js";

const WHY = { 0: "The studio does not answer. Try it again.", 413: "This is too large at once." };

/** Asked once. Never throws: where the studio does not answer, or not in words, `told` says so as its problem. */
export async function asked(path, { method = "POST", json = null, body = json && JSON.stringify(json) } = {}) {
  const headers = { "Moss-Page": page, ...(json && { "Content-Type": "application/json" }) };
  const answer = await fetch(path, { method, body, headers }).catch(() => null);
  const told = await answer?.json().catch(() => null);
  return { ok: Boolean(answer?.ok), told: told ?? (answer?.ok ? {} : { problem: WHY[answer?.status ?? 0] ?? "The studio could not do this." }) };
}

const AWAY = [502, 503, 504]; // of a studio that is starting, full, or behind something that cannot reach it
const DEFECT = "The studio could not do this: that is a defect, and its log says more. What you did stays on the page; reload to see what is kept.";

/**
 * An act that must not be lost: sent again while the studio does not answer. A defect of the studio is told, not asked again and again.
 *
 * path : a function, asked anew at each try. problem(sentence) : "" nothing. Gives { told } of an answer, { refused, told } of one
 * that says no.
 */
export async function sent(path, { body = null, headers, problem }) {
  for (let wait = 1; ; wait = Math.min(wait * 2, 16)) {
    const answer = await fetch(path(), { method: "POST", body, headers }).catch(() => null);
    const told = await answer?.json().catch(() => null);
    if (answer?.ok && told) { problem(""); return { told }; }
    if (answer && answer.status < 500) return { refused: true, told };
    if (answer && !AWAY.includes(answer.status)) { problem(DEFECT); return { refused: true, told: told ?? { problem: DEFECT } }; }
    problem("The studio does not answer: what you did is kept here, and sent again.");
    await new Promise((done) => setTimeout(done, 1000 * wait));
  }
}
