// The sketch overlay. Each module has one job: what lies on the board, how it is painted, kept, and followed.
import "./draft.js";
import "./keys.js";
import "./run.js";
import "./heard.js";
import "./menus.js";
import "./large.js";
import "./beginnings.js";
import "./board/sketch.js";
