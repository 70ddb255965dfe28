// The regions overlay: where each person and place is, what it says, and what the plan tells before a run.
import "./draft.js";
import "./keys.js";
import "./run.js";
import "./heard.js";
import "./menus.js";
import "./large.js";
import "./beginnings.js";
import "./region/overlay.js";
