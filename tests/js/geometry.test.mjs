// Geometry of the overlays: bones keep their lengths, pieces are found, moved and turned, names of roles and letters
// follow.
import assert from "node:assert/strict";
import { test } from "node:test";
import { at, changed, frame } from "../../src/mosskeeper/web/static/js/board/pieces.js";
import * as body from "../../src/mosskeeper/web/static/js/pose/body.js";
import { random } from "./network.mjs";

const { N } = body;
/** A person who stands, 100 px high. */
const STANDS = [
  [50, 10],
  [50, 25],
  [42, 26],
  [40, 40],
  [39, 54],
  [58, 26],
  [60, 40],
  [61, 54],
  [46, 55],
  [45, 75],
  [45, 96],
  [54, 55],
  [55, 75],
  [55, 96],
  [48, 9],
  [52, 9],
  [44, 10],
  [56, 10],
];
const BONES = [
  [2, 3],
  [3, 4],
  [5, 6],
  [6, 7],
  [8, 9],
  [9, 10],
  [11, 12],
  [12, 13],
];
const long = (joints, [a, b]) => Math.hypot(joints[a][0] - joints[b][0], joints[a][1] - joints[b][1]);
const near = (a, b, by = 1e-6) => assert.ok(Math.abs(a - b) <= by, `${a} is not ${b}`);

test("bones keep their lengths whichever joint is dragged wherever", () => {
  const number = random(3);
  for (let k = 0; k < 400; k++) {
    const joint = Math.floor(number() * 14);
    const moved = body.dragged(STANDS, joint, [number() * 200 - 50, number() * 200 - 50]);
    for (const bone of BONES) near(long(moved, bone), long(STANDS, bone), 1e-2);
    assert.ok(moved.flat().every(Number.isFinite));
  }
});

test("a wrist that is within reach is where it was dragged, and nothing else moved", () => {
  const moved = body.dragged(STANDS, N["right wrist"], [30, 30]);
  near(moved[N["right wrist"]][0], 30);
  near(moved[N["right wrist"]][1], 30);
  for (const k of [0, 1, 2, 5, 6, 7, 8, 9, 10]) assert.deepEqual(moved[k], STANDS[k]);
});

test("feet stay on the ground while the hips go down", () => {
  const moved = body.dragged(STANDS, N["right hip"], [46, 62]);
  for (const foot of ["right ankle", "left ankle"]) near(long([moved[N[foot]], STANDS[N[foot]]], [0, 1]), 0, 1e-2);
  near(moved[N.neck][1], STANDS[N.neck][1] + 7);
});

test("a joint that is dragged freely goes alone", () => {
  const moved = body.dragged(STANDS, N["right elbow"], [0, 0], true);
  assert.deepEqual(
    moved.filter((p, k) => p.join() !== STANDS[k].join()),
    [[0, 0]],
  );
});

test("a face turns no farther than a head does", () => {
  const moved = body.dragged(STANDS, N.nose, [500, 10]);
  assert.ok(moved[N.nose][0] < 57);
  assert.deepEqual(moved[N["right ear"]], STANDS[N["right ear"]]);
});

test("a figure is moved, grown and rolled as a whole", () => {
  const hips = body.hips(STANDS);
  assert.deepEqual(body.moved(STANDS, [5, -5])[0], [55, 5]);
  const grown = body.grown(STANDS, body.ground(STANDS), 2);
  for (const bone of BONES) near(long(grown, bone), 2 * long(STANDS, bone));
  near(Math.max(grown[N["right ankle"]][1], grown[N["left ankle"]][1]), 96);
  const rolled = body.rolled(body.rolled(STANDS, hips, 0.7), hips, -0.7);
  rolled.forEach((p, k) => {
    near(p[0], STANDS[k][0]);
    near(p[1], STANDS[k][1]);
  });
});

const disc = { kind: "disc", colour: "aa3311", cover: 1, at: [50, 50], size: [20, 40], turn: 0 };
const box = { kind: "box", colour: "aa3311", cover: 1, at: [100, 50], size: [40, 10], turn: 90 };
const stroke = { kind: "stroke", colour: "112233", cover: 1, points: [0, 0, 4, 100, 0, 4] };
const ground = { kind: "ground", colour: "445566", cover: 1 };

test("the uppermost piece at a place is found: by its shape, its turn, and along a stroke", () => {
  const pieces = [ground, stroke, disc, box];
  assert.equal(at(pieces, 50, 65), 2);
  assert.equal(at(pieces, 58, 65), -1); // in its box, outside of the disc
  assert.equal(at(pieces, 100, 65), 3); // it stands upright
  assert.equal(at(pieces, 115, 50), -1);
  assert.equal(at(pieces, 70, 5), 1);
  assert.equal(at(pieces, 70, 20), -1);
  assert.equal(at([...pieces, { ...stroke, kind: "rubbed" }], 70, 5), 1); // what was rubbed is nothing to hold
});

test("pieces are moved, scaled and turned about their middles, and back", () => {
  assert.deepEqual(changed(disc, { dx: 3, dy: -2 }).at, [53, 48]);
  assert.deepEqual(changed(disc, { k: 0.5 }).size, [10, 20]);
  assert.equal(changed({ ...disc, turn: 170 }, { turn: 20 }).turn, -170);
  assert.equal(changed(ground, { dx: 5 }), ground);
  const turned = changed(stroke, { turn: 90 });
  assert.deepEqual(turned.points, [50, -50, 4, 50, 50, 4]);
  changed(turned, { turn: -90 }).points.forEach((v, k) => near(v, stroke.points[k]));
  assert.deepEqual(frame(stroke), { x: 50, y: 0, w: 104, h: 4, turn: 0 });
  assert.equal(frame(ground), null);
});
