// One chosen piece: moved, scaled and turned by its handles or by keys, ordered, copied, taken off.
import { drag } from "../drag.js";

const get = (id) => document.getElementById(id);
const STEP = 2;

/**
 * canvas, place(event), pieces(), show(pieces) while it moves, done(pieces) after an act, colour() of the pot, layers
 * : how pieces lie.
 */
export function hold({ canvas, place, pieces, show, done, colour, layers }) {
  let chosen = -1;
  const marks = get("chosen");

  function mark(piece = pieces()[chosen]) {
    const f = piece && layers.frame(piece);
    marks.toggleAttribute("hidden", !f);
    get("piece-acts").hidden = !f;
    if (!f) return;
    const [g] = marks.children;
    g.setAttribute("transform", `translate(${f.x} ${f.y}) rotate(${f.turn})`);
    const [box, arm, turn, size] = g.children;
    for (const [name, value] of Object.entries({ x: -f.w / 2 - 4, y: -f.h / 2 - 4, width: f.w + 8, height: f.h + 8 }))
      box.setAttribute(name, value);
    for (const [name, value] of Object.entries({ x1: 0, x2: 0, y1: -f.h / 2 - 4, y2: -f.h / 2 - 30 }))
      arm.setAttribute(name, value);
    turn.setAttribute("cy", -f.h / 2 - 30);
    size.setAttribute("x", f.w / 2 - 2);
    size.setAttribute("y", f.h / 2 - 2);
  }

  function change(by) {
    const all = [...pieces()];
    all[chosen] = layers.changed(all[chosen], by);
    return all;
  }

  function moving(event, by) {
    let last = null;
    drag(event, {
      move(dx, dy, e) {
        last = by(dx, dy, e);
        show(last);
        mark(last[chosen]);
      },
      end: (moved) => {
        if (moved && last) done(last);
      },
      cancel: () => {
        show(pieces());
        mark();
      },
    });
  }

  const scale = () => canvas.width / canvas.getBoundingClientRect().width;
  const self = {
    none() {
      chosen = -1;
      mark(null);
    },
    choose(i) {
      chosen = i;
      mark();
    },
    press(event) {
      const [x, y] = place(event);
      self.choose(layers.at(pieces(), x, y));
      if (chosen >= 0) moving(event, (dx, dy) => change({ dx: dx * scale(), dy: dy * scale() }));
    },
  };

  marks.addEventListener("pointerdown", (event) => {
    const f = layers.frame(pieces()[chosen]);
    const away = (e) => {
      const [x, y] = place(e);
      return [x - f.x, y - f.y];
    };
    const [x0, y0] = away(event);
    if (event.target.matches(".chosen-turn"))
      moving(event, (_dx, _dy, e) => {
        const [x, y] = away(e);
        return change({ turn: ((Math.atan2(y, x) - Math.atan2(y0, x0)) * 180) / Math.PI });
      });
    else if (event.target.matches(".chosen-size"))
      moving(event, (_dx, _dy, e) => {
        const [x, y] = away(e);
        return change({ k: Math.min(20, Math.max(0.05, Math.hypot(x, y) / Math.hypot(x0, y0))) });
      });
  });

  const acts = {
    copy() {
      const all = [...pieces(), layers.changed(pieces()[chosen], { dx: 18, dy: 18 })];
      finish(all, all.length - 1);
    },
    up() {
      swap(1);
    },
    down() {
      swap(-1);
    },
    under() {
      const { width, height } = canvas;
      const { w, h } = layers.frame(pieces()[chosen]);
      const under = layers.changed(pieces()[chosen], { k: Math.max(width / w, height / h) });
      const { x, y } = layers.frame(under);
      const centred = layers.changed(under, { dx: width / 2 - x, dy: height / 2 - y });
      finish([centred, ...pieces().filter((_, i) => i !== chosen)], 0);
    },
    delete() {
      finish(
        pieces().filter((_, i) => i !== chosen),
        -1,
      );
    },
    colour() {
      const all = [...pieces()];
      if ("colour" in all[chosen]) {
        all[chosen] = { ...all[chosen], colour: colour() };
        finish(all, chosen);
      }
    },
  };
  function swap(by) {
    const all = [...pieces()];
    const to = chosen + by;
    if (to < 0 || to >= all.length) return;
    [all[chosen], all[to]] = [all[to], all[chosen]];
    finish(all, to);
  }
  function finish(all, next) {
    show(all);
    done(all);
    chosen = next;
    mark(all[next]);
  }
  get("piece-acts").addEventListener("click", ({ target }) => {
    const button = target.closest("[data-piece]");
    if (button && chosen >= 0) acts[button.dataset.piece]();
  });

  canvas.addEventListener("keydown", (event) => {
    if (chosen < 0) return;
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (by) {
      event.preventDefault();
      event.stopPropagation();
      const step = STEP * (event.shiftKey ? 8 : 1);
      finish(change({ dx: by[0] * step, dy: by[1] * step }), chosen);
    } else if (event.key === "Delete" || event.key === "Backspace") {
      event.preventDefault();
      acts.delete();
    } else if (event.key === "Escape") {
      event.stopPropagation();
      self.none();
    }
  });
  return self;
}
