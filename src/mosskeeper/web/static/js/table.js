// The light table: what a hand or a key does to it. Each module has one job.
import "./revision.js";
import "./words.js";
import "./recast.js";
import "./keepsake.js";
import "./drop.js";
import "./cues.js";
import "./swipe.js";
import "./keys.js";
