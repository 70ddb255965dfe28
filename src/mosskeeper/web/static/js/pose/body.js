// @ts-check
// How a body moves when one of its joints is dragged: bones keep their lengths, feet stay on the ground. Joints are
// [x, y] in px of the picture, in the order of the studio; a joint that is hidden keeps its place for when it comes
// back.
/** @typedef {number[]} Point  x, y */
/** @typedef {number[]} Limb  three joints: root, middle, end */

const NAMES = [
  "nose",
  "neck",
  "right shoulder",
  "right elbow",
  "right wrist",
  "left shoulder",
  "left elbow",
  "left wrist",
  "right hip",
  "right knee",
  "right ankle",
  "left hip",
  "left knee",
  "left ankle",
  "right eye",
  "left eye",
  "right ear",
  "left ear",
];
/** @type {Record<string, number>} */
export const N = Object.fromEntries(NAMES.map((name, k) => [name, k]));
export const HEAD = [N.nose, N["right eye"], N["left eye"], N["right ear"], N["left ear"]];
const ARMS = { right: [2, 3, 4], left: [5, 6, 7] };
const LEGS = { right: [8, 9, 10], left: [11, 12, 13] };
const HIPS = [8, 11];
const SHOULDERS = [2, 5];
const UPPER = [0, 1, 2, 3, 4, 5, 6, 7, 14, 15, 16, 17];

/** @type {(a: Point, b: Point) => Point} */
const add = (a, b) => [a[0] + b[0], a[1] + b[1]];
/** @type {(a: Point, b: Point) => Point} */
const less = (a, b) => [a[0] - b[0], a[1] - b[1]];
const long = (/** @type {Point} */ v) => Math.hypot(v[0], v[1]);
/** @type {(a: Point, b: Point) => Point} */
const middle = (a, b) => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
/** @type {(p: Point, about: Point, angle: number) => Point} */
export const turned = (p, about, angle) => {
  const [dx, dy] = less(p, about);
  return [
    about[0] + dx * Math.cos(angle) - dy * Math.sin(angle),
    about[1] + dx * Math.sin(angle) + dy * Math.cos(angle),
  ];
};
export const hips = (/** @type {Point[]} */ p) => middle(p[N["right hip"]], p[N["left hip"]]);
export const headMiddle = (/** @type {Point[]} */ p) => middle(p[N["right ear"]], p[N["left ear"]]);

/**
 * Where the middle joint of two bones of lengths a and b lies between two ends, on the side on which `was` is (law of
 * cosines).
 * @type {(from: Point, to: Point, a: number, b: number, was: Point) => Point}
 */
function bent(from, to, a, b, was) {
  const line = less(to, from);
  const reach = Math.min(Math.max(long(line), Math.abs(a - b) + 1e-3), a + b - 1e-3);
  const cosine = Math.min(1, Math.max(-1, (a * a + reach * reach - b * b) / (2 * a * reach)));
  const side = Math.sign(line[0] * (was[1] - from[1]) - line[1] * (was[0] - from[0])) || 1;
  const angle = Math.atan2(line[1], line[0]) + side * Math.acos(cosine);
  return add(from, [Math.cos(angle) * a, Math.sin(angle) * a]);
}

/**
 * A limb of three joints with its end at a target, or as near as it reaches.
 * @type {(p: Point[], limb: Limb, target: Point) => void}
 */
function reached(p, [root, mid, end], target) {
  const [a, b] = [long(less(p[mid], p[root])), long(less(p[end], p[mid]))];
  const line = less(target, p[root]);
  const far = Math.min(Math.max(long(line), Math.abs(a - b) + 1e-3), a + b - 1e-3);
  const at = add(p[root], [(line[0] / (long(line) || 1)) * far, (line[1] / (long(line) || 1)) * far]);
  p[mid] = bent(p[root], at, a, b, p[mid]);
  p[end] = at;
}

/** @type {(p: Point[], which: number[], by: Point) => void} */
function moveAll(p, which, by) {
  for (const k of which) p[k] = add(p[k], by);
}
/** @type {(p: Point[], which: number[], about: Point, angle: number) => void} */
function turnAll(p, which, about, angle) {
  for (const k of which) p[k] = turned(p[k], about, angle);
}
const angleOf = (/** @type {Point} */ v) => Math.atan2(v[1], v[0]);
const limbOf = (/** @type {number} */ k) =>
  [ARMS.right, ARMS.left, LEGS.right, LEGS.left].find((limb) => limb.includes(k));

/**
 * The joints after one was dragged.
 * @param {Point[]} joints @param {number} k  the joint @param {Point} to  where it was dragged
 * @param {boolean} [free]  it moves alone, and bones change their lengths
 * @returns {Point[]}
 */
export function dragged(joints, k, to, free = false) {
  const p = joints.map((joint) => [...joint]);
  const limb = limbOf(k);
  if (free) p[k] = to;
  else if (limb && k === limb[2]) reached(p, limb, to);
  else if (limb && k === limb[1]) bend(p, limb, to, joints);
  else if (HIPS.includes(k)) pelvis(p, less(to, p[k]), joints);
  else if (SHOULDERS.includes(k)) shoulders(p, k, to);
  else if (k === N.neck) spine(p, to);
  else if (k === N.nose) turnHead(p, less(to, p[k]));
  else if (HEAD.includes(k)) turnAll(p, HEAD, p[N.neck], angleOf(less(to, p[N.neck])) - angleOf(less(p[k], p[N.neck])));
  return p;
}

/**
 * The upper bone of a limb turns, and the lower one goes along; a foot stays on the ground as far as it can.
 * @type {(p: Point[], limb: Limb, to: Point, before: Point[]) => void}
 */
function bend(p, limb, to, before) {
  const [root, mid, end] = limb;
  const turn = angleOf(less(to, p[root])) - angleOf(less(p[mid], p[root]));
  const lower = less(p[end], p[mid]);
  p[mid] = turned(p[mid], p[root], turn);
  if (limb === LEGS.right || limb === LEGS.left) keepFoot(p, limb, before);
  else p[end] = add(p[mid], lower);
}

/**
 * The shoulders turn about the neck, and arms hang on them as before.
 * @type {(p: Point[], k: number, to: Point) => void}
 */
function shoulders(p, k, to) {
  const turn = angleOf(less(to, p[N.neck])) - angleOf(less(p[k], p[N.neck]));
  for (const [shoulder, ...arm] of Object.values(ARMS)) {
    const hang = arm.map((j) => less(p[j], p[shoulder]));
    p[shoulder] = turned(p[shoulder], p[N.neck], turn);
    arm.forEach((j, i) => {
      p[j] = add(p[shoulder], hang[i]);
    });
  }
}

/** The spine keeps its length, and what hangs on it turns with it. @type {(p: Point[], to: Point) => void} */
function spine(p, to) {
  const root = hips(p);
  turnAll(p, UPPER, root, angleOf(less(to, root)) - angleOf(less(p[N.neck], root)));
}

/**
 * The trunk moves by a step: feet stay where they are as far as the legs reach.
 * @type {(p: Point[], by: Point, before: Point[]) => void}
 */
function pelvis(p, by, before) {
  moveAll(p, [...UPPER, N["right hip"], N["left hip"]], by);
  for (const leg of Object.values(LEGS)) {
    p[leg[1]] = add(p[leg[1]], by);
    p[leg[2]] = add(p[leg[2]], by);
    reached(p, leg, before[leg[2]]);
  }
}

/** @type {(p: Point[], limb: Limb, before: Point[]) => void} */
function keepFoot(p, [, mid, end], before) {
  const b = long(less(before[end], before[mid]));
  const down = less(before[end], p[mid]);
  p[end] = add(p[mid], [(down[0] / (long(down) || 1)) * b, (down[1] / (long(down) || 1)) * b]);
}

/**
 * The face turns and nods: nose and eyes move over the head, no farther than a head turns.
 * @type {(p: Point[], by: Point) => void}
 */
function turnHead(p, by) {
  const ears = headMiddle(p);
  const half = long(less(p[N["left ear"]], p[N["right ear"]])) / 2 || 1;
  const nose = add(p[N.nose], by);
  const away = less(nose, ears);
  const far = Math.min(1, (half * 1.1) / (long(away) || 1));
  const at = add(ears, [away[0] * far, away[1] * far]);
  const moved = less(at, p[N.nose]);
  p[N.nose] = at;
  for (const eye of [N["right eye"], N["left eye"]]) p[eye] = add(p[eye], [moved[0] * 0.9, moved[1] * 0.8]);
}

/** @type {(joints: Point[], by: Point) => Point[]} */
export const moved = (joints, by) => joints.map((p) => add(p, by));
/** @type {(joints: Point[], about: Point, k: number) => Point[]} */
export const grown = (joints, about, k) =>
  joints.map((p) =>
    add(
      about,
      less(p, about).map((v) => v * k),
    ),
  );
/** @type {(joints: Point[], about: Point, angle: number) => Point[]} */
export const rolled = (joints, about, angle) => joints.map((p) => turned(p, about, angle));
/** The lowest of the feet, under the middle of the hips. */
export const ground = (/** @type {Point[]} */ p) => [
  hips(p)[0],
  Math.max(p[N["right ankle"]][1], p[N["left ankle"]][1]),
];
