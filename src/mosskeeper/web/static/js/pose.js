// The pose overlay: how a body moves, how it is shown and dragged, and where poses come from.
import "./draft.js";
import "./keys.js";
import "./run.js";
import "./heard.js";
import "./menus.js";
import "./large.js";
import "./beginnings.js";
import "./pose/overlay.js";
