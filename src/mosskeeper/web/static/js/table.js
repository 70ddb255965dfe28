// The light table: what a hand or a key does to it. Each module has one job.
import "./draft.js";
import "./words.js";
import "./turn.js";
import "./recast.js";
import "./drop.js";
import "./cues.js";
import "./arrivals.js";
import "./swipe.js";
import "./keys.js";
import "./run.js";
import "./heard.js";
import "./settings.js";
import "./menus.js";
import "./large.js";
import "./beginnings.js";
